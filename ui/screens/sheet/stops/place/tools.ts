// What Place's tray needs besides Lay: a file of its own, fetched when Place is opened.
export { CropRows } from './crop-rows';
export { ToneRows } from './tone-rows';
