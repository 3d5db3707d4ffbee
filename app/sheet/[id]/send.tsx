export { SendTray as default } from '../../../ui/screens/sheet/send-tray';
