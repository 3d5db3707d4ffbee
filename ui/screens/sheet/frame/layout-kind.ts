import { useWindowDimensions } from 'react-native';
import { WIDE } from '../../../theme/theme';

/**
 * How the sheet's controls stand: `phone` in bars below, `side` in a slim strip beside the paper (a
 * phone on its side), `wide` in a column on either side.
 */
export type LayoutKind = 'phone' | 'side' | 'wide';

export const STOPS_WIDTH = 76;
export const TRAY_WIDTH = 224;
export const STACK_WIDTH = 296;
/** A phone on its side: two cells of 44 px side by side, and the panel with the rest. */
export const SIDE_STRIP_WIDTH = 102;
export const SIDE_PANEL_WIDTH = 264;

/** A tablet held upright: its columns would leave too little paper, so while inking they are folded from the start. */
export function useUprightTablet(): boolean {
  const { width, height } = useWindowDimensions();
  return useLayoutKind() === 'wide' && height > width;
}

export function useLayoutKind(): LayoutKind {
  const { width, height } = useWindowDimensions();
  if (width >= WIDE && height >= 560) return 'wide';
  return width > height && height < 560 ? 'side' : 'phone';
}
