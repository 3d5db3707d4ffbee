export { InkTray as default } from '../../../ui/screens/sheet/ink-tray';
