import { grow, overlaps } from '../geometry/box';
import { spineBox } from '../raster/draw-stroke';
import type { Spine } from '../stroke/spine';

/**
 * Whether two strokes touch: some disc-to-disc segment pair comes closer than the radii allow.
 * Radii along a segment are taken as its larger end, so the answer errs towards touching by at
 * most the difference of neighbouring radii.
 */
export function spinesTouch(a: Spine, b: Spine): boolean {
  const boxB = spineBox(b);
  if (!overlaps(spineBox(a), boxB)) return false;
  for (let i = 0; i < Math.max(1, a.count - 1); i++) {
    const i1 = Math.min(i + 1, a.count - 1);
    const ra = Math.max(a.data[3 * i + 2], a.data[3 * i1 + 2]);
    const reach = grow(boxB, ra);
    const x0 = Math.min(a.data[3 * i], a.data[3 * i1]);
    const x1 = Math.max(a.data[3 * i], a.data[3 * i1]);
    const y0 = Math.min(a.data[3 * i + 1], a.data[3 * i1 + 1]);
    const y1 = Math.max(a.data[3 * i + 1], a.data[3 * i1 + 1]);
    if (x1 < reach.x0 || x0 > reach.x1 || y1 < reach.y0 || y0 > reach.y1) continue;
    for (let j = 0; j < Math.max(1, b.count - 1); j++) {
      const j1 = Math.min(j + 1, b.count - 1);
      const r = ra + Math.max(b.data[3 * j + 2], b.data[3 * j1 + 2]);
      if (sqSegmentDistance(a.data, 3 * i, 3 * i1, b.data, 3 * j, 3 * j1) < r * r) return true;
    }
  }
  return false;
}

/** Squared distance between segments p..q of `a` and u..v of `b` (offsets of x in flat triples). */
function sqSegmentDistance(a: Float64Array, p: number, q: number, b: Float64Array, u: number, v: number): number {
  if (cross(a, p, q, b, u) * cross(a, p, q, b, v) < 0 && cross(b, u, v, a, p) * cross(b, u, v, a, q) < 0) return 0;
  return Math.min(
    sqPointToSegment(a, p, b, u, v),
    sqPointToSegment(a, q, b, u, v),
    sqPointToSegment(b, u, a, p, q),
    sqPointToSegment(b, v, a, p, q),
  );
}

const cross = (a: Float64Array, p: number, q: number, b: Float64Array, u: number): number =>
  (a[q] - a[p]) * (b[u + 1] - a[p + 1]) - (a[q + 1] - a[p + 1]) * (b[u] - a[p]);

function sqPointToSegment(a: Float64Array, p: number, b: Float64Array, u: number, v: number): number {
  const dx = b[v] - b[u];
  const dy = b[v + 1] - b[u + 1];
  const ex = a[p] - b[u];
  const ey = a[p + 1] - b[u + 1];
  const sq = dx * dx + dy * dy;
  const t = sq === 0 ? 0 : Math.min(1, Math.max(0, (ex * dx + ey * dy) / sq));
  return (ex - t * dx) * (ex - t * dx) + (ey - t * dy) * (ey - t * dy);
}
