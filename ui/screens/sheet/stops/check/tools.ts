// All of Check.
export { CheckTray } from './check-tray';
export { CheckOverPaper } from './check-over-paper';
