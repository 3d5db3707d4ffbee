export { KeysScreen as default } from '../ui/screens/keys-screen';
