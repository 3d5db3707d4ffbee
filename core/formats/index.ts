export { sheetPng } from './sheet-png';
export { sheetSvg } from './sheet-svg';
