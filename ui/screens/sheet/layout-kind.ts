import { useWindowDimensions } from 'react-native';
import { WIDE } from '../../theme/theme';

/**
 * How the sheet's controls stand: `phone` in bars below, `side` in one column beside the paper (a
 * phone on its side), `wide` in a column on either side.
 */
export type LayoutKind = 'phone' | 'side' | 'wide';

export const STOPS_WIDTH = 76;
export const TRAY_WIDTH = 224;
export const STACK_WIDTH = 260;

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
