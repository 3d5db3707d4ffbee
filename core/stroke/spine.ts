import type { Footprint } from './footprint';
import type { Fill } from './pen';

/** What is kept of a point whose nib turns or presses: its strength 0 to 1, and the direction of its width (x, y). */
export const OWN = 3;

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
  /** Absent: round and hard. Otherwise the radius is that of the nib's width. */
  footprint: Footprint | undefined;
  /** What it encloses is ink, too, or alone; see {@link Pen}. */
  fill: Fill | undefined;
  /** {@link OWN} values a point, where strength or direction change along the stroke. */
  own: Float64Array<ArrayBuffer> | undefined;
  /** Asked for what a point has of its own when it is pushed, by its place along the line. */
  ownAt: ((place: number, into: Float64Array, at: number) => void) | undefined;

  /** An empty spine with room for so many points; it grows when more come. */
  constructor(room = 16) {
    this.data = new Float64Array(3 * Math.max(1, room));
  }

  /** @param place where along its line the point is, for what it has of its own. */
  push(x: number, y: number, r: number, place = 0): void {
    const at = 3 * this.count;
    if (at === this.data.length) {
      const bigger = new Float64Array(2 * at);
      bigger.set(this.data);
      this.data = bigger;
    }
    this.data[at] = x;
    this.data[at + 1] = y;
    this.data[at + 2] = r;
    if (this.ownAt) this.ownAt(place, this.ownMemory(), OWN * this.count);
    this.count++;
  }

  /** Adds points `from` to `to` (not included) of another spine, with what they have of their own. */
  append({ data, own }: Spine, from: number, to: number): void {
    const { ownAt } = this;
    this.ownAt = own && ((_, into, at) => into.set(own.subarray(at + shift, at + shift + OWN), at));
    const shift = OWN * (from - this.count);
    for (let at = 3 * from; at < 3 * to; at += 3) this.push(data[at], data[at + 1], data[at + 2]);
    this.ownAt = ownAt;
  }

  clear(): void {
    this.count = 0;
    this.isCutStart = this.isCutEnd = false;
    this.footprint = this.own = this.ownAt = this.fill = undefined;
  }

  private ownMemory(): Float64Array {
    if (!this.own || this.own.length < OWN * (this.count + 1)) {
      const bigger = new Float64Array((OWN * this.data.length) / 3);
      if (this.own) bigger.set(this.own);
      this.own = bigger;
    }
    return this.own;
  }
}

/** Points `from` to `to` (not included) of a spine: a view, nothing is copied. */
export function partOf(spine: Spine, from: number, to: number): Spine {
  const part = new Spine(1);
  part.data = spine.data.subarray(3 * from, 3 * to);
  part.count = to - from;
  part.isCutStart = from === 0 && spine.isCutStart;
  part.isCutEnd = to === spine.count && spine.isCutEnd;
  part.footprint = spine.footprint;
  part.own = spine.own?.subarray(OWN * from, OWN * to);
  return part;
}

/** A spine of its own with the points of another, in memory no longer than it has to be. */
export function copyOf(spine: Spine): Spine {
  const copy = new Spine(1);
  copy.data = spine.data.slice(0, 3 * spine.count);
  copy.count = spine.count;
  copy.isCutStart = spine.isCutStart;
  copy.isCutEnd = spine.isCutEnd;
  copy.footprint = spine.footprint;
  copy.fill = spine.fill;
  copy.own = spine.own?.slice(0, OWN * spine.count);
  return copy;
}

/** A spine from plain triples, for tests and generators. */
export function spineFrom(triples: readonly (readonly [x: number, y: number, r: number])[]): Spine {
  const spine = new Spine();
  for (const [x, y, r] of triples) spine.push(x, y, r);
  return spine;
}
