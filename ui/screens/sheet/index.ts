export { PictureSheetDialog } from '../drawer/picture-sheet-dialog';
export { KeysScreen } from './paper/keys-screen';
export { SheetScreen } from './sheet-screen';
