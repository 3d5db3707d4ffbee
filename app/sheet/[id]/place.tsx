export { PlaceTray as default } from '../../../ui/screens/sheet/place-tray';
