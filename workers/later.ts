// What the sheet worker answers besides its tiles: one file, fetched soon after the first stroke can be drawn.
export { answerCheck } from './checking';
export { answerColour } from './colouring';
export { answerEditing } from './editing';
export { ReadyBitmaps } from './ready-bitmaps';
