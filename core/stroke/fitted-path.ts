import { lengthOf } from '../geometry/length';
import { fittedCubics, unit, type Direction, type FitRule, type PointRow } from './cubic-fit';
import { leanBetween, plainNode, type NodeKind, type NodeLean, type PathNode, type StrokePath } from './path';
import { OWN, Spine } from './spine';

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

/** How far strength, and the direction of a nib in degrees, may be off. */
const STRENGTH_OFF = 0.05;
const TURN_OFF_DEG = 4;

/** How far a path may lie from its line, in place and in radius, px. */
export interface Nearness {
  px: number;
  radiusPx: number;
}
const AIM: Nearness = { px: AIM_PX, radiusPx: AIM_RADIUS_PX };

interface Line extends PointRow {
  r: Float64Array;
  /** Of a pen that leaned or turned. */
  leans?: NodeLean[];
}

/** Near enough is as wide, too. */
function ruleFor(line: Line, near: Nearness): FitRule {
  const { r, leans } = line;
  const leanOff = (i: number, t: number, from: number, to: number): number => {
    if (!leans) return 0;
    const { strength, nibDeg } = leanBetween(leans[from], leans[to], t)!;
    const turn = Math.abs(nibDeg - leans[i].nibDeg);
    return Math.max(Math.abs(strength - leans[i].strength) / STRENGTH_OFF, Math.min(turn, 360 - turn) / TURN_OFF_DEG);
  };
  // What may be farther off is rougher, too.
  const tangentPx = Math.max(TANGENT_PX, (TANGENT_PX * near.px) / AIM.px);
  const isEven = !leans && r.every((one) => one === r[0]);
  const offAt = (i: number, t: number, from: number, to: number): number =>
    Math.max(Math.abs(r[from] + t * (r[to] - r[from]) - r[i]) / near.radiusPx, leanOff(i, t, from, to));
  return {
    nearPx: near.px,
    offAt: isEven ? undefined : offAt,
    directionAt: (i, from, to, step) => tangentAt(line, i, from, to, step, tangentPx),
    passingAt: (i, from, to) => {
      const [ax, ay] = tangentAt(line, i, from, to, -1, tangentPx);
      const [bx, by] = tangentAt(line, i, from, to, 1, tangentPx);
      return unit(bx - ax, by - ay);
    },
  };
}

/**
 * A path with few nodes that lies where a line lies, as wide as it: at most {@link FIT_PX} off.
 * @param line with all its points, paper px.
 * @param sizePx what the widths of nodes are parts of. @param near how near is near enough.
 * @see Schneider (1990), "An algorithm for automatically fitting digitized curves", Graphics Gems.
 */
export function fittedPath(line: Spine, sizePx: number, near: Nearness = AIM): StrokePath {
  const points = lineOf(line);
  const count = points.x.length;
  const width = (i: number) => Math.min(1, (2 * points.r[i]) / sizePx);
  const node = (i: number, kind: NodeKind): PathNode => {
    const plain = plainNode(points.x[i], points.y[i], kind, width(i));
    return points.leans ? { ...plain, lean: points.leans[i] } : plain;
  };
  if (count < 2) return { closed: false, nodes: [node(0, 'auto')] };
  const nodes: PathNode[] = [node(0, 'corner')];
  const stops = [...cornersOf(points), count - 1];
  const rule = ruleFor(points, near);
  let from = 0;
  for (const to of stops) {
    for (const { to: end, curve } of fittedCubics(points, from, to, rule)) {
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

/** A path whose last node lies on its first, closed there. */
export function closedPath({ nodes }: StrokePath): StrokePath {
  const last = nodes[nodes.length - 1];
  const first = { ...nodes[0], inX: last.inX, inY: last.inY };
  return { closed: true, nodes: [first, ...nodes.slice(1, -1)] };
}

/**
 * The closed path around a ring.
 * @param ring `[x0, y0, x1, y1, ...]`, one point at least. @param near as {@link fittedPath}.
 * @param radiusAt of its line at each point, px; absent: as wide as its size everywhere.
 */
export function fittedRing(
  ring: Float64Array,
  sizePx: number,
  near: Nearness,
  radiusAt: (point: number) => number = () => sizePx / 2,
): StrokePath {
  const count = ring.length / 2;
  const start = sharpestOf(ring);
  const spine = new Spine(count + 1);
  for (let i = 0; i <= count; i++) {
    const point = (start + i) % count;
    spine.push(ring[2 * point], ring[2 * point + 1], radiusAt(point));
  }
  const open = fittedPath(spine, sizePx, near);
  return open.nodes.length > 3 ? closedPath(open) : { ...open, closed: true };
}

/** A ring turns the most where its points to both sides, so many on, see it so: its path begins with a corner. */
const SEEN_FROM = 3;

function sharpestOf(ring: Float64Array): number {
  const count = ring.length / 2;
  let [best, least] = [0, Infinity];
  for (let i = 0; i < count; i++) {
    const [a, b, c] = [2 * ((i + count - (SEEN_FROM % count)) % count), 2 * i, 2 * ((i + SEEN_FROM) % count)];
    const cos = (ring[b] - ring[a]) * (ring[c] - ring[b]) + (ring[b + 1] - ring[a + 1]) * (ring[c + 1] - ring[b + 1]);
    if (cos < least) [best, least] = [i, cos];
  }
  return best;
}

/** The line's points, without those that lie on each other. */
function lineOf({ data, count, own }: Spine): Line {
  const kept: number[] = [];
  for (let i = 0; i < count; i++) {
    const before = kept[kept.length - 1];
    if (before === undefined || lengthOf(data[3 * i] - data[3 * before], data[3 * i + 1] - data[3 * before + 1]) > 1e-6)
      kept.push(i);
  }
  const take = (c: number) => {
    const values = new Float64Array(kept.length);
    for (let n = 0; n < kept.length; n++) values[n] = data[3 * kept[n] + c];
    return values;
  };
  const line: Line = { x: take(0), y: take(1), r: take(2), s: new Float64Array(kept.length) };
  if (own) line.leans = kept.map((i) => leanOf(own, i));
  for (let i = 1; i < kept.length; i++)
    line.s[i] = line.s[i - 1] + lengthOf(line.x[i] - line.x[i - 1], line.y[i] - line.y[i - 1]);
  return line;
}

function leanOf(own: Float64Array, i: number): NodeLean {
  const [ex, ey] = [own[OWN * i + OWN - 2], own[OWN * i + OWN - 1]];
  return { strength: own[OWN * i], nibDeg: ((Math.atan2(ey, ex) * 180) / Math.PI + 360) % 360 };
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
  const lengths = lengthOf(ax, ay) * lengthOf(bx, by);
  return lengths > 0 ? (ax * bx + ay * by) / lengths : 1;
}

/** The unit vector into a piece of the line at one of its points, over some px. @param step towards which end. */
function tangentAt({ x, y, s }: Line, i: number, from: number, to: number, step: 1 | -1, overPx: number): Direction {
  let j = i + step;
  while (j + step >= from && j + step <= to && Math.abs(s[j] - s[i]) < overPx) j += step;
  return unit(x[j] - x[i], y[j] - y[i]);
}
