import { lengthOf } from '../geometry/length';
import type { InkLine } from './ink-line';
import type { LineSegments } from './line-segments';

/** Neighbours of a line of hatching lie within so many of its widths, and at least so many px, of its middle. */
const WIDTHS = 6;
const LEAST_PX = 20;
/** They run in its direction (within 18 degrees), and none is longer or shorter by more than this. */
const SAME_COS = 0.95;
const MOST_LONGER = 3;

interface Chord {
  x: number;
  y: number;
  length: number;
  dx: number;
  dy: number;
}

function chordOf({ data, count }: InkLine): Chord {
  const b = 3 * (count - 1);
  const [dx, dy] = [data[b] - data[0], data[b + 1] - data[1]];
  const length = lengthOf(dx, dy);
  const m = 3 * (count >> 1);
  return { x: data[m], y: data[m + 1], length, dx: length ? dx / length : 0, dy: length ? dy / length : 0 };
}

/** How far from its middle the neighbours of a line may lie, px. @param r its radius there, px. */
export const hatchingReach = (r: number): number => Math.max(LEAST_PX, 2 * WIDTHS * r);

/** How many others of a line's kind run beside it, as in hatching. */
export function neighboursOf(segments: LineSegments, number: number): number {
  const line = segments.lines[number];
  const own = chordOf(line);
  if (own.length === 0) return 0;
  const reach = hatchingReach(line.data[3 * (line.count >> 1) + 2]);
  const near = new Set<number>();
  for (let k = 0, n = segments.search(own.x - reach, own.y - reach, own.x + reach, own.y + reach); k < n; k++)
    near.add(segments.line[segments.found[k]]);
  near.delete(number);
  let neighbours = 0;
  for (const other of near) {
    const chord = chordOf(segments.lines[other]);
    const isAlike = chord.length <= MOST_LONGER * own.length && own.length <= MOST_LONGER * chord.length;
    if (isAlike && Math.abs(chord.dx * own.dx + chord.dy * own.dy) >= SAME_COS) neighbours++;
  }
  return neighbours;
}
