/** Where the page finds its workers while developing; built, they have their content's hash (scripts/workers.mjs). */
export const SHEET_WORKER = '/workers/sheet.worker.js';
export const PICTURE_WORKER = '/workers/picture.worker.js';
