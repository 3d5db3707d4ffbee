import { grow, isEmpty, type Box } from '../geometry/box';
import { spineBox } from '../raster/draw-stroke';
import type { Pen } from '../stroke/pen';
import { SpineMaker, type SampleRange } from '../stroke/spine-maker';

/** How far a spine may lie from its curve, in px of the level that shows it. */
export const LEVEL_TOLERANCE_PX = 0.1;
export const toleranceAt = (level: number): number => LEVEL_TOLERANCE_PX / 2 ** level;

/** Boxes are measured at level 0; at a coarser one a spine may lie this much further out, paper px. */
export const BOX_SLACK_PX = 2;

/** An empty box: ink whose samples cannot be read lies nowhere. */
export const NOWHERE: Box = { x0: 1, y0: 1, x1: 0, y1: 0 };

/** Measures where ink lies from what the hand gave. Keeps its memory; owned by the caller. */
export class InkMeasure {
  private readonly maker = new SpineMaker();

  /**
   * The box of a mark before its matrix, paper px: kept with it, so that later nothing needs to be decoded to know
   * where it lies. Some 100 us.
   * @param mark `stands`: only that part of it.
   * @returns {@link NOWHERE} for samples that cannot be read.
   */
  boxOf(bytes: Uint8Array, { pen, engine, stands }: { pen: Pen; engine: number; stands?: SampleRange }): Box {
    try {
      const box = spineBox(this.maker.ofBytes(bytes, pen, engine, toleranceAt(0), stands));
      return isEmpty(grow(box, 1)) ? NOWHERE : grow(box, BOX_SLACK_PX);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      return NOWHERE;
    }
  }
}
