import { spineBox } from '../raster/draw-stroke';
import type { Box } from '../geometry/box';
import type { MeasuredSpine, SampleRange } from '../stroke/spine-maker';
import { nearestOn } from './lines-near';
import { directionAt, pointAt } from '../stroke/spine-place';
import { valueAt } from '../stroke/value-at';

/** Samples are named to a thousandth. */
const PER_SAMPLE = 1000;

/**
 * A line that can be walked by its length. A place is the number of a point of its spine, and a part of the way to the
 * next; a length is paper px from its first point.
 */
export class LineRoad {
  readonly box: Box;
  /** The lengths between which the line stands. */
  readonly start: number;
  readonly end: number;
  private readonly lengths: Float64Array;
  private readonly numbers: Float64Array;
  private readonly stands: SampleRange;

  /** @param line all of it, as it lies on the paper, px. @param stands the part of it that stands; absent: all. */
  constructor(
    readonly line: MeasuredSpine,
    stands?: SampleRange,
  ) {
    const { data, count } = line.spine;
    this.box = spineBox(line.spine);
    this.lengths = new Float64Array(count);
    this.numbers = Float64Array.from({ length: count }, (_, i) => i);
    for (let i = 1; i < count; i++)
      this.lengths[i] =
        this.lengths[i - 1] + Math.hypot(data[3 * i] - data[3 * i - 3], data[3 * i + 1] - data[3 * i - 2]);
    this.stands = stands ?? { from: 0, to: line.last };
    this.start = this.lengthOfSample(this.stands.from);
    this.end = this.lengthOfSample(this.stands.to);
  }

  /** Of all of the line. */
  get length(): number {
    return this.lengths[this.lengths.length - 1] ?? 0;
  }

  lengthAt(place: number): number {
    return valueAt(this.numbers, this.lengths, this.numbers.length, place);
  }

  placeAt(length: number): number {
    return valueAt(this.lengths, this.numbers, this.numbers.length, length);
  }

  /** The length that stands which is nearest to one. */
  within(length: number): number {
    return Math.min(this.end, Math.max(this.start, length));
  }

  /** The middle at a length; straight on beyond the ends of the line. */
  pointBeyond(length: number): [x: number, y: number] {
    const { spine } = this.line;
    const place = this.placeAt(length);
    const [x, y] = pointAt(spine, place);
    const beyond = length - Math.min(this.length, Math.max(0, length));
    if (beyond === 0) return [x, y];
    const [dx, dy] = directionAt(spine, place);
    return [x + beyond * dx, y + beyond * dy];
  }

  /** {@link pointBeyond}, as a place of the paper. */
  placeOn(length: number): { x: number; y: number } {
    const [x, y] = this.pointBeyond(length);
    return { x, y };
  }

  /** The sample at which the line is nearest to a place of the paper, to a thousandth. */
  sampleNear(x: number, y: number): number {
    return Math.round(this.sampleAt(nearestOn(this.line.spine, x, y).place) * PER_SAMPLE) / PER_SAMPLE;
  }

  radiusAt(place: number): number {
    return pointAt(this.line.spine, place)[2];
  }

  /** Whether both ends of the line are its own, and touch. */
  get isClosed(): boolean {
    const { data, count } = this.line.spine;
    const { from, to } = this.stands;
    if (count < 3 || from > 0 || to < this.line.last) return false;
    const last = 3 * count - 3;
    return Math.hypot(data[last] - data[0], data[last + 1] - data[1]) <= data[2] + data[last + 2];
  }

  /** The samples between two places, to a thousandth, outwards; whole ends stay whole. */
  range(from: number, to: number): SampleRange {
    const { stands } = this;
    return {
      from: Math.max(stands.from, Math.floor(this.sampleAt(from) * PER_SAMPLE) / PER_SAMPLE),
      to: Math.min(stands.to, Math.ceil(this.sampleAt(to) * PER_SAMPLE) / PER_SAMPLE),
    };
  }

  /** What lies between two lengths, `[x, y, radius, ...]`. */
  stretch(from: number, to: number): Float32Array {
    const [a, b] = [this.placeAt(from), this.placeAt(to)];
    const places = [a];
    for (let i = Math.floor(a) + 1; i < b; i++) places.push(i);
    places.push(b);
    return Float32Array.from(places.flatMap((place) => pointAt(this.line.spine, place)));
  }

  private sampleAt(place: number): number {
    return valueAt(this.numbers, this.line.samples, this.numbers.length, place);
  }

  /** The sample at a length; a part of the way to the next counts as a part. */
  sampleOf(length: number): number {
    return this.sampleAt(this.placeAt(length));
  }

  lengthOfSample(sample: number): number {
    return valueAt(this.line.samples, this.lengths, this.numbers.length, sample);
  }
}
