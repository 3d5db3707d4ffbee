import { cubicAt } from './cubic';
import { plainNode, type NodeKind, type PathNode, type StrokePath } from './path';
import type { Spine } from './spine';

/** How far a fitted path may lie from its line, in place and in radius, paper px. */
export const FIT_PX = 0.5;
/** A bit less is aimed at: places are rounded later. */
const AIM_PX = 0.42;
const AIM_RADIUS_PX = 0.35;
/** A line that turns by more than this within so many px to both sides has a corner there; the cosine. */
const CORNER_COS = Math.SQRT1_2;
const CORNER_PX = 2.5;
/** Tangents are taken over this much of the line, px. */
const TANGENT_PX = 3;
/** A piece that is off by up to so many times what it may be is bettered before it is cut. */
const BETTERED = 4;
const ROUNDS = 6;

interface Line {
  x: Float64Array;
  y: Float64Array;
  r: Float64Array;
  /** Lengths, growing. */
  s: Float64Array;
}

/** A cubic curve in place: its four points, x and y in turn. */
type Cubic = [ax: number, ay: number, bx: number, by: number, cx: number, cy: number, dx: number, dy: number];

/**
 * A path with few nodes that lies where a line lies, as wide as it: at most {@link FIT_PX} off.
 * @param line with all its points, paper px.
 * @param sizePx what the widths of nodes are parts of.
 * @see Schneider (1990), "An algorithm for automatically fitting digitized curves", Graphics Gems.
 */
export function fittedPath(line: Spine, sizePx: number): StrokePath {
  const points = lineOf(line);
  const count = points.x.length;
  const width = (i: number) => Math.min(1, (2 * points.r[i]) / sizePx);
  const node = (i: number, kind: NodeKind) => plainNode(points.x[i], points.y[i], kind, width(i));
  if (count < 2) return { closed: false, nodes: [node(0, 'auto')] };
  const nodes: PathNode[] = [node(0, 'corner')];
  const stops = [...cornersOf(points), count - 1];
  let from = 0;
  for (const to of stops) {
    const pieces = fitted(points, from, to, tangentAt(points, from, from, to, 1), tangentAt(points, to, from, to, -1));
    for (const { to: end, curve } of pieces) {
      const last = nodes[nodes.length - 1];
      [last.outX, last.outY] = [curve[2] - curve[0], curve[3] - curve[1]];
      const next = node(end, end === to ? 'corner' : 'smooth');
      [next.inX, next.inY] = [curve[4] - curve[6], curve[5] - curve[7]];
      nodes.push(next);
    }
    from = to;
  }
  return { closed: false, nodes };
}

/** The line's points, without those that lie on each other. */
function lineOf({ data, count }: Spine): Line {
  const kept: number[] = [];
  for (let i = 0; i < count; i++) {
    const before = kept[kept.length - 1];
    if (
      before === undefined ||
      Math.hypot(data[3 * i] - data[3 * before], data[3 * i + 1] - data[3 * before + 1]) > 1e-6
    )
      kept.push(i);
  }
  const take = (c: number) => Float64Array.from(kept, (i) => data[3 * i + c]);
  const line = { x: take(0), y: take(1), r: take(2), s: new Float64Array(kept.length) };
  for (let i = 1; i < kept.length; i++)
    line.s[i] = line.s[i - 1] + Math.hypot(line.x[i] - line.x[i - 1], line.y[i] - line.y[i - 1]);
  return line;
}

/** The points at which a line turns sharply, without its ends. */
function cornersOf(line: Line): number[] {
  const count = line.x.length;
  const corners: number[] = [];
  let best = { at: -1, cos: CORNER_COS };
  for (let i = 1; i + 1 < count; i++) {
    const cos = turnAt(line, i);
    if (cos < best.cos) best = { at: i, cos };
    // One corner within the distance in which it is seen.
    if (best.at >= 0 && (line.s[i] - line.s[best.at] > CORNER_PX || i + 2 === count)) {
      corners.push(best.at);
      best = { at: -1, cos: CORNER_COS };
    }
  }
  return corners;
}

/** The cosine of the turn at a point, seen over some px to both sides. */
function turnAt({ x, y, s }: Line, i: number): number {
  const count = x.length;
  let [a, b] = [i - 1, i + 1];
  while (a > 0 && s[i] - s[a] < CORNER_PX) a--;
  while (b + 1 < count && s[b] - s[i] < CORNER_PX) b++;
  const [ax, ay, bx, by] = [x[i] - x[a], y[i] - y[a], x[b] - x[i], y[b] - y[i]];
  const lengths = Math.hypot(ax, ay) * Math.hypot(bx, by);
  return lengths > 0 ? (ax * bx + ay * by) / lengths : 1;
}

/** The unit vector into a piece of the line at one of its points, over some px. @param step towards which end. */
function tangentAt({ x, y, s }: Line, i: number, from: number, to: number, step: 1 | -1): [number, number] {
  let j = i + step;
  while (j + step >= from && j + step <= to && Math.abs(s[j] - s[i]) < TANGENT_PX) j += step;
  return unit(x[j] - x[i], y[j] - y[i]);
}

function unit(x: number, y: number): [number, number] {
  const length = Math.hypot(x, y);
  return length > 0 ? [x / length, y / length] : [1, 0];
}

interface Piece {
  to: number;
  curve: Cubic;
}

/** Fits curves to the points `from` to `to`, with given directions into the piece at its ends. */
function fitted(
  line: Line,
  from: number,
  to: number,
  start: readonly [number, number],
  end: readonly [number, number],
): Piece[] {
  const u = Float64Array.from(
    { length: to - from + 1 },
    (_, i) => (line.s[from + i] - line.s[from]) / (line.s[to] - line.s[from]),
  );
  let curve = leastSquares(line, from, to, u, start, end);
  let worst = worstOf(line, from, to, u, curve);
  for (let n = 0; n < ROUNDS && worst.off > 1 && worst.off < BETTERED; n++) {
    better(line, from, u, curve);
    curve = leastSquares(line, from, to, u, start, end);
    worst = worstOf(line, from, to, u, curve);
  }
  if (worst.off <= 1 || to - from < 2) return [{ to, curve }];
  const at = Math.min(to - 1, Math.max(from + 1, worst.at));
  const [ax, ay] = tangentAt(line, at, from, to, -1);
  const [bx, by] = tangentAt(line, at, from, to, 1);
  const [tx, ty] = unit(bx - ax, by - ay);
  return [...fitted(line, from, at, start, [-tx, -ty]), ...fitted(line, at, to, [tx, ty], end)];
}

/** The curve with given directions at its ends that is nearest to the points at the parameters `u`. */
function leastSquares(
  { x, y, s }: Line,
  from: number,
  to: number,
  u: Float64Array,
  [ax, ay]: readonly [number, number],
  [bx, by]: readonly [number, number],
): Cubic {
  const [x0, y0, x3, y3] = [x[from], y[from], x[to], y[to]];
  let [c00, c01, c11, d0, d1] = [0, 0, 0, 0, 0];
  const dot = ax * bx + ay * by;
  for (let i = from; i <= to; i++) {
    const t = u[i - from];
    const v = 1 - t;
    const [p, q, r, w] = [v * v * v, 3 * t * v * v, 3 * t * t * v, t * t * t];
    c00 += q * q;
    c01 += q * r * dot;
    c11 += r * r;
    const [ex, ey] = [x[i] - (p + q) * x0 - (r + w) * x3, y[i] - (p + q) * y0 - (r + w) * y3];
    d0 += q * (ax * ex + ay * ey);
    d1 += r * (bx * ex + by * ey);
  }
  const det = c00 * c11 - c01 * c01;
  let [a, b] = det !== 0 ? [(d0 * c11 - d1 * c01) / det, (c00 * d1 - c01 * d0) / det] : [0, 0];
  const chord = Math.hypot(x3 - x0, y3 - y0);
  const length = s[to] - s[from];
  // Handles that point backwards or reach too far make loops (Wu and Barsky).
  if (!(a > 1e-6 * length && b > 1e-6 * length && a < length && b < length)) a = b = (chord > 0 ? chord : length) / 3;
  return [x0, y0, x0 + a * ax, y0 + a * ay, x3 + b * bx, y3 + b * by, x3, y3];
}

const pointOf = ([ax, ay, bx, by, cx, cy, dx, dy]: Cubic, t: number): [number, number] => [
  cubicAt(ax, bx, cx, dx, t),
  cubicAt(ay, by, cy, dy, t),
];

/** Where a curve is furthest from its points, in place or radius, in parts of what it may be. */
function worstOf(
  { x, y, r }: Line,
  from: number,
  to: number,
  u: Float64Array,
  curve: Cubic,
): { off: number; at: number } {
  let [off, at] = [0, from];
  for (let i = from + 1; i < to; i++) {
    const t = u[i - from];
    const [px, py] = pointOf(curve, t);
    const away = Math.hypot(px - x[i], py - y[i]) / AIM_PX;
    const thicker = Math.abs(r[from] + t * (r[to] - r[from]) - r[i]) / AIM_RADIUS_PX;
    if (Math.max(away, thicker) > off) [off, at] = [Math.max(away, thicker), i];
  }
  return { off, at };
}

/** Moves the parameters to where the curve is nearest to the points, by a step of Newton and Raphson. */
function better({ x, y }: Line, from: number, u: Float64Array, curve: Cubic): void {
  const [ax, ay, bx, by, cx, cy, dx, dy] = curve;
  for (let n = 1; n + 1 < u.length; n++) {
    const t = u[n];
    const v = 1 - t;
    const [px, py] = pointOf(curve, t);
    const first = (a: number, b: number, c: number, d: number) =>
      3 * (v * v * (b - a) + 2 * v * t * (c - b) + t * t * (d - c));
    const second = (a: number, b: number, c: number, d: number) => 6 * (v * (c - 2 * b + a) + t * (d - 2 * c + b));
    const [qx, qy] = [first(ax, bx, cx, dx), first(ay, by, cy, dy)];
    const [ex, ey] = [px - x[from + n], py - y[from + n]];
    const slope = qx * qx + qy * qy + ex * second(ax, bx, cx, dx) + ey * second(ay, by, cy, dy);
    const next = slope !== 0 ? t - (ex * qx + ey * qy) / slope : t;
    // In their order they stay.
    if (next > u[n - 1] && next < 1) u[n] = next;
  }
}
