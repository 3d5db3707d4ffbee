export { SendTray as default } from '../../../ui/screens/sheet/stops/send/send-tray';
