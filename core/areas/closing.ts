import { rootOf } from '../geometry/sets';
import { arrange, type Arrangement, type Tie } from './arrangement';
import { isHatching } from './hatching';
import type { LinePieces } from './line-pieces';
import { endNear, meetings, runTogether, type LineEnd, type Meeting } from './loose-ends';

/** What the ends of lines meet, and which gaps would part shapes if they were closed. */
export interface Closing {
  /** Ends that lie on other ink, and after them those that nearly do: in this order they are the arrangement's ties. */
  touching: readonly Meeting[];
  open: readonly Meeting[];
  /** With all of them joined. */
  arrangement: Arrangement;
  /** Of each that is open whether a join parts two shapes: only then is it a gap in what would be a closed shape. */
  parts: readonly boolean[];
}

/** A shape is so many times as broad as the gap that opens it, at least; what is narrower lies between lines of hatching. */
const LEAST_BREADTH = 2;
/** And of the widest gap that is looked for. */
const LEAST_OF_REACH = 0.75;
/** A tip has a line or two beside it, as the gape of a beak; hatching has more. */
const MANY_NEIGHBOURS = 4;
/** Areas of no more than this are no more than rounding, px2. */
const ROUNDING = 1e-6;
/** Joins between the same places, but for this, are one, px. */
const SAME_PX = 0.01;
/** Two ends that meet each other do so within this, besides their widths and gaps, px. */
const TWIN_PX = 1.5;

/**
 * Joins the ends of lines to what they touch, and to what they nearly meet, at most `gapPx` away; and tells which of these
 * gaps part the paper into two areas that are both broader by far than the gap. Ends that lead nowhere, as those of hatching,
 * close nothing.
 * @returns yields the part that is done.
 */
export function* closing(pieces: LinePieces, gapPx: number): Generator<number, Closing> {
  const { lines } = pieces;
  const met = yield* within(0, 0.4, meetings(pieces, gapPx));
  const touching = withoutSame(met.filter(({ gap }) => gap <= 0));
  const open = withoutTwins(met.filter(({ gap }) => gap > 0).sort((a, b) => a.gap - b.gap));
  const arrangement = yield* within(0.4, 0.6, arrange(pieces, [...touching, ...open].map(tieOf(lines))));
  return { touching, open, arrangement, parts: partsOf(pieces, arrangement, touching.length, open, gapPx) };
}

/**
 * Which joins part two shapes. Where one does not, what it parts is one area from then on, the widest gaps first: two joins
 * with only a sliver between them are one border, and one of them stays.
 */
function partsOf(
  pieces: LinePieces,
  { tieSides, areas, borders }: Arrangement,
  first: number,
  open: readonly Meeting[],
  gapPx: number,
): boolean[] {
  const { lines } = pieces;
  const merged = new MergedAreas(areas, borders);
  const parts = open.map(() => false);
  for (let n = open.length - 1; n >= 0; n--) {
    const { end, at, gap } = open[n];
    const tie = first + n;
    const [a, b] = [tieSides[2 * tie], tieSides[2 * tie + 1]];
    if (a < 0) continue;
    const [left, right] = [merged.of(a), merged.of(b)];
    if (left === right) continue;
    const least = Math.max(LEAST_BREADTH * gap, LEAST_OF_REACH * gapPx);
    parts[n] = merged.isBroad(left, least) && merged.isBroad(right, least) && isMeant(pieces, end, endNear(lines[at.line], at.line, at)); // prettier-ignore
    if (!parts[n]) merged.join(left, right);
  }
  return parts;
}

/** Whether a gap was left by chance: a line of hatching that stops short, or beside another, divides nothing that anyone would fill. */
function isMeant(pieces: LinePieces, end: LineEnd, other: LineEnd | undefined): boolean {
  if (other && runTogether(end, other)) return !isHatching(pieces, end.line, MANY_NEIGHBOURS);
  return other !== undefined || !isHatching(pieces, end.line);
}

/** Areas of which some have become one. */
class MergedAreas {
  private readonly parents: Int32Array;
  private readonly areas: Float64Array;
  private readonly borders: Float64Array;

  constructor(areas: Float64Array, borders: Float64Array) {
    this.parents = Int32Array.from(areas, (_, n) => n);
    this.areas = areas.slice();
    this.borders = borders.slice();
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

const tieOf =
  (lines: LinePieces['lines']) =>
  ({ end, at }: Meeting): Tie => ({
    a: { line: end.line, place: end.isStart ? 0 : lines[end.line].count - 1, x: end.x, y: end.y },
    b: at,
  });

/** Two ends that touch each other are joined once: joins that lie on each other could not be gone around. */
function withoutSame(meetings: readonly Meeting[]): Meeting[] {
  const known = new Map<string, Meeting[]>();
  const isSame = (a: { x: number; y: number }, b: { x: number; y: number }) =>
    Math.abs(a.x - b.x) + Math.abs(a.y - b.y) < SAME_PX;
  return meetings.filter((meeting) => {
    const { end, at } = meeting;
    const key = end.line < at.line ? `${end.line} ${at.line}` : `${at.line} ${end.line}`;
    const others = known.get(key) ?? [];
    if (others.some((o) => (isSame(o.end, at) && isSame(o.at, end)) || (isSame(o.end, end) && isSame(o.at, at)))) return false; // prettier-ignore
    known.set(key, [...others, meeting]);
    return true;
  });
}

/** Two ends that meet each other are one gap; and so are two ends of the same two lines close to each other. */
function withoutTwins(sorted: readonly Meeting[]): Meeting[] {
  const kept: Meeting[] = [];
  const byLine = new Map<number, Meeting[]>();
  for (const meeting of sorted) {
    const { end, at } = meeting;
    const isTwin = (byLine.get(at.line) ?? []).some((other) => {
      if (other.at.line !== end.line) return false;
      const reach = meeting.gap + other.gap + end.r + at.r + TWIN_PX;
      return Math.hypot(other.end.x - at.x, other.end.y - at.y) <= reach && Math.hypot(other.at.x - end.x, other.at.y - end.y) <= reach; // prettier-ignore
    });
    if (isTwin) continue;
    kept.push(meeting);
    const same = byLine.get(end.line);
    if (same) same.push(meeting);
    else byLine.set(end.line, [meeting]);
  }
  return kept;
}
