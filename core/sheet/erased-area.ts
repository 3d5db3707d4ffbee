import type { Box } from '../geometry/box';
import type { Spine } from '../stroke/spine';

/** Directions in which a disc is looked at: half a circle of them, every 22.5 degrees. */
const DIRECTIONS: readonly (readonly [x: number, y: number])[] = [
  [1, 0],
  [0.9239, 0.3827],
  [Math.SQRT1_2, Math.SQRT1_2],
  [0.3827, 0.9239],
  [0, 1],
  [-0.3827, 0.9239],
  [-Math.SQRT1_2, Math.SQRT1_2],
  [-0.9239, 0.3827],
];
/** Radii that differ by more are looked at in pieces, px. */
const MOST_TAPER_PX = 0.25;
/** Values of a cone: its two centres and its radius. */
const CONE = 5;

/** The area of erasures near something: the union of their cones, each with the smaller of its radii. */
export class ErasedArea {
  private readonly cones: number[] = [];
  private readonly boxes: Box[] = [];
  /** The smallest radius, px; Infinity where nothing is erased. */
  smallest = Infinity;

  /** @param marks spines of the erasures; @param near what is further away is left out. */
  constructor(marks: readonly Spine[], near: Box) {
    for (const { data, count } of marks)
      for (let i = 0; i < Math.max(Math.min(1, count), count - 1); i++) {
        const a = 3 * i;
        this.add(near, data, a, count > 1 ? a + 3 : a);
      }
  }

  /** Adds a cone, in pieces that hardly taper. */
  private add(near: Box, data: Float64Array, a: number, b: number): void {
    const along = (c: number, u: number) => data[a + c] + u * (data[b + c] - data[a + c]);
    const pieces = Math.max(1, Math.ceil(Math.abs(data[b + 2] - data[a + 2]) / MOST_TAPER_PX));
    for (let n = 0; n < pieces; n++) {
      const [u, v] = [n / pieces, (n + 1) / pieces];
      this.addEven(near, along(0, u), along(1, u), along(0, v), along(1, v), Math.min(along(2, u), along(2, v)));
    }
  }

  private addEven(near: Box, ax: number, ay: number, bx: number, by: number, r: number): void {
    const x0 = Math.min(ax, bx) - r;
    const y0 = Math.min(ay, by) - r;
    const x1 = Math.max(ax, bx) + r;
    const y1 = Math.max(ay, by) + r;
    if (x1 < near.x0 || x0 > near.x1 || y1 < near.y0 || y0 > near.y1) return;
    this.cones.push(ax, ay, bx, by, r);
    this.boxes.push({ x0, y0, x1, y1 });
    if (r < this.smallest) this.smallest = r;
  }

  /** Whether the area comes near to the straight line from point `i` of a spine to the next. */
  isNear({ data, count }: Spine, i: number): boolean {
    const a = 3 * i;
    const b = i + 1 < count ? a + 3 : a;
    const x0 = Math.min(data[a], data[b]);
    const y0 = Math.min(data[a + 1], data[b + 1]);
    const x1 = Math.max(data[a], data[b]);
    const y1 = Math.max(data[a + 1], data[b + 1]);
    return this.boxes.some((box) => box.x1 >= x0 && box.x0 <= x1 && box.y1 >= y0 && box.y0 <= y1);
  }

  /** Whether all between `-reach` and `reach` from (x, y) in the direction of the unit vector (ux, uy) is erased. */
  holds(x: number, y: number, ux: number, uy: number, reach: number): boolean {
    const spans: [from: number, to: number][] = [];
    const [ax, bx] = [x - reach * ux, x + reach * ux];
    const [ay, by] = [y - reach * uy, y + reach * uy];
    for (let n = 0; n < this.boxes.length; n++) {
      const { x0, y0, x1, y1 } = this.boxes[n];
      if ((ax < x0 && bx < x0) || (ax > x1 && bx > x1) || (ay < y0 && by < y0) || (ay > y1 && by > y1)) continue;
      const span = this.span(n, x, y, ux, uy);
      if (span) spans.push(span);
    }
    spans.sort((a, b) => a[0] - b[0]);
    let covered = -reach;
    for (const [from, to] of spans) {
      if (from > covered) return false;
      covered = Math.max(covered, to);
      if (covered >= reach) return true;
    }
    return false;
  }

  /** Whether a disc is erased, as far as its diameters tell. */
  holdsDisc(x: number, y: number, reach: number): boolean {
    return DIRECTIONS.every(([ux, uy]) => this.holds(x, y, ux, uy, reach));
  }

  /** Where a line through (x, y) enters and leaves cone `n`: its two discs, and the straight sides between them. */
  private span(n: number, x: number, y: number, ux: number, uy: number): [number, number] | undefined {
    const { cones } = this;
    const at = CONE * n;
    const r = cones[at + 4];
    let [low, high] = [Infinity, -Infinity];
    for (const c of [at, at + 2]) {
      const along = (cones[c] - x) * ux + (cones[c + 1] - y) * uy;
      const off = (cones[c] - x) * uy - (cones[c + 1] - y) * ux;
      if (off * off > r * r) continue;
      const half = Math.sqrt(r * r - off * off);
      low = Math.min(low, along - half);
      high = Math.max(high, along + half);
    }
    const dx = cones[at + 2] - cones[at];
    const dy = cones[at + 3] - cones[at + 1];
    const length = Math.sqrt(dx * dx + dy * dy);
    const across = length > 0 ? (ux * dy - uy * dx) / length : 0;
    if (across !== 0) {
      const ex = x - cones[at];
      const ey = y - cones[at + 1];
      for (const side of [-r, r]) {
        const v = (side - (ex * dy - ey * dx) / length) / across;
        const on = ((ex + v * ux) * dx + (ey + v * uy) * dy) / length;
        if (on < 0 || on > length) continue;
        low = Math.min(low, v);
        high = Math.max(high, v);
      }
    }
    return low <= high ? [low, high] : undefined;
  }
}
