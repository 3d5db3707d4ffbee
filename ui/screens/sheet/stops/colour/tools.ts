// All of Colour.
export { ColourTray } from './colour-tray';
export { ColourOverPaper } from './colour-over-paper';
export { ColourStatus } from './colour-status';
export { HatchFloat } from './hatch-float';
