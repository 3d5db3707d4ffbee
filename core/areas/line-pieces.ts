import Flatbush from 'flatbush';
import { nearestPart } from '../geometry/segment';
import type { InkLine } from './ink-line';

/** So many segments of a line are found together. */
const PIECE = 8;

/** Runs of segments of many lines, found by where they lie. */
export class LinePieces {
  /** Of each piece its line, and its first and last point. */
  readonly line: Int32Array;
  readonly from: Int32Array;
  readonly to: Int32Array;
  /** `[x0, y0, x1, y1]` of each piece's middle. */
  readonly boxes: Float64Array;
  readonly count: number;
  private readonly index: Flatbush | undefined;

  constructor(readonly lines: readonly InkLine[]) {
    const counts = lines.map(({ count }) => Math.max(1, Math.ceil((count - 1) / PIECE)));
    this.count = counts.reduce((sum, n) => sum + n, 0);
    this.line = new Int32Array(this.count);
    this.from = new Int32Array(this.count);
    this.to = new Int32Array(this.count);
    this.boxes = new Float64Array(4 * this.count);
    this.index = this.count ? new Flatbush(this.count, 16, Float64Array) : undefined;
    let n = 0;
    lines.forEach((line, l) => {
      for (let k = 0; k < counts[l]; k++, n++) {
        this.line[n] = l;
        this.from[n] = k * PIECE;
        this.to[n] = Math.min(line.count - 1, (k + 1) * PIECE);
        this.measure(n, line);
      }
    });
    this.index?.finish();
  }

  /** Pieces whose middle meets a box. @param wanted looks at a piece's number before it is listed. */
  within(x0: number, y0: number, x1: number, y1: number, wanted?: (piece: number) => boolean): number[] {
    return this.index?.search(x0, y0, x1, y1, wanted) ?? [];
  }

  /** Whether ink covers a place, or comes as near to it as `near` px. @param widest of all lines, px. */
  hasInk(x: number, y: number, near: number, widest: number): boolean {
    const reach = near + widest;
    for (const piece of this.within(x - reach, y - reach, x + reach, y + reach)) {
      const { data, count } = this.lines[this.line[piece]];
      for (let i = this.from[piece], to = Math.max(this.to[piece], i + 1); i < to; i++) {
        const a = 3 * i;
        const b = i + 1 < count ? a + 3 : a;
        const u = nearestPart(data, a, b, x, y);
        const dx = data[a] + u * (data[b] - data[a]) - x;
        const dy = data[a + 1] + u * (data[b + 1] - data[a + 1]) - y;
        const far = near + data[a + 2] + u * (data[b + 2] - data[a + 2]);
        if (dx * dx + dy * dy <= far * far) return true;
      }
    }
    return false;
  }

  private measure(n: number, { data }: InkLine): void {
    let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let at = 3 * this.from[n]; at <= 3 * this.to[n]; at += 3) {
      const [x, y] = [data[at], data[at + 1]];
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      if (y > y1) y1 = y;
    }
    this.boxes.set([x0, y0, x1, y1], 4 * n);
    this.index!.add(x0, y0, x1, y1);
  }
}
