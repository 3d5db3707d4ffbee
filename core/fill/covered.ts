import Flatbush from 'flatbush';
import type { Box } from '../geometry/box';
import { Loop } from '../geometry/loop';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { StrokeRecord } from '../sheet/ink-record';
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
  private readonly index: Flatbush | undefined;

  private constructor(private readonly covers: readonly Cover[]) {
    if (!covers.length) return;
    this.index = new Flatbush(covers.length);
    for (const { record } of covers) this.index.add(record.box.x0, record.box.y0, record.box.x1, record.box.y1);
    this.index.finish();
  }

  /** @param counts what else covers nothing. */
  static *of(
    ink: InkStore,
    layerIds: readonly string[],
    box: Box,
    counts: (record: StrokeRecord) => boolean = () => true,
  ): Generator<Pause, Covered> {
    const covers: Cover[] = [];
    for (const layerId of layerIds) {
      const found = ink.find(layerId, box).filter((record) => !record.pen.fades && counts(record));
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
    const found = this.index?.search(x, y, x, y) ?? [];
    for (const n of found.sort((a, b) => b - a)) {
      const { record, spine, loop } = this.covers[n];
      if (loop ? loop.holds(x, y) : nearestOn(spine, x, y).gap <= 0) return record;
    }
    return undefined;
  }
}
