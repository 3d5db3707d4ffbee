export { StopRoute as default } from '../../../ui/screens/sheet/stops/stop-route';
