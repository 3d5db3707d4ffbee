import ScanEye from 'lucide-react-native/icons/scan-eye';
import { lazyPart } from '../../../../components/lazy-part';
import type { Stop } from '../stop';

const checkFile = () => import('../later');
const tray = lazyPart<object>(() => checkFile().then((m) => ({ default: m.CheckTray })), 'Opening');
const overPaper = lazyPart<object>(() => checkFile().then((m) => ({ default: m.CheckOverPaper })));

export const CHECK: Stop = {
  route: 'check',
  name: 'Check',
  icon: ScanEye,
  key: '3',
  Tray: tray.Part,
  OverPaper: overPaper.Part,
};
