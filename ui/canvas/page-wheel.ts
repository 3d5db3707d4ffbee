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
