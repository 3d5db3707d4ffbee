import { aroundOf, codeAt, NEIGHBOURS } from './thinning';

/** Where lines meet or end; px. */
export interface Node {
  x: number;
  y: number;
  /** Of the ink around it. */
  ink: number;
  /** So far around it lines share their ink: where they cross at a small angle it is more than that of the ink. */
  radius: number;
  branches: Set<Branch>;
}

/** A line from one node to another, without what others share: places in px, the ink's radius at each. */
export interface Branch {
  from: Node;
  to: Node;
  points: Point[];
  /** Its ends lie on each other and on nothing else. */
  isRing: boolean;
}

export interface Point {
  x: number;
  y: number;
  r: number;
}

export interface Graph {
  nodes: Set<Node>;
  branches: Set<Branch>;
  /** Ink that was thinned to a single place. */
  dots: Point[];
}

/**
 * The lines of a thinned mask, and where they meet.
 * @param mask with a margin of a pixel, one pixel wide. @param radiusAt of the ink around a pixel.
 */
export function graphOf(mask: Uint8Array, stride: number, radiusAt: (at: number) => number): Graph {
  const around = aroundOf(stride);
  const graph: Graph = { nodes: new Set(), branches: new Set(), dots: [] };
  const pointAt = (at: number): Point => ({
    x: (at % stride) - 0.5,
    y: Math.floor(at / stride) - 0.5,
    r: radiusAt(at),
  });
  const nodeOf = new Map<number, Node>();
  for (let at = 0; at < mask.length; at++) {
    if (!mask[at] || nodeOf.has(at)) continue;
    const count = NEIGHBOURS[codeAt(mask, at, around)];
    if (count === 2) continue;
    if (count === 0) graph.dots.push(pointAt(at));
    else addNode(at);
  }
  const done = new Uint8Array(mask.length);
  for (const [at, node] of nodeOf)
    for (const step of around)
      if (mask[at + step] && !nodeOf.has(at + step) && !done[at + step]) follow(node, at, at + step);
  // What is left are rings; a dot has no neighbours.
  for (let at = 0; at < mask.length; at++)
    if (mask[at] && !done[at] && !nodeOf.has(at) && NEIGHBOURS[codeAt(mask, at, around)] === 2) ring(at);
  return graph;

  /** Pixels that meet and touch each other are one node, in their middle. */
  function addNode(first: number): void {
    const members = [first];
    const node: Node = { x: 0, y: 0, ink: 0, radius: 0, branches: new Set() };
    nodeOf.set(first, node);
    for (let i = 0; i < members.length; i++)
      for (const step of around) {
        const at = members[i] + step;
        if (!mask[at] || nodeOf.has(at) || NEIGHBOURS[codeAt(mask, at, around)] === 2) continue;
        nodeOf.set(at, node);
        members.push(at);
      }
    for (const at of members) {
      const { x, y, r } = pointAt(at);
      node.x += x / members.length;
      node.y += y / members.length;
      node.ink = node.radius = Math.max(node.radius, r);
    }
    graph.nodes.add(node);
  }

  /** Goes on from a node along a line until it comes to one. */
  function follow(from: Node, before: number, first: number): void {
    const points: Point[] = [];
    for (let [last, at] = [before, first]; ;) {
      done[at] = 1;
      points.push(pointAt(at));
      const next = nextOf(at, last);
      const node = next === undefined ? undefined : nodeOf.get(next);
      if (next === undefined || node || done[next]) {
        // What only touches a node's side is no line.
        if (node !== from || points.length > 2) connect(graph, { from, to: node ?? from, points, isRing: false });
        return;
      }
      [last, at] = [at, next];
    }
  }

  /** The pixel after one of a line: it has no other neighbour. */
  function nextOf(at: number, last: number): number | undefined {
    for (const step of around) if (mask[at + step] && at + step !== last) return at + step;
    return undefined;
  }

  function ring(first: number): void {
    const points: Point[] = [];
    const { x, y, r } = pointAt(first);
    const node: Node = { x, y, ink: r, radius: r, branches: new Set() };
    for (let [last, at] = [-1, first]; ;) {
      done[at] = 1;
      points.push(pointAt(at));
      const next = around.map((step) => at + step).find((one) => mask[one] && one !== last && !done[one]);
      if (next === undefined) break;
      [last, at] = [at, next];
    }
    // Around less there is no paper: it is a part of a junction.
    if (points.length < 4) return;
    graph.nodes.add(node);
    connect(graph, { from: node, to: node, points, isRing: true });
  }
}

function connect(graph: Graph, branch: Branch): void {
  graph.branches.add(branch);
  branch.from.branches.add(branch);
  branch.to.branches.add(branch);
}

function cut(graph: Graph, branch: Branch): void {
  graph.branches.delete(branch);
  branch.from.branches.delete(branch);
  branch.to.branches.delete(branch);
}

const lengthOf = ({ from, to, points }: Branch): number => {
  let sum = 0;
  let [x, y] = [from.x, from.y];
  for (const p of points) {
    sum += Math.hypot(p.x - x, p.y - y);
    [x, y] = [p.x, p.y];
  }
  return sum + Math.hypot(to.x - x, to.y - y);
};

/** How many lines' ends meet at a node: both ends of a loop. */
const degreeOf = (node: Node): number => {
  let count = 0;
  for (const { from, to } of node.branches) count += from === to ? 2 : 1;
  return count;
};

/** A side branch that reaches out of the ink around its node by no more than this, px and parts of the radius, is its rim. */
const RIM_PX = 1;
const RIM_PART = 0.5;

/** Takes off the side branches that come from bumps and corners of the ink. */
export function pruneSpurs(graph: Graph): void {
  for (const root of graph.nodes) {
    if (degreeOf(root) < 3) continue;
    const spurs = [...root.branches]
      .filter((branch) => isSpur(branch, root))
      .map((branch) => ({ branch, length: lengthOf(branch) }))
      .sort((a, b) => b.length - a.length);
    // A blob of nothing else is the line between the two farthest of them.
    const kept = spurs.length === degreeOf(root) ? 2 : 0;
    for (const { branch } of spurs.slice(kept)) {
      cut(graph, branch);
      graph.nodes.delete(branch.from === root ? branch.to : branch.from);
    }
  }
  mergePassed(graph);
}

function isSpur(branch: Branch, root: Node): boolean {
  const end = branch.from === root ? branch.to : branch.from;
  if (end === root || degreeOf(end) !== 1) return false;
  return lengthOf(branch) + end.radius - root.radius <= RIM_PX + RIM_PART * root.radius;
}

/** Where only two ends are left, lines go on through their node. */
function mergePassed(graph: Graph): void {
  for (const node of graph.nodes) {
    if (node.branches.size !== 2 || degreeOf(node) !== 2) continue;
    const [a, b] = node.branches;
    const [first, second] = [into(a, node), outOf(b, node)];
    cut(graph, a);
    cut(graph, b);
    graph.nodes.delete(node);
    const middle = { x: node.x, y: node.y, r: node.radius };
    connect(graph, {
      from: first.from,
      to: second.to,
      points: [...first.points, middle, ...second.points],
      isRing: false,
    });
  }
}

const reversed = ({ from, to, points, isRing }: Branch): Branch => ({
  ...{ from: to, to: from, isRing },
  points: points.toReversed(),
});
const into = (branch: Branch, node: Node): Branch => (branch.to === node ? branch : reversed(branch));
const outOf = (branch: Branch, node: Node): Branch => (branch.from === node ? branch : reversed(branch));

/** Lines that cross at a small angle share a bridge of up to so many radii. */
const MOST_SHARED = 9;
/** They run on so straight, degrees. */
const SHARED_TURN_DEG = 24;
/** A direction beyond a junction is taken over so many px. */
const DIRECTION_PX = 12;

/** Whether a bridge between two junctions of three is a part of two lines that cross there. */
function isShallowCrossing(bridge: Branch, length: number): boolean {
  const { from, to } = bridge;
  if (degreeOf(from) !== 3 || degreeOf(to) !== 3) return false;
  if (length > MOST_SHARED * Math.max(2, from.radius, to.radius)) return false;
  const others = (node: Node) => [...node.branches].filter((b) => b !== bridge).map((b) => awayFrom(b, node));
  const [as, bs] = [others(from), others(to)];
  if (as.length !== 2 || bs.length !== 2) return false;
  const straight = (a: Ray, b: Ray): boolean => {
    // From where one comes out to where the other does, both must go that way.
    const [x, y] = [b.x - a.x, b.y - a.y];
    const far = Math.hypot(x, y) || 1;
    const bend = (u: number, v: number) =>
      (Math.acos(Math.max(-1, Math.min(1, (u * x + v * y) / far))) * 180) / Math.PI;
    return bend(-a.dx, -a.dy) < SHARED_TURN_DEG && bend(b.dx, b.dy) < SHARED_TURN_DEG;
  };
  return (straight(as[0], bs[0]) && straight(as[1], bs[1])) || (straight(as[0], bs[1]) && straight(as[1], bs[0]));
}

/** Where a branch comes out of a node's ink, and the direction in which it goes on. */
interface Ray {
  x: number;
  y: number;
  dx: number;
  dy: number;
}

function awayFrom(branch: Branch, node: Node): Ray {
  const points = branch.from === node ? branch.points : branch.points.toReversed();
  const out = Math.max(
    0,
    points.findIndex((p) => Math.hypot(p.x - node.x, p.y - node.y) > node.radius),
  );
  let far = out;
  while (
    far + 1 < points.length &&
    Math.hypot(points[far].x - points[out].x, points[far].y - points[out].y) < DIRECTION_PX
  )
    far++;
  const [a, b] = [points[out] ?? node, points[far] ?? node];
  const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  return { x: a.x, y: a.y, dx: (b.x - a.x) / length, dy: (b.y - a.y) / length };
}

/** Two junctions whose ink lies over each other are one place: lines that cross are thinned to a short bridge. */
export function contractBridges(graph: Graph): void {
  const bridges = [...graph.branches]
    .map((branch) => ({ branch, length: lengthOf(branch) }))
    .sort((a, b) => a.length - b.length);
  for (const { branch, length } of bridges) {
    const { from, to } = branch;
    if (!graph.branches.has(branch) || from === to || degreeOf(from) < 3 || degreeOf(to) < 3) continue;
    const isShort = length <= 0.9 * (from.radius + to.radius) + 1;
    if (!isShort && !isShallowCrossing(branch, length)) continue;
    cut(graph, branch);
    const share = from.radius / Math.max(1e-6, from.radius + to.radius);
    const one: Node = {
      x: share * from.x + (1 - share) * to.x,
      y: share * from.y + (1 - share) * to.y,
      ink: Math.max(from.ink, to.ink),
      radius: isShort ? Math.max(from.radius, to.radius) : length / 2 + Math.max(from.radius, to.radius),
      branches: new Set(),
    };
    for (const old of [from, to]) {
      for (const b of [...old.branches]) {
        if (b.from === old) b.from = one;
        if (b.to === old) b.to = one;
        one.branches.add(b);
      }
      graph.nodes.delete(old);
    }
    graph.nodes.add(one);
  }
}
