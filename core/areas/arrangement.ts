import { crossSegments } from '../geometry/segment';
import { rootOf } from '../geometry/sets';
import { inkLine, lengthOfLine, valueOn, type InkLine } from './ink-line';
import { LinePieces } from './line-pieces';

/** A straight join from an end of a line to a place of another, or of itself. */
export interface Tie {
  a: { line: number; place: number; x: number; y: number };
  b: { line: number; place: number; x: number; y: number };
}

/**
 * The areas that lines divide the paper into, by their middles: a planar subdivision of half-edges. Edge `e` is a part of a
 * line; half-edge `2 e` goes along it, `2 e + 1` back. The area of a half-edge lies to its left where y points up, to its
 * right as it is seen.
 */
export interface Arrangement {
  /** The lines, and after them the ties. */
  lines: readonly InkLine[];
  ownLines: number;
  /** Of each edge its line and the places where it begins and ends there; edges of a line follow each other. */
  edgeLine: Int32Array;
  edgeFrom: Float64Array;
  edgeTo: Float64Array;
  /** Of each edge twice the area that it sweeps about the origin, px2, and its length, px, in turn. */
  sweeps: Float64Array;
  /** The half-edge that goes on around the same area. */
  next: Int32Array;
  /** The area of each half-edge, or rather one border of it: of an area with lines apart in it each has its own number. */
  faceOf: Int32Array;
  /** Of each tie the areas to its left and right; the same number: it divides nothing. */
  tieSides: Int32Array;
  /** Of each area twice its signed size, px2; below 0: it is what lies around lines that hang together. */
  areas: Float64Array;
  /** The length of its border, px. */
  borders: Float64Array;
}

/** Places closer together than this are one, px; and points so near to where an edge begins do not tell where it goes. */
const NEAR_PX = 1e-9;
/** Pieces between two looks at whether to go on. */
const AT_A_TIME = 2000;

/** Places of lines where others come, in the order they were found. */
class Events {
  line: Int32Array = new Int32Array(1024);
  place: Float64Array = new Float64Array(1024);
  node: Int32Array = new Int32Array(1024);
  count = 0;

  add(line: number, place: number, node: number): void {
    if (this.count === this.line.length) {
      const grown = <T extends Int32Array | Float64Array>(old: T, make: (n: number) => T): T => {
        const more = make(2 * old.length);
        more.set(old);
        return more;
      };
      this.line = grown(this.line, (n) => new Int32Array(n));
      this.place = grown(this.place, (n) => new Float64Array(n));
      this.node = grown(this.node, (n) => new Int32Array(n));
    }
    this.line[this.count] = line;
    this.place[this.count] = place;
    this.node[this.count++] = node;
  }
}

/**
 * Cuts lines where they cross, joins them by ties, and goes around the areas between them. Lines' own ends are places, too.
 * Lines that lie on each other do not cross. O((n + k) log n) for n points and k crossings.
 * @param pieces of the lines. @param ties each is a line of its own, from end to place.
 * @returns yields the part that is done.
 * @see de Berg et al., Computational Geometry, 2 and 8: a planar subdivision of half-edges; here of the lines' middles
 */
export function* arrange(pieces: LinePieces, ties: readonly Tie[]): Generator<number, Arrangement> {
  const { lines } = pieces;
  const tieLines = ties.map(({ a, b }, t): InkLine => {
    const data = Float64Array.of(a.x, a.y, 0, b.x, b.y, 0);
    return inkLine(`tie${t}`, '', data);
  });
  const all = [...lines, ...tieLines];
  const events = new Events();
  let nodes = 0;
  const ends = new Int32Array(2 * all.length);
  all.forEach((line, l) => {
    events.add(l, 0, (ends[2 * l] = nodes++));
    // A tie of no length joins two places, and has no direction to go around by.
    const isPoint = l >= lines.length && lengthOfLine(line) < NEAR_PX;
    events.add(l, isPoint ? 0 : line.count - 1, (ends[2 * l + 1] = nodes++));
  });
  const parents: number[] = [];
  const same: [number, number][] = [];
  ties.forEach(({ a, b }, t) => {
    const own = lines.length + t;
    same.push([ends[2 * own], ends[2 * a.line + (a.place > 0 ? 1 : 0)]]);
    events.add(b.line, b.place, ends[2 * own + 1]);
  });
  const meet = (la: number, pa: number, lb: number, pb: number) => {
    events.add(la, pa, nodes);
    events.add(lb, pb, nodes++);
  };
  yield* crossPieces(pieces, meet);
  crossTies(pieces, new LinePieces(tieLines), meet);
  yield 0.8;
  for (let n = 0; n < nodes; n++) parents.push(n);
  for (const [a, b] of same) parents[rootOf(parents, a)] = rootOf(parents, b);
  return aroundFaces(all, lines.length, events, parents);
}

type Meet = (lineA: number, placeA: number, lineB: number, placeB: number) => void;

function* crossPieces(pieces: LinePieces, meet: Meet): Generator<number, void> {
  const { lines, line, from, to, boxes } = pieces;
  for (let p = 0; p < pieces.count; p++) {
    if (p % AT_A_TIME === AT_A_TIME - 1) yield (0.6 * p) / pieces.count;
    const found = pieces.within(boxes[4 * p], boxes[4 * p + 1], boxes[4 * p + 2], boxes[4 * p + 3], (q) => q >= p);
    for (const q of found) {
      const [a, b] = [lines[line[p]], lines[line[q]]];
      for (let i = from[p]; i < to[p]; i++) {
        if (!meetsBox(a, i, boxes, 4 * q)) continue;
        for (let j = line[p] === line[q] ? Math.max(from[q], i + 2) : from[q]; j < to[q]; j++)
          if (segmentsMeet(a, i, b, j)) crossSegments(a, i, b, j, (s, t) => meet(line[p], i + s, line[q], j + t));
      }
    }
  }
}

/** Whether a segment's box meets one of `boxes`. */
function meetsBox({ data }: InkLine, i: number, boxes: Float64Array, at: number): boolean {
  const p = 3 * i;
  const ax = data[p];
  const ay = data[p + 1];
  const bx = data[p + 3];
  const by = data[p + 4];
  return (
    (ax < bx ? ax : bx) <= boxes[at + 2] &&
    (ax > bx ? ax : bx) >= boxes[at] &&
    (ay < by ? ay : by) <= boxes[at + 3] &&
    (ay > by ? ay : by) >= boxes[at + 1]
  );
}

/** Whether two segments' boxes meet: most do not, and are told apart without a division. */
function segmentsMeet(a: InkLine, i: number, b: InkLine, j: number): boolean {
  const p = 3 * i;
  const q = 3 * j;
  return spansMeet(a.data, p, b.data, q) && spansMeet(a.data, p + 1, b.data, q + 1);
}

/** Whether what lies between two neighbouring points' values meets what lies between two others'. */
function spansMeet(d: Float64Array, p: number, e: Float64Array, q: number): boolean {
  const a = d[p];
  const b = d[p + 3];
  const u = e[q];
  const v = e[q + 3];
  return (a > b ? a : b) >= (u < v ? u : v) && (u > v ? u : v) >= (a < b ? a : b);
}

/** Of a tie its ends are joined already: what it meets there is no crossing. */
const TIE_MARGIN = 1e-7;

function crossTies(pieces: LinePieces, ties: LinePieces, meet: Meet): void {
  const { lines, line, from, to } = pieces;
  const { boxes } = ties;
  for (let t = 0; t < ties.count; t++) {
    const tie = ties.lines[t];
    const number = lines.length + t;
    const crossTie = (other: InkLine, j: number, l: number) =>
      crossSegments(tie, 0, other, j, (s, at) => {
        if (s >= TIE_MARGIN && s <= 1 - TIE_MARGIN) meet(number, s, l, j + at);
      });
    const [x0, y0, x1, y1] = [boxes[4 * t], boxes[4 * t + 1], boxes[4 * t + 2], boxes[4 * t + 3]];
    for (const q of pieces.within(x0, y0, x1, y1))
      for (let j = from[q]; j < to[q]; j++)
        if (segmentsMeet(tie, 0, lines[line[q]], j)) crossTie(lines[line[q]], j, line[q]);
    for (const u of ties.within(x0, y0, x1, y1, (v) => v > t)) crossTie(ties.lines[u], 0, lines.length + u);
  }
}

/** Of a part of a line twice the area that it sweeps about the origin, and its length, put at `at` and after it. */
function sweep({ data }: InkLine, from: number, to: number, into: Float64Array, at: number): void {
  let i = Math.floor(from);
  let u = from - i;
  let x = data[3 * i] + (u > 0 ? u * (data[3 * i + 3] - data[3 * i]) : 0);
  let y = data[3 * i + 1] + (u > 0 ? u * (data[3 * i + 4] - data[3 * i + 1]) : 0);
  let swept = 0;
  let length = 0;
  while (i + u < to) {
    const isLast = i + 1 >= to;
    u = isLast ? to - i : 1;
    const nextX = data[3 * i] + u * (data[3 * i + 3] - data[3 * i]);
    const nextY = data[3 * i + 1] + u * (data[3 * i + 4] - data[3 * i + 1]);
    swept += x * nextY - nextX * y;
    length += Math.sqrt((nextX - x) * (nextX - x) + (nextY - y) * (nextY - y));
    x = nextX;
    y = nextY;
    if (isLast) break;
    i++;
    u = 0;
  }
  into[at] = swept;
  into[at + 1] = length;
}

function aroundFaces(all: readonly InkLine[], ownLines: number, events: Events, parents: number[]): Arrangement {
  const order = sortedEvents(events, all.length);
  // Neighbouring places of a line are the ends of an edge; those at one place are one node.
  const edges: number[] = [];
  for (let k = 1; k < order.length; k++) {
    const [e, f] = [order[k - 1], order[k]];
    if (events.line[e] !== events.line[f]) continue;
    if (isOnePlace(all[events.line[e]], events.place[e], events.place[f]))
      parents[rootOf(parents, events.node[e])] = rootOf(parents, events.node[f]);
    else edges.push(e, f);
  }
  const halves = edges.length;
  const node = new Int32Array(halves);
  const angle = new Float64Array(halves);
  for (let h = 0; h < halves; h++) {
    const [own, far] = h & 1 ? [edges[h], edges[h - 1]] : [edges[h], edges[h + 1]];
    node[h] = rootOf(parents, events.node[own]);
    angle[h] = angleFrom(all[events.line[own]], events.place[own], events.place[far]);
  }
  const next = nextAround(node, angle);
  const sums = new Float64Array(halves);
  for (let h = 0; h < halves; h += 2)
    sweep(all[events.line[edges[h]]], events.place[edges[h]], events.place[edges[h + 1]], sums, h);
  const { faceOf, areas } = facesAround(next, sums);
  const borders = new Float64Array(areas.length);
  for (let h = 0; h < halves; h++) {
    // What has one area to both sides, as hatching that hangs on to a contour, is no border.
    if (faceOf[h] === faceOf[h ^ 1]) continue;
    borders[faceOf[h]] += sums[h | 1];
  }
  const tieSides = new Int32Array(2 * (all.length - ownLines)).fill(-1);
  const edgeLine = new Int32Array(halves / 2);
  const edgeFrom = new Float64Array(halves / 2);
  const edgeTo = new Float64Array(halves / 2);
  for (let h = 0; h < halves; h += 2) {
    edgeLine[h / 2] = events.line[edges[h]];
    edgeFrom[h / 2] = events.place[edges[h]];
    edgeTo[h / 2] = events.place[edges[h + 1]];
    const tie = edgeLine[h / 2] - ownLines;
    if (tie < 0 || tieSides[2 * tie] >= 0) continue;
    tieSides[2 * tie] = faceOf[h];
    tieSides[2 * tie + 1] = faceOf[h + 1];
  }
  const graph = { lines: all, ownLines, edgeLine, edgeFrom, edgeTo, sweeps: sums, next, faceOf };
  return { ...graph, tieSides, areas, borders };
}

/**
 * Numbers the borders that half-edges go around, with twice their signed sizes.
 * @param next -1: that one is left out. @param sweeps as in {@link Arrangement}.
 */
export function facesAround(next: Int32Array, sweeps: Float64Array): Pick<Arrangement, 'faceOf' | 'areas'> {
  const faceOf = new Int32Array(next.length).fill(-1);
  const areas: number[] = [];
  for (let first = 0; first < next.length; first++) {
    if (faceOf[first] >= 0 || next[first] < 0) continue;
    let area = 0;
    for (let h = first; faceOf[h] < 0; h = next[h]) {
      faceOf[h] = areas.length;
      const part = sweeps[h & ~1];
      area += h & 1 ? -part : part;
    }
    areas.push(area);
  }
  return { faceOf, areas: Float64Array.from(areas) };
}

/** Whether two places of a line, the second after the first, are one but for rounding. */
const isOnePlace = (line: InkLine, a: number, b: number): boolean =>
  b - a < 1 &&
  Math.abs(valueOn(line, b, 0) - valueOn(line, a, 0)) + Math.abs(valueOn(line, b, 1) - valueOn(line, a, 1)) < NEAR_PX;

/** Events by their lines, and along each of them. */
function sortedEvents({ line, place, count }: Events, lines: number): Int32Array {
  const starts = new Int32Array(lines + 1);
  for (let e = 0; e < count; e++) starts[line[e] + 1]++;
  for (let l = 0; l < lines; l++) starts[l + 1] += starts[l];
  const order = new Int32Array(count);
  const at = starts.slice();
  for (let e = 0; e < count; e++) order[at[line[e]]++] = e;
  for (let l = 0; l < lines; l++)
    if (starts[l + 1] - starts[l] > 1)
      order.subarray(starts[l], starts[l + 1]).sort((e, f) => place[e] - place[f] || e - f);
  return order;
}

/** The direction in which an edge leaves a place of its line: grows with the angle, -2 to 2. */
function angleFrom(line: InkLine, from: number, to: number): number {
  const step = to > from ? 1 : -1;
  const [x, y] = [valueOn(line, from, 0), valueOn(line, from, 1)];
  let [dx, dy] = [0, 0];
  for (let k = step > 0 ? Math.floor(from) + 1 : Math.ceil(from) - 1; ; k += step) {
    const isLast = step > 0 ? k >= to : k <= to;
    const place = isLast ? to : k;
    dx = valueOn(line, place, 0) - x;
    dy = valueOn(line, place, 1) - y;
    if (isLast || Math.abs(dx) + Math.abs(dy) > NEAR_PX) break;
  }
  const sum = Math.abs(dx) + Math.abs(dy);
  if (sum === 0) return 0;
  return dy >= 0 ? 1 - dx / sum : dx / sum - 1;
}

/** After each half-edge the one that goes on around the area to its left: at its far end the next to turn to. */
function nextAround(node: Int32Array, angle: Float64Array): Int32Array {
  const halves = node.length;
  const nodes = halves ? node.reduce((most, n) => Math.max(most, n), 0) + 1 : 0;
  const starts = new Int32Array(nodes + 1);
  for (let h = 0; h < halves; h++) starts[node[h] + 1]++;
  for (let n = 0; n < nodes; n++) starts[n + 1] += starts[n];
  const out = new Int32Array(halves);
  const at = starts.slice();
  for (let h = 0; h < halves; h++) out[at[node[h]]++] = h;
  const next = new Int32Array(halves);
  for (let n = 0; n < nodes; n++) {
    const [from, to] = [starts[n], starts[n + 1]];
    if (to - from > 1) out.subarray(from, to).sort((g, h) => angle[g] - angle[h] || g - h);
    // Who comes in along the twin of one leaves by the one before it.
    for (let k = from; k < to; k++) next[out[k] ^ 1] = out[k > from ? k - 1 : to - 1];
  }
  return next;
}
