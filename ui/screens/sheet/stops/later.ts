// The file of {@link ./later-parts}.
export * from './place/tools';
export * from './check/tools';
export { SendTray } from './send/send-tray';
