import type { Box } from '../geometry/box';
import { Loop } from '../geometry/loop';
import type { InkStore, Pause, StrokeRecord } from '../sheet/ink-store';
import { nearestOn } from '../sheet/lines-near';
import type { Spine } from '../stroke/spine';
import { ringSize } from '../geometry/rings';

interface Cover {
  record: StrokeRecord;
  spine: Spine;
  loop: Loop | undefined;
}

/** Records whose samples are asked for at once. */
const PART = 200;

/** The points of a spine, `[x0, y0, x1, y1, ...]`. */
export function ringOf({ data, count }: Spine): Float64Array {
  const ring = new Float64Array(2 * count);
  for (let i = 0; i < count; i++) ring.set([data[3 * i], data[3 * i + 1]], 2 * i);
  return ring;
}

/** What colour lies where: pours and strokes of some layers, as far as they can touch a box. Erasures are passed over. */
export class Covered {
  constructor(private readonly covers: readonly Cover[]) {}

  /** @param poursOnly strokes that were painted count for nothing. */
  static *of(ink: InkStore, layerIds: readonly string[], box: Box, poursOnly = false): Generator<Pause, Covered> {
    const covers: Cover[] = [];
    for (const layerId of layerIds) {
      const found = ink.find(layerId, box).filter(({ pen, stroke }) => !pen.fades && (!poursOnly || stroke.pour));
      for (let from = 0; from < found.length; from += PART)
        for (const record of yield* ink.readable(found, from, from + PART)) {
          const { spine } = ink.drawable(record, 0, 'exact');
          covers.push({ record, spine, loop: spine.fill ? new Loop(ringOf(spine)) : undefined });
        }
    }
    return new Covered(covers);
  }

  get isEmpty(): boolean {
    return this.covers.length === 0;
  }

  /** How much the shape of one of them encloses, px2. */
  sizeOf(record: StrokeRecord): number {
    const cover = this.covers.find((one) => one.record === record);
    return cover ? Math.abs(ringSize(ringOf(cover.spine))) : 0;
  }

  /** The topmost colour at a place: of layers that came later, and in each what was laid last. */
  at(x: number, y: number): StrokeRecord | undefined {
    for (let n = this.covers.length - 1; n >= 0; n--) {
      const { record, spine, loop } = this.covers[n];
      const { x0, y0, x1, y1 } = record.box;
      if (x < x0 || y < y0 || x > x1 || y > y1) continue;
      if (loop ? loop.holds(x, y) : nearestOn(spine, x, y).gap <= 0) return record;
    }
    return undefined;
  }
}
