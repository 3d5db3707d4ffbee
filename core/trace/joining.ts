import type { Branch, Graph, Node, Point } from './skeleton-graph';

/** A line from end to end, through the junctions where it runs on smoothly. */
export interface Chain {
  points: Point[];
  closed: boolean;
  /** Whether an end is the end of its ink, and not a junction. */
  freeStart: boolean;
  freeEnd: boolean;
}

/** Two lines at a junction are one where they turn by less than this. */
const MOST_TURN_DEG = 42;
/** So many degrees of turn one being twice as wide as the other counts for. */
const WIDTH_DEG = 22;
/** A direction is taken over so many radii of the junction, and at least so many px. */
const OVER_RADII = 2.5;
const OVER_PX = 6;

/** An end of a branch at a node. */
interface End {
  branch: Branch;
  /** Whether the branch begins there. */
  isStart: boolean;
  /** Where it goes from the node on. */
  x: number;
  y: number;
  radius: number;
  /** The end that it runs on into. */
  on?: End;
}

/** The lines of a graph: at each junction those two ends go on into each other that turn the least, and then the next two. */
export function joined(graph: Graph): Chain[] {
  const ends = new Map<Branch, { start: End; end: End }>();
  for (const branch of graph.branches) {
    const at = (isStart: boolean) => endOf(branch, isStart);
    ends.set(branch, { start: at(true), end: at(false) });
  }
  for (const node of graph.nodes) pairUp(node, ends);
  const taken = new Set<Branch>();
  const chains: Chain[] = [];
  const all = [...ends.values()];
  // From where a line begins, and then what has no beginning.
  for (const { start, end } of all) {
    if (!start.on) chains.push(...chainFrom(start, ends, taken));
    else if (!end.on) chains.push(...chainFrom(end, ends, taken));
  }
  for (const { start } of all) chains.push(...chainFrom(start, ends, taken));
  return chains;
}

function endOf(branch: Branch, isStart: boolean): End {
  const node = isStart ? branch.from : branch.to;
  const points = isStart ? branch.points : branch.points.toReversed();
  const clear = points.findIndex((p) => Math.hypot(p.x - node.x, p.y - node.y) > node.radius);
  const from = clear < 0 ? 0 : clear;
  const far = Math.max(OVER_PX, OVER_RADII * node.radius);
  let to = from;
  while (to + 1 < points.length && Math.hypot(points[to].x - points[from].x, points[to].y - points[from].y) < far) to++;
  const end = points[to] ?? node;
  // Of a short one the node itself tells more than what lies in its ink.
  const begin = to - from >= 3 ? points[from] : node;
  const [dx, dy] = [end.x - begin.x, end.y - begin.y];
  const length = Math.hypot(dx, dy) || 1;
  const radii = points.slice(from, to + 1).map((p) => p.r);
  return { branch, isStart, x: dx / length, y: dy / length, radius: median(radii) ?? node.radius };
}

function pairUp(node: Node, ends: Map<Branch, { start: End; end: End }>): void {
  const here = [...node.branches].flatMap((branch) => {
    if (branch.isRing) return [];
    const { start, end } = ends.get(branch)!;
    return [...(branch.from === node ? [start] : []), ...(branch.to === node ? [end] : [])];
  });
  const pairs = here.flatMap((a, i) => here.slice(i + 1).map((b) => ({ a, b, turn: turnOf(a, b) })));
  for (const { a, b, turn } of pairs.sort((p, q) => p.turn - q.turn)) {
    if (turn > MOST_TURN_DEG || a.on || b.on) continue;
    a.on = b;
    b.on = a;
  }
}

/** By how much a line turns that comes in along one end and goes out along another, degrees; the more the less alike they are in width. */
function turnOf(a: End, b: End): number {
  const cos = Math.max(-1, Math.min(1, -(a.x * b.x + a.y * b.y)));
  const unlike = Math.abs(Math.log2(Math.max(0.5, a.radius) / Math.max(0.5, b.radius)));
  return (Math.acos(cos) * 180) / Math.PI + WIDTH_DEG * unlike;
}

function chainFrom(first: End, ends: Map<Branch, { start: End; end: End }>, taken: Set<Branch>): Chain[] {
  if (taken.has(first.branch)) return [];
  if (first.branch.isRing) {
    taken.add(first.branch);
    return [{ points: first.branch.points, closed: true, freeStart: false, freeEnd: false }];
  }
  const points: Point[] = [];
  const start = first.isStart ? first.branch.from : first.branch.to;
  let isFirst = true;
  for (let at = first; ;) {
    const { branch, isStart } = at;
    taken.add(branch);
    const other = isStart ? ends.get(branch)!.end : ends.get(branch)!.start;
    const [from, to] = isStart ? [branch.from, branch.to] : [branch.to, branch.from];
    const inner = isStart ? branch.points : branch.points.toReversed();
    const own = outside(inner, from, to, isFirst && !first.on, !other.on);
    if (!isFirst) points.push(...bridged(points, own));
    for (const point of own) points.push(point);
    isFirst = false;
    const free = { freeStart: !first.on && isTip(start), freeEnd: !other.on && isTip(to) };
    if (!other.on) return [{ points, closed: false, ...free }];
    if (taken.has(other.on.branch)) {
      const closed = other.on.branch === first.branch;
      if (closed) points.push(...bridged(points, points));
      return [{ points, closed, ...free }];
    }
    at = other.on;
  }
}

/**
 * A branch's places beyond the ink of its junctions, which pulls them aside and makes them wide; where it ends at one, it goes on to its middle, as wide as it was.
 * @param endsFrom, endsTo whether it ends there.
 */
function outside(points: readonly Point[], from: Node, to: Node, endsFrom: boolean, endsTo: boolean): Point[] {
  // A line that ends there shares no more than the ink around the middle.
  const isClear = (p: Point, node: Node, ends: boolean) =>
    isTip(node) || Math.hypot(p.x - node.x, p.y - node.y) > (ends ? node.ink : node.radius);
  const kept = points.filter((p) => isClear(p, from, endsFrom) && isClear(p, to, endsTo));
  if (!kept.length && points.length) kept.push(points[points.length >> 1]);
  const toMiddle = (node: Node, last: Point | undefined, ends: boolean): Point[] => {
    if (!ends) return [];
    if (isTip(node) || !last) return [{ x: node.x, y: node.y, r: node.ink }];
    const isNear = Math.hypot(last.x - node.x, last.y - node.y) <= 2 * node.ink + 2;
    return isNear ? [{ x: node.x, y: node.y, r: last.r }] : [];
  };
  return [...toMiddle(from, kept[0], endsFrom), ...kept, ...toMiddle(to, kept[kept.length - 1], endsTo)];
}

/** Directions at a gap are taken over so many places. */
const DIRECTION_OVER = 6;

/** Places across a junction, about a pixel apart, on a curve that leaves one line as it came and meets the next. */
export function bridged(before: readonly Point[], after: readonly Point[]): Point[] {
  const [a, b] = [before[before.length - 1], after[0]];
  const gap = Math.hypot(b.x - a.x, b.y - a.y);
  const [p, q] = [
    before[Math.max(0, before.length - 1 - DIRECTION_OVER)],
    after[Math.min(after.length - 1, DIRECTION_OVER)],
  ];
  const along = (from: Point, to: Point): readonly [number, number] => {
    const length = Math.hypot(to.x - from.x, to.y - from.y);
    // Without a direction of its own it goes straight.
    return length > 0 ? [((to.x - from.x) / length) * gap, ((to.y - from.y) / length) * gap] : [b.x - a.x, b.y - a.y];
  };
  const [ux, uy] = along(p, a);
  const [vx, vy] = along(b, q);
  const out: Point[] = [];
  for (let k = 1, n = Math.round(gap); k < n; k++) {
    const t = k / n;
    const [h0, h1] = [(1 + 2 * t) * (1 - t) ** 2, t * t * (3 - 2 * t)];
    const [g0, g1] = [t * (1 - t) ** 2, t * t * (t - 1)];
    out.push({
      x: h0 * a.x + h1 * b.x + g0 * ux + g1 * vx,
      y: h0 * a.y + h1 * b.y + g0 * uy + g1 * vy,
      r: a.r + t * (b.r - a.r),
    });
  }
  return out;
}

const isTip = (node: Node): boolean => node.branches.size < 2;

function median(values: number[]): number | undefined {
  return values.sort((a, b) => a - b)[values.length >> 1];
}
