import ImagePlus from 'lucide-react-native/icons/image-plus';
import { placeOverPaper, placeTray } from '../later-parts';
import type { Stop } from '../stop';
import { placeKeys } from './place-keys';

export const PLACE: Stop = {
  route: 'place',
  name: 'Place',
  icon: ImagePlus,
  key: '1',
  Tray: placeTray.Part,
  OverPaper: placeOverPaper.Part,
  keys: placeKeys,
  keyLines: [
    { keys: 'Arrows', does: 'Place, with "Move picture" on: move the picture' },
    { keys: ', and .', does: 'Place, with "Move picture" on: turn the picture by a degree' },
    { keys: '[ and ]', does: 'Place, with "Move picture" on: scale the picture about its middle' },
    { keys: 'Ctrl+V', does: 'Place: paste a picture that was copied elsewhere' },
  ],
};
