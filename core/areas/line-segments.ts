import { inkLine, type InkLine } from './ink-line';
import type { Box } from '../geometry/box';
import { crossSegments, nearestPart } from '../geometry/segment';

/** So many cells for each segment, at most; and none is narrower than this, px. */
const CELLS_EACH = 2;
const LEAST_CELL_PX = 2;
/** A segment lies in all cells that it comes so near to, px: what it meets at a cell's edge is found from both sides. */
const BESIDE_PX = 1e-6;
/** The cells are made anew once so many segments, and this part of all, have come or gone since. */
const MOST_SINCE = 4096;
const PART_SINCE = 1 / 4;
/** So many segments tell where most of them lie. */
const SAMPLE = 1024;
/** Stands where a line was taken away. */
const NO_LINE: InkLine = inkLine('', '', new Float64Array(0));
const GONE = -1;

/**
 * The segments of many lines, found by where they lie, in square cells. Lines may come and go; each keeps its number while it
 * is there. A line of one point has one segment, of no length.
 *
 * Making it is O(n) in the segments and the cells that they go through; a search looks at the cells of its box, and at the few
 * segments that lie far from all others.
 * @see de Berg et al., Computational Geometry, 14.1, for how finely space is to be cut; cells of one size do for ink
 */
export class LineSegments {
  /** By their numbers; that of one that was taken away has no points. */
  readonly lines: InkLine[] = [];
  /** Of each segment its line (-1: it was taken away), and its first point there. */
  line = new Int32Array(0);
  at = new Int32Array(0);
  /** `[ax, ay, bx, by]` of each. */
  ends = new Float64Array(0);
  count = 0;
  /** What the last {@link search} found, by its numbers. */
  found = new Int32Array(64);
  /** Of each line the number of its first segment. */
  private readonly first: number[] = [];
  private readonly free: number[] = [];
  private since = 0;
  private hasGone = false;
  private cell = 1;
  private left = 0;
  private top = 0;
  private columns = 0;
  private rows = 0;
  /** Of each cell where its segments begin in `items`; one more at the end. */
  private starts = new Int32Array(1);
  private items = new Int32Array(0);
  /** Those that lie in no cell. */
  outside: number[] = [];
  /** Those that have come since, by their cells. */
  private later = new Map<number, number[]>();
  private cells = new Int32Array(64);
  private seenAt = new Int32Array(0);
  private searches = 0;

  constructor(lines: readonly InkLine[]) {
    this.addAll(lines);
  }

  /** @returns the lines' numbers. Segments may have other numbers than before. */
  addAll(lines: readonly InkLine[]): number[] {
    const before = this.count;
    this.makeRoom(lines.reduce((sum, line) => sum + segmentsOf(line), 0));
    const numbers = lines.map((line) => {
      const number = this.free.pop() ?? this.lines.length;
      this.lines[number] = line;
      this.cut(number, line);
      return number;
    });
    this.since += this.count - before;
    if (this.since > Math.max(MOST_SINCE, PART_SINCE * this.count) || before === 0) this.layOut();
    else for (let s = before; s < this.count; s++) this.layLater(s);
    return numbers;
  }

  remove(number: number): void {
    const { from, to } = this.of(number);
    this.line.fill(GONE, from, to);
    this.since += to - from;
    this.hasGone = true;
    this.lines[number] = NO_LINE;
    this.free.push(number);
  }

  /** Whether all have come at once, and none has gone since. */
  get isFresh(): boolean {
    return this.since === 0;
  }

  /** The numbers of a line's segments, `from` to but without `to`. */
  of(number: number): { from: number; to: number } {
    const from = this.first[number];
    return { from, to: from + segmentsOf(this.lines[number]) };
  }

  boxOf(segment: number): Box {
    const [ax, ay, bx, by] = this.ends.subarray(4 * segment, 4 * segment + 4);
    return { x0: Math.min(ax, bx), y0: Math.min(ay, by), x1: Math.max(ax, bx), y1: Math.max(ay, by) };
  }

  /**
   * Finds the segments that meet a box, and some that only come near it: the first so many of `found`, until the next search.
   * @returns how many.
   */
  search(x0: number, y0: number, x1: number, y1: number): number {
    const { starts, columns, later } = this;
    const c0 = this.columnOf(x0);
    const c1 = this.columnOf(x1);
    const r1 = this.rowOf(y1);
    this.searches++;
    let n = 0;
    for (let r = this.rowOf(y0); r <= r1; r++) {
      const row = r * columns;
      // The cells of a row lie one after the other.
      n = this.take(this.items, starts[row + c0], starts[row + c1 + 1], x0, y0, x1, y1, n);
      for (let at = row + c0; later.size && at <= row + c1; at++) {
        const list = later.get(at);
        if (list) n = this.take(list, 0, list.length, x0, y0, x1, y1, n);
      }
    }
    return this.take(this.outside, 0, this.outside.length, x0, y0, x1, y1, n);
  }

  /**
   * Tells where segments that lie in cells cross, as parts of both, each crossing once: for many at once this takes a
   * fraction of the time of searching for each. Neighbours on a line meet without crossing. Only while all {@link isFresh}.
   */
  eachCrossing(tell: (a: number, b: number, partOfA: number, partOfB: number) => void): void {
    const { starts, items, lines, line, at, ends } = this;
    for (let cell = 0; cell + 1 < starts.length; cell++)
      for (let k = starts[cell]; k < starts[cell + 1]; k++) {
        const p = items[k];
        const [x0, x1] = [Math.min(ends[4 * p], ends[4 * p + 2]), Math.max(ends[4 * p], ends[4 * p + 2])];
        const [y0, y1] = [Math.min(ends[4 * p + 1], ends[4 * p + 3]), Math.max(ends[4 * p + 1], ends[4 * p + 3])];
        for (let l = k + 1; l < starts[cell + 1]; l++) {
          const q = 4 * items[l];
          if ((ends[q] < x0 && ends[q + 2] < x0) || (ends[q] > x1 && ends[q + 2] > x1)) continue;
          if ((ends[q + 1] < y0 && ends[q + 3] < y0) || (ends[q + 1] > y1 && ends[q + 3] > y1)) continue;
          const [a, b] = [line[p], line[items[l]]];
          if (a === b && Math.abs(at[items[l]] - at[p]) < 2) continue;
          if (lines[a].count < 2 || lines[b].count < 2) continue;
          if (!crossSegments(lines[a], at[p], lines[b], at[items[l]], crossed)) continue;
          // Both lie in other cells, too: it is told in the one where they cross.
          const [s, t] = crossed;
          const x = ends[4 * p] + s * (ends[4 * p + 2] - ends[4 * p]);
          const y = ends[4 * p + 1] + s * (ends[4 * p + 3] - ends[4 * p + 1]);
          if (this.rowOf(y) * this.columns + this.columnOf(x) === cell) tell(p, items[l], s, t);
        }
      }
  }

  /** The same as a list that stays. */
  within(x0: number, y0: number, x1: number, y1: number): Int32Array {
    const n = this.search(x0, y0, x1, y1);
    return this.found.slice(0, n);
  }

  /** Whether ink covers a place, or comes as near to it as `near` px. @param widest of all lines, px. */
  hasInk(x: number, y: number, near: number, widest: number): boolean {
    const reach = near + widest;
    for (let k = 0, n = this.search(x - reach, y - reach, x + reach, y + reach); k < n; k++) {
      const { data, count } = this.lines[this.line[this.found[k]]];
      const a = 3 * this.at[this.found[k]];
      const b = a + 3 < 3 * count ? a + 3 : a;
      const u = nearestPart(data, a, b, x, y);
      const dx = data[a] + u * (data[b] - data[a]) - x;
      const dy = data[a + 1] + u * (data[b + 1] - data[a + 1]) - y;
      const far = near + data[a + 2] + u * (data[b + 2] - data[a + 2]);
      if (dx * dx + dy * dy <= far * far) return true;
    }
    return false;
  }

  /** Adds those of a list whose boxes meet a box, and that are not among the `n` that were found before. @returns how many there are now. */
  private take(
    list: ArrayLike<number>,
    from: number,
    to: number,
    x0: number,
    y0: number,
    x1: number,
    y1: number,
    n: number,
  ): number {
    const { ends, line, seenAt, searches } = this;
    if (n + to - from > this.found.length) this.found = longer(this.found, new Int32Array(2 * (n + to - from)));
    const { found } = this;
    let count = n;
    for (let k = from; k < to; k++) {
      const s = list[k];
      if (seenAt[s] === searches || line[s] === GONE) continue;
      seenAt[s] = searches;
      const at = 4 * s;
      const ax = ends[at];
      const bx = ends[at + 2];
      if ((ax < x0 && bx < x0) || (ax > x1 && bx > x1)) continue;
      const ay = ends[at + 1];
      const by = ends[at + 3];
      if ((ay < y0 && by < y0) || (ay > y1 && by > y1)) continue;
      found[count++] = s;
    }
    return count;
  }

  private cut(number: number, line: InkLine): void {
    const { data, count } = line;
    this.first[number] = this.count;
    for (let i = 0, n = segmentsOf(line); i < n; i++) {
      const a = 3 * i;
      const b = count > 1 ? a + 3 : a;
      const at = 4 * this.count;
      this.line[this.count] = number;
      this.at[this.count++] = i;
      this.ends[at] = data[a];
      this.ends[at + 1] = data[a + 1];
      this.ends[at + 2] = data[b];
      this.ends[at + 3] = data[b + 1];
    }
  }

  private makeRoom(more: number): void {
    const needed = this.count + more;
    if (needed <= this.line.length) return;
    const size = Math.max(needed, Math.ceil(1.5 * this.count));
    this.line = longer(this.line, new Int32Array(size));
    this.at = longer(this.at, new Int32Array(size));
    this.ends = longer(this.ends, new Float64Array(4 * size));
    this.seenAt = longer(this.seenAt, new Int32Array(size));
  }

  /** Lays all segments into cells anew; those that are gone leave no holes. */
  private layOut(): void {
    if (this.hasGone) {
      this.count = 0;
      this.lines.forEach((line, number) => this.cut(number, line));
    }
    this.hasGone = false;
    this.since = 0;
    this.later = new Map();
    this.outside = [];
    this.measure();
    const cells = this.columns * this.rows;
    const starts = new Int32Array(cells + 1);
    // The cells of all segments one after the other, and how many each has.
    let ways = new Int32Array(3 * this.count);
    const counts = new Int32Array(this.count);
    let all = 0;
    for (let s = 0; s < this.count; s++) {
      if (!this.isWithinCells(s)) {
        this.outside.push(s);
        continue;
      }
      const n = (counts[s] = this.cellsOf(s));
      if (all + n > ways.length) ways = longer(ways, new Int32Array(2 * (all + n)));
      for (let k = 0; k < n; k++) {
        ways[all++] = this.cells[k];
        starts[this.cells[k] + 1]++;
      }
    }
    for (let at = 0; at < cells; at++) starts[at + 1] += starts[at];
    const next = starts.slice();
    const items = new Int32Array(all);
    for (let s = 0, k = 0; s < this.count; s++)
      for (const end = k + counts[s]; k < end; k++) items[next[ways[k]]++] = s;
    this.starts = starts;
    this.items = items;
  }

  /** How large the cells are, and where: over most of the segments, so that one far away does not make them all large. */
  private measure(): void {
    const { ends, count } = this;
    const xs = mostOf(ends, 0, count);
    const ys = mostOf(ends, 1, count);
    let sides = 0;
    for (let at = 0; at < 4 * count; at += 4)
      sides += Math.abs(ends[at + 2] - ends[at]) + Math.abs(ends[at + 3] - ends[at + 1]);
    const [width, height] = [xs.to - xs.from, ys.to - ys.from];
    const cells = Math.max(1, CELLS_EACH * count);
    const even = Math.max(Math.sqrt((width * height) / cells), Math.max(width, height) / cells);
    this.cell = Math.max(LEAST_CELL_PX, even, sides / Math.max(1, 2 * count));
    this.left = xs.from;
    this.top = ys.from;
    this.columns = Math.floor(width / this.cell) + 1;
    this.rows = Math.floor(height / this.cell) + 1;
  }

  private layLater(s: number): void {
    if (!this.isWithinCells(s)) {
      this.outside.push(s);
      return;
    }
    for (let k = 0, n = this.cellsOf(s); k < n; k++) {
      const list = this.later.get(this.cells[k]);
      if (list) list.push(s);
      else this.later.set(this.cells[k], [s]);
    }
  }

  private isWithinCells(s: number): boolean {
    const { ends, left, top } = this;
    const right = left + this.columns * this.cell;
    const bottom = top + this.rows * this.cell;
    for (let at = 4 * s; at < 4 * s + 4; at += 2)
      if (!(ends[at] >= left && ends[at] < right && ends[at + 1] >= top && ends[at + 1] < bottom)) return false;
    return true;
  }

  /** Lists the cells that a segment goes through, in `cells`. @returns how many. */
  private cellsOf(s: number): number {
    const { cell, columns, top, ends } = this;
    const at = 4 * s;
    const ax = ends[at];
    const ay = ends[at + 1];
    const bx = ends[at + 2];
    const by = ends[at + 3];
    const x0 = ax < bx ? ax : bx;
    const x1 = ax < bx ? bx : ax;
    const r0 = this.rowOf((ay < by ? ay : by) - BESIDE_PX);
    const r1 = this.rowOf((ay < by ? by : ay) + BESIDE_PX);
    const c0 = this.columnOf(x0 - BESIDE_PX);
    const c1 = this.columnOf(x1 + BESIDE_PX);
    let n = 0;
    for (let r = r0; r <= r1; r++) {
      let from = c0;
      let to = c1;
      if (r0 < r1 && c0 < c1 && by !== ay) {
        // Only the part of it that lies in this row.
        const slope = (bx - ax) / (by - ay);
        const p = ax + (top + r * cell - BESIDE_PX - ay) * slope;
        const q = ax + (top + (r + 1) * cell + BESIDE_PX - ay) * slope;
        from = Math.max(c0, this.columnOf((p < q ? p : q) - BESIDE_PX));
        to = Math.min(c1, this.columnOf((p < q ? q : p) + BESIDE_PX));
      }
      if (n + to - from >= this.cells.length) this.cells = longer(this.cells, new Int32Array(2 * (n + to - from)));
      for (let c = from; c <= to; c++) this.cells[n++] = r * columns + c;
    }
    return n;
  }

  private columnOf(x: number): number {
    const c = Math.floor((x - this.left) / this.cell);
    return c < 0 ? 0 : c >= this.columns ? this.columns - 1 : c;
  }

  private rowOf(y: number): number {
    const r = Math.floor((y - this.top) / this.cell);
    return r < 0 ? 0 : r >= this.rows ? this.rows - 1 : r;
  }
}

/**
 * Where most of the first ends of segments lie in one direction: the middle 98 of 100 of a sample, and half as much again to
 * both sides, as far as there are any.
 */
function mostOf(ends: Float64Array, k: 0 | 1, count: number): { from: number; to: number } {
  if (!count) return { from: 0, to: 0 };
  const every = Math.ceil(count / SAMPLE);
  const sample = Float64Array.from({ length: Math.ceil(count / every) }, (_, n) => ends[4 * n * every + k]).sort();
  const low = sample[Math.floor(0.01 * sample.length)];
  const high = sample[Math.ceil(0.99 * sample.length) - 1];
  const beside = (high - low) / 2 + LEAST_CELL_PX;
  let [from, to] = [Infinity, -Infinity];
  for (let at = k; at < 4 * count; at += 2) {
    if (ends[at] < from) from = ends[at];
    if (ends[at] > to) to = ends[at];
  }
  return { from: Math.max(from, low - beside), to: Math.min(to, high + beside) };
}

/** Where two segments cross, as a part of each. */
const crossed = new Float64Array(2);

/** How many segments a line has. */
const segmentsOf = ({ count }: InkLine): number => (count > 1 ? count - 1 : count);

function longer<T extends Int32Array | Float64Array>(old: T, made: T): T {
  made.set(old);
  return made;
}
