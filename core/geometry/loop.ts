import type { Box } from './box';

/** How many bands of equal height the edges of a loop are sorted into. */
const BANDS = 64;

/**
 * A closed line drawn by hand, its last point joined to its first. Edges are sorted into bands by height, so that a question
 * looks at a few of them.
 */
export class Loop {
  readonly box: Box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  /** Edges by band: offsets of their first points. */
  private readonly bands: number[][] = Array.from({ length: BANDS }, () => []);

  /** @param xy `[x0, y0, x1, y1, ...]`, at least one point. Not modified. */
  constructor(private readonly xy: ArrayLike<number>) {
    const { box } = this;
    for (let i = 0; i < xy.length; i += 2) {
      box.x0 = Math.min(box.x0, xy[i]);
      box.x1 = Math.max(box.x1, xy[i]);
      box.y0 = Math.min(box.y0, xy[i + 1]);
      box.y1 = Math.max(box.y1, xy[i + 1]);
    }
    for (let i = 0; i < xy.length; i += 2) {
      const [a, b] = [this.bandOf(xy[i + 1]), this.bandOf(xy[this.after(i) + 1])];
      for (let band = Math.min(a, b); band <= Math.max(a, b); band++) this.bands[band].push(i);
    }
  }

  private after(i: number): number {
    return i + 2 < this.xy.length ? i + 2 : 0;
  }

  private bandOf(y: number): number {
    const { y0, y1 } = this.box;
    const band = y1 > y0 ? Math.floor((BANDS * (y - y0)) / (y1 - y0)) : 0;
    return band < 0 ? 0 : band < BANDS ? band : BANDS - 1;
  }

  /** Whether a point lies within it, by the nonzero rule: what a hand has gone around twice is inside, too. */
  holds(x: number, y: number): boolean {
    const { xy, box } = this;
    if (x < box.x0 || x > box.x1 || y < box.y0 || y > box.y1) return false;
    let winding = 0;
    for (const i of this.bands[this.bandOf(y)]) {
      const j = this.after(i);
      const ay = xy[i + 1];
      const by = xy[j + 1];
      if (ay <= y === by <= y) continue;
      if (xy[i] + ((y - ay) / (by - ay)) * (xy[j] - xy[i]) > x) winding += ay < by ? 1 : -1;
    }
    return winding !== 0;
  }

  /** Whether one of its edges enters a box. */
  crosses(box: Box): boolean {
    const own = this.box;
    if (box.x1 < own.x0 || box.x0 > own.x1 || box.y1 < own.y0 || box.y0 > own.y1) return false;
    const last = this.bandOf(box.y1);
    for (let band = this.bandOf(box.y0); band <= last; band++)
      for (const i of this.bands[band]) if (this.edgeEnters(i, box)) return true;
    return false;
  }

  /** Liang & Barsky (1984), ACM TOG 3(1): the part of the edge within each pair of sides, if they share one. */
  private edgeEnters(i: number, { x0, y0, x1, y1 }: Box): boolean {
    const { xy } = this;
    const j = this.after(i);
    const ax = xy[i];
    const ay = xy[i + 1];
    const dx = xy[j] - ax;
    const dy = xy[j + 1] - ay;
    let from = 0;
    let to = 1;
    if (dx === 0) {
      if (ax < x0 || ax > x1) return false;
    } else {
      const a = (x0 - ax) / dx;
      const b = (x1 - ax) / dx;
      from = Math.max(from, Math.min(a, b));
      to = Math.min(to, Math.max(a, b));
    }
    if (dy === 0) return ay >= y0 && ay <= y1 && from <= to;
    const c = (y0 - ay) / dy;
    const d = (y1 - ay) / dy;
    return Math.max(from, Math.min(c, d)) <= Math.min(to, Math.max(c, d));
  }
}
