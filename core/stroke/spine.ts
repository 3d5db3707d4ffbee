/**
 * A stroke's centreline with its radius: `data` holds `[x0, y0, r0, x1, y1, r1, ...]`,
 * `count` triples, paper px (or level px where said), y down. The stroke is the union of the
 * round cones between neighbours; a single triple is a disc.
 */
export class Spine {
  data: Float64Array<ArrayBuffer>;
  count = 0;
  /** Whether it was cut there: the line ends straight across, without the half disc of an end of its own. */
  isCutStart = false;
  isCutEnd = false;

  /** An empty spine with room for so many points; it grows when more come. */
  constructor(room = 16) {
    this.data = new Float64Array(3 * Math.max(1, room));
  }

  push(x: number, y: number, r: number): void {
    const at = 3 * this.count;
    if (at === this.data.length) {
      const bigger = new Float64Array(2 * at);
      bigger.set(this.data);
      this.data = bigger;
    }
    this.data[at] = x;
    this.data[at + 1] = y;
    this.data[at + 2] = r;
    this.count++;
  }

  clear(): void {
    this.count = 0;
    this.isCutStart = this.isCutEnd = false;
  }
}

/** Points `from` to `to` (not included) of a spine: a view, nothing is copied. */
export function partOf(spine: Spine, from: number, to: number): Spine {
  const part = new Spine(1);
  part.data = spine.data.subarray(3 * from, 3 * to);
  part.count = to - from;
  part.isCutStart = from === 0 && spine.isCutStart;
  part.isCutEnd = to === spine.count && spine.isCutEnd;
  return part;
}

/** A spine from plain triples, for tests and generators. */
export function spineFrom(triples: readonly (readonly [x: number, y: number, r: number])[]): Spine {
  const spine = new Spine();
  for (const [x, y, r] of triples) spine.push(x, y, r);
  return spine;
}
