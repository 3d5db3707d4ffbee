import Send from 'lucide-react-native/icons/send';
import { sendTray } from '../later-parts';
import type { Stop } from '../stop';

export const SEND: Stop = { route: 'send', name: 'Send', icon: Send, key: '6', Tray: sendTray.Part };
