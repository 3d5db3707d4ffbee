import { useMemo } from 'react';
import { useSafeAreaInsets } from 'react-native-safe-area-context';
import type { Insets } from '../../../canvas/stage';
import { useAppSelector } from '../../../store/store';
import { useStop } from '../stops/stop';
import { SIDE_PANEL_WIDTH, SIDE_STRIP_WIDTH, STACK_WIDTH, STOPS_WIDTH, TRAY_WIDTH, useLayoutKind } from './layout-kind';

const TITLE_HEIGHT = 55;
const FLOATS_HEIGHT = 64;

/** What bars and columns cover of the screen when nothing is folded or opened, CSS px. @param foot of a phone. */
export function useInsets(foot: number): Insets {
  const kind = useLayoutKind();
  const { tool } = useStop();
  const safe = useSafeAreaInsets();
  const left = useAppSelector((s) => s.settings.hand === 'left');
  const draws = tool !== undefined;
  return useMemo(() => {
    const top = TITLE_HEIGHT + safe.top;
    if (kind === 'phone') return { top, right: 0, bottom: foot, left: 0 };
    if (kind === 'side') {
      const hold = SIDE_STRIP_WIDTH + (draws ? 0 : SIDE_PANEL_WIDTH);
      return {
        top: safe.top,
        bottom: safe.bottom,
        left: left ? safe.left : hold + safe.left,
        right: left ? hold + safe.right : safe.right,
      };
    }
    const [near, far] = [STOPS_WIDTH + TRAY_WIDTH + safe.left, STACK_WIDTH + safe.right];
    return { top, right: left ? near : far, bottom: FLOATS_HEIGHT + safe.bottom, left: left ? far : near };
  }, [kind, draws, foot, left, safe.top, safe.bottom, safe.left, safe.right]);
}
