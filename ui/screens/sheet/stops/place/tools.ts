// What Place's tray needs besides Lay.
export { CropRows } from './crop-rows';
export { CropOverPaper } from './crop-over-paper';
export { DevelopingCard } from './developing-card';
export { DividerOverPaper } from './divider-over-paper';
export { PaperOverPaper } from './paper-over-paper';
export { PaperRows } from './paper-rows';
export { TraceOverPaper } from './trace-over-paper';
export { TraceRows } from './trace-rows';
export { LiftRows } from './lift-rows';
export { TouchTone } from './touch-tone';
export { ToneRows } from './tone-rows';
