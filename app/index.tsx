export { DrawerScreen as default } from '../ui/screens/drawer/drawer-screen';
