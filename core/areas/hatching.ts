import type { InkLine } from './ink-line';
import type { LinePieces } from './line-pieces';

/** Neighbours of a line of hatching lie within so many of its widths, and at least so many px, of its middle. */
const WIDTHS = 6;
const LEAST_PX = 12;
/** They run in its direction (within 18 degrees), and none is longer or shorter by more than this. */
const SAME_COS = 0.95;
const MOST_LONGER = 3;
const LEAST_NEIGHBOURS = 2;

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
  const length = Math.hypot(dx, dy);
  const m = 3 * (count >> 1);
  return { x: data[m], y: data[m + 1], length, dx: length ? dx / length : 0, dy: length ? dy / length : 0 };
}

/** Whether a line is one of hatching: others of its kind run beside it, so many at least. */
export function isHatching(pieces: LinePieces, number: number, least = LEAST_NEIGHBOURS): boolean {
  const line = pieces.lines[number];
  const own = chordOf(line);
  if (own.length === 0) return false;
  const reach = Math.max(LEAST_PX, 2 * WIDTHS * line.data[3 * (line.count >> 1) + 2]);
  const near = new Set(
    pieces.within(own.x - reach, own.y - reach, own.x + reach, own.y + reach).map((piece) => pieces.line[piece]),
  );
  near.delete(number);
  let neighbours = 0;
  for (const other of near) {
    const chord = chordOf(pieces.lines[other]);
    const isAlike = chord.length <= MOST_LONGER * own.length && own.length <= MOST_LONGER * chord.length;
    if (isAlike && Math.abs(chord.dx * own.dx + chord.dy * own.dy) >= SAME_COS) neighbours++;
  }
  return neighbours >= least;
}
