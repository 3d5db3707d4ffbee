import { enlarged } from './growing';
import { isTip, straddledCorner } from './straddled-corner';

/** Knots that the end of a stroke may take the place of. */
const MAX_DROPPED = 2;
/** Knots that a corner found between samples may still push on. */
const MAX_PUSHED = 3;
/** No later sample changes a knot further back than this: a corner is found up to five before the last. */
const MARKED_KNOTS = 8;
/** Steps shorter than this need no corner between them, in knot spacings. */
const CORNER_STEP = 2;
/** A tip that lies less far beyond its knot is left to it, in knot spacings. */
const TIP_STEP = 0.15;
const CHANNELS = 12;

/** A movement slower than this counts as this fast: a pause is no slowness of the hand. CSS px per ms. */
const SLOWEST = 0.05;

/**
 * The places of a stroke at least `spacing` apart, thinned from its samples: a pause that trembles is
 * one knot, so that no direction is ever read from noise. Knot k: place, mean pressure of the samples
 * that stayed near it, `s` the length walked up to it (paper px), `m` the time moved up to it (ms).
 */
export class Knots {
  count = 0;
  x = new Float64Array(256);
  y = new Float64Array(256);
  p = new Float64Array(256);
  s = new Float64Array(256);
  m = new Float64Array(256);
  /** The sample that made the knot. */
  first = new Float64Array(256);
  /** The last sample that was still at home at the knot: from there on the hand was on its way to the next. */
  private left = new Float64Array(256);
  /** Length from the knot before over the length from where the hand left it. */
  private stretch = new Float64Array(256);
  /** The sample at home at the knot that went on farthest the way the hand came, and how far that was. */
  private farX = new Float64Array(256);
  private farY = new Float64Array(256);
  private farIndex = new Float64Array(256);
  private far = new Float64Array(256);
  private keepsTips = false;
  /** The largest pressure so far. */
  pressed = 0;
  private near = 0;
  private sampleNumbers = new Float64Array();
  private isNumbered = false;
  private spacing = 1;
  private slowest = 1;
  /** The latest sample. */
  private lastX = 0;
  private lastY = 0;
  private lastP = 0;
  private lastIndex = 0;
  private homeX = 0;
  private homeY = 0;
  /** What {@link mark} found, for {@link revert}. */
  private readonly marked = { from: 0, count: 0, near: 0, pressed: 0, last: [0, 0, 0, 0], home: [0, 0] };
  private readonly markedValues = new Float64Array(CHANNELS * MARKED_KNOTS);
  /** The knot whose place the end takes, to be put back. */
  private readonly kept = { index: -1, count: 0, values: new Float64Array(CHANNELS) };

  /**
   * @param spacing paper px; @param cssPx one CSS px of the hand in paper px.
   * @param keepsTips whether a tip that lies between two knots is made one.
   */
  restart(spacing: number, cssPx: number, keepsTips: boolean): void {
    this.keepsTips = keepsTips;
    this.count = this.near = this.pressed = 0;
    this.isNumbered = false;
    this.spacing = spacing;
    this.slowest = SLOWEST * cssPx;
  }

  /** Takes sample `index`. */
  push(index: number, x: number, y: number, p: number): void {
    this.lastX = x;
    this.lastY = y;
    this.lastP = p;
    this.lastIndex = index;
    if (p > this.pressed) this.pressed = p;
    const k = this.count - 1;
    const length = k < 0 ? 0 : distance(x - this.x[k], y - this.y[k]);
    if (k >= 0 && length < this.spacing) {
      this.near++;
      this.p[k] += (p - this.p[k]) / this.near;
      if (2 * length < this.spacing) this.leaveFrom(k, index, x, y);
      this.goOn(k, index, x, y);
      return;
    }
    this.near = 1;
    const way = k < 0 ? 0 : distance(x - this.homeX, y - this.homeY);
    this.append(x, y, p, k < 0 ? 0 : this.s[k] + length, index, way > 0 ? length / way : 1);
    this.leaveFrom(this.count - 1, index, x, y);
    this.findCorner();
  }

  /** Fills `m` from knot `from` on, with the times of samples. */
  time(from: number, t: Float64Array): void {
    const { s, m, first, left, stretch, slowest } = this;
    for (let k = from; k < this.count; k++) {
      if (k === 0) {
        m[0] = 0;
        continue;
      }
      const took = (t[first[k]] - t[left[k - 1]]) * stretch[k];
      const most = (s[k] - s[k - 1]) / slowest;
      m[k] = m[k - 1] + (took < most ? took : most);
    }
  }

  /** Puts the latest sample at the end, in the place of knots that lie too near to it. Undone by {@link reopen}. */
  end(): void {
    const { kept } = this;
    this.isNumbered = false;
    kept.count = this.count;
    kept.index = -1;
    let k = this.count - 1;
    let length = distance(this.lastX - this.x[k], this.lastY - this.y[k]);
    if (length === 0) return;
    for (let dropped = 0; k > 0 && dropped < MAX_DROPPED && length < this.spacing; dropped++) {
      k--;
      length = distance(this.lastX - this.x[k], this.lastY - this.y[k]);
    }
    const at = k + 1;
    if (at < this.count) {
      kept.index = at;
      this.channels().forEach((channel, i) => (kept.values[i] = channel[at]));
    }
    this.count = at;
    this.append(this.lastX, this.lastY, this.lastP, this.s[k] + length, this.lastIndex, 1);
  }

  /** Remembers what later samples change: they can be taken back by {@link revert}. */
  mark(): void {
    const { marked, markedValues, count } = this;
    marked.count = count;
    marked.from = Math.max(0, count - MARKED_KNOTS);
    marked.near = this.near;
    marked.pressed = this.pressed;
    marked.last = [this.lastX, this.lastY, this.lastP, this.lastIndex];
    marked.home = [this.homeX, this.homeY];
    this.channels().forEach((channel, i) => markedValues.set(channel.subarray(marked.from, count), i * MARKED_KNOTS));
  }

  revert(): void {
    const { marked, markedValues } = this;
    this.count = marked.count;
    this.near = marked.near;
    this.pressed = marked.pressed;
    [this.lastX, this.lastY, this.lastP, this.lastIndex] = marked.last;
    [this.homeX, this.homeY] = marked.home;
    this.channels().forEach((channel, i) => {
      const at = i * MARKED_KNOTS;
      channel.set(markedValues.subarray(at, at + marked.count - marked.from), marked.from);
    });
  }

  private channels(): Float64Array[] {
    const { x, y, p, s, m, first, left, stretch, farX, farY, farIndex, far } = this;
    return [x, y, p, s, m, first, left, stretch, farX, farY, farIndex, far];
  }

  reopen(): void {
    const { kept } = this;
    this.count = kept.count;
    if (kept.index >= 0) this.channels().forEach((channel, i) => (channel[kept.index] = kept.values[i]));
  }

  /**
   * The samples that the knots of an ended stroke stand for, growing: a corner that lies between two samples is a part
   * of the way from one to the next. Made once a stroke, in memory that is used again.
   */
  numbers(): Float64Array {
    if (this.isNumbered) return this.sampleNumbers;
    this.isNumbered = true;
    const { s, first, count } = this;
    if (this.sampleNumbers.length < s.length) this.sampleNumbers = new Float64Array(s.length);
    const numbers = this.sampleNumbers;
    for (let k = 0, next = 0; k < count; k = next) {
      while (next < count && first[next] === first[k]) next++;
      // Knots of one sample: the corners before it, and its own.
      for (let i = k; i < next; i++) {
        const part = k > 0 ? (s[i] - s[k - 1]) / (s[next - 1] - s[k - 1]) : 1;
        numbers[i] = k > 0 ? first[k - 1] + part * (first[k] - first[k - 1]) : first[k];
      }
    }
    if (count > 1) numbers[count - 1] = this.lastIndex;
    return numbers;
  }

  /** How many knots the end can never take away. */
  get sure(): number {
    return Math.max(0, this.count - MAX_DROPPED - MAX_PUSHED);
  }

  /** Whether the knot's time is known once the first `samples` times are. */
  isTimed(k: number, samples: number): boolean {
    return this.first[k] < samples;
  }

  /** Puts in the corner that fast samples have passed by on both sides, and the tip that slow ones made between knots. */
  private findCorner(): void {
    const k = this.count - 4;
    if (k < 2) return;
    const corner = straddledCorner(this.x, this.y, k, CORNER_STEP * this.spacing);
    if (corner) this.insertAfter(k, corner[0], corner[1], this.first[k + 1]);
    else if (this.keepsTips && this.far[k] > TIP_STEP * this.spacing && isTip(this.x, this.y, k))
      this.insertAfter(k, this.farX[k], this.farY[k], this.farIndex[k]);
  }

  private insertAfter(k: number, x: number, y: number, index: number): void {
    this.count++;
    if (this.count > this.x.length) this.growArrays();
    for (const channel of this.channels()) channel.copyWithin(k + 2, k + 1, this.count - 1);
    this.x[k + 1] = x;
    this.y[k + 1] = y;
    this.first[k + 1] = index;
    this.far[k + 1] = 0;
    this.p[k + 1] = (this.p[k] + this.p[k + 2]) / 2;
    this.stretch[k + 1] = this.stretch[k + 2] = 1;
    this.left[k + 1] = index;
    for (let i = k + 1; i < this.count; i++)
      this.s[i] = this.s[i - 1] + distance(this.x[i] - this.x[i - 1], this.y[i] - this.y[i - 1]);
  }

  /** Remembers the sample if none at home at knot `k` has gone on farther the way the hand came there. */
  private goOn(k: number, index: number, x: number, y: number): void {
    const length = k > 0 ? this.s[k] - this.s[k - 1] : 0;
    if (length === 0) return;
    const on = ((x - this.x[k]) * (this.x[k] - this.x[k - 1]) + (y - this.y[k]) * (this.y[k] - this.y[k - 1])) / length;
    if (on <= this.far[k]) return;
    this.far[k] = on;
    this.farX[k] = x;
    this.farY[k] = y;
    this.farIndex[k] = index;
  }

  private leaveFrom(k: number, index: number, x: number, y: number): void {
    this.left[k] = index;
    this.homeX = x;
    this.homeY = y;
  }

  private append(x: number, y: number, p: number, s: number, index: number, stretch: number): void {
    const k = this.count++;
    if (k === this.x.length) this.growArrays();
    this.x[k] = x;
    this.y[k] = y;
    this.p[k] = p;
    this.s[k] = s;
    this.first[k] = index;
    this.stretch[k] = stretch;
    this.far[k] = 0;
  }

  private growArrays(): void {
    this.x = enlarged(this.x);
    this.y = enlarged(this.y);
    this.p = enlarged(this.p);
    this.s = enlarged(this.s);
    this.m = enlarged(this.m);
    this.first = enlarged(this.first);
    this.left = enlarged(this.left);
    this.stretch = enlarged(this.stretch);
    this.farX = enlarged(this.farX);
    this.farY = enlarged(this.farY);
    this.farIndex = enlarged(this.farIndex);
    this.far = enlarged(this.far);
  }
}

const distance = (dx: number, dy: number): number => Math.sqrt(dx * dx + dy * dy);
