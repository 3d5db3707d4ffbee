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
  const row = new Int32Array(width + 1);
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
          addSpan(row, start, x);
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

/** Adds a part of a line to the sums of a row: what lies in each pixel, of {@link PARTS}. */
function addSpan(row: Int32Array, from: number, to: number): void {
  const [a, b] = [Math.floor(from / PARTS), Math.floor(to / PARTS)];
  if (a === b) {
    row[a] += to - from;
    return;
  }
  row[a] += PARTS * (a + 1) - from;
  for (let i = a + 1; i < b; i++) row[i] += PARTS;
  row[b] += to - PARTS * b;
}

function blendRow(mask: CoverageMask, j: number, row: Int32Array, from: number, to: number): void {
  const { data, width, rowFrom, rowTo } = mask;
  for (let i = from; i < to; i++) {
    const value = Math.round((row[i] * 255) / (LINES * PARTS));
    if (value > data[j * width + i]) data[j * width + i] = value;
  }
  row.fill(0, from, Math.min(row.length, to + 1));
  if (from < rowFrom[j]) rowFrom[j] = from;
  if (to > rowTo[j]) rowTo[j] = to;
  if (j < mask.top) mask.top = j;
  if (j >= mask.bottom) mask.bottom = j + 1;
}
