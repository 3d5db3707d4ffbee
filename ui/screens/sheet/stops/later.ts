// The file of {@link ./later-parts}.
export * from './place/tools';
export * from './check/tools';
export * from './colour/tools';
export { SendTray } from './send/send-tray';
export { ColourEditor } from '../palette/colour-editor';
export { EditTray } from './ink/edit/edit-tray';
export { PickOverlay } from './ink/edit/pick-overlay';
export { EraserRows } from './ink/eraser-rows';
export { KeptPenRows } from './ink/kept-pens';
export { PenSettingRows } from './ink/pen-settings';
