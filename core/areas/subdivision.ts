import { lengthOf } from '../geometry/length';
import { crossSegments } from '../geometry/segment';
import { Faces } from './faces';
import { inkLine, valueOn, type InkLine } from './ink-line';
import { LineSegments } from './line-segments';

/** A straight join from an end of a line to a place of another, or of itself. */
export interface Tie {
  end: { line: number; isStart: boolean; x: number; y: number };
  at: { line: number; place: number; x: number; y: number };
}

/** Places closer together than this are one, px; and points so near to where an edge begins do not tell where it goes. */
const NEAR_PX = 1e-9;
/** Of a tie its ends are joined already: what it meets there is no crossing. */
const TIE_MARGIN = 1e-7;
/** Lines between two looks at whether to go on. */
const AT_A_TIME = 2000;
const NONE = -1;
/** Fewer are sorted by putting each in its place. */
const MANY = 24;

/**
 * The areas that lines and ties divide the paper into, by their middles: a planar subdivision of half-edges, kept while lines
 * come and go. Where a line begins, ends, or meets another, it has a place; an edge goes from a place to the next one of its
 * line and has the number of the place where it begins. Half-edge `2 e` goes along it, `2 e + 1` back. Lines that lie on each
 * other do not cross.
 *
 * Of n points with k crossings all is made in O((n + k) log n). An edit costs what the lines that it touches, and the areas
 * at them, have of places and edges, and a look at each edge's area.
 * @see de Berg et al., Computational Geometry, 2 and 8
 */
export class Subdivision {
  /** Of each place its curve, and where it lies on it. */
  private curveOf = new Int32Array(1024);
  private partOf = new Float64Array(1024);
  /** The place of a curve that meets it there. */
  private partner = new Int32Array(1024);
  /** The places before and after it on its curve. */
  private before = new Int32Array(1024);
  private after = new Int32Array(1024);
  private hasEdge = new Uint8Array(1024);
  private linkedAt = new Int32Array(1024);
  private count = 0;
  private free: number[] = [];
  /** To be used again once nothing refers to them. */
  private freed: number[] = [];
  /** The first place of each curve; touched ones have theirs in any order. */
  private readonly first: number[] = [];
  /** The curves whose places have changed since edges were last brought up to date, each once: those marked with this turn's number. */
  private touched: number[] = [];
  private readonly touchedIn: number[] = [];
  /** Counts how often that was done, from 1. */
  private settled = 1;
  /** The places of a curve in their order. */
  private readonly row: number[] = [];
  /** Half-edges that go out from a place, with their angles, and what is still to be looked at of it. */
  private readonly out: number[] = [];
  private readonly angles: number[] = [];
  private readonly due: number[] = [];
  readonly ties = new LineSegments([]);
  readonly faces = new Faces();

  constructor(readonly segments: LineSegments) {}

  /** Curve `2 n` is line n, `2 n + 1` tie n. */
  curve(number: number): InkLine {
    return number & 1 ? this.ties.lines[number >> 1] : this.segments.lines[number >> 1];
  }

  /** The edges of a curve in their order. */
  edgesOf(curve: number): number[] {
    return [...this.placesOf(curve)].filter((place) => this.hasEdge[place]);
  }

  /** Takes in lines that the segments have got. @returns yields the part that is done. */
  *addLines(numbers: readonly number[]): Generator<number, void> {
    const isNew = new Uint8Array(this.segments.lines.length);
    for (const number of numbers) {
      isNew[number] = 1;
      this.begin(2 * number, this.segments.lines[number].count - 1);
    }
    if (this.segments.isFresh && numbers.length === this.segments.lines.length) this.crossAll();
    else
      for (const [k, number] of numbers.entries()) {
        this.crossLine(number, isNew);
        if (k % AT_A_TIME === AT_A_TIME - 1) yield k / numbers.length;
      }
  }

  /** @returns the ties' numbers. */
  addTies(ties: readonly Tie[]): number[] {
    const points = new Float64Array(6 * ties.length);
    ties.forEach(({ end, at }, n) => {
      points[6 * n] = end.x;
      points[6 * n + 1] = end.y;
      points[6 * n + 3] = at.x;
      points[6 * n + 4] = at.y;
    });
    const numbers = this.ties.addAll(ties.map((_, n) => inkLine('', '', points.subarray(6 * n, 6 * n + 6))));
    const isNew = new Uint8Array(this.ties.lines.length);
    for (const [n, number] of numbers.entries()) {
      const { end, at } = ties[n];
      isNew[number] = 1;
      // A tie of no length joins two places, and has no direction to go around by.
      const last = lengthOf(at.x - end.x, at.y - end.y) < NEAR_PX ? 0 : 1;
      const own = 2 * number + 1;
      this.begin(own, last);
      this.meet(own, 0, 2 * end.line, end.isStart ? 0 : this.segments.lines[end.line].count - 1);
      this.meet(own, last, 2 * at.line, at.place);
    }
    for (const number of numbers) this.crossTie(number, isNew);
    return numbers;
  }

  removeLine(number: number): void {
    this.remove(2 * number);
  }

  removeTie(number: number): void {
    this.remove(2 * number + 1);
    this.ties.remove(number);
  }

  /** Brings edges and areas up to date with what came and went. */
  settle(): void {
    this.faces.makeRoom(this.curveOf.length);
    for (const curve of this.touched) this.cutAtPlaces(curve);
    for (const curve of this.touched)
      for (let at = this.first[curve]; at !== NONE; at = this.after[at]) this.linkAround(at);
    this.faces.goAround(2 * this.count);
    this.touched = [];
    this.settled++;
    this.free = this.free.concat(this.freed);
    this.freed = [];
  }

  /** The edge of a curve that a part of it lies on: of two that meet there the first. */
  edgeAt(curve: number, part: number): number {
    let found = NONE;
    for (const place of this.placesOf(curve)) {
      if (!this.hasEdge[place]) continue;
      found = place;
      if (this.partOf[this.after[place]] >= part) break;
    }
    return found;
  }

  /** The curve that an edge is a part of, and where it begins and ends on it. */
  edge(number: number): { curve: number; from: number; to: number } {
    return { curve: this.curveOf[number], from: this.partOf[number], to: this.partOf[this.after[number]] };
  }

  /** The areas to both sides of a tie; undefined: it has no length. */
  sidesOf(tie: number): [number, number] | undefined {
    for (const place of this.placesOf(2 * tie + 1))
      if (this.hasEdge[place]) return [this.faces.of[2 * place], this.faces.of[2 * place + 1]];
    return undefined;
  }

  private *placesOf(curve: number): Generator<number> {
    for (let at = this.first[curve] ?? NONE; at !== NONE; at = this.after[at]) yield at;
  }

  private begin(curve: number, last: number): void {
    this.touch(curve);
    this.add(curve, 0, NONE);
    this.add(curve, last, NONE);
  }

  private meet(curveA: number, partA: number, curveB: number, partB: number): void {
    this.touch(curveA);
    this.touch(curveB);
    const place = this.add(curveA, partA, NONE);
    const other = this.add(curveB, partB, place);
    this.partner[place] = other;
  }

  private add(curve: number, part: number, partner: number): number {
    const place = this.free.pop() ?? this.count++;
    if (place === this.curveOf.length) this.grow();
    this.curveOf[place] = curve;
    this.partOf[place] = part;
    this.partner[place] = partner;
    this.after[place] = this.first[curve];
    this.first[curve] = place;
    return place;
  }

  private grow(): void {
    const longer = <T extends Int32Array | Float64Array | Uint8Array>(old: T, made: T): T => {
      made.set(old);
      return made;
    };
    const size = 2 * this.curveOf.length;
    this.curveOf = longer(this.curveOf, new Int32Array(size));
    this.partOf = longer(this.partOf, new Float64Array(size));
    this.partner = longer(this.partner, new Int32Array(size));
    this.before = longer(this.before, new Int32Array(size));
    this.after = longer(this.after, new Int32Array(size));
    this.hasEdge = longer(this.hasEdge, new Uint8Array(size));
    this.linkedAt = longer(this.linkedAt, new Int32Array(size));
  }

  /** A curve's places will change: its edges are taken out, to be cut anew. */
  private touch(curve: number): void {
    if (this.touchedIn[curve] === this.settled) return;
    this.touchedIn[curve] = this.settled;
    this.touched.push(curve);
    this.first[curve] ??= NONE;
    for (let at = this.first[curve]; at !== NONE; at = this.after[at]) {
      if (this.hasEdge[at]) this.faces.cut(at);
      this.hasEdge[at] = 0;
    }
  }

  private remove(curve: number): void {
    this.touch(curve);
    for (let at = this.first[curve]; at !== NONE; at = this.after[at]) {
      // It went with what met it there.
      if (this.curveOf[at] === NONE) continue;
      const other = this.partner[at];
      // On itself both places go with it.
      if (other !== NONE && this.curveOf[other] !== curve) {
        this.touch(this.curveOf[other]);
        this.drop(other);
      }
      this.drop(at);
    }
    this.first[curve] = NONE;
  }

  private drop(place: number): void {
    this.curveOf[place] = NONE;
    this.freed.push(place);
  }

  /** Crosses lines that have all come at once. */
  private crossAll(): void {
    const { segments } = this;
    const { line, at } = segments;
    segments.eachCrossing((a, b, s, t) => this.meet(2 * line[a], at[a] + s, 2 * line[b], at[b] + t));
    const isOutside = new Set(segments.outside);
    for (const p of segments.outside) this.crossSegment(p, (q) => q > p || !isOutside.has(q));
  }

  private crossLine(number: number, isNew: Uint8Array): void {
    const { segments, ties } = this;
    const { line } = segments;
    for (let { from: p, to } = segments.of(number); p < to; p++) {
      // Two new ones are found from both sides; those of one line lie in its order.
      this.crossSegment(p, (q) => (line[q] === number ? q > p : line[q] > number || !isNew[line[q]]));
      const { x0, y0, x1, y1 } = segments.boxOf(p);
      for (let k = 0, n = ties.search(x0, y0, x1, y1); k < n; k++) this.crossTieAt(ties.line[ties.found[k]], segments.lines[number], 2 * number, segments.at[p]); // prettier-ignore
    }
  }

  /** Meets what crosses a segment, but for its neighbours. @param isDue looks at the number of another. */
  private crossSegment(p: number, isDue: (q: number) => boolean): void {
    const { segments } = this;
    const { lines, line, at } = segments;
    const own = lines[line[p]];
    if (own.count < 2) return;
    const { x0, y0, x1, y1 } = segments.boxOf(p);
    for (let k = 0, n = segments.search(x0, y0, x1, y1); k < n; k++) {
      const q = segments.found[k];
      if (!isDue(q) || (line[q] === line[p] && Math.abs(at[q] - at[p]) < 2)) continue;
      const other = lines[line[q]];
      if (other.count > 1 && crossSegments(own, at[p], other, at[q], crossed))
        this.meet(2 * line[p], at[p] + crossed[0], 2 * line[q], at[q] + crossed[1]);
    }
  }

  private crossTie(number: number, isNew: Uint8Array): void {
    const { segments, ties } = this;
    const [ax, ay, , bx, by] = ties.lines[number].data;
    const [x0, y0, x1, y1] = [Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by)];
    for (let k = 0, n = segments.search(x0, y0, x1, y1); k < n; k++) {
      const line = segments.line[segments.found[k]];
      if (segments.lines[line].count > 1) this.crossTieAt(number, segments.lines[line], 2 * line, segments.at[segments.found[k]]); // prettier-ignore
    }
    for (let k = 0, n = ties.search(x0, y0, x1, y1); k < n; k++) {
      const other = ties.line[ties.found[k]];
      if (other > number || !isNew[other]) this.crossTieAt(number, ties.lines[other], 2 * other + 1, 0);
    }
  }

  private crossTieAt(tie: number, other: InkLine, curve: number, j: number): void {
    if (!crossSegments(this.ties.lines[tie], 0, other, j, crossed)) return;
    const [s, t] = crossed;
    if (isInside(s) && (curve % 2 === 0 || isInside(t))) this.meet(2 * tie + 1, s, curve, j + t);
  }

  /** Orders a curve's places; neighbours are the ends of an edge, but where they are one place. */
  private cutAtPlaces(curve: number): void {
    const { partOf, row, before, after } = this;
    const line = this.curve(curve);
    this.order(curve);
    this.first[curve] = row.length ? row[0] : NONE;
    for (let k = 0; k < row.length; k++) {
      const place = row[k];
      before[place] = k > 0 ? row[k - 1] : NONE;
      after[place] = k + 1 < row.length ? row[k + 1] : NONE;
      if (after[place] === NONE) break;
      const [from, to] = [partOf[place], partOf[after[place]]];
      if (isOnePlace(line, from, to)) continue;
      this.hasEdge[place] = 1;
      sweep(line, from, to, this.faces.sweeps, 2 * place);
    }
  }

  /** Lists the places that a curve still has, in the order of their parts, in `row`. */
  private order(curve: number): void {
    const { partOf, row } = this;
    row.length = 0;
    for (let at = this.first[curve]; at !== NONE; at = this.after[at]) if (this.curveOf[at] === curve) row.push(at);
    if (row.length > MANY) {
      row.sort((a, b) => partOf[a] - partOf[b] || a - b);
      return;
    }
    for (let k = 1; k < row.length; k++) {
      const place = row[k];
      const part = partOf[place];
      let to = k;
      for (; to > 0 && (partOf[row[to - 1]] > part || (partOf[row[to - 1]] === part && row[to - 1] > place)); to--)
        row[to] = row[to - 1];
      row[to] = place;
    }
  }

  /** Links the edges that meet at a place, on all curves: who comes in along one goes out by the next to turn to. */
  private linkAround(place: number): void {
    if (this.linkedAt[place] === this.settled) return;
    const { out, due, hasEdge } = this;
    out.length = 0;
    this.reach(place);
    for (let at = due.pop(); at !== undefined; at = due.pop()) {
      this.reach(this.partner[at]);
      if (hasEdge[at]) out.push(2 * at);
      else this.reach(this.after[at]);
      const before = this.before[at];
      if (before === NONE) continue;
      if (hasEdge[before]) out.push(2 * before + 1);
      else this.reach(before);
    }
    // Two are in order as they are: one follows the other.
    if (out.length > 2) this.sortByAngle();
    for (let k = 0; k < out.length; k++) this.faces.link(out[k] ^ 1, out[k > 0 ? k - 1 : out.length - 1]);
  }

  private reach(place: number): void {
    if (place === NONE || this.linkedAt[place] === this.settled) return;
    this.linkedAt[place] = this.settled;
    this.due.push(place);
  }

  private sortByAngle(): void {
    const { out, angles } = this;
    for (let k = 0; k < out.length; k++) {
      const half = out[k];
      const angle = this.angleOf(half);
      let to = k;
      for (; to > 0 && (angles[to - 1] > angle || (angles[to - 1] === angle && out[to - 1] > half)); to--) {
        out[to] = out[to - 1];
        angles[to] = angles[to - 1];
      }
      out[to] = half;
      angles[to] = angle;
    }
  }

  /** The direction in which a half-edge leaves its place. */
  private angleOf(half: number): number {
    const edge = half >> 1;
    const curve = this.curveOf[edge];
    const from = this.partOf[edge];
    const to = this.partOf[this.after[edge]];
    return half & 1 ? angleFrom(this.curve(curve), to, from) : angleFrom(this.curve(curve), from, to);
  }
}

/** Where two segments cross, as a part of each. */
const crossed = new Float64Array(2);

/** Whether a part of a tie is none of its ends. */
const isInside = (part: number): boolean => part >= TIE_MARGIN && part <= 1 - TIE_MARGIN;

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

/** Whether two places of a line, the second after the first, are one but for rounding. */
function isOnePlace(line: InkLine, a: number, b: number): boolean {
  if (b - a >= 1) return false;
  const i = Math.floor(a);
  if (b > i + 1) return Math.abs(valueOn(line, b, 0) - valueOn(line, a, 0)) + Math.abs(valueOn(line, b, 1) - valueOn(line, a, 1)) < NEAR_PX; // prettier-ignore
  if (b === a) return true;
  const at = 3 * i;
  const { data } = line;
  return (b - a) * (Math.abs(data[at + 3] - data[at]) + Math.abs(data[at + 4] - data[at + 1])) < NEAR_PX;
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
