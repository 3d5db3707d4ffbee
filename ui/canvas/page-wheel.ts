import type { View } from '../../core/geometry/view';

/** What a wheel or trackpad event asks for: zoom about its place, or move by px. */
export type WheelWish = { kind: 'zoom'; factor: number } | { kind: 'move'; dx: number; dy: number };

/** Pixels a line stands for where the wheel counts in lines. */
const LINE_PX = 16;
/** Zoom per wheel px: 100 px, one notch of most wheels, is about 1.2. */
const ZOOM_PER_PX = 0.0018;

/** Pinching on a trackpad arrives as a wheel with Ctrl; without it the wheel moves the page. */
export function wheelWish(
  e: Pick<WheelEvent, 'deltaX' | 'deltaY' | 'deltaMode' | 'ctrlKey' | 'metaKey' | 'shiftKey'>,
): WheelWish {
  const unit = e.deltaMode === 1 ? LINE_PX : e.deltaMode === 2 ? 400 : 1;
  if (e.ctrlKey || e.metaKey) {
    // A trackpad's pinch comes in small steps, a wheel's notch in large ones.
    const fine = Math.abs(e.deltaY) < 40 && e.deltaMode === 0 ? 5 : 1;
    return { kind: 'zoom', factor: Math.exp(-e.deltaY * unit * ZOOM_PER_PX * fine) };
  }
  if (e.shiftKey && e.deltaX === 0) return { kind: 'move', dx: -e.deltaY * unit, dy: 0 };
  return { kind: 'move', dx: -e.deltaX * unit, dy: -e.deltaY * unit };
}

/**
 * Where a wheel goes on from. Between two turns of a slow hand the page comes to rest on whole px, and each time that would
 * carry it a little away from the pointer: at the same place it goes on from where it was before.
 */
export class WheelWay {
  private last: { at: readonly [number, number]; exact: View; shown: View } | undefined;

  /** @param shown the view as it is now. @param at where the pointer is. */
  from(shown: View, at: readonly [number, number]): View {
    const { last } = this;
    const isSame = last?.shown === shown && last.at[0] === at[0] && last.at[1] === at[1];
    return isSame ? last.exact : shown;
  }

  /** The page was moved. @param exact the view that it has now. */
  moved(exact: View, at: readonly [number, number]): void {
    this.last = { at, exact, shown: exact };
  }

  /** It has come to rest there. */
  rested(shown: View): void {
    if (this.last) this.last.shown = shown;
  }
}
