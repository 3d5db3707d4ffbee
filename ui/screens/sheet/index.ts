export { KeysScreen } from './paper/keys-screen';
export { SheetScreen } from './sheet-screen';
