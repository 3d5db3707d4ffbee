import { localFit, type Fit } from './local-fit';
import { enlarged } from '../growing';
import { radiusOf, type Pen } from '../pen';
import { Simplifier, type PointSink } from '../simplifier';
import { Spine } from '../spine';
import type { Builder } from '../spine-builder';
import { openingOfPressure, openingOfSpeed } from './openings';

/** Later samples may move the line only this far back: the tail that is redrawn while drawing. */
export const SETTLE_MS = 64;
/** A steady of 100 looks this far back; ahead it looks `SETTLE_MS`. */
const STEADY_BACK_MS = 192;
const PRESSURE_WINDOW_MS = 16;
const SPEED_WINDOW_MS = 40;
const MAX_PIECES = 24;
/** Pieces per segment where a taper may pass, so that its curve is not cut into facets. */
const TAPER_PIECES = 4;

/**
 * The first formulas, kept so that strokes made with them never change. Like today's builder it makes
 * the line under the nib and the line that is kept by one computation.
 *
 * Steps: local regression of place (steady), pressure or speed to radius, a cubic through the
 * smoothed points, tapers, simplification. Only + - x / and sqrt, so the bits agree everywhere.
 */
export class FirstSpineBuilder implements Builder {
  /** The settled part, in paper px. Read-only for callers. */
  readonly spine = new Spine();

  private capacity = 256;
  private n = 0;
  private x = new Float64Array(this.capacity);
  private y = new Float64Array(this.capacity);
  private t = new Float64Array(this.capacity);
  private p = new Float64Array(this.capacity);
  /** Smoothed place and radius before tapers; the first `smoothed` values are final. */
  private sx = new Float64Array(this.capacity);
  private sy = new Float64Array(this.capacity);
  private sr = new Float64Array(this.capacity);
  private smoothed = 0;
  /** Segments (smoothed point k to k + 1) already emitted into `spine`. */
  private segments = 0;
  private settledLength = 0;
  private taperIn = -1;
  private readonly simplifier = new Simplifier();
  private readonly lookahead = new Simplifier();
  private readonly walked = new Walk();
  private readonly fit: Fit = { value: 0, slope: 0, mean: 0 };
  private readonly fitY: Fit = { value: 0, slope: 0, mean: 0 };
  /** The tangent last computed. */
  private tangentX = 0;
  private tangentY = 0;

  /** @param tolerancePx how far the spine may lie from the curve, paper px, > 0. */
  constructor(
    private pen: Pen,
    private tolerancePx: number,
  ) {
    this.restart(pen, tolerancePx);
  }

  /** Begins another stroke in the same memory. */
  restart(pen: Pen, tolerancePx: number): void {
    this.pen = pen;
    this.tolerancePx = tolerancePx;
    this.spine.clear();
    this.n = this.smoothed = this.segments = this.settledLength = 0;
    this.taperIn = -1;
    this.simplifier.restart(tolerancePx / 2);
    this.lookahead.restart(tolerancePx / 2);
  }

  /** Adds a sample: paper px, ms since pen-down (never falling), pressure 0 to 1. */
  push(x: number, y: number, tMs: number, pressure: number): void {
    if (this.n === this.capacity) this.growArrays();
    const i = this.n++;
    this.x[i] = x;
    this.y[i] = y;
    this.t[i] = tMs;
    this.p[i] = pressure;
  }

  /** Moves everything that later samples can no longer change into `spine`. */
  settle(): void {
    const { t, n } = this;
    if (n === 0 || t[n - 1] - t[0] < SETTLE_MS) return;
    if (this.taperIn < 0) this.taperIn = this.taperInLength();
    const limit = t[n - 1] - SETTLE_MS;
    while (this.smoothed < n && t[this.smoothed] <= limit) this.smooth(this.smoothed++);
    const { walked } = this;
    walked.clear();
    // Segment k bends towards point k + 2, so it waits for it.
    while (this.segments + 2 < this.smoothed) this.walkSegment(this.segments++, this.smoothed, walked, true);
    this.emit(walked, this.simplifier, this.spine, 0);
  }

  /**
   * Fills `out` with the rest of the stroke as if it ended with the latest sample: first the last settled points, as
   * many as `repeated` asks for (at least 1) and there are, then on to the end. Cost independent of stroke length.
   */
  tail(out: Spine, repeated = 1): void {
    out.clear();
    const { spine, n } = this;
    if (n === 0) return;
    for (let at = 3 * Math.max(0, spine.count - repeated); at < 3 * spine.count; at += 3)
      out.push(spine.data[at], spine.data[at + 1], spine.data[at + 2]);
    this.end();
    this.lookahead.copyFrom(this.simplifier);
    this.walk(this.lookahead, out);
    this.lookahead.flush(out);
  }

  end(): void {
    for (let i = this.smoothed; i < this.n; i++) this.smooth(i);
  }

  /** Walks what has not settled; places are samples. */
  walk(line: PointSink, out: Spine): void {
    const { n, walked } = this;
    walked.clear();
    for (let k = this.segments; k + 1 < n; k++) this.walkSegment(k, n, walked, false);
    if (n === 1) walked.add(this.sx[0], this.sy[0], this.sr[0], this.t[0], 0, 0);
    const kept = this.settledLength;
    this.emit(walked, line, out, this.taperOutStart(walked));
    this.settledLength = kept;
  }

  placeOf(sample: number): number {
    return sample;
  }

  sampleAt(place: number): number {
    return place;
  }

  /** Smooths sample `i` with what is known; final when the latest sample is `SETTLE_MS` later. */
  private smooth(i: number): void {
    const { pen, t, n } = this;
    const strength = pen.steady / 100;
    const since = t[i] - t[0];
    const left = t[n - 1] - t[i];
    // Both windows shrink to nothing at the ends, so the stroke starts and ends where the pen did.
    const ahead = Math.min(SETTLE_MS * strength, since, left);
    const back = Math.min(STEADY_BACK_MS * strength, since, (left * STEADY_BACK_MS) / SETTLE_MS);
    if (strength === 0) {
      this.sx[i] = this.x[i];
      this.sy[i] = this.y[i];
    } else {
      // The steadier, the more of the mean: a string that the line is pulled by, taut at 100.
      const pull = strength * strength;
      const { fit, fitY } = this;
      localFit(t, this.x, this.y, n, i, back, ahead, fit, fitY);
      this.sx[i] = fit.value + pull * (fit.mean - fit.value);
      this.sy[i] = fitY.value + pull * (fitY.mean - fitY.value);
    }
    this.sr[i] = radiusOf(pen, this.openingAt(i));
  }

  private openingAt(i: number): number {
    const { pen, t, n, fit, fitY } = this;
    if (pen.widthFrom === 'even') return 1;
    if (pen.widthFrom === 'pressure') {
      localFit(t, this.p, this.p, n, i, PRESSURE_WINDOW_MS, PRESSURE_WINDOW_MS, fit, fitY);
      return openingOfPressure(Math.min(1, Math.max(0, fit.value)));
    }
    localFit(t, this.x, this.y, n, i, SPEED_WINDOW_MS, SPEED_WINDOW_MS, fit, fitY);
    return openingOfSpeed(Math.sqrt(fit.slope * fit.slope + fitY.slope * fitY.slope) * pen.handScale);
  }

  /** Walks the cubic from smoothed point k to k + 1, knowing the first `known` points. */
  private walkSegment(k: number, known: number, walk: Walk, settled: boolean): void {
    const { sx, sy, sr, t } = this;
    if (k === 0) walk.add(sx[0], sy[0], sr[0], t[0], 0, 0);
    const dx = sx[k + 1] - sx[k];
    const dy = sy[k + 1] - sy[k];
    const d = Math.sqrt(dx * dx + dy * dy);
    this.setTangent(k, known);
    const ax = this.tangentX;
    const ay = this.tangentY;
    this.setTangent(k + 1, known);
    const bx = this.tangentX;
    const by = this.tangentY;
    const offA = Math.abs(ax * d - dx) + Math.abs(ay * d - dy);
    const offB = Math.abs(bx * d - dx) + Math.abs(by * d - dy);
    // A Hermite span leaves its chord by at most 4/27 of each tangent's excess; pieces quarter it.
    let pieces = Math.ceil(Math.sqrt((0.15 * (offA + offB)) / this.tolerancePx));
    if (this.mayTaper(k, settled)) pieces = Math.max(pieces, TAPER_PIECES);
    pieces = Math.min(MAX_PIECES, Math.max(1, pieces));
    for (let j = 1; j <= pieces; j++) {
      const u = j / pieces;
      const v = 1 - u;
      const h0 = u * v * v * d;
      const h1 = u * u * v * d;
      const blend = u * u * (3 - 2 * u);
      const px = j === pieces ? sx[k + 1] : sx[k] + blend * dx + h0 * ax - h1 * bx;
      const py = j === pieces ? sy[k + 1] : sy[k] + blend * dy + h0 * ay - h1 * by;
      walk.add(px, py, sr[k] + u * (sr[k + 1] - sr[k]), t[k] + u * (t[k + 1] - t[k]), d / pieces, k + u);
    }
  }

  /** Whether a taper can reach segment k: near the start, or (unsettled) near the end. */
  private mayTaper(k: number, settled: boolean): boolean {
    const { pen, t, n } = this;
    if (pen.taperInPx > 0 && t[k] - t[0] < 2 * SETTLE_MS) return true;
    return !settled && pen.taperOutPx > 0 && t[n - 1] - t[k + 1] < SETTLE_MS;
  }

  /** Unit-speed tangent at smoothed point k: the parabola through it and its neighbours (Bessel). */
  private setTangent(k: number, known: number): void {
    const { sx, sy } = this;
    const before = k > 0 ? k - 1 : k;
    const after = k + 1 < known ? k + 1 : k;
    const ax = sx[k] - sx[before];
    const ay = sy[k] - sy[before];
    const bx = sx[after] - sx[k];
    const by = sy[after] - sy[k];
    const a = Math.sqrt(ax * ax + ay * ay);
    const b = Math.sqrt(bx * bx + by * by);
    // With no length on one side the other side's direction stands alone; with none at all, none.
    const wa = a === 0 ? 0 : b === 0 ? 1 / a : b / (a * (a + b));
    const wb = b === 0 ? 0 : a === 0 ? 1 / b : a / (b * (a + b));
    this.tangentX = ax * wa + bx * wb;
    this.tangentY = ay * wa + by * wb;
  }

  /** Puts the walked points through tapers and on the line. `outFrom`: length where the end's taper starts. */
  private emit(walk: Walk, line: PointSink, out: Spine, outFrom: number): void {
    const { pen } = this;
    const taperIn = this.taperIn >= 0 ? this.taperIn : this.taperInLength();
    const end = this.settledLength + walk.total;
    const taperOut =
      pen.taperOutPx > 0 && outFrom > 0 ? Math.min(pen.taperOutPx, Math.max(0, end - outFrom - pen.sizePx)) : 0;
    let along = this.settledLength;
    for (let i = 0; i < walk.count; i++) {
      along += walk.length[i];
      let r = walk.r[i];
      if (along < taperIn) r *= eased(along / taperIn);
      if (taperOut > 0 && end - along < taperOut) r *= eased((end - along) / taperOut);
      line.add(walk.x[i], walk.y[i], r, out, walk.at[i]);
    }
    this.settledLength = along;
  }

  /** The length already walked when the last `SETTLE_MS` began; a stroke shorter than that starts at its first point. */
  private taperOutStart(walk: Walk): number {
    const from = this.t[this.n - 1] - SETTLE_MS;
    let along = this.settledLength;
    for (let i = 0; i < walk.count; i++) {
      along += walk.length[i];
      if (walk.t[i] >= from) return Math.max(along, Number.MIN_VALUE);
    }
    return along;
  }

  /**
   * A taper is as long as the pen allows, but no longer than the hand travelled in the first
   * `SETTLE_MS` less the nib's own width: a flick tapers, a pressed dot stays round.
   */
  private taperInLength(): number {
    const { x, y, t, n, pen } = this;
    let travelled = 0;
    for (let i = 1; i < n && t[i] - t[0] <= SETTLE_MS; i++) {
      const dx = x[i] - x[i - 1];
      const dy = y[i] - y[i - 1];
      travelled += Math.sqrt(dx * dx + dy * dy);
    }
    return Math.min(pen.taperInPx, Math.max(0, travelled - pen.sizePx));
  }

  private growArrays(): void {
    this.capacity *= 2;
    this.x = enlarged(this.x);
    this.y = enlarged(this.y);
    this.t = enlarged(this.t);
    this.p = enlarged(this.p);
    this.sx = enlarged(this.sx);
    this.sy = enlarged(this.sy);
    this.sr = enlarged(this.sr);
  }
}

/** Points on the way to the line: place, radius, time, length from the one before, and the sample they are at. */
class Walk {
  count = 0;
  total = 0;
  x = new Float64Array(64);
  y = new Float64Array(64);
  r = new Float64Array(64);
  t = new Float64Array(64);
  length = new Float64Array(64);
  at = new Float64Array(64);

  clear(): void {
    this.count = 0;
    this.total = 0;
  }

  add(x: number, y: number, r: number, t: number, length: number, at: number): void {
    const i = this.count++;
    if (i === this.x.length) this.grow();
    this.x[i] = x;
    this.y[i] = y;
    this.r[i] = r;
    this.t[i] = t;
    this.length[i] = length;
    this.at[i] = at;
    this.total += length;
  }

  private grow(): void {
    this.x = enlarged(this.x);
    this.y = enlarged(this.y);
    this.r = enlarged(this.r);
    this.t = enlarged(this.t);
    this.length = enlarged(this.length);
    this.at = enlarged(this.at);
  }
}

/** Rises from 0 to 1 with a rounded shoulder. */
const eased = (u: number): number => u * (2 - u);
