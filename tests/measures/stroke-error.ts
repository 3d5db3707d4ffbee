import { addInk } from '../../core/raster/add-ink';
import { CoverageMask } from '../../core/raster/coverage-mask';
import type { Outline } from '../../core/stroke/outline';
import { spineFrom, type Spine } from '../../core/stroke/spine';
import { random } from './strokes';

/** Independent measures of how wrong a drawn stroke is; shared by tests and benches. */

export interface Rect {
  x0: number;
  y0: number;
  width: number;
  height: number;
}

/** Subsamples a side: 8 x 8 points a pixel. */
export const GRID = 8;

/** Whether a point lies in a round cone: the union of the discs whose centre and radius move linearly from end to end. */
function inCone(px: number, py: number, d: Float64Array, a: number): boolean {
  const ra = d[a + 2];
  const vx = d[a + 3] - d[a];
  const vy = d[a + 4] - d[a + 1];
  const wx = px - d[a];
  const wy = py - d[a + 1];
  const dr = d[a + 5] - ra;
  // f(t) = |w - t v|^2 - (ra + t dr)^2 is a quadratic in t; inside when it is <= 0 somewhere on 0..1.
  const A = vx * vx + vy * vy - dr * dr;
  const B = -2 * (wx * vx + wy * vy + ra * dr);
  const C = wx * wx + wy * wy - ra * ra;
  if (C <= 0 || A + B + C <= 0) return true;
  if (A <= 0) return false;
  const t = -B / (2 * A);
  return t > 0 && t < 1 && C - (B * B) / (4 * A) <= 0;
}

/** Coverage 0..1 of the exact union of a spine's cones, by 8 x 8 points a pixel. */
export function exactUnion(spine: Spine, rect: Rect): Float64Array {
  const out = new Float64Array(rect.width * rect.height);
  const { data, count } = spine;
  const hits = new Uint8Array(rect.width * GRID * rect.height * GRID);
  const stride = rect.width * GRID;
  for (let i = 0; i < Math.max(1, count - 1); i++) {
    const a = 3 * Math.min(i, Math.max(0, count - 2));
    const pair = count === 1 ? Float64Array.of(...data.subarray(0, 3), ...data.subarray(0, 3)) : data;
    const b = count === 1 ? 0 : a;
    const r = Math.max(pair[b + 2], pair[b + 5]);
    const lo = (v: number, w: number, o: number) => Math.max(0, Math.floor((Math.min(v, w) - r - o) * GRID));
    const hi = (v: number, w: number, o: number, n: number) =>
      Math.min(n * GRID - 1, Math.ceil((Math.max(v, w) + r - o) * GRID));
    for (let y = lo(pair[b + 1], pair[b + 4], rect.y0); y <= hi(pair[b + 1], pair[b + 4], rect.y0, rect.height); y++)
      for (let x = lo(pair[b], pair[b + 3], rect.x0); x <= hi(pair[b], pair[b + 3], rect.x0, rect.width); x++) {
        const at = y * stride + x;
        if (!hits[at] && inCone(rect.x0 + (x + 0.5) / GRID, rect.y0 + (y + 0.5) / GRID, pair, b)) hits[at] = 1;
      }
  }
  for (let y = 0; y < rect.height * GRID; y++)
    for (let x = 0; x < stride; x++)
      if (hits[y * stride + x]) out[Math.floor(y / GRID) * rect.width + Math.floor(x / GRID)] += 1 / (GRID * GRID);
  return out;
}

/** Coverage 0..1 of contours filled by the nonzero rule, by 8 rows of exact spans a pixel. */
export function nonzeroFill({ xy, ends }: Outline, rect: Rect): Float64Array {
  const out = new Float64Array(rect.width * rect.height);
  for (let s = 0; s < rect.height * GRID; s++) {
    const y = rect.y0 + (s + 0.5) / GRID;
    const crossings: { x: number; turn: number }[] = [];
    let from = 0;
    for (const end of ends) {
      for (let i = from; i < end; i++) {
        const j = i + 1 === end ? from : i + 1;
        const y0 = xy[2 * i + 1];
        const y1 = xy[2 * j + 1];
        if (y0 <= y === y1 <= y) continue;
        crossings.push({ x: xy[2 * i] + ((y - y0) / (y1 - y0)) * (xy[2 * j] - xy[2 * i]), turn: y0 < y1 ? 1 : -1 });
      }
      from = end;
    }
    crossings.sort((a, b) => a.x - b.x);
    let winding = 0;
    for (let k = 0; k + 1 < crossings.length; k++) {
      winding += crossings[k].turn;
      if (winding !== 0)
        addSpan(out, rect, Math.floor(s / GRID), crossings[k].x - rect.x0, crossings[k + 1].x - rect.x0);
    }
  }
  return out;
}

function addSpan(out: Float64Array, rect: Rect, row: number, x0: number, x1: number): void {
  const from = Math.max(0, x0);
  const to = Math.min(rect.width, x1);
  for (let i = Math.floor(from); i < to; i++)
    out[row * rect.width + i] += Math.max(0, Math.min(to, i + 1) - Math.max(from, i)) / GRID;
}

/** Our own coverage 0..1 of a spine at scale 1. */
export function ourCoverage(spine: Spine, { x0, y0, width, height }: Rect): Float64Array {
  const mask = new CoverageMask(width, height);
  mask.placeAt(x0, y0);
  addInk(mask, spine, 1);
  return Float64Array.from(mask.data, (v) => v / 255);
}

/** The edge error of straight lines of one width in 24 directions, against the exact union: mean and largest. */
export function edgeError(width: number): { mean: number; largest: number } {
  const rect = { x0: 0, y0: 0, width: 64, height: 64 };
  const rnd = random(11);
  let [sum, largest] = [0, 0];
  for (let i = 0; i < 24; i++) {
    const angle = rnd() * Math.PI;
    const [c, s] = [Math.cos(angle) * 18, Math.sin(angle) * 18];
    const [x, y] = [32 + rnd(), 32 + rnd()];
    const spine = spineFrom([
      [x - c, y - s, width / 2],
      [x + c, y + s, width / 2],
    ]);
    const found = difference(ourCoverage(spine, rect), exactUnion(spine, rect));
    sum += found.mean;
    largest = Math.max(largest, found.largest);
  }
  return { mean: sum / 24, largest };
}

export interface Difference {
  mean: number;
  largest: number;
  /** Pixels that differ by more than 0.15. */
  far: number;
}

/** How two coverages differ; the mean is over the pixels where either is an edge. */
export function difference(a: ArrayLike<number>, b: ArrayLike<number>): Difference {
  let sum = 0;
  let edges = 0;
  let largest = 0;
  let far = 0;
  for (let i = 0; i < a.length; i++) {
    const d = Math.abs(a[i] - b[i]);
    if ((a[i] > 0 && a[i] < 1) || (b[i] > 0 && b[i] < 1)) {
      sum += d;
      edges++;
    }
    if (d > largest) largest = d;
    if (d > 0.15) far++;
  }
  return { mean: edges ? sum / edges : 0, largest, far };
}
