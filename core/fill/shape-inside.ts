import { Loop } from '../geometry/loop';
import type { Box } from '../geometry/box';
import type { Rings } from '../geometry/rings';

/** Lines across a shape on which places in it are looked for, and places on each at most. */
const ROWS = 24;

export type Place = [x: number, y: number];

/** What a closed shape encloses: places in it, by the nonzero rule or, of rings, less the holes. */
export class Inside {
  private readonly loops: Loop[];
  readonly box: Box;

  constructor(rings: Rings) {
    this.loops = rings.map((ring) => new Loop(ring));
    this.box = this.loops[0].box;
  }

  holds(x: number, y: number): boolean {
    const [outer, ...holes] = this.loops;
    return outer.holds(x, y) && !holes.some((hole) => hole.holds(x, y));
  }

  /** Places all over it, evenly; a thin shape has few, or none. */
  places(rows = ROWS): Place[] {
    const { x0, y0, x1, y1 } = this.box;
    const found: Place[] = [];
    for (let row = 0; row < rows; row++) {
      const y = y0 + ((row + 0.5) / rows) * (y1 - y0);
      for (let k = 0; k < rows; k++) {
        // Every other row is moved by half a place.
        const x = x0 + ((k + (row % 2 ? 0.25 : 0.75)) / rows) * (x1 - x0);
        if (this.holds(x, y)) found.push([x, y]);
      }
    }
    return found;
  }
}
