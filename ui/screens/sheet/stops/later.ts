// The file of {@link ./later-parts}.
export * from './place/tools';
export * from './check/tools';
export * from './colour/tools';
export { SendTray } from './send/send-tray';
export { ColourEditor } from '../palette/colour-editor';
