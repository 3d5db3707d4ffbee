import type { Spine } from '../stroke/spine';
import type { LevelScale } from './add-spine';
import type { CoverageMask } from './coverage-mask';

/** Lines across a pixel that are looked at, and parts of a pixel along each. */
const LINES = 16;
const PARTS = 256;

/**
 * Max-blends what a line encloses, its ends joined straight, into `mask`: wherever its middle winds around a place
 * (nonzero). Sixteen lines across each pixel, exact along each: off by 1/32 at most where an edge lies level. Each pixel
 * is worked out from the grid's own places, so that pieces agree to the bit.
 * @param scale grid px per paper px.
 */
export function addFill(mask: CoverageMask, spine: Spine, scale: LevelScale): void {
  const { starts, places } = crossingsOf(mask, spine, scale);
  const { width, height } = mask;
  const row = new RowSums(width);
  for (let j = 0; j < height; j++) {
    let [from, to] = [width, 0];
    for (let line = j * LINES; line < (j + 1) * LINES; line++) {
      let winding = 0;
      let start = 0;
      for (let at = starts[line]; at < starts[line + 1]; at++) {
        const x = places[at] >> 1;
        const before = winding;
        winding += places[at] & 1 ? 1 : -1;
        if (before === 0) start = x;
        else if (winding === 0 && x > start) {
          row.add(start, x);
          from = Math.min(from, Math.floor(start / PARTS));
          to = Math.max(to, Math.min(width, Math.ceil(x / PARTS)));
        }
      }
    }
    if (from < to) blendRow(mask, j, row, from, to);
  }
}

/** Where the lines across a mask are crossed: of line n from `starts[n]` up to, without, `starts[n + 1]`, from left to right. */
interface Crossings {
  starts: Int32Array;
  /** {@link PARTS} of a pixel from the left, and in the lowest bit whether it goes downwards there. */
  places: Int32Array;
}

/** Counted by line first and then put in their places, so that only those of one line are sorted. */
function crossingsOf(mask: CoverageMask, spine: Spine, scale: number): Crossings {
  const starts = startsOf(mask, spine, scale);
  const places = new Int32Array(starts[starts.length - 1]);
  const next = starts.slice();
  const { x0, y0, width } = mask;
  const first = y0 * LINES;
  alongLines(mask, spine, scale, (from, to, ax, ay, slope, down) => {
    for (let line = from; line < to; line++) {
      const x = ax + ((line + 0.5) / LINES - ay) * slope;
      places[next[line - first]++] = 2 * Math.round(Math.min(width, Math.max(0, x - x0)) * PARTS) + down;
    }
  });
  for (let line = 0; line + 1 < starts.length; line++) sortPart(places, starts[line], starts[line + 1]);
  return { starts, places };
}

function startsOf(mask: CoverageMask, spine: Spine, scale: number): Int32Array {
  const starts = new Int32Array(mask.height * LINES + 2);
  const first = mask.y0 * LINES;
  alongLines(mask, spine, scale, (from, to) => {
    starts[from - first + 1]++;
    starts[to - first + 1]--;
  });
  // How many more or less each line has than the one before, then how many it has, then how many there are before it.
  for (let n = 1; n < starts.length; n++) starts[n] += starts[n - 1];
  for (let n = 1; n < starts.length; n++) starts[n] += starts[n - 1];
  return starts.subarray(0, starts.length - 1);
}

/**
 * Tells of each piece of a closed line which lines across the grid it crosses within a mask, from `from` up to, without,
 * `to`; where it begins, how far across it goes for each px down, and 1 where it goes downwards.
 */
function alongLines(
  { y0, height }: CoverageMask,
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
  readonly ends: Int32Array;
  /** Where whole pixels of a part begin and end: as long as it is, it costs no more. */
  readonly whole: Int32Array;

  constructor(width: number) {
    this.ends = new Int32Array(width + 1);
    this.whole = new Int32Array(width + 2);
  }

  /** Adds a part of a line, in {@link PARTS} of a pixel. */
  add(from: number, to: number): void {
    const { ends, whole } = this;
    const [a, b] = [Math.floor(from / PARTS), Math.floor(to / PARTS)];
    if (a === b) {
      ends[a] += to - from;
      return;
    }
    ends[a] += PARTS * (a + 1) - from;
    whole[a + 1] += PARTS;
    whole[b] -= PARTS;
    ends[b] += to - PARTS * b;
  }
}

function blendRow(mask: CoverageMask, j: number, { ends, whole }: RowSums, from: number, to: number): void {
  const { data, width, rowFrom, rowTo } = mask;
  let inside = 0;
  for (let i = from; i < to; i++) {
    inside += whole[i];
    const value = Math.round(((ends[i] + inside) * 255) / (LINES * PARTS));
    if (value > data[j * width + i]) data[j * width + i] = value;
  }
  ends.fill(0, from, Math.min(ends.length, to + 1));
  whole.fill(0, from, Math.min(whole.length, to + 2));
  if (from < rowFrom[j]) rowFrom[j] = from;
  if (to > rowTo[j]) rowTo[j] = to;
  if (j < mask.top) mask.top = j;
  if (j >= mask.bottom) mask.bottom = j + 1;
}
