import { directionOf, footprintOf, type Footprint } from './footprint';
import { usesLean } from './lean';
import { FULL_STRENGTH, OWN_DIRECTION } from './path';
import { MEASURED_PX, type Pen } from './pen';
import { Simplifier, type PointSink } from './simplifier';
import { OWN, Spine } from './spine';
import type { Builder } from './spine-builder';
import { Tapers } from './tapers';
import { pieceAt, valueAt } from './value-at';

const MAX_PIECES = 64;

/**
 * Builds the spine of a path that was set by its nodes: it goes exactly where its places are, as wide as they say, with
 * the pen's tapers where it has ends. Nothing of it settles before its end.
 */
export class PathBuilder implements Builder {
  readonly spine = new Spine(1);
  private xs: number[] = [];
  private ys: number[] = [];
  private radii: number[] = [];
  /** Of a pen that leaned or turned: strength, and direction in degrees. */
  private strengths: number[] = [];
  private directions: number[] = [];
  private leans = false;
  /** Whether its nodes say how the pen lay: of forms they do not. */
  private isLeaning = false;
  private lengths = new Float64Array(0);
  private numbers = new Float64Array(0);
  private readonly tapers = new Tapers();
  private readonly simplifier = new Simplifier();
  private footprint: Footprint | undefined;
  private pen!: Pen;
  private tolerancePx = 1;

  restart(pen: Pen, tolerancePx: number): void {
    this.pen = pen;
    this.tolerancePx = tolerancePx;
    this.footprint = footprintOf(pen);
    this.spine.clear();
    this.xs = [];
    this.ys = [];
    this.radii = [];
    this.strengths = [];
    this.directions = [];
    this.leans = usesLean(pen);
    this.isLeaning = false;
  }

  /** Adds a place. @param width as a part of the pen's size. @param strength, direction as `flattened` has them. */
  push(x: number, y: number, _tMs: number, width: number, strength = FULL_STRENGTH, direction = OWN_DIRECTION): void {
    this.xs.push(x);
    this.ys.push(y);
    this.radii.push((this.pen.sizePx / 2) * width);
    if (!this.leans) return;
    this.isLeaning ||= direction !== OWN_DIRECTION;
    this.strengths.push(strength / FULL_STRENGTH);
    this.directions.push(direction === OWN_DIRECTION ? (this.pen.nibDeg ?? 0) : direction);
  }

  settle(): void {}

  tail(out: Spine): void {
    out.clear();
    this.end();
    this.simplifier.restart(this.tolerancePx / 2);
    this.walk(this.simplifier, out);
    this.simplifier.flush(out);
  }

  end(): void {
    const { xs, ys, pen } = this;
    const count = xs.length;
    this.lengths = new Float64Array(count);
    this.numbers = Float64Array.from({ length: count }, (_, i) => i);
    for (let i = 1; i < count; i++) {
      const [dx, dy] = [xs[i] - xs[i - 1], ys[i] - ys[i - 1]];
      this.lengths[i] = this.lengths[i - 1] + Math.sqrt(dx * dx + dy * dy);
    }
    const end = count ? this.lengths[count - 1] : 0;
    const isClosed = count > 2 && xs[0] === xs[count - 1] && ys[0] === ys[count - 1];
    if (isClosed) this.tapers.clear(end);
    else this.tapers.set(pen, end, MEASURED_PX / pen.handScale);
  }

  walk(line: PointSink, out: Spine): void {
    const { xs, ys, radii, lengths, tapers } = this;
    out.footprint = this.footprint;
    if (this.isLeaning) out.ownAt = (place, into, at) => this.writeOwn(place, into, at);
    if (xs.length) line.add(xs[0], ys[0], tapers.tapered(radii[0], 0), out, 0);
    for (let i = 1; i < xs.length; i++) {
      const [from, to] = [lengths[i - 1], lengths[i]];
      const squared = tapers.squaredPieces(Math.max(radii[i - 1], radii[i]), from, to, this.tolerancePx);
      const pieces = Math.min(MAX_PIECES, Math.max(1, Math.ceil(Math.sqrt(squared))));
      for (let n = 1; n <= pieces; n++) {
        const u = n / pieces;
        const along = (v: readonly number[]) => (n === pieces ? v[i] : v[i - 1] + u * (v[i] - v[i - 1]));
        const s = n === pieces ? to : from + u * (to - from);
        line.add(along(xs), along(ys), tapers.tapered(along(radii), s), out, s);
      }
    }
  }

  /** What the place `s` along the line has of its own. */
  private writeOwn(s: number, into: Float64Array, at: number): void {
    const { lengths, strengths, directions } = this;
    const low = pieceAt(lengths, lengths.length, s);
    const high = Math.min(low + 1, lengths.length - 1);
    const step = lengths[high] - lengths[low];
    const u = step > 0 ? Math.min(1, Math.max(0, (s - lengths[low]) / step)) : 0;
    into[at] = strengths[low] + u * (strengths[high] - strengths[low]);
    const [ax, ay] = directionOf(directions[low]);
    const [bx, by] = directionOf(directions[high]);
    const [x, y] = [ax + u * (bx - ax), ay + u * (by - ay)];
    const length = Math.sqrt(x * x + y * y);
    into[at + OWN - 2] = length > 0 ? x / length : ax;
    into[at + OWN - 1] = length > 0 ? y / length : ay;
  }

  placeOf(sample: number): number {
    return valueAt(this.numbers, this.lengths, this.lengths.length, sample);
  }

  sampleAt(place: number): number {
    return valueAt(this.lengths, this.numbers, this.lengths.length, place);
  }
}
