export { PlaceTray as default } from '../../../ui/screens/sheet/stops/place/place-tray';
