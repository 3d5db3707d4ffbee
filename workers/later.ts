// What the sheet worker answers besides its tiles, and the oldest formulas: one file, fetched soon after the first
// stroke can be drawn, or before it where there is ink of them.
import '../core/stroke/engine-1/provided';
export { answerCheck } from './checking';
export { answerColour } from './colouring';
export { answerEditing } from './editing';
export { ReadyBitmaps } from './ready-bitmaps';
