import { spineBox } from '../raster/draw-stroke';
import type { Spine } from '../stroke/spine';
import type { MeasuredSpine, SampleRange } from '../stroke/spine-maker';
import { valueAt } from '../stroke/value-at';
import { ErasedArea } from './erased-area';

/** A cut goes this far beyond the edges of a line, paper px: no half-covered pixel may hold it together. */
const MARGIN_PX = 0.5;
/** Looking for an edge, the step between two places is halved this often. */
const HALVINGS = 12;
/** A sharper turn (its cosine) shows its disc: then the whole of it has to be erased. */
const SLIGHT_TURN = 0.9;
/** So much of an end that still shows its round cap is left standing, in points of the line. */
const STUB = 1e-6;
/** Edges that lie closer together than this are the same, in points of the line. */
const SAME = 0.02;
/** Samples are named to a thousandth. */
const PER_SAMPLE = 1000;

/**
 * What erasures leave of a line: the ranges of its samples between the places where they take its whole width. A range
 * reaches a little way under the erasure, so that its straight end cannot be seen and what can be seen stays as it is.
 * Width is looked at straight across the line: an eraser thinner than it that crosses at a slant cuts nothing.
 *
 * @param line all of it, as it lies on the paper, px.
 * @param stands the part of it that stood before.
 * @param mark the spine of the new one, px.
 * @param before those of all that lay on it already.
 * @returns undefined where the new one cuts through nowhere; no range where nothing is left to be seen.
 */
export function leftBy(
  line: MeasuredSpine,
  stands: SampleRange,
  mark: Spine,
  before: readonly Spine[] = [],
): SampleRange[] | undefined {
  const walkUnder = (marks: readonly Spine[]) =>
    new LineWalk(line, stands, new ErasedArea(marks, spineBox(line.spine)));
  const walk = walkUnder([mark, ...before]);
  const cuts = walk.cuts();
  if (!cuts.length) return undefined;
  // The end of a part lies under what severed it: that is no new cut.
  if (before.length && areSame(cuts, walkUnder(before).cuts())) return undefined;
  const left: SampleRange[] = [];
  const ends: Stretch = { from: walk.end, to: walk.end };
  let last: Stretch | undefined;
  for (const cut of [...cuts, ends]) {
    const seen = { from: last?.to ?? walk.start, to: cut.from };
    if (seen.to > seen.from && walk.isSeen(seen)) {
      const from = last ? walk.inside(last, 'end') : walk.start;
      const to = cut === ends ? walk.end : walk.inside(cut, 'start');
      left.push({ from: rounded(walk.sampleAt(from), Math.floor), to: rounded(walk.sampleAt(to), Math.ceil) });
    }
    last = cut;
  }
  return left;
}

/** Outwards, so that a range never comes to nothing. */
const rounded = (sample: number, round: (v: number) => number): number => round(sample * PER_SAMPLE) / PER_SAMPLE;

const areSame = (a: readonly Stretch[], b: readonly Stretch[]): boolean =>
  a.length === b.length &&
  a.every(({ from, to }, i) => Math.abs(from - b[i].from) < SAME && Math.abs(to - b[i].to) < SAME);

/** A stretch of a line. A place is the number of a point, and a part of the way to the next. */
interface Stretch {
  from: number;
  to: number;
}

/** The standing part of a line, walked along to see where it is erased. */
class LineWalk {
  readonly start: number;
  readonly end: number;
  /** Whether it begins and ends with the round cap of the pen. */
  private readonly hasCap: { start: boolean; end: boolean };

  constructor(
    private readonly line: MeasuredSpine,
    stands: SampleRange,
    private readonly erased: ErasedArea,
  ) {
    const { samples, last } = line;
    const points = Float64Array.from(samples, (_, i) => i);
    this.start = valueAt(samples, points, samples.length, stands.from);
    this.end = valueAt(samples, points, samples.length, stands.to);
    this.hasCap = { start: stands.from <= 0, end: stands.to >= last };
  }

  /** Stretches that are erased over their whole width, with the caps that are. */
  cuts(): Stretch[] {
    const { start, end, hasCap } = this;
    if (end <= start) return this.isCapErased(start, MARGIN_PX) ? [{ from: start, to: end }] : [];
    const cuts: Stretch[] = [];
    let cut: Stretch | undefined;
    let before = start;
    for (const place of this.places({ from: start, to: end })) {
      const isErased = this.isErased(place, MARGIN_PX);
      if (isErased && !cut) cuts.push((cut = { from: place === start ? start : this.edge(before, place), to: place }));
      else if (isErased) cut!.to = place;
      else if (cut) {
        cut.to = this.edge(place, before);
        cut = undefined;
      }
      before = place;
    }
    if (hasCap.start && cuts[0]?.from === start && !this.isCapErased(start, MARGIN_PX)) cuts[0].from += STUB;
    const last = cuts[cuts.length - 1];
    if (hasCap.end && last?.to === end && !this.isCapErased(end, MARGIN_PX)) last.to -= STUB;
    return cuts.filter(({ from, to }) => to > from);
  }

  /** Whether anything of a stretch can be seen. */
  isSeen({ from, to }: Stretch): boolean {
    if (from === this.start && this.hasCap.start && !this.isCapErased(from, 0)) return true;
    if (to === this.end && this.hasCap.end && !this.isCapErased(to, 0)) return true;
    for (const place of this.places({ from, to })) if (!this.isErased(place, 0)) return true;
    return false;
  }

  /** A place within a cut, near its start or its end: as deep as the eraser is wide by a quarter, or in its middle. */
  inside(cut: Stretch, side: 'start' | 'end'): number {
    let length = 0;
    for (const { px } of this.segments(cut)) length += px;
    const depth = Math.min(length / 2, Math.max(1, this.erased.smallest / 2));
    let left = side === 'start' ? depth : length - depth;
    for (const { from, to, px } of this.segments(cut)) {
      if (px >= left && px > 0) return from + (left / px) * (to - from);
      left -= px;
    }
    return cut.to;
  }

  sampleAt(place: number): number {
    const { samples } = this.line;
    const i = Math.floor(place);
    const next = Math.min(samples.length - 1, i + 1);
    return samples[i] + (place - i) * (samples[next] - samples[i]);
  }

  /** The parts of a stretch between points, with their lengths in px. */
  private *segments({ from, to }: Stretch): Generator<Stretch & { px: number }> {
    for (let at = from; at < to;) {
      const next = Math.min(to, Math.floor(at) + 1);
      yield { from: at, to: next, px: this.segmentLength(Math.floor(at)) * (next - at) };
      at = next;
    }
  }

  /** Places of a stretch, its ends included: near erasures so close to each other that none fits between two. */
  private *places(stretch: Stretch): Generator<number> {
    const step = Math.max(0.05, this.erased.smallest / 4);
    yield stretch.from;
    for (const { from, to, px } of this.segments(stretch)) {
      const i = Math.floor(from);
      const pieces = this.erased.isNear(this.line.spine, i) ? Math.max(1, Math.ceil(px / step)) : 1;
      for (let n = 1; n < pieces; n++) yield from + ((to - from) * n) / pieces;
      yield to;
    }
  }

  /** The edge of what is erased, between a place that is not and one that is; on the side that is. */
  private edge(open: number, erased: number): number {
    for (let n = 0; n < HALVINGS; n++) {
      const middle = (open + erased) / 2;
      if (this.isErased(middle, MARGIN_PX)) erased = middle;
      else open = middle;
    }
    return erased;
  }

  /** Whether the line is erased at a place over its whole width, and `margin` px more on either side. */
  private isErased(place: number, margin: number): boolean {
    const { data, count } = this.line.spine;
    const i = Math.min(count - 2, Math.floor(place));
    const u = place - i;
    const a = 3 * i;
    const dx = data[a + 3] - data[a];
    const dy = data[a + 4] - data[a + 1];
    const x = data[a] + u * dx;
    const y = data[a + 1] + u * dy;
    const reach = data[a + 2] + u * (data[a + 5] - data[a + 2]) + margin;
    const length = this.segmentLength(i);
    if (length === 0) return this.erased.holdsDisc(x, y, reach);
    if (!this.erased.holds(x, y, -dy / length, dx / length, reach)) return false;
    const isSharp = (u === 0 && this.turnsAt(i)) || (u === 1 && this.turnsAt(i + 1));
    return !isSharp || this.erased.holdsDisc(x, y, reach);
  }

  private isCapErased(place: number, margin: number): boolean {
    const { data } = this.line.spine;
    const a = 3 * Math.round(place);
    return this.erased.holdsDisc(data[a], data[a + 1], data[a + 2] + margin);
  }

  private turnsAt(i: number): boolean {
    const { data, count } = this.line.spine;
    if (i === 0 || i === count - 1) return false;
    const a = 3 * i;
    const dot =
      (data[a] - data[a - 3]) * (data[a + 3] - data[a]) + (data[a + 1] - data[a - 2]) * (data[a + 4] - data[a + 1]);
    return dot < SLIGHT_TURN * this.segmentLength(i - 1) * this.segmentLength(i);
  }

  private segmentLength(i: number): number {
    const { data, count } = this.line.spine;
    if (i + 1 >= count) return 0;
    const dx = data[3 * i + 3] - data[3 * i];
    const dy = data[3 * i + 4] - data[3 * i + 1];
    return Math.sqrt(dx * dx + dy * dy);
  }
}
