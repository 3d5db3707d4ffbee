import { spineBox } from '../raster/draw-stroke';
import { ENGINE, type Pen } from '../stroke/pen';
import type { Spine } from '../stroke/spine';
import { SpineMaker, type SampleRange } from '../stroke/spine-maker';
import { toleranceAt } from './ink-box';
import type { InkStore } from './ink-store';
import { BREATH, type Lacking } from './ink-work';
import type { StrokeRecord } from './ink-record';
import { leftBy } from './severing';
import { spinesTouch } from './touching';

/** What an eraser does to a stroke. `left`: it severs it, and these ranges of its samples stand; none: nothing is left. */
export interface ErasedStroke {
  id: string;
  left?: SampleRange[];
}

/** Strokes that are worked on at a time: between two parts samples may be brought, and others may have a turn. */
const PART = 400;

/**
 * What an eraser made with `pen` does to the standing lines of a layer: those that it touches. A soft one severs none.
 * Yields what is lacking.
 */
export function* erasing(
  ink: InkStore,
  layerId: string,
  bytes: Uint8Array,
  pen: Pen,
): Generator<Lacking, ErasedStroke[]> {
  const spine = new SpineMaker().ofBytes(bytes, pen, ENGINE, toleranceAt(0));
  const found = ink.find(layerId, spineBox(spine));
  const erased: ErasedStroke[] = [];
  for (let from = 0; from < found.length; from += PART) {
    if (from > 0) yield BREATH;
    for (const record of yield* ink.readable(found, from, from + PART)) {
      if (record.pen.fades || !spinesTouch(spine, ink.drawable(record, 0, 'exact').spine)) continue;
      const left = pen.fades ? undefined : leftOf(ink, record, spine);
      erased.push({ id: record.stroke.id, ...(left ? { left } : {}) });
    }
  }
  return erased;
}

/** What is left of a stroke under an eraser, together with all that has erased it before, where that severs it. */
function leftOf(ink: InkStore, record: StrokeRecord, eraser: Spine): SampleRange[] | undefined {
  const { stands, pen } = record;
  // What is filled is one piece, however it is cut.
  if (pen.fill) return undefined;
  const line = ink.measured(record);
  const before = ink.drawable(record, 0, 'exact').holes.map((hole) => hole.spine);
  return leftBy(line, stands ?? { from: 0, to: line.last }, eraser, before);
}
