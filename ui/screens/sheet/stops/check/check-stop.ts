import ScanEye from 'lucide-react-native/icons/scan-eye';
import { checkOverPaper, checkTray } from '../later-parts';
import type { KeyAction, KeyContext, Stop } from '../stop';
import { checkings } from './check-registry';

function keys({ session }: KeyContext): Record<string, KeyAction> {
  const go = (by: number): KeyAction => ({
    down: () => {
      const checking = checkings.get(session);
      if (!checking?.finder.now()) return false;
      checking.goTo(checking.at.now() + by);
      return true;
    },
  });
  return { arrowleft: go(-1), arrowup: go(-1), arrowright: go(1), arrowdown: go(1) };
}

export const CHECK: Stop = {
  route: 'check',
  name: 'Check',
  icon: ScanEye,
  key: '3',
  Tray: checkTray.Part,
  OverPaper: checkOverPaper.Part,
  keys,
  keyLines: [{ keys: 'Arrows', does: 'Check: to the finding before or after' }],
};
