// What stops need besides the first view of a sheet: one file, fetched soon after it.
export * from './place/tools';
export * from './check/tools';
export { SendTray } from './send/send-tray';
