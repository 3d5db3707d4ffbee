import Send from 'lucide-react-native/icons/send';
import type { Stop } from '../stop';
import { SendTray } from './send-tray';

export const SEND: Stop = { route: 'send', name: 'Send', icon: Send, key: '6', Tray: SendTray };
