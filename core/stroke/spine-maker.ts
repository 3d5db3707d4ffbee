import { decodeSamples } from './codec';
import { builderOf } from './engines';
import { ENGINE, makePen, type Pen } from './pen';
import { emptySamples, PRESSURE_MAX, TICKS_PER_MS, type Samples } from './samples';
import { LinePart, MeasuredLine } from './line-part';
import { usesLean } from './lean';
import { PathBuilder } from './path-builder';
import { copyOf, Spine } from './spine';
import { SpineBuilder, type Builder } from './spine-builder';

/** From one sample to another; a part of the way to the next counts as a part. */
export interface SampleRange {
  from: number;
  to: number;
}

/** A spine with all its points, and the sample that each of them is at, growing. */
export interface MeasuredSpine {
  spine: Spine;
  samples: Float64Array;
  /** The last sample that there is. */
  last: number;
}

/** Makes the spines of finished strokes one after the other in the same memory; owned by the caller. */
export class SpineMaker {
  private readonly builder = new SpineBuilder(ANY_PEN, 1);
  private readonly earlier: Record<number, Builder | undefined> = {};
  private path: PathBuilder | undefined;
  private readonly tail = new Spine();
  private readonly scratch = emptySamples();
  private readonly part = new LinePart();

  /**
   * The spine of packed samples, or of a part of them. @throws {RangeError} as {@link decodeSamples}; {Error} an engine
   * that is not here.
   */
  ofBytes(bytes: Uint8Array, pen: Pen, engine: number, tolerancePx: number, stands?: SampleRange): Spine {
    const samples = decodeSamples(bytes, usesLean(pen), this.scratch);
    return stands ? this.ofPart(samples, stands, pen, engine, tolerancePx) : this.of(samples, pen, engine, tolerancePx);
  }

  /**
   * What is left of a finished stroke from one sample to another: the line is that of the whole stroke, cut straight
   * across where it does not end by itself. Empty where the range holds nothing of it.
   */
  ofPart(samples: Samples, { from, to }: SampleRange, pen: Pen, engine: number, tolerancePx: number): Spine {
    if (from > 0 && from >= samples.count - 1) return new Spine(1);
    const builder = this.ended(samples, pen, engine, tolerancePx);
    const { part } = this;
    part.restart(builder.placeOf(from), builder.placeOf(to), tolerancePx / 2);
    const spine = new Spine();
    builder.walk(part, spine);
    part.flush(spine);
    spine.fill = pen.fill;
    spine.isCutStart = from > 0;
    spine.isCutEnd = to < samples.count - 1;
    return copyOf(spine);
  }

  /** The spine of packed samples with the sample at each point. @throws {RangeError} as {@link decodeSamples}. */
  measured(bytes: Uint8Array, pen: Pen, engine: number, tolerancePx: number): MeasuredSpine {
    const samples = decodeSamples(bytes, usesLean(pen), this.scratch);
    const builder = this.ended(samples, pen, engine, tolerancePx);
    const spine = new Spine(samples.count);
    const line = new MeasuredLine();
    builder.walk(line, spine);
    spine.fill = pen.fill;
    return {
      spine,
      samples: Float64Array.from(line.places, (place) => builder.sampleAt(place)),
      last: samples.count - 1,
    };
  }

  /**
   * The spine of a finished stroke, in paper px; new memory, no longer than it has to be.
   * @param engine the version of the formulas that the stroke was made with.
   * @param tolerancePx how far it may lie from the curve; 0.1 px of the tile level that shows it.
   */
  of(samples: Samples, pen: Pen, engine: number, tolerancePx: number): Spine {
    const { tail } = this;
    const builder = this.filled(samples, pen, engine, tolerancePx);
    builder.settle();
    builder.tail(tail);
    const settled = builder.spine;
    // The tail repeats the last settled point.
    const skipped = settled.count ? 1 : 0;
    const spine = new Spine(settled.count + tail.count - skipped);
    spine.append(settled, 0, settled.count);
    spine.append(tail, skipped, tail.count);
    spine.footprint = tail.footprint;
    spine.fill = pen.fill;
    return spine;
  }

  private ended(samples: Samples, pen: Pen, engine: number, tolerancePx: number): Builder {
    const builder = this.filled(samples, pen, engine, tolerancePx);
    builder.end();
    return builder;
  }

  private filled(samples: Samples, pen: Pen, engine: number, tolerancePx: number): Builder {
    const builder = samples.isPath ? (this.path ??= new PathBuilder()) : this.builderOf(engine);
    builder.restart(pen, tolerancePx);
    const perPx = 2 ** samples.unitLog2;
    for (let i = 0; i < samples.count; i++)
      builder.push(
        samples.x[i] / perPx,
        samples.y[i] / perPx,
        samples.t[i] / TICKS_PER_MS,
        samples.pressure[i] / PRESSURE_MAX,
        samples.altitude[i],
        samples.azimuth[i],
      );
    return builder;
  }

  private builderOf(engine: number): Builder {
    return engine === ENGINE ? this.builder : (this.earlier[engine] ??= builderOf(engine, ANY_PEN));
  }
}

const ANY_PEN = makePen('fineliner', 1, 0, false, 1);

/** The spine of one stroke made with today's formulas; for many, keep a {@link SpineMaker}. */
export const spineOf = (samples: Samples, pen: Pen, tolerancePx: number): Spine =>
  new SpineMaker().of(samples, pen, ENGINE, tolerancePx);
