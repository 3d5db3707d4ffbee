import type { Spine } from '../stroke/spine';
import type { LevelScale } from './add-spine';
import type { CoverageMask } from './coverage-mask';

/** Lines across a pixel that are looked at, and parts of a pixel along each. */
const LINES = 16;
const PARTS_LOG2 = 8;
const PARTS = 1 << PARTS_LOG2;

/** A rectangle of a level's grid. */
interface Place {
  x0: number;
  y0: number;
  width: number;
  height: number;
}

/** Pixels side by side in a row, `from` up to, without, `to`, all covered by `cover` (1 to 255). */
export type TellRun = (row: number, from: number, to: number, cover: number) => void;

/**
 * Tells how far a line covers the pixels of a rectangle that it encloses, its ends joined straight: wherever its middle winds
 * around a place (nonzero). Sixteen lines across each pixel, exact along each: off by 1/32 at most where an edge lies level.
 * Each pixel is worked out from the grid's own places, so that pieces agree to the bit. What is whole costs no more for being
 * wide.
 * @param scale grid px per paper px. @param tell rows from the top, each from left to right.
 */
export function fillRuns(place: Place, spine: Spine, scale: LevelScale, tell: TellRun): void {
  const { starts, places } = crossingsOf(place, spine, scale);
  const row = new RowSums(place.width);
  for (let j = 0; j < place.height; j++) {
    for (let line = j * LINES; line < (j + 1) * LINES; line++) {
      let winding = 0;
      let start = 0;
      for (let at = starts[line]; at < starts[line + 1]; at++) {
        const x = places[at] >> 1;
        const before = winding;
        winding += places[at] & 1 ? 1 : -1;
        if (before === 0) start = x;
        else if (winding === 0 && x > start) row.add(start, x);
      }
    }
    row.tell(j, tell);
  }
}

/**
 * Blends what a line encloses, as {@link fillRuns} tells it, into a mask that the line itself may be in already. Where its
 * middle goes through a pixel the line lies to both sides of what is enclosed: half of it at least is added (united to the
 * bit where the middle goes along the grid).
 * @param scale grid px per paper px. @param whole takes runs that are covered wholly instead of the mask: `[row, from, to]` of each in turn.
 */
export function addFill(mask: CoverageMask, spine: Spine, scale: LevelScale, whole?: number[]): void {
  const { data, width, rowFrom, rowTo } = mask;
  fillRuns(mask, spine, scale, (j, from, to, cover) => {
    if (cover === 255 && whole) return void whole.push(j, from, to);
    const row = j * width;
    if (cover === 255) data.fill(255, row + from, row + to);
    else for (let at = row + from; at < row + to; at++) data[at] = united(data[at], cover);
    if (from < rowFrom[j]) rowFrom[j] = from;
    if (to > rowTo[j]) rowTo[j] = to;
    if (j < mask.top) mask.top = j;
    if (j >= mask.bottom) mask.bottom = j + 1;
  });
}

/** A line's coverage of a pixel and that of what it encloses, together. */
const united = (line: number, inside: number): number => Math.max(line, Math.min(255, inside + ((line + 1) >> 1)));

/** Where the lines across a rectangle are crossed: of line n from `starts[n]` up to, without, `starts[n + 1]`, from left to right. */
interface Crossings {
  starts: Int32Array;
  /** {@link PARTS} of a pixel from the left, and in the lowest bit whether it goes downwards there. */
  places: Int32Array;
}

/** Counted by line first and then put in their places, so that only those of one line are sorted. */
function crossingsOf(place: Place, spine: Spine, scale: number): Crossings {
  const starts = startsOf(place, spine, scale);
  const places = new Int32Array(starts[starts.length - 1]);
  const next = starts.slice();
  const { x0, y0, width } = place;
  const first = y0 * LINES;
  alongLines(place, spine, scale, (from, to, ax, ay, slope, down) => {
    for (let line = from; line < to; line++) {
      const x = ax + ((line + 0.5) / LINES - ay) * slope - x0;
      const part = x <= 0 ? 0 : x >= width ? width * PARTS : (x * PARTS + 0.5) | 0;
      places[next[line - first]++] = 2 * part + down;
    }
  });
  for (let line = 0; line + 1 < starts.length; line++) sortPart(places, starts[line], starts[line + 1]);
  return { starts, places };
}

function startsOf(place: Place, spine: Spine, scale: number): Int32Array {
  const starts = new Int32Array(place.height * LINES + 2);
  const first = place.y0 * LINES;
  alongLines(place, spine, scale, (from, to) => {
    starts[from - first + 1]++;
    starts[to - first + 1]--;
  });
  // How many more or less each line has than the one before, then how many it has, then how many there are before it.
  for (let n = 1; n < starts.length; n++) starts[n] += starts[n - 1];
  for (let n = 1; n < starts.length; n++) starts[n] += starts[n - 1];
  return starts.subarray(0, starts.length - 1);
}

/**
 * Tells of each piece of a closed line which lines across the grid it crosses within a rectangle, from `from` up to, without,
 * `to`; where it begins, how far across it goes for each px down, and 1 where it goes downwards.
 */
function alongLines(
  { y0, height }: Place,
  { data, count }: Spine,
  scale: number,
  tell: (from: number, to: number, ax: number, ay: number, slope: number, down: number) => void,
): void {
  const [first, last] = [y0 * LINES, (y0 + height) * LINES];
  for (let i = 0; i < count; i++) {
    const a = 3 * i;
    const b = i + 1 < count ? a + 3 : 0;
    const [ay, by] = [data[a + 1] * scale, data[b + 1] * scale];
    if (ay === by) continue;
    // Lines lie in the middle of their sixteenths; one that goes through an end counts once.
    const from = Math.max(first, Math.ceil(Math.min(ay, by) * LINES - 0.5));
    const to = Math.min(last, Math.ceil(Math.max(ay, by) * LINES - 0.5));
    if (from >= to) continue;
    const [ax, bx] = [data[a] * scale, data[b] * scale];
    tell(from, to, ax, ay, (bx - ax) / (by - ay), ay < by ? 1 : 0);
  }
}

/** Above so many, others sort faster. */
const MOST_INSERTED = 24;

/** Sorts a part of an array: a few by putting each in its place. */
function sortPart(values: Int32Array, from: number, to: number): void {
  if (to - from > MOST_INSERTED) return void values.subarray(from, to).sort();
  for (let i = from + 1; i < to; i++) {
    const value = values[i];
    let k = i;
    for (; k > from && values[k - 1] > value; k--) values[k] = values[k - 1];
    values[k] = value;
  }
}

/** What of a row of pixels is covered, summed over the lines across it: of each pixel at most {@link LINES} x {@link PARTS}. */
class RowSums {
  /** Of pixels that a part of a line begins or ends in. */
  private readonly ends: Int32Array;
  /** Where whole pixels of a part begin and end: as long as it is, it costs no more. */
  private readonly whole: Int32Array;
  /** A bit for each pixel where one of both may be other than 0. */
  private readonly marks: Int32Array;

  constructor(private readonly width: number) {
    this.ends = new Int32Array(width + 2);
    this.whole = new Int32Array(width + 2);
    this.marks = new Int32Array(((width + 2) >> 5) + 1);
  }

  /** Adds a part of a line, in {@link PARTS} of a pixel. */
  add(from: number, to: number): void {
    const { ends, whole } = this;
    const a = from >> PARTS_LOG2;
    const b = to >> PARTS_LOG2;
    this.mark(a);
    if (a === b) {
      ends[a] += to - from;
      return;
    }
    ends[a] += PARTS * (a + 1) - from;
    whole[a + 1] += PARTS;
    whole[b] -= PARTS;
    ends[b] += to - PARTS * b;
    this.mark(a + 1);
    this.mark(b);
  }

  /** Tells the row's runs, and is empty again. */
  tell(j: number, tell: TellRun): void {
    const { marks } = this;
    let inside = 0;
    // All up to here has been told.
    let done = 0;
    for (let k = 0; k < marks.length; k++)
      while (marks[k] !== 0) {
        const lowest = marks[k] & -marks[k];
        marks[k] ^= lowest;
        const i = 32 * k + 31 - Math.clz32(lowest);
        if (inside > 0 && i > done) tellCover(tell, j, done, i, inside);
        inside += this.whole[i];
        const sum = this.ends[i] + inside;
        if (sum > 0 && i < this.width) tellCover(tell, j, i, i + 1, sum);
        this.whole[i] = this.ends[i] = 0;
        done = i + 1;
      }
  }

  private mark(i: number): void {
    this.marks[i >> 5] |= 1 << (i & 31);
  }
}

function tellCover(tell: TellRun, j: number, from: number, to: number, sum: number): void {
  const cover = Math.round((sum * 255) / (LINES * PARTS));
  if (cover > 0) tell(j, from, to, cover);
}
