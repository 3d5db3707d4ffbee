import { decodeSamples } from './codec';
import { FirstSpineBuilder } from './engine-1/spine-builder';
import { ENGINE, makePen, type Pen } from './pen';
import { emptySamples, PRESSURE_MAX, TICKS_PER_MS, type Samples } from './samples';
import { Spine } from './spine';
import { SpineBuilder, type Builder } from './spine-builder';

/** Makes the spines of finished strokes one after the other in the same memory; owned by the caller. */
export class SpineMaker {
  private readonly builder = new SpineBuilder(ANY_PEN, 1);
  private readonly earlier: Record<number, Builder | undefined> = {};
  private readonly tail = new Spine();
  private readonly scratch = emptySamples();

  /** The spine of packed samples. @throws {RangeError} as {@link decodeSamples}. */
  ofBytes(bytes: Uint8Array, pen: Pen, engine: number, tolerancePx: number): Spine {
    return this.of(decodeSamples(bytes, false, this.scratch), pen, engine, tolerancePx);
  }

  /**
   * The spine of a finished stroke, in paper px; new memory, no longer than it has to be.
   * @param engine the version of the formulas that the stroke was made with.
   * @param tolerancePx how far it may lie from the curve; 0.1 px of the tile level that shows it.
   */
  of(samples: Samples, pen: Pen, engine: number, tolerancePx: number): Spine {
    const { tail } = this;
    const builder = this.builderOf(engine);
    builder.restart(pen, tolerancePx);
    const perPx = 2 ** samples.unitLog2;
    for (let i = 0; i < samples.count; i++)
      builder.push(
        samples.x[i] / perPx,
        samples.y[i] / perPx,
        samples.t[i] / TICKS_PER_MS,
        samples.pressure[i] / PRESSURE_MAX,
      );
    builder.settle();
    builder.tail(tail);
    const settled = builder.spine;
    // The tail repeats the last settled point.
    const skipped = settled.count ? 1 : 0;
    const spine = new Spine(settled.count + tail.count - skipped);
    spine.data.set(settled.data.subarray(0, 3 * settled.count));
    spine.data.set(tail.data.subarray(3 * skipped, 3 * tail.count), 3 * settled.count);
    spine.count = settled.count + tail.count - skipped;
    return spine;
  }

  private builderOf(engine: number): Builder {
    if (engine === ENGINE) return this.builder;
    return (this.earlier[engine] ??=
      engine === 1 ? new FirstSpineBuilder(ANY_PEN, 1) : new SpineBuilder(ANY_PEN, 1, engine));
  }
}

const ANY_PEN = makePen('fineliner', 1, 0, false, 1);

/** The spine of one stroke made with today's formulas; for many, keep a {@link SpineMaker}. */
export const spineOf = (samples: Samples, pen: Pen, tolerancePx: number): Spine =>
  new SpineMaker().of(samples, pen, ENGINE, tolerancePx);
