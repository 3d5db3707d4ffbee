import type { Spine } from '../stroke/spine';
import type { LevelScale } from './add-spine';
import type { CoverageMask } from './coverage-mask';

/** Lines across a pixel that are looked at, and parts of a pixel along each. */
const LINES = 16;
const PARTS = 256;
/** Where a line is crossed, as one number that sorts by line and place: upwards or downwards in its lowest bit. */
const PER_LINE = 2 ** 30;

/**
 * Max-blends what a line encloses, its ends joined straight, into `mask`: wherever its middle winds around a place
 * (nonzero). Sixteen lines across each pixel, exact along each: off by 1/32 at most where an edge lies level. Each pixel
 * is worked out from the grid's own places, so that pieces agree to the bit.
 * @param scale grid px per paper px.
 */
export function addFill(mask: CoverageMask, spine: Spine, scale: LevelScale): void {
  const crossed = crossingsOf(mask, spine, scale);
  const { width, height } = mask;
  const row = new RowSums(width);
  let at = 0;
  for (let j = 0; j < height && at < crossed.length; j++) {
    let [from, to] = [width, 0];
    for (let line = j * LINES; line < (j + 1) * LINES; line++) {
      let winding = 0;
      let start = 0;
      for (; at < crossed.length && Math.floor(crossed[at] / PER_LINE) === line; at++) {
        const rest = crossed[at] - line * PER_LINE;
        const x = Math.floor(rest / 2);
        const before = winding;
        winding += rest % 2 === 1 ? 1 : -1;
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

/** Where the lines across the mask's pixels are crossed, sorted; see {@link PER_LINE}. */
function crossingsOf({ x0, y0, width, height }: CoverageMask, { data, count }: Spine, scale: number): Float64Array {
  const found: number[] = [];
  const [first, last] = [y0 * LINES, (y0 + height) * LINES];
  for (let i = 0; i < count; i++) {
    const a = 3 * i;
    const b = 3 * ((i + 1) % count);
    const [ax, ay, bx, by] = [data[a] * scale, data[a + 1] * scale, data[b] * scale, data[b + 1] * scale];
    if (ay === by) continue;
    const isDown = ay < by;
    const [top, bottom] = isDown ? [ay, by] : [by, ay];
    // Lines lie in the middle of their sixteenths; one that goes through an end counts once.
    const from = Math.max(first, Math.ceil(top * LINES - 0.5));
    const to = Math.min(last, Math.ceil(bottom * LINES - 0.5));
    const slope = (bx - ax) / (by - ay);
    for (let line = from; line < to; line++) {
      const x = ax + ((line + 0.5) / LINES - ay) * slope;
      const part = Math.round(Math.min(width, Math.max(0, x - x0)) * PARTS);
      found.push((line - first) * PER_LINE + 2 * part + (isDown ? 1 : 0));
    }
  }
  return Float64Array.from(found).sort();
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
