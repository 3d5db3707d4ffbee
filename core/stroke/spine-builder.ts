import { smoothAlong } from './along-curve';
import { alongSums, lineValue, noSums } from './along-sums';
import { footprintOf, type Footprint } from './footprint';
import { enlarged } from './growing';
import { Knots } from './knots';
import { Lean } from './lean';
import { ENGINE, MEASURED_PX, openingOfPressure, openingOfSpeed, radiusOf, speedOf, type Pen } from './pen';
import type { HandPoint } from './samples';
import { SampleClock } from './sample-clock';
import { Simplifier, type PointSink } from './simplifier';
import { Spine } from './spine';
import { Tapers } from './tapers';
import { Turning } from './turning';
import { valueAt } from './value-at';

/**
 * Lengths at the hand, CSS px. Knots lie this far apart: more than the largest jitter of a resting
 * pen (0.5 px either way, so 1.4 px across; common practice, no source).
 */
const KNOT_PX = 1.5;
/**
 * Half the window of smoothing, CSS px, and so how far behind the nib the line may still move: 35 px at a steady of
 * 100. A right angle loses a tenth of it; a tremor of 17 px a wave goes down evenly, to two thirds at 35, a
 * sixth at 70 and nothing at 100 (measured; tests/core/line.test.ts).
 */
const steadyReach = (strength: number): number =>
  21 * Math.sqrt(strength) + 14 * strength * strength * fourth(strength);
/** The second engine fitted straight lines, not curves, in a smaller window. */
const LINE_ENGINE = 2;
/** From the fourth on what the hand turns on purpose is smoothed less, and a tip between two knots is kept. */
const TURNING_ENGINE = 4;
const steadyReachOfLines = (strength: number): number => strength * (18 + 5 * fourth(strength));
const fourth = (v: number): number => v * v * v * v;
/** Half the window in which speed is measured, and in which width is evened out. */
const SPEED_PX = 24;
const EVEN_SPEED_PX = 20;
const EVEN_PRESSURE_PX = 6;
/** A dot of a pen without pressure is full after this long. */
const DOT_MS = 60;
const MAX_PIECES = 24;
/** Outside this range of CSS px per paper px a stroke's lengths are measured as at its ends. */
const MIN_HAND_SCALE = 1 / 256;
const MAX_HAND_SCALE = 256;

/** What makes a spine sample by sample; each engine has one. */
export interface Builder {
  readonly spine: Spine;
  restart(pen: Pen, tolerancePx: number): void;
  push(x: number, y: number, tMs: number, pressure: number, altitudeDeg?: number, azimuthDeg?: number): void;
  settle(): void;
  tail(out: Spine, repeated?: number, guessed?: readonly HandPoint[]): void;
  /** Ends a stroke of which nothing has settled: from then on it can be walked, and places named. */
  end(): void;
  /** Walks the whole of an ended stroke. */
  walk(line: PointSink, out: Spine): void;
  /** Where along an ended stroke a sample lies (a part of the way to the next counts), and back. */
  placeOf(sample: number): number;
  sampleAt(place: number): number;
}

/**
 * Builds a stroke's spine sample by sample, so that the line under the nib and the line that is
 * kept come from one computation: what has settled never changes, and `tail` is exactly what the
 * stroke would end with if the pen left the paper now.
 *
 * Steps: samples are thinned to knots, so that pauses and jitter bend nothing; places are smoothed
 * along the line (steady), pressure or speed becomes a radius; a cubic goes through the smoothed
 * knots; tapers; simplification. Everything but speed depends on lengths only, never on time
 * stamps. Only + - x / and sqrt, so the bits agree everywhere.
 */
export class SpineBuilder implements Builder {
  /** The settled part, in paper px. Read-only for callers. */
  readonly spine = new Spine();

  private readonly clock = new SampleClock();
  private readonly knots = new Knots();
  /** Smoothed place, opening of the nib (0 to 1) and radius before tapers. */
  private sx = new Float64Array(256);
  private sy = new Float64Array(256);
  private opening = new Float64Array(256);
  private sr = new Float64Array(256);
  /** How many knots have their final time, opening, and smoothed place and radius. */
  private timed = 0;
  private opened = 0;
  private smoothed = 0;
  /** Segments (knot k to k + 1) already emitted into `spine`. */
  private segments = 0;
  private readonly simplifier = new Simplifier();
  private readonly lookahead = new Simplifier();
  private readonly sums = noSums();
  private readonly smoothedPlace = { x: 0, y: 0 };
  private readonly tapers = new Tapers();
  private readonly turning: Turning | undefined;
  private readonly lean = new Lean();
  private footprint: Footprint | undefined;
  private leans = false;
  private measuredPx = 0;
  private tangentX = 0;
  private tangentY = 0;
  private steadyPx = 0;
  private speedPx = 0;
  private evenPx = 0;
  /** How far beyond a knot the line has to be known before its width and lean are. */
  private waitPx = 0;
  private cssPx = 1;

  /**
   * @param tolerancePx how far the spine may lie from the curve, paper px, > 0.
   * @param engine the version of the formulas, 2 or today's.
   */
  constructor(
    private pen: Pen,
    private tolerancePx: number,
    private readonly engine = ENGINE,
  ) {
    if (engine >= TURNING_ENGINE) this.turning = new Turning();
    this.restart(pen, tolerancePx);
  }

  /** Begins another stroke in the same memory. */
  restart(pen: Pen, tolerancePx: number): void {
    this.pen = pen;
    this.tolerancePx = tolerancePx;
    this.spine.clear();
    this.clock.restart();
    this.cssPx = 1 / Math.min(MAX_HAND_SCALE, Math.max(MIN_HAND_SCALE, pen.handScale));
    this.knots.restart(KNOT_PX * this.cssPx, this.cssPx, this.turning !== undefined);
    this.timed = this.opened = this.smoothed = this.segments = 0;
    this.steadyPx = (this.engine === LINE_ENGINE ? steadyReachOfLines : steadyReach)(pen.steady / 100) * this.cssPx;
    this.turning?.restart(this.steadyPx, this.cssPx);
    const usesSpeed = speedOf(pen) > 0;
    this.speedPx = usesSpeed ? SPEED_PX * this.cssPx : 0;
    this.evenPx = pen.widthFrom === 'even' ? 0 : (usesSpeed ? EVEN_SPEED_PX : EVEN_PRESSURE_PX) * this.cssPx;
    this.measuredPx = MEASURED_PX * this.cssPx;
    this.footprint = footprintOf(pen);
    this.leans = this.lean.restart(pen, this.cssPx);
    this.waitPx = this.leans ? Math.max(this.evenPx, this.lean.evenPx) : this.evenPx;
    this.lookAlong(this.spine);
    this.simplifier.restart(tolerancePx / 2);
    this.lookahead.restart(tolerancePx / 2);
  }

  /** Adds a sample: paper px, ms since pen-down (never falling), pressure 0 to 1, degrees. */
  push(x: number, y: number, tMs: number, pressure: number, altitudeDeg = 90, azimuthDeg = 0): void {
    const index = this.clock.n;
    if (this.leans) this.lean.push(index, altitudeDeg, azimuthDeg);
    this.clock.push(tMs);
    this.knots.push(index, x, y, pressure);
    if (this.knots.count > this.sx.length) this.growArrays();
  }

  /** Moves everything that later samples can no longer change into `spine`. */
  settle(): void {
    const { knots, clock, pen } = this;
    let sure = knots.sure;
    if (this.speedPx > 0) {
      while (sure > 0 && !knots.isTimed(sure - 1, clock.closed)) sure--;
      if (sure > this.timed) {
        knots.time(this.timed, clock.t);
        this.timed = sure;
      }
    }
    if (sure < 4) return;
    const { s } = knots;
    const limit = s[sure - 1];
    while (this.opened + 2 < sure && s[this.opened] + this.speedPx <= limit) this.open(this.opened++, sure);
    this.turning?.settle(s, knots.x, knots.y, sure);
    const isOpen = (at: number) => this.opened < sure && s[this.opened] >= at;
    for (;;) {
      const at = s[this.smoothed];
      if (!(at + this.steadyPx <= limit && isOpen(at + this.waitPx))) break;
      if (this.turning && !this.turning.isSettled(at, s)) break;
      this.smooth(this.smoothed++, sure, limit);
    }
    const { tapers } = this;
    tapers.set(pen, limit, this.measuredPx);
    // Tapers are as long as the pen allows once the stroke has room for both; a part of the length grows with it.
    if (tapers.isShort || (pen.taperInPart !== undefined && limit < this.measuredPx)) return;
    // Segment k bends towards the knots after k + 1, so it waits for them.
    while (this.segments + 1 + CHORD_KNOTS < this.smoothed && s[this.segments + 1] <= tapers.outFrom)
      this.walkSegment(this.segments++, this.smoothed, this.simplifier, this.spine);
  }

  /**
   * Fills `out` with the rest of the stroke as if it ended with the latest sample: first the last settled points, as
   * many as `repeated` asks for (at least 1) and there are, then on to the end. Cost independent of stroke length.
   * @param guessed samples that may come next: the tail goes on through them, and they are forgotten again.
   */
  tail(out: Spine, repeated = 1, guessed: readonly HandPoint[] = []): void {
    out.clear();
    const { spine, knots, lookahead } = this;
    if (knots.count === 0) return;
    out.append(spine, Math.max(0, spine.count - repeated), spine.count);
    this.lookAlong(out);
    const time = this.clock.mark();
    if (guessed.length) knots.mark();
    for (const p of guessed) this.push(p.x, p.y, p.tMs, p.pressure, p.altitudeDeg, p.azimuthDeg);
    this.end();
    lookahead.copyFrom(this.simplifier);
    this.walk(lookahead, out);
    lookahead.flush(out);
    knots.reopen();
    if (!guessed.length) return;
    knots.revert();
    this.clock.revert(time);
  }

  /** Takes the latest sample for the last one. */
  end(): void {
    const { knots, clock } = this;
    if (knots.count === 0) return;
    const isDot = knots.count === 1;
    knots.end();
    if (knots.count > this.sx.length) this.growArrays();
    const { count, s } = knots;
    const end = s[count - 1];
    if (this.speedPx > 0) {
      clock.spread();
      knots.time(this.timed, clock.t);
    }
    for (let k = this.opened; k < count; k++) {
      this.open(k, count);
      if (isDot) this.opening[k] = this.dotOpening();
    }
    this.turning?.end(s, knots.x, knots.y, count);
    for (let k = this.smoothed; k < count; k++) this.smooth(k, count, end);
    this.tapers.set(this.pen, end, this.measuredPx);
  }

  /** Walks what has not settled of an ended stroke; places are lengths of the hand's way, paper px. */
  walk(line: PointSink, out: Spine): void {
    const { count } = this.knots;
    this.lookAlong(out);
    if (count === 1) line.add(this.sx[0], this.sy[0], this.sr[0], out, 0);
    for (let k = this.segments; k + 1 < count; k++) this.walkSegment(k, count, line, out);
  }

  placeOf(sample: number): number {
    const { knots } = this;
    return valueAt(knots.numbers(), knots.s, knots.count, sample);
  }

  sampleAt(place: number): number {
    const { knots } = this;
    return valueAt(knots.s, knots.numbers(), knots.count, place);
  }

  /** What is pushed into `out` from now on is of this nib. */
  private lookAlong(out: Spine): void {
    out.footprint = this.footprint;
    if (!this.leans) return;
    const { knots, lean } = this;
    out.ownAt = (place, into, at) => lean.write(knots.s, knots.count, place, into, at);
  }

  /** How far the nib opens at knot k, knowing `known` knots. */
  private open(k: number, known: number): void {
    const { pen, knots } = this;
    const pressed = pen.widthFrom === 'pressure' ? openingOfPressure(knots.p[k], pen) : 1;
    this.opening[k] =
      this.speedPx > 0 ? pressed * this.slowed(openingOfSpeed(this.speedAt(k, known) / this.cssPx)) : pressed;
    if (this.leans) this.lean.at(k, knots.first[k]);
  }

  /** What speed leaves of a nib that it opens this far, as far as it has a say. */
  private slowed(opening: number): number {
    const say = speedOf(this.pen);
    return say === 1 ? opening : 1 - say * (1 - opening);
  }

  /** Paper px per ms around knot k: over `speedPx` to both sides, and at least two knots. */
  private speedAt(k: number, known: number): number {
    const { s, m } = this.knots;
    let a = k > 2 ? k - 2 : 0;
    let b = k + 2 < known ? k + 2 : known - 1;
    while (a > 0 && s[k] - s[a - 1] <= this.speedPx) a--;
    while (b + 1 < known && s[b + 1] - s[k] <= this.speedPx) b++;
    const took = m[b] - m[a];
    return took > 0 ? (s[b] - s[a]) / took : 0;
  }

  /** A dot is pressed by a pen; held, where there is no pressure. */
  private dotOpening(): number {
    const { pen, knots, clock } = this;
    if (pen.widthFrom === 'even') return 1;
    if (pen.widthFrom === 'pressure') return openingOfPressure(knots.pressed, pen);
    return this.slowed(Math.min(1, (clock.t[clock.n - 1] - clock.t[0]) / DOT_MS));
  }

  /** Smooths knot `k` of the first `known`, in a line that goes on to length `end` at least. */
  private smooth(k: number, known: number, end: number): void {
    const { knots, sums, pen } = this;
    const { s } = knots;
    // The window shrinks to nothing at the ends, so the stroke starts and ends where the pen did.
    const toEnd = end - s[k];
    const reach = this.turning?.reachAt(k, s, known) ?? this.steadyPx;
    this.smoothPlace(k, known, Math.min(reach, s[k], toEnd > 0 ? toEnd : 0));
    let opening = this.opening[k];
    if (this.evenPx > 0) {
      alongSums(s, this.opening, this.opening, known, k, this.evenPx, sums);
      if (sums.s0 > 0) opening = sums.a0 / sums.s0;
    }
    this.sr[k] = radiusOf(pen, opening);
    if (this.leans) this.sr[k] *= this.lean.smooth(k, s, known, opening);
  }

  private smoothPlace(k: number, known: number, reach: number): void {
    const { sums, smoothedPlace } = this;
    const { s, x, y } = this.knots;
    if (!(reach > 0)) {
      this.sx[k] = x[k];
      this.sy[k] = y[k];
    } else if (this.engine === LINE_ENGINE) {
      alongSums(s, x, y, known, k, reach, sums);
      this.sx[k] = lineValue(sums, sums.a0, sums.a1, x[k]);
      this.sy[k] = lineValue(sums, sums.b0, sums.b1, y[k]);
    } else {
      smoothAlong(s, x, y, known, k, reach, smoothedPlace);
      this.sx[k] = smoothedPlace.x;
      this.sy[k] = smoothedPlace.y;
    }
  }

  /** Walks the cubic from knot k to k + 1, knowing the first `known` smoothed knots. */
  private walkSegment(k: number, known: number, line: PointSink, out: Spine): void {
    const { sx, sy, sr } = this;
    const { s } = this.knots;
    if (k === 0) line.add(sx[0], sy[0], this.tapers.tapered(sr[0], 0), out, 0);
    const dx = sx[k + 1] - sx[k];
    const dy = sy[k + 1] - sy[k];
    const d = Math.sqrt(dx * dx + dy * dy);
    this.setTangent(k, known);
    const ax = this.tangentX;
    const ay = this.tangentY;
    this.setTangent(k + 1, known);
    const bx = this.tangentX;
    const by = this.tangentY;
    const ds = s[k + 1] - s[k];
    const pieces = this.piecesOf(
      k,
      Math.abs(ax * d - dx) + Math.abs(ay * d - dy) + Math.abs(bx * d - dx) + Math.abs(by * d - dy),
    );
    for (let j = 1; j <= pieces; j++) {
      const u = j / pieces;
      const v = 1 - u;
      const h0 = u * v * v * d;
      const h1 = u * u * v * d;
      const blend = u * u * (3 - 2 * u);
      const isEnd = j === pieces;
      const px = isEnd ? sx[k + 1] : sx[k] + blend * dx + h0 * ax - h1 * bx;
      const py = isEnd ? sy[k + 1] : sy[k] + blend * dy + h0 * ay - h1 * by;
      line.add(px, py, this.tapers.tapered(sr[k] + u * (sr[k + 1] - sr[k]), s[k] + u * ds), out, s[k] + u * ds);
    }
  }

  /** Into how many straight pieces segment k is cut. `off`: how far its tangents are from its chord. */
  private piecesOf(k: number, off: number): number {
    const { tapers, tolerancePx, sr } = this;
    const { s } = this.knots;
    // A Hermite span leaves its chord by at most 4/27 of each tangent's excess; pieces quarter it.
    let squared = (0.15 * off) / tolerancePx;
    squared = Math.max(squared, tapers.squaredPieces(Math.max(sr[k], sr[k + 1]), s[k], s[k + 1], tolerancePx));
    return Math.min(MAX_PIECES, Math.max(1, Math.ceil(Math.sqrt(squared))));
  }

  /**
   * Unit-speed tangent at knot k: of the parabola through it and a knot to each side (Bessel). Beside
   * a long chord a short one says little, its direction being mostly noise: it is then taken over
   * several knots, until it is a third as long as the other.
   */
  private setTangent(k: number, known: number): void {
    const { sx, sy } = this;
    let before = k > 0 ? k - 1 : k;
    let after = k + 1 < known ? k + 1 : k;
    let a = this.chord(before, k);
    let b = this.chord(k, after);
    for (let i = 1; i < CHORD_KNOTS && before > 0 && LIKE * a < b; i++) a = this.chord(--before, k);
    for (let i = 1; i < CHORD_KNOTS && after + 1 < known && LIKE * b < a; i++) b = this.chord(k, ++after);
    const both = a + b;
    if (both === 0) {
      this.tangentX = this.tangentY = 0;
      return;
    }
    // With no length on one side the other side's direction stands alone.
    const wa = a === 0 ? 0 : b === 0 ? 1 / a : b / (a * both);
    const wb = b === 0 ? 0 : a === 0 ? 1 / b : a / (b * both);
    this.tangentX = (sx[k] - sx[before]) * wa + (sx[after] - sx[k]) * wb;
    this.tangentY = (sy[k] - sy[before]) * wa + (sy[after] - sy[k]) * wb;
  }

  private chord(from: number, to: number): number {
    const dx = this.sx[to] - this.sx[from];
    const dy = this.sy[to] - this.sy[from];
    return Math.sqrt(dx * dx + dy * dy);
  }

  private growArrays(): void {
    this.sx = enlarged(this.sx);
    this.sy = enlarged(this.sy);
    this.sr = enlarged(this.sr);
    this.opening = enlarged(this.opening);
  }
}

/** A chord this many times shorter than its neighbour is taken over more knots, so many at most. */
const LIKE = 3;
const CHORD_KNOTS = 6;
