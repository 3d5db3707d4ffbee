import { emptyBox, overlaps, type Box } from '../geometry/box';
import { crossSegments } from '../geometry/segment';
import type { Spine } from '../stroke/spine';

/**
 * Where two lines cross, as a place along each: the number of a point of its spine, and a part of the way to the next.
 */
export interface Crossing {
  a: number;
  b: number;
  x: number;
  y: number;
}

/** So many pieces of a line are looked at together. */
const RUN = 8;

interface Run {
  from: number;
  to: number;
  box: Box;
}

/** The pieces of a line's middle, in runs with their boxes. */
function runsOf({ data, count }: Spine): Run[] {
  const runs: Run[] = [];
  for (let from = 0; from < count - 1; from += RUN) {
    const to = Math.min(count - 1, from + RUN);
    const box = emptyBox();
    for (let at = 3 * from; at <= 3 * to; at += 3) {
      box.x0 = Math.min(box.x0, data[at]);
      box.x1 = Math.max(box.x1, data[at]);
      box.y0 = Math.min(box.y0, data[at + 1]);
      box.y1 = Math.max(box.y1, data[at + 1]);
    }
    // Lines that run straight along an axis have an area, too.
    runs.push({ from, to, box: { x0: box.x0 - 1e-9, y0: box.y0 - 1e-9, x1: box.x1 + 1e-9, y1: box.y1 + 1e-9 } });
  }
  return runs;
}

/** Where the middles of two lines cross, along `a`; lines that lie on each other do not. O(n + m) for lines far apart. */
export function crossings(a: Spine, b: Spine): Crossing[] {
  const found: Crossing[] = [];
  const others = runsOf(b);
  for (const one of runsOf(a))
    for (const other of others)
      if (overlaps(one.box, other.box))
        for (let i = one.from; i < one.to; i++)
          for (let j = other.from; j < other.to; j++) addCrossing(found, a, i, b, j);
  return found.sort((p, q) => p.a - q.a);
}

/** Where the middle of a line crosses itself: each crossing once, with its earlier place first. */
export function selfCrossings(line: Spine): Crossing[] {
  const found: Crossing[] = [];
  const runs = runsOf(line);
  runs.forEach((one, n) => {
    for (const other of runs.slice(n))
      if (overlaps(one.box, other.box))
        for (let i = one.from; i < one.to; i++)
          for (let j = Math.max(other.from, i + 2); j < other.to; j++) addCrossing(found, line, i, line, j);
  });
  return found.sort((p, q) => p.a - q.a);
}

/** Adds where piece `i` of a line crosses piece `j` of another; each piece has its first point, the last one both. */
function addCrossing(found: Crossing[], a: Spine, i: number, b: Spine, j: number): void {
  if (!crossSegments(a, i, b, j, parts)) return;
  const [s, t] = parts;
  const p = 3 * i;
  const [x, y] = [a.data[p], a.data[p + 1]];
  found.push({ a: i + s, b: j + t, x: x + s * (a.data[p + 3] - x), y: y + s * (a.data[p + 4] - y) });
}

const parts = new Float64Array(2);
