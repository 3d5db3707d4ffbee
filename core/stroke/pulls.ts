import { apply, lengthScale, type Matrix } from '../geometry/matrix';
import { cubicAt } from './cubic';
import type { Pen } from './pen';
import { leanBetween, plainNode, type NodeKind, type PathNode, type StrokePath } from './path';

type Place = { x: number; y: number };

/** A straight line that can be pulled. */
export const straightPath = (from: Place, to: Place): StrokePath => ({
  closed: false,
  nodes: [from, to].map(({ x, y }) => plainNode(x, y, 'auto')),
});

/**
 * A path with the handles of its `auto` nodes worked out anew: in each the curve goes as the parabola through it and its
 * neighbours does (Bessel), at an end of the line as a circle would, by and large. Others stay as they are.
 */
export function smoothed({ closed, nodes }: StrokePath): StrokePath {
  const count = nodes.length;
  const near = (i: number) => (closed ? nodes[(i + count) % count] : nodes[i]);
  const inner = nodes.map((one, i): PathNode => {
    const [before, after] = [near(i - 1), near(i + 1)];
    if (one.kind !== 'auto' || !before || !after || count < 3) return one;
    const [ax, ay, bx, by] = [one.x - before.x, one.y - before.y, after.x - one.x, after.y - one.y];
    const [a, b] = [Math.hypot(ax, ay), Math.hypot(bx, by)];
    if (a === 0 || b === 0) return { ...one, inX: 0, inY: 0, outX: 0, outY: 0 };
    const tx = ((b * ax) / a + (a * bx) / b) / (a + b);
    const ty = ((b * ay) / a + (a * by) / b) / (a + b);
    return { ...one, inX: (-a * tx) / 3, inY: (-a * ty) / 3, outX: (b * tx) / 3, outY: (b * ty) / 3 };
  });
  if (closed) return { closed, nodes: inner };
  const out = inner.map((one, i): PathNode => {
    if (one.kind !== 'auto' || (i > 0 && i < count - 1) || count < 2) return one;
    const isFirst = i === 0;
    const next = inner[isFirst ? 1 : count - 2];
    // Half of the way to the neighbour's handle; without one, a third of the way to it.
    const isStraight = count === 2;
    const [hx, hy] = isStraight ? [0, 0] : isFirst ? [next.inX, next.inY] : [next.outX, next.outY];
    const part = isStraight ? 1 / 3 : 1 / 2;
    const [x, y] = [part * (next.x + hx - one.x), part * (next.y + hy - one.y)];
    return { ...one, inX: isFirst ? 0 : x, inY: isFirst ? 0 : y, outX: isFirst ? x : 0, outY: isFirst ? y : 0 };
  });
  return { closed, nodes: out };
}

/** A place on a path: between a node and the next, and how far away something is from it, px. */
export interface OnPath {
  after: number;
  u: number;
  away: number;
}

/** Pieces of a curve that are looked at for the nearest place, which is then closed in upon so often. */
const PIECES = 48;
const HALVINGS = 16;

/** The place of a path that is nearest to another. */
export function nearestOnPath({ closed, nodes }: StrokePath, { x, y }: Place): OnPath {
  const best: OnPath = { after: 0, u: 0, away: Infinity };
  const pairs = closed ? nodes.length : nodes.length - 1;
  for (let after = 0; after < Math.max(1, pairs); after++)
    for (let n = 0; n <= PIECES; n++) {
      const [px, py] = pointOn(nodes[after], nodes[(after + 1) % nodes.length], n / PIECES);
      const away = Math.hypot(x - px, y - py);
      if (away < best.away) Object.assign(best, { after, u: n / PIECES, away });
    }
  const [a, b] = [nodes[best.after], nodes[(best.after + 1) % nodes.length]];
  for (let step = 1 / PIECES, n = 0; n < HALVINGS; n++, step /= 2)
    for (const u of [Math.max(0, best.u - step / 2), Math.min(1, best.u + step / 2)]) {
      const [px, py] = pointOn(a, b, u);
      const away = Math.hypot(x - px, y - py);
      if (away < best.away) Object.assign(best, { u, away });
    }
  return best;
}

/** The node within `reach` of a place that is nearest to it; undefined: there is none. */
export function nodeAt({ nodes }: StrokePath, { x, y }: Place, reach: number): number | undefined {
  let [best, least] = [-1, reach];
  nodes.forEach((one, i) => {
    const away = Math.hypot(one.x - x, one.y - y);
    if (away <= least) [best, least] = [i, away];
  });
  return best < 0 ? undefined : best;
}

/**
 * A path with one more node on it: nothing of it moves (de Casteljau's division).
 * @returns the node's number, too.
 */
export function withNode({ closed, nodes }: StrokePath, { after, u }: OnPath): { path: StrokePath; at: number } {
  const next = (after + 1) % nodes.length;
  const [a, b] = [nodes[after], nodes[next]];
  const mix = (p: readonly number[], q: readonly number[]) => [p[0] + u * (q[0] - p[0]), p[1] + u * (q[1] - p[1])];
  const [p0, p1] = [
    [a.x, a.y],
    [a.x + a.outX, a.y + a.outY],
  ];
  const [p2, p3] = [
    [b.x + b.inX, b.y + b.inY],
    [b.x, b.y],
  ];
  const [q0, q1, q2] = [mix(p0, p1), mix(p1, p2), mix(p2, p3)];
  const [r0, r1] = [mix(q0, q1), mix(q1, q2)];
  const [x, y] = mix(r0, r1);
  const made: PathNode = {
    ...plainNode(x, y, 'auto', a.width + u * (b.width - a.width)),
    ...{ inX: r0[0] - x, inY: r0[1] - y, outX: r1[0] - x, outY: r1[1] - y },
    ...(a.lean ? { lean: leanBetween(a.lean, b.lean, u) } : {}),
  };
  const out = [...nodes];
  out[after] = { ...a, outX: q0[0] - a.x, outY: q0[1] - a.y };
  out[next] = { ...out[next], inX: q2[0] - b.x, inY: q2[1] - b.y };
  const at = after + 1;
  out.splice(at, 0, made);
  return { path: { closed, nodes: out }, at };
}

/** A path with something else said of a node; a corner goes straight towards its neighbours. */
export function withNodeAs({ closed, nodes }: StrokePath, at: number, how: NodeChange): StrokePath {
  const straight = how.kind === 'corner' ? { inX: 0, inY: 0, outX: 0, outY: 0 } : {};
  return smoothed({ closed, nodes: nodes.map((one, i) => (i === at ? { ...one, ...straight, ...how } : one)) });
}

/** What can be said of a node beside its place. */
export type NodeChange = Partial<Pick<PathNode, 'kind' | 'width'>>;

/** A path that goes on to one more node. */
export const goneOnTo = ({ nodes }: StrokePath, { x, y }: Place, kind: NodeKind): StrokePath =>
  smoothed({ closed: false, nodes: [...nodes, plainNode(x, y, kind, nodes[nodes.length - 1].width)] });

export const closedPath = ({ nodes }: StrokePath): StrokePath => smoothed({ closed: true, nodes });

/** A path without one of its nodes; of the last two none goes. */
export const withoutNode = ({ closed, nodes }: StrokePath, at: number): StrokePath =>
  smoothed({ closed, nodes: nodes.length > 2 ? nodes.filter((_, i) => i !== at) : nodes });

/** A path with a node moved to a place: all others stay where they are. */
export const pulled = ({ closed, nodes }: StrokePath, at: number, { x, y }: Place): StrokePath =>
  smoothed({ closed, nodes: nodes.map((one, i) => (i === at ? { ...one, x, y } : one)) });

/**
 * A path that goes another way from one of its places to another: what it keeps, and between that the nodes of the way.
 * @param way its ends lie at the two places.
 * @param from where it leaves the path, and `to` where it comes back; absent: it begins, or ends, with the way. `isAcross`:
 *   of a closed one, it goes over its first node.
 */
export function splicedPath(
  path: StrokePath,
  way: StrokePath,
  { from, to, isAcross }: { from?: Place; to?: Place; isAcross?: boolean },
): StrokePath {
  const middle = [...way.nodes];
  let [before, after]: PathNode[][] = [[], []];
  const first = from && withNode(path, nearestOnPath(path, from));
  const whole = first?.path ?? path;
  const second = to && withNode(whole, nearestOnPath(whole, to));
  const { nodes } = second?.path ?? whole;
  // The second of the two has moved the first one on where it lies before it.
  const a = first && first.at + (second && second.at <= first.at ? 1 : 0);
  const b = second?.at;
  if (isAcross && a !== undefined && b !== undefined) before = nodes.slice(b, a + 1);
  else {
    if (a !== undefined) before = nodes.slice(0, a + 1);
    if (b !== undefined) after = nodes.slice(b);
  }
  if (before.length) {
    const { outX, outY } = middle.shift()!;
    before[before.length - 1] = { ...before[before.length - 1], kind: 'smooth', outX, outY };
  }
  const closing = isAcross ? before : after;
  if (closing.length && middle.length) {
    const { inX, inY } = middle.pop()!;
    closing[0] = { ...closing[0], kind: 'smooth', inX, inY };
  }
  const closed = path.closed && a !== undefined && b !== undefined;
  return { closed, nodes: [...before, ...middle, ...after] };
}

/** A path where a matrix takes it. */
export function movedPath({ closed, nodes }: StrokePath, matrix: Matrix): StrokePath {
  const [a, b, c, d] = matrix;
  const turned = (x: number, y: number) => [a * x + c * y, b * x + d * y];
  return {
    closed,
    nodes: nodes.map((one) => {
      const [x, y] = apply(matrix, one.x, one.y);
      const [inX, inY] = turned(one.inX, one.inY);
      const [outX, outY] = turned(one.outX, one.outY);
      const lean = one.lean && { ...one.lean, nibDeg: turnedDeg(one.lean.nibDeg, matrix) };
      return { ...one, x, y, inX, inY, outX, outY, ...(lean ? { lean } : {}) };
    }),
  };
}

/** Where a matrix turns a direction, degrees clockwise from the right, 0 to 360. */
function turnedDeg(deg: number, [a, b, c, d]: Matrix): number {
  const angle = (deg * Math.PI) / 180;
  const [x, y] = [a * Math.cos(angle) + c * Math.sin(angle), b * Math.cos(angle) + d * Math.sin(angle)];
  return (Math.round(((Math.atan2(y, x) * 180) / Math.PI + 360) * 1e6) / 1e6) % 360;
}

/** The pen of a line whose widths, tapers and all, its nodes say. */
export function untaperedPen({ taperInPart: _in, taperOutPart: _out, ...pen }: Pen): Pen {
  return { ...pen, taperInPx: 0, taperOutPx: 0 };
}

/** The pen of a line that was scaled by a matrix, for the same line without it. */
export function movedPen(pen: Pen, matrix: Matrix): Pen {
  const k = lengthScale(matrix);
  return {
    ...pen,
    sizePx: pen.sizePx * k,
    taperInPx: pen.taperInPx * k,
    taperOutPx: pen.taperOutPx * k,
    handScale: pen.handScale / k,
    // A flat nib has no front.
    ...(pen.flat === undefined ? {} : { nibDeg: turnedDeg(pen.nibDeg ?? 0, matrix) % 180 }),
  };
}

const pointOn = (a: PathNode, b: PathNode, u: number): [x: number, y: number] => [
  cubicAt(a.x, a.x + a.outX, b.x + b.inX, b.x, u),
  cubicAt(a.y, a.y + a.outY, b.y + b.inY, b.y, u),
];
