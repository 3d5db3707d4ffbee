import { lengthOf } from '../geometry/length';
import { withinTurn } from '../geometry/degrees';
import { BitReader } from './bits';
import { cubicAt } from './cubic';
import { PRESSURE_MAX, type Samples } from './samples';
import { unzigzag } from './zigzag';

/** How a path goes through a node: with a corner, smoothly by handles of its own, or smoothly by those around it. */
export const NODE_KINDS = ['corner', 'smooth', 'auto'] as const;
export type NodeKind = (typeof NODE_KINDS)[number];

/** A node of a path: paper px; its handles from it, as cubic Bezier curves have them. */
export interface PathNode {
  x: number;
  y: number;
  kind: NodeKind;
  /** Towards the node before, and the node after. */
  inX: number;
  inY: number;
  outX: number;
  outY: number;
  /** The line's width here as a part of the pen's size, 0 to 1. */
  width: number;
  /** How a pen that leaned or turned lay here; absent: upright, in its own direction. */
  lean?: NodeLean;
}

export interface NodeLean {
  /** Of the ink, 0 to 1. */
  strength: number;
  /** Of a flat nib's width, clockwise from the right, 0 to 360. */
  nibDeg: number;
}

/** What lies between two nodes of a line that leans, at the part `u` of the way: a nib turns the shorter way. */
export function leanBetween(a: NodeLean | undefined, b: NodeLean | undefined, u: number): NodeLean | undefined {
  if (!a || !b) return a ?? b;
  const turn = withinTurn(b.nibDeg - a.nibDeg + 180) - 180;
  return { strength: a.strength + u * (b.strength - a.strength), nibDeg: (a.nibDeg + u * turn + 360) % 360 };
}

/** A node without handles. */
export const plainNode = (x: number, y: number, kind: NodeKind, width = 1): PathNode => ({
  x,
  y,
  kind,
  width,
  inX: 0,
  inY: 0,
  outX: 0,
  outY: 0,
});

/** A line that was set by its nodes: cubic Bezier curves from one to the next. */
export interface StrokePath {
  /** Goes on from the last node to the first. */
  closed: boolean;
  nodes: PathNode[];
}

/** The first byte of a packed path; that of packed samples is another. */
export const PATH_VERSION = 2;
/** A line of more is drawn as several, so that each can be changed by its nodes. */
export const MOST_NODES = 4096;
/** So many can be packed: a border around all of a page is not cut. */
export const MOST_PACKED_NODES = 1 << 16;
/** What the second byte says. */
export const CLOSED = 1;
export const LEANING = 2;
export const STRENGTH_MAX = 127;
/** Places are kept to 1/64 px. */
export const UNIT_LOG2 = 6;
/** So many quanta are a px. */
export const UNITS = 2 ** UNIT_LOG2;
/** So far may the straight pieces of a path lie from its curve, paper px, and so long may they be. */
const TOLERANCE_PX = 0.02;
const LONGEST_PX = 16;
const MOST_PIECES = 512;
/** As many samples as a stroke may have, and some room. */
const MOST_PLACES = 131000;
/** Farther out than any paper. */
const FARTHEST_PX = 1e7;

export const isPath = (bytes: Uint8Array): boolean => bytes[0] === PATH_VERSION;

/** Unpacks a path. @throws {RangeError} the bytes are none. */
export function decodePath(bytes: Uint8Array): StrokePath {
  const input = new BitReader(bytes);
  if (input.bits(8) !== PATH_VERSION) throw new RangeError('no path');
  const flags = input.bits(8);
  if (flags > (CLOSED | LEANING)) throw new RangeError('a path of a later kind');
  const closed = (flags & CLOSED) !== 0;
  const count = input.varint();
  if (count < 1 || count > MOST_PACKED_NODES) throw new RangeError(`impossible number of nodes ${count}`);
  const nodes: PathNode[] = [];
  let [x, y] = [0, 0];
  const read = () => unzigzag(input.varint()) / UNITS;
  for (let i = 0; i < count; i++) {
    const kind = NODE_KINDS[input.bits(2)];
    if (!kind) throw new RangeError('impossible node');
    const width = input.bits(10) / PRESSURE_MAX;
    const lean = flags & LEANING ? { strength: input.bits(7) / STRENGTH_MAX, nibDeg: input.bits(9) } : undefined;
    if (lean && lean.nibDeg >= 360) throw new RangeError('impossible direction');
    x += read();
    y += read();
    const [inX, inY, outX, outY] = [read(), read(), read(), read()];
    if ([x, y, x + inX, y + inY, x + outX, y + outY].some((v) => Math.abs(v) > FARTHEST_PX))
      throw new RangeError('a node beyond every paper');
    nodes.push({ x, y, kind, inX, inY, outX, outY, width, ...(lean ? { lean } : {}) });
  }
  return { closed, nodes };
}

/** What altitude is in a hand's samples is the strength of the ink: this is all of it. */
export const FULL_STRENGTH = 90;
/** What azimuth is there is the direction of the nib: this is the pen's own. */
export const OWN_DIRECTION = -1;

/**
 * A path as samples: close enough for every size at which it is looked at. What pressure is in a hand's samples is the
 * width as a part of the pen's size, and altitude and azimuth are strength and direction. Only + - x / and sqrt, so that the bits agree everywhere.
 * @param into filled, where given; its channels grow as needed.
 */
export function flattened({ closed, nodes }: StrokePath, into: Samples): Samples {
  const points: number[] = [];
  const add = (x: number, y: number, width: number, lean?: NodeLean) =>
    points.push(x, y, width, lean?.strength ?? 1, lean?.nibDeg ?? OWN_DIRECTION);
  add(nodes[0].x, nodes[0].y, nodes[0].width, nodes[0].lean);
  const pairs = closed && nodes.length > 1 ? nodes.length : nodes.length - 1;
  const most = Math.min(MOST_PIECES, Math.floor(MOST_PLACES / Math.max(1, pairs)));
  for (let i = 0; i < pairs; i++) addCurve(nodes[i], nodes[(i + 1) % nodes.length], most, add);
  const count = points.length / POINT;
  into.unitLog2 = UNIT_LOG2;
  into.count = count;
  into.isPath = true;
  for (const name of ['x', 'y', 't', 'pressure', 'altitude', 'azimuth'] as const)
    if (into[name].length < count) into[name] = new Int32Array(count);
  for (let i = 0; i < count; i++) {
    const at = POINT * i;
    into.x[i] = Math.round(points[at] * UNITS);
    into.y[i] = Math.round(points[at + 1] * UNITS);
    into.t[i] = 16 * i;
    into.pressure[i] = Math.round(points[at + 2] * PRESSURE_MAX);
    into.altitude[i] = Math.round(points[at + 3] * FULL_STRENGTH);
    into.azimuth[i] = points[at + 4] < 0 ? OWN_DIRECTION : Math.round(points[at + 4]) % 360;
  }
  return into;
}

/** Values of a place of a flattened path. */
const POINT = 5;

/** @param most into how many straight pieces at most. */
function addCurve(
  a: PathNode,
  b: PathNode,
  most: number,
  add: (x: number, y: number, width: number, lean?: NodeLean) => void,
): void {
  const [x1, y1, x2, y2] = [a.x + a.outX, a.y + a.outY, b.x + b.inX, b.y + b.inY];
  // How far a curve leaves its chords is bounded by its second differences (Wang 1984).
  const d1 = lengthOf(a.x - 2 * x1 + x2, a.y - 2 * y1 + y2);
  const d2 = lengthOf(x1 - 2 * x2 + b.x, y1 - 2 * y2 + b.y);
  const round = Math.sqrt((0.75 * Math.max(d1, d2)) / TOLERANCE_PX);
  const long = (lengthOf(x1 - a.x, y1 - a.y) + lengthOf(x2 - x1, y2 - y1) + lengthOf(b.x - x2, b.y - y2)) / LONGEST_PX;
  // What has no width goes there and back between the curves of one path: both ways by the same places, so that what is
  // filled is not.
  const isSeam = a.width === 0 && b.width === 0 && !(a.outX || a.outY || b.inX || b.inY);
  const pieces = isSeam ? 1 : Math.min(most, Math.max(1, Math.ceil(Math.max(round, long))));
  for (let n = 1; n <= pieces; n++) {
    const u = n / pieces;
    const isEnd = n === pieces;
    add(
      isEnd ? b.x : cubicAt(a.x, x1, x2, b.x, u),
      isEnd ? b.y : cubicAt(a.y, y1, y2, b.y, u),
      a.width + u * (b.width - a.width),
      leanBetween(a.lean, b.lean, u),
    );
  }
}
