/** Points in a row, `[x0, y0, r0, x1, y1, r1, ...]`: segment `i` goes from point `i` to the next. */
export interface PointRow {
  data: Float64Array;
  count: number;
}

/** The part of the way from the point at `a` to that at `b` (offsets of their x) that is nearest to a place, 0 to 1. */
export function nearestPart(data: Float64Array, a: number, b: number, x: number, y: number): number {
  const dx = data[b] - data[a];
  const dy = data[b + 1] - data[a + 1];
  const sq = dx * dx + dy * dy;
  return sq > 0 ? Math.min(1, Math.max(0, ((x - data[a]) * dx + (y - data[a + 1]) * dy) / sq)) : 0;
}

/**
 * Where segment `i` of a row crosses segment `j` of another, as a part of each: put into `parts` if it does. Each has its
 * first point, the last one of a row both, so that a crossing at a point is told once; what lies on each other does not cross.
 */
export function crossSegments(a: PointRow, i: number, b: PointRow, j: number, parts: Float64Array): boolean {
  const p = 3 * i;
  const q = 3 * j;
  const ux = a.data[p + 3] - a.data[p];
  const uy = a.data[p + 4] - a.data[p + 1];
  const vx = b.data[q + 3] - b.data[q];
  const vy = b.data[q + 4] - b.data[q + 1];
  const area = ux * vy - uy * vx;
  if (area === 0) return false;
  const wx = b.data[q] - a.data[p];
  const wy = b.data[q + 1] - a.data[p + 1];
  const s = (wx * vy - wy * vx) / area;
  if (s < 0 || s > 1 || (s === 1 && i < a.count - 2)) return false;
  const t = (wx * uy - wy * ux) / area;
  if (t < 0 || t > 1 || (t === 1 && j < b.count - 2)) return false;
  parts[0] = s;
  parts[1] = t;
  return true;
}
