import type { PathNode, StrokePath } from '../stroke/path';
import type { Leak } from './leaks';

/** A line that closes a gap. */
export interface Bridge {
  path: StrokePath;
  sizePx: number;
}

/** Handles of so much of the way: a cubic that leaves and arrives in the ends' directions without a bulge. */
const HANDLE = 1 / 3;
/** No bridge is thinner than this, px. */
const LEAST_WIDTH_PX = 0.5;

/**
 * A line over a gap: from the end on in its direction, and into the other end, or on to the middle of the line that it lies
 * at; as wide as both.
 * @param radii of the lines where they are whole: ends taper.
 */
export function bridgeOf({ end, at, otherEnd }: Leak, radii: readonly [number, number]): Bridge {
  const to = otherEnd ?? at;
  const length = Math.hypot(to.x - end.x, to.y - end.y);
  const widths = [
    Math.max(LEAST_WIDTH_PX, 2 * end.r, radii[0]),
    Math.max(LEAST_WIDTH_PX, otherEnd ? Math.max(2 * otherEnd.r, radii[1]) : radii[0]),
  ];
  const sizePx = Math.max(...widths);
  const reach = HANDLE * length;
  const node = (x: number, y: number, width: number, handles: Partial<PathNode>): PathNode => ({
    ...{ x, y, kind: 'smooth', width: width / sizePx },
    ...{ inX: 0, inY: 0, outX: 0, outY: 0 },
    ...handles,
  });
  const [ix, iy] = otherEnd
    ? [otherEnd.dx, otherEnd.dy]
    : [(end.x - to.x) / (length || 1), (end.y - to.y) / (length || 1)];
  const nodes = [
    node(end.x, end.y, widths[0], { outX: reach * end.dx, outY: reach * end.dy }),
    node(to.x, to.y, widths[1], { inX: reach * ix, inY: reach * iy }),
  ];
  return { path: { closed: false, nodes }, sizePx };
}
