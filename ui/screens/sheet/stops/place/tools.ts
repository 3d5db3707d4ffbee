// All of Place.
export { PlaceTray } from './place-tray';
export { PlaceOverPaper } from './place-over-paper';
