import { Spine } from '../stroke/spine';
import type { Coverage } from './coverage';
import type { Chain } from './joining';
import type { Point } from './skeleton-graph';

/** Places come from whole pixels: their stairs are smoothed over so many, a deviation. */
const SMOOTH = 1.6;
const SMOOTH_RADII = 3;
/** Across a line it is looked so far beyond its radius, px, in steps of this. */
const BEYOND_PX = 2.5;
const STEP_PX = 0.5;
/** A place is moved across its line by no more, px and parts of its radius. */
const MOST_MOVED_PX = 1;
const MOST_MOVED_PART = 0.35;
/** What is covered less is not the line any more. */
const NOTHING = 0.04;

/**
 * A chain's middle and width to a part of a pixel: across it at each place, the ink is weighed. How much there is gives
 * the width, where its middle is gives the place.
 */
export function centreLine({ points, closed }: Chain, coverage: Coverage): Spine {
  const rough = smoothed(points, closed, SMOOTH);
  const weighed = rough.map((p, i) => across(p, normalAt(rough, i, closed), coverage));
  const even = smoothed(weighed, closed, SMOOTH);
  const radii = smoothed(weighed, closed, SMOOTH_RADII);
  const spine = new Spine(even.length + (closed ? 1 : 0));
  for (let i = 0; i < even.length; i++) even[i].r = Math.max(LEAST_RADIUS_PX, radii[i].r);
  for (const { x, y, r } of even) spine.push(x, y, r);
  if (closed && even.length) spine.push(even[0].x, even[0].y, even[0].r);
  return spine;
}

/** Thinner is not traced, px. */
const LEAST_RADIUS_PX = 0.3;
/** The direction of a tip is taken over so many places. */
const TIP_OVER = 8;

/**
 * A chain with its free ends where its ink ends: thinning takes ends off, too. One that comes to a solid patch goes on
 * into it.
 */
export function withTips(chain: Chain, coverage: Coverage, solid: Uint8Array): Chain {
  const points = [...chain.points];
  if (chain.freeStart) points.unshift(...reachedTip(points, coverage, solid));
  if (chain.freeEnd) points.push(...reachedTip(points.toReversed(), coverage, solid));
  return { ...chain, points };
}

/** The place to which a line has to go on so that its round end covers its ink's. */
function reachedTip(points: readonly Point[], coverage: Coverage, solid: Uint8Array): Point[] {
  const [tip, inner] = [points[0], points[Math.min(points.length - 1, TIP_OVER)]];
  const length = Math.hypot(tip.x - inner.x, tip.y - inner.y);
  if (!(length > 0)) return [];
  const [dx, dy] = [(tip.x - inner.x) / length, (tip.y - inner.y) / length];
  const goneOn = (far: number): Point[] =>
    far > 0.2 ? [{ x: tip.x + far * dx, y: tip.y + far * dy, r: inner.r }] : [];
  const most = 8 * tip.r + 10;
  let ink = 0;
  for (let d = STEP_PX / 2; d < most; d += STEP_PX) {
    const [x, y] = [tip.x + d * dx, tip.y + d * dy];
    const c = coveredAt(coverage, x, y);
    if (c < NOTHING) return goneOn(ink - inner.r);
    if (solid[Math.floor(y) * coverage.width + Math.floor(x)]) return goneOn(d + inner.r);
    ink += c * STEP_PX;
  }
  // It does not end there: what follows is another line's.
  return [];
}

/** Places smoothed along their line by a bell; ends stay. */
function smoothed(points: readonly Point[], closed: boolean, sigma: number): Point[] {
  const n = points.length;
  const reach = Math.ceil(2.5 * sigma);
  const weights = Array.from({ length: reach + 1 }, (_, k) => Math.exp(-(k * k) / (2 * sigma * sigma)));
  return points.map((own, i) => {
    // Towards an end it is smoothed over less: the same to both sides.
    const most = closed ? Math.min(reach, (n - 1) >> 1) : Math.min(reach, i, n - 1 - i);
    let [x, y, r, sum] = [own.x, own.y, own.r, 1];
    for (let k = 1; k <= most; k++) {
      const [a, b] = [points[(i - k + n) % n], points[(i + k) % n]];
      const w = weights[k];
      x += w * (a.x + b.x);
      y += w * (a.y + b.y);
      r += w * (a.r + b.r);
      sum += 2 * w;
    }
    return { x: x / sum, y: y / sum, r: r / sum };
  });
}

function normalAt(points: readonly Point[], i: number, closed: boolean): readonly [number, number] {
  const n = points.length;
  const at = (k: number) => points[closed ? (k + n) % n : Math.max(0, Math.min(n - 1, k))];
  const [a, b] = [at(i - 2), at(i + 2)];
  const length = Math.hypot(b.x - a.x, b.y - a.y);
  return length > 0 ? [-(b.y - a.y) / length, (b.x - a.x) / length] : [0, 0];
}

/** A place with the width and the middle of the ink across it; as it was where others' ink lies beside it. */
function across(point: Point, [nx, ny]: readonly [number, number], coverage: Coverage): Point {
  if (nx === 0 && ny === 0) return point;
  const far = point.r + BEYOND_PX;
  let [ink, moment] = [coveredAt(coverage, point.x, point.y), 0];
  for (const side of [-1, 1]) {
    let isOut = false;
    for (let d = STEP_PX; d <= far; d += STEP_PX) {
      const c = coveredAt(coverage, point.x + side * d * nx, point.y + side * d * ny);
      if (c < NOTHING) {
        isOut = true;
        break;
      }
      ink += c;
      moment += c * side * d;
    }
    // It does not end there: what is beside it is another line's.
    if (!isOut) return point;
  }
  if (!(ink > 0)) return point;
  const off = moment / ink;
  if (Math.abs(off) > Math.min(MOST_MOVED_PX, Math.max(0.5, MOST_MOVED_PART * point.r))) return point;
  return { x: point.x + off * nx, y: point.y + off * ny, r: (ink * STEP_PX) / 2 };
}

/** How much is covered at a place, 0 to 1, between the pixels' middles. */
function coveredAt({ width, height, data }: Coverage, x: number, y: number): number {
  const [u, v] = [x - 0.5, y - 0.5];
  const left = Math.floor(u);
  const top = Math.floor(v);
  if (left < 0 || top < 0 || left + 1 >= width || top + 1 >= height) {
    const cx = Math.min(width - 1, Math.max(0, Math.round(u)));
    const cy = Math.min(height - 1, Math.max(0, Math.round(v)));
    return data[cy * width + cx] / 255;
  }
  const at = top * width + left;
  const [fx, fy] = [u - left, v - top];
  const above = data[at] + fx * (data[at + 1] - data[at]);
  const below = data[at + width] + fx * (data[at + width + 1] - data[at + width]);
  return (above + fy * (below - above)) / 255;
}
