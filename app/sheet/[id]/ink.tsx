export { InkTray as default } from '../../../ui/screens/sheet/stops/ink/ink-tray';
