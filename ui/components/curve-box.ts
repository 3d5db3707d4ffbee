import { TOUCH } from '../theme/theme';

/** Half a touch target is left free all around, so that each point can be taken wherever it lies, and takes no touch of others. */
const MARGIN = TOUCH / 2;

export interface CurveBox {
  /** Where a point of the curve (0 to 1 each way, y upwards) stands, CSS px from the box's upper left. */
  place(x: number, y: number): { x: number; y: number };
  /** What point of the curve stands at a place; beyond the curve's ends too. */
  valueAt(x: number, y: number): { x: number; y: number };
}

/** The geometry of a box in which a curve is shown and its points are dragged. */
export function curveBox(width: number, height: number): CurveBox {
  const [across, up] = [Math.max(1, width - 2 * MARGIN), height - 2 * MARGIN];
  return {
    place: (x, y) => ({ x: MARGIN + x * across, y: height - MARGIN - y * up }),
    valueAt: (x, y) => ({ x: (x - MARGIN) / across, y: (height - MARGIN - y) / up }),
  };
}

/** Path data of a curve over the whole of its box. */
export function curvePath({ place }: CurveBox, curve: (x: number) => number, pieces = 64): string {
  return Array.from({ length: pieces + 1 }, (_, i) => {
    const { x, y } = place(i / pieces, curve(i / pieces));
    return `${i ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`;
  }).join('');
}
