import type { PictureSheetProps } from './drawer/picture-sheet-dialog';
import { lazyPart } from '../components/lazy-part';

// What the drawer can be used without. One file for both, so that what they share is no third one.
const sheetFile = () => import('./sheet');

export const sheetPart = lazyPart<{ id: string }>(
  () => sheetFile().then((m) => ({ default: m.SheetScreen })),
  'Opening the sheet',
);
/** Only who brings a picture to the drawer needs it. */
export const pictureSheetPart = lazyPart<PictureSheetProps>(
  () => sheetFile().then((m) => ({ default: m.PictureSheetDialog })),
  'Opening',
);
export const keysPart = lazyPart<object>(() => sheetFile().then((m) => ({ default: m.KeysScreen })), 'Opening');

// Whoever comes to a sheet by its address waits for both files at once, not for one after the other.
if (typeof window !== 'undefined' && window.location.pathname.startsWith('/sheet/')) sheetPart.fetchAhead();
