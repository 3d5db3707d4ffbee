import { lengthOf } from '../geometry/length';
import { cubicAt } from './cubic';

/** A cubic curve in place: its four points, x and y in turn. */
export type Cubic = [ax: number, ay: number, bx: number, by: number, cx: number, cy: number, dx: number, dy: number];

/** Points in their order, no two of them in one place, with the lengths up to each. */
export interface PointRow {
  x: Float64Array;
  y: Float64Array;
  s: Float64Array;
}

export type Direction = readonly [x: number, y: number];

/** How near is near enough, and where a row of points goes. */
export interface FitRule {
  /** How far a curve may be from its points, and from the straight lines between them. */
  nearPx: number;
  /** How far off something else is at point i, t of the way along a curve, in parts of what it may be. */
  offAt?(i: number, t: number, from: number, to: number): number;
  /** The unit vector from a point of `from` to `to` along the row, forwards (1) or backwards (-1), as seen from that side. */
  directionAt(i: number, from: number, to: number, step: 1 | -1): Direction;
  /** The direction in which the row passes a point between. */
  passingAt(i: number, from: number, to: number): Direction;
}

/** A curve from the last piece's end to the point `to`. */
export interface Piece {
  to: number;
  curve: Cubic;
}

/** A curve that is off by up to so many times what it may be is bettered before it is given up. */
const BETTERED = 4;
const ROUNDS = 6;
/** It is given up, too, when a round makes it so little better. */
const LEAST_GAIN = 0.95;
/** Between two points it is looked at so many times, less one. */
const PARTS = 3;
/** How many points the first piece is tried with. */
const FIRST_TRY = 8;

/**
 * Fits cubic curves that pass into each other without a bend to the points `from` to `to` of a row, each as long as it
 * may be: the search for the longest takes about as many fits as the logarithm of its points.
 * @see Schneider (1990), "An algorithm for automatically fitting digitized curves", Graphics Gems, for the fit of one.
 */
export function fittedCubics(points: PointRow, from: number, to: number, rule: FitRule): Piece[] {
  const pieces: Piece[] = [];
  const end = rule.directionAt(to, from, to, -1);
  let start = rule.directionAt(from, from, to, 1);
  for (let at = from, tries = FIRST_TRY; at < to;) {
    const piece = longest(points, at, to, tries, start, end, rule);
    pieces.push(piece);
    if (piece.to < to) start = rule.passingAt(piece.to, from, to);
    tries = piece.to - at;
    at = piece.to;
  }
  return pieces;
}

/** The longest curve from a point that is near enough. @param tries so many points are tried first. */
function longest(
  points: PointRow,
  at: number,
  to: number,
  tries: number,
  start: Direction,
  end: Direction,
  rule: FitRule,
): Piece {
  const fitTo = (stop: number) => {
    const [tx, ty] = stop === to ? [-end[0], -end[1]] : rule.passingAt(stop, at, to);
    return fitted(points, at, stop, start, [-tx, -ty], rule);
  };
  let found: Piece | undefined;
  // What is known to do, and what is not.
  let [low, high] = [at + 1, to + 1];
  for (let stop = Math.min(to, at + tries); stop > low || (stop === low && !found);) {
    const curve = fitTo(stop);
    if (curve) {
      found = { to: stop, curve };
      low = stop;
    } else high = stop;
    stop = high > to ? Math.min(to, low + 2 * (low - at)) : (low + high) >> 1;
    if (stop === low && found) break;
    if (high === at + 1) break;
  }
  // Between neighbours nothing can be done better.
  return found ?? { to: at + 1, curve: straight(points, at) };
}

const straight = ({ x, y }: PointRow, i: number): Cubic => {
  const [ax, ay, bx, by] = [x[i], y[i], x[i + 1], y[i + 1]];
  const at = (u: number) => [ax + u * (bx - ax), ay + u * (by - ay)];
  return [ax, ay, ...at(1 / 3), ...at(2 / 3), bx, by] as Cubic;
};

/** One curve for the points `from` to `to`, if it comes near enough. @param start, end the directions into it at its ends. */
function fitted(
  points: PointRow,
  from: number,
  to: number,
  start: Direction,
  end: Direction,
  rule: FitRule,
): Cubic | undefined {
  const { s } = points;
  const u = new Float64Array(to - from + 1);
  for (let i = from; i <= to; i++) u[i - from] = (s[i] - s[from]) / (s[to] - s[from]);
  let off = Infinity;
  for (let n = 0; n <= ROUNDS; n++) {
    const curve = leastSquares(points, from, to, u, start, end);
    const now = worstOf(points, from, to, u, curve, rule);
    if (now <= 1) return curve;
    if (now > BETTERED || now > LEAST_GAIN * off) return undefined;
    off = now;
    better(points, from, u, curve);
  }
  return undefined;
}

/** The curve with given directions at its ends that is nearest to the points at the parameters `u`. */
function leastSquares(
  { x, y, s }: PointRow,
  from: number,
  to: number,
  u: Float64Array,
  [ax, ay]: Direction,
  [bx, by]: Direction,
): Cubic {
  const [x0, y0, x3, y3] = [x[from], y[from], x[to], y[to]];
  let c00 = 0;
  let c01 = 0;
  let c11 = 0;
  let d0 = 0;
  let d1 = 0;
  const dot = ax * bx + ay * by;
  for (let i = from; i <= to; i++) {
    const t = u[i - from];
    const v = 1 - t;
    const p = v * v * v;
    const q = 3 * t * v * v;
    const r = 3 * t * t * v;
    const w = t * t * t;
    c00 += q * q;
    c01 += q * r * dot;
    c11 += r * r;
    const ex = x[i] - (p + q) * x0 - (r + w) * x3;
    const ey = y[i] - (p + q) * y0 - (r + w) * y3;
    d0 += q * (ax * ex + ay * ey);
    d1 += r * (bx * ex + by * ey);
  }
  const det = c00 * c11 - c01 * c01;
  let a = det !== 0 ? (d0 * c11 - d1 * c01) / det : 0;
  let b = det !== 0 ? (c00 * d1 - c01 * d0) / det : 0;
  const chord = lengthOf(x3 - x0, y3 - y0);
  const length = s[to] - s[from];
  // Handles that point backwards or reach too far make loops (Wu and Barsky).
  if (!(a > 1e-6 * length && b > 1e-6 * length && a < length && b < length)) a = b = (chord > 0 ? chord : length) / 3;
  return [x0, y0, x0 + a * ax, y0 + a * ay, x3 + b * bx, y3 + b * by, x3, y3];
}

/** How far a curve is off at most, in parts of what it may be; more than {@link BETTERED} is not looked at further. */
function worstOf(
  { x, y }: PointRow,
  from: number,
  to: number,
  u: Float64Array,
  [ax, ay, bx, by, cx, cy, dx, dy]: Cubic,
  rule: FitRule,
): number {
  const { nearPx } = rule;
  // Powers of t: with many places on one curve much is worked out once.
  const [px1, px2, px3] = [3 * (bx - ax), 3 * (ax - 2 * bx + cx), dx - ax + 3 * (bx - cx)];
  const [py1, py2, py3] = [3 * (by - ay), 3 * (ay - 2 * by + cy), dy - ay + 3 * (by - cy)];
  let worst = 0;
  for (let i = from; i < to && worst <= BETTERED; i++) {
    const t = u[i - from];
    const fromX = ax - x[i];
    const fromY = ay - y[i];
    if (i > from) {
      const away = lengthOf(fromX + t * (px1 + t * (px2 + t * px3)), fromY + t * (py1 + t * (py2 + t * py3)));
      worst = Math.max(worst, away / nearPx, rule.offAt?.(i, t, from, to) ?? 0);
    }
    const sx = x[i + 1] - x[i];
    const sy = y[i + 1] - y[i];
    const most = nearPx * lengthOf(sx, sy);
    const step = (u[i + 1 - from] - t) / PARTS;
    for (let part = 1; part < PARTS; part++) {
      const v = t + step * part;
      const px = fromX + v * (px1 + v * (px2 + v * px3));
      const py = fromY + v * (py1 + v * (py2 + v * py3));
      const off = Math.abs(px * sy - py * sx) / most;
      if (off > worst) worst = off;
    }
  }
  return worst;
}

/** Moves the parameters to where the curve is nearest to the points, by a step of Newton and Raphson. */
function better({ x, y }: PointRow, from: number, u: Float64Array, curve: Cubic): void {
  const [ax, ay, bx, by, cx, cy, dx, dy] = curve;
  for (let n = 1; n + 1 < u.length; n++) {
    const t = u[n];
    const qx = slopeAt(ax, bx, cx, dx, t);
    const qy = slopeAt(ay, by, cy, dy, t);
    const ex = cubicAt(ax, bx, cx, dx, t) - x[from + n];
    const ey = cubicAt(ay, by, cy, dy, t) - y[from + n];
    const slope = qx * qx + qy * qy + ex * bendAt(ax, bx, cx, dx, t) + ey * bendAt(ay, by, cy, dy, t);
    const next = slope !== 0 ? t - (ex * qx + ey * qy) / slope : t;
    // In their order they stay.
    if (next > u[n - 1] && next < 1) u[n] = next;
  }
}

const slopeAt = (a: number, b: number, c: number, d: number, t: number): number =>
  3 * ((1 - t) * (1 - t) * (b - a) + 2 * (1 - t) * t * (c - b) + t * t * (d - c));
const bendAt = (a: number, b: number, c: number, d: number, t: number): number =>
  6 * ((1 - t) * (c - 2 * b + a) + t * (d - 2 * c + b));

export function unit(x: number, y: number): Direction {
  const length = lengthOf(x, y);
  return length > 0 ? [x / length, y / length] : [1, 0];
}
