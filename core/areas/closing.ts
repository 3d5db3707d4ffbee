import { lengthOf } from '../geometry/length';
import { emptyBox, type Box } from '../geometry/box';
import { finish } from '../sheet/ink-work';
import { rootOf } from '../geometry/sets';
import type { Faces } from './faces';
import { hatchingReach, neighboursOf } from './hatching';
import { widestRadius, type InkLine } from './ink-line';
import { LineSegments } from './line-segments';
import { endNear, endOf, meetingsOf, runTogether, TOUCH_PX, type LineEnd, type Meeting } from './loose-ends';
import { Subdivision } from './subdivision';

/** An end that nearly meets other ink. */
export interface Gap extends Meeting {
  /** The lines that it lies between, and the tie that closes it. */
  pair: Pair;
  tie: number;
  /** Whether that parts two shapes: only then is it a gap in what would be a closed shape. */
  parts: boolean;
}

/** A shape is so many times as broad as the gap that opens it, at least; what is narrower lies between lines of hatching. */
const LEAST_BREADTH = 2;
/** And of the widest gap that is looked for. */
const LEAST_OF_REACH = 0.75;
/** A tip has a line or two beside it, as the gape of a beak; hatching has more. */
const MANY_NEIGHBOURS = 4;
/** So many beside a line make it one of hatching. */
const LEAST_NEIGHBOURS = 2;
/** Areas of no more than this are no more than rounding, px2. */
const ROUNDING = 1e-6;
/** Joins between the same places, but for this, are one, px. */
const SAME_PX = 0.01;
/** Two ends that meet each other do so within this, besides their widths and gaps, px. */
const TWIN_PX = 1.5;

/** Between the ends of two lines, or of one: what joins them. */
interface Pair {
  a: number;
  b: number;
  ties: number[];
  /** It is to be looked at anew. */
  isDue: boolean;
}

/** Ends between two looks at whether to go on. */
const AT_A_TIME = 2000;
/** Of more lines than this part that have changed all is made anew. */
const MOST_CHANGED = 0.5;
const UNKNOWN = -1;

/**
 * Joins the ends of lines to what they touch, and to what they nearly meet, at most `gapPx` away; and tells which of these
 * gaps part the paper into two areas that are both broader by far than the gap. Ends that lead nowhere, as those of hatching,
 * close nothing. Kept: after an edit only what lies at the lines that changed is looked at anew.
 */
export class Closing {
  segments = new LineSegments([]);
  subdivision = new Subdivision(this.segments);
  /** The narrowest first. */
  gaps: Gap[] = [];
  private numbers = new Map<InkLine, number>();
  /** Of each end of a line what it meets; line n has the ends 2 n, where it starts, and 2 n + 1. */
  private met: (readonly Meeting[])[] = [];
  /** Of each line the pairs that it makes with itself and those after it. */
  private pairs: Pair[][] = [];
  /** Of each line how many lie beside it as in hatching. */
  private neighbours: number[] = [];
  private widest = 0;
  /** What was begun was not brought to its end. */
  private isBroken = false;

  constructor(readonly gapPx: number) {}

  /**
   * Yields the part that is done.
   * @param lines all that there are now; those that were there before are the same objects.
   * @returns whether anything is otherwise than before.
   */
  *follow(lines: readonly InkLine[]): Generator<number, boolean> {
    let { added, gone } = this.changed(lines);
    if (!added.length && !gone.length && !this.isBroken) return false;
    if (this.isBroken || gone.length > MOST_CHANGED * lines.length) {
      this.forgetAll();
      [added, gone] = [lines, []];
    }
    this.isBroken = true;
    this.widest = Math.max(this.widest, widestRadius(added));
    const ends = new Set<number>();
    this.noteNear(gone, ends);
    for (const number of gone) this.take(number, ends);
    const own = this.segments.addAll(added);
    own.forEach((number, n) => this.numbers.set(added[n], number));
    // Where all is new there is nothing else near.
    if (this.numbers.size > own.length) this.noteNear(own, ends);
    for (const number of own) {
      this.pairs[number] ??= [];
      this.neighbours[number] = UNKNOWN;
      ends.add(2 * number).add(2 * number + 1);
    }
    const due = yield* within(0, 0.4, this.meet(ends));
    for (const pair of due) for (const tie of pair.ties) this.subdivision.removeTie(tie);
    yield* within(0.4, 0.4, this.subdivision.addLines(own));
    this.tie(due);
    yield 0.85;
    this.subdivision.settle();
    yield 0.9;
    this.findParting();
    this.isBroken = false;
    return true;
  }

  private changed(lines: readonly InkLine[]): { added: readonly InkLine[]; gone: number[] } {
    const stays = new Uint8Array(this.segments.lines.length);
    const added = lines.filter((line) => {
      const number = this.numbers.get(line);
      if (number !== undefined) stays[number] = 1;
      return number === undefined;
    });
    const gone: number[] = [];
    if (lines.length - added.length < this.numbers.size)
      for (const number of this.numbers.values()) if (!stays[number]) gone.push(number);
    return { added, gone };
  }

  private forgetAll(): void {
    this.segments = new LineSegments([]);
    this.subdivision = new Subdivision(this.segments);
    this.numbers = new Map();
    this.gaps = [];
    this.met = [];
    this.pairs = [];
    this.neighbours = [];
    this.widest = 0;
  }

  /** What may be otherwise beside lines that come or go: lists the ends that may meet other things, and forgets what lies beside others. */
  private noteNear(numbers: readonly number[], ends: Set<number>): void {
    const { segments } = this;
    for (const number of numbers) {
      let all = emptyBox();
      for (let { from: s, to } = segments.of(number); s < to; s++) {
        const box = segments.boxOf(s);
        all = { x0: Math.min(all.x0, box.x0), y0: Math.min(all.y0, box.y0), x1: Math.max(all.x1, box.x1), y1: Math.max(all.y1, box.y1) }; // prettier-ignore
        this.noteEnds(box, Math.max(this.gapPx, TOUCH_PX) + widestRadius([segments.lines[number]]), ends);
      }
      this.forgetNeighbours(all);
    }
  }

  /** Lists the ends that come as near to a box as `reach`, and their own radius. */
  private noteEnds(box: Box, reach: number, ends: Set<number>): void {
    const { lines, line, at, found } = this.near(box, reach + this.widest);
    for (const q of found) {
      const { data, count } = lines[line[q]];
      const last = 3 * (count - 1);
      if (at[q] === 0 && isWithin(data, 0, box, reach + data[2])) ends.add(2 * line[q]);
      if (at[q] >= count - 2 && isWithin(data, last, box, reach + data[last + 2])) ends.add(2 * line[q] + 1);
    }
  }

  /** Forgets how many lie beside each line that has something in a box beside its middle. */
  private forgetNeighbours(box: Box): void {
    const { lines, line, at, found } = this.near(box, hatchingReach(this.widest));
    for (const q of found) {
      const { data, count } = lines[line[q]];
      const middle = count >> 1;
      if (Math.abs(at[q] + 0.5 - middle) < 1 && isWithin(data, 3 * middle, box, hatchingReach(data[3 * middle + 2])))
        this.neighbours[line[q]] = UNKNOWN;
    }
  }

  private near({ x0, y0, x1, y1 }: Box, reach: number) {
    const { segments } = this;
    const { lines, line, at } = segments;
    return { lines, line, at, found: segments.within(x0 - reach, y0 - reach, x1 + reach, y1 + reach) };
  }

  /** Takes a line out; its ends meet nothing any more. */
  private take(number: number, ends: Set<number>): void {
    this.numbers.delete(this.segments.lines[number]);
    this.subdivision.removeLine(number);
    this.segments.remove(number);
    ends.add(2 * number).add(2 * number + 1);
  }

  /** Looks anew at what ends meet. @returns the pairs that were or are joined by them. */
  private *meet(ends: ReadonlySet<number>): Generator<number, Pair[]> {
    const { segments, met } = this;
    const due: Pair[] = [];
    let done = 0;
    for (const number of ends) {
      const before = met[number];
      if (before) for (const meeting of before) this.notePair(meeting, due);
      const line = segments.lines[number >> 1];
      const now = line.count
        ? meetingsOf(endOf(line, number >> 1, number % 2 === 0), segments, this.gapPx, this.widest)
        : NOTHING;
      met[number] = now;
      for (const meeting of now) this.notePair(meeting, due);
      if (++done % AT_A_TIME === 0) yield done / ends.size;
    }
    return due;
  }

  private notePair({ end, at }: Meeting, due: Pair[]): void {
    const a = Math.min(end.line, at.line);
    const b = Math.max(end.line, at.line);
    let pair = this.pairs[a].find((one) => one.b === b);
    if (!pair) this.pairs[a].push((pair = { a, b, ties: [], isDue: false }));
    if (!pair.isDue) due.push(pair);
    pair.isDue = true;
  }

  /** Joins pairs by what their ends meet now. */
  private tie(due: readonly Pair[]): void {
    const { subdivision } = this;
    if (this.gaps.length) this.gaps = this.gaps.filter(({ pair }) => !pair.isDue);
    const meetings: Meeting[] = [];
    const pairs: Pair[] = [];
    for (const pair of due) {
      pair.ties = [];
      pair.isDue = false;
      for (const meeting of joinsOf(this.between(pair))) {
        meetings.push(meeting);
        pairs.push(pair);
      }
    }
    for (const [n, tie] of subdivision.addTies(meetings).entries()) {
      pairs[n].ties.push(tie);
      const { end, at, gap } = meetings[n];
      if (gap > 0) this.gaps.push({ end, at, gap, tie, pair: pairs[n], parts: false });
    }
    for (const pair of due)
      if (!pair.ties.length) this.pairs[pair.a] = this.pairs[pair.a].filter((one) => one !== pair);
    this.gaps.sort((g, h) => g.gap - h.gap || g.end.line - h.end.line || g.at.line - h.at.line);
  }

  /** What the ends of two lines meet of each other. */
  private between({ a, b }: Pair): Meeting[] {
    const found: Meeting[] = [];
    for (const meeting of this.met[2 * a]) if (meeting.at.line === b) found.push(meeting);
    for (const meeting of this.met[2 * a + 1]) if (meeting.at.line === b) found.push(meeting);
    if (a === b) return found;
    for (const meeting of this.met[2 * b]) if (meeting.at.line === a) found.push(meeting);
    for (const meeting of this.met[2 * b + 1]) if (meeting.at.line === a) found.push(meeting);
    return found;
  }

  /**
   * Which joins part two shapes. Where one does not, what it parts is one area from then on, the widest gaps first: two joins
   * with only a sliver between them are one border, and one of them stays.
   */
  private findParting(): void {
    const { gaps, subdivision, gapPx } = this;
    const merged = new MergedAreas(subdivision.faces);
    for (let n = gaps.length - 1; n >= 0; n--) {
      const gap = gaps[n];
      gap.parts = false;
      const sides = subdivision.sidesOf(gap.tie);
      if (!sides) continue;
      const [left, right] = [merged.of(sides[0]), merged.of(sides[1])];
      if (left === right) continue;
      const least = Math.max(LEAST_BREADTH * gap.gap, LEAST_OF_REACH * gapPx);
      gap.parts = merged.isBroad(left, least) && merged.isBroad(right, least) && this.isMeant(gap);
      if (!gap.parts) merged.join(left, right);
    }
  }

  /** Whether a gap was left by chance: a line of hatching that stops short, or beside another, divides nothing that anyone would fill. */
  private isMeant({ end, at }: Meeting): boolean {
    const other: LineEnd | undefined = endNear(this.segments.lines[at.line], at.line, at);
    if (other && runTogether(end, other)) return this.neighboursOf(end.line) < MANY_NEIGHBOURS;
    return other !== undefined || this.neighboursOf(end.line) < LEAST_NEIGHBOURS;
  }

  private neighboursOf(number: number): number {
    if (this.neighbours[number] === UNKNOWN) this.neighbours[number] = neighboursOf(this.segments, number);
    return this.neighbours[number];
  }
}

/** What joins some lines at once. */
export function closed(lines: readonly InkLine[], gapPx: number): Closing {
  const closing = new Closing(gapPx);
  finish(closing.follow(lines));
  return closing;
}

const NOTHING: readonly Meeting[] = [];

/** Whether a point of a line lies in a box, or at most `reach` beside it. */
const isWithin = (data: Float64Array, at: number, { x0, y0, x1, y1 }: Box, reach: number): boolean =>
  data[at] >= x0 - reach && data[at] <= x1 + reach && data[at + 1] >= y0 - reach && data[at + 1] <= y1 + reach;

/** Areas of which some have become one. */
class MergedAreas {
  private readonly parents: Int32Array;
  private readonly areas: Float64Array;
  private readonly borders: Float64Array;

  constructor({ areas, lengths }: Faces) {
    this.parents = new Int32Array(areas.length).map((_, n) => n);
    this.areas = Float64Array.from(areas);
    this.borders = Float64Array.from(lengths);
  }

  of(area: number): number {
    return rootOf(this.parents, area);
  }

  /** What lies around lines is as broad as can be. */
  isBroad(area: number, px: number): boolean {
    return this.areas[area] < -ROUNDING || (this.borders[area] > 0 && this.areas[area] / this.borders[area] >= px);
  }

  join(a: number, b: number): void {
    this.parents[b] = a;
    this.areas[a] = this.areas[a] < 0 || this.areas[b] < 0 ? -1 : this.areas[a] + this.areas[b];
    this.borders[a] += this.borders[b];
  }
}

/** Work that is a part of more. */
function* within<T>(from: number, share: number, work: Generator<number, T>): Generator<number, T> {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    yield from + share * step.value;
  }
}

/** Which of the meetings between two lines are joined. */
function joinsOf(meetings: Meeting[]): Meeting[] {
  if (meetings.length < 2) return meetings;
  const open = meetings.filter(({ gap }) => gap > 0).sort((m, n) => m.gap - n.gap);
  return [...withoutSame(meetings.filter(({ gap }) => gap <= 0)), ...withoutTwins(open)];
}

const areSame = (a: { x: number; y: number }, b: { x: number; y: number }): boolean =>
  Math.abs(a.x - b.x) + Math.abs(a.y - b.y) < SAME_PX;

/** Two ends that touch each other are joined once: joins that lie on each other could not be gone around. */
function withoutSame(meetings: readonly Meeting[]): Meeting[] {
  const kept: Meeting[] = [];
  for (const { end, at, gap } of meetings)
    if (!kept.some((o) => (areSame(o.end, at) && areSame(o.at, end)) || (areSame(o.end, end) && areSame(o.at, at))))
      kept.push({ end, at, gap });
  return kept;
}

/** Two ends that meet each other are one gap; and so are two ends close to each other. @param sorted narrowest first. */
function withoutTwins(sorted: readonly Meeting[]): Meeting[] {
  const kept: Meeting[] = [];
  for (const meeting of sorted) {
    const { end, at } = meeting;
    const isTwin = kept.some((other) => {
      if (other.at.line !== end.line || other.end.line !== at.line) return false;
      const reach = meeting.gap + other.gap + end.r + at.r + TWIN_PX;
      return lengthOf(other.end.x - at.x, other.end.y - at.y) <= reach && lengthOf(other.at.x - end.x, other.at.y - end.y) <= reach; // prettier-ignore
    });
    if (!isTwin) kept.push(meeting);
  }
  return kept;
}
