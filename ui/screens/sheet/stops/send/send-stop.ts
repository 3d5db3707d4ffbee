import Send from 'lucide-react-native/icons/send';
import { lazyPart } from '../../../../components/lazy-part';
import type { Stop } from '../stop';

const tray = lazyPart<object>(() => import('../later').then((m) => ({ default: m.SendTray })), 'Opening');

export const SEND: Stop = { route: 'send', name: 'Send', icon: Send, key: '6', Tray: tray.Part };
