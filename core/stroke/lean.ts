import { alongSums, noSums } from './along-sums';
import { directionOf } from './footprint';
import { enlarged } from './growing';
import { leans, type Pen } from './pen';
import { OWN } from './spine';
import { pieceAt } from './value-at';

/** How upright a pen is held before it counts as leaning, and when it lies down; degrees (common practice, no source). */
const UPRIGHT_DEG = 60;
const FLAT_DEG = 20;
/** A pencil that lies down draws this many times as wide, and this much paler. */
const LYING_WIDTH = 4;
const LYING_PALER = 0.5;
/** The strength of the lightest touch. */
const FAINTEST = 0.35;
/** Half the window in which lean is evened out, CSS px at the hand: it comes in whole degrees. */
const EVEN_PX = 20;
/** An upright pen points nowhere: from here on its direction is noise. */
const POINTS_NOWHERE_DEG = 85;

/** Whether the lean of the pen changes the line. */
export const usesLean = (pen: Pen): boolean => leans(pen) || pen.turns === true;

/** What a leaning pen makes of the points of its line, knot by knot: strength, and the direction of a flat nib. */
export class Lean {
  private lying = new Float64Array(256);
  private turnX = new Float64Array(256);
  private turnY = new Float64Array(256);
  /** By knot: as it came, and evened out. */
  private knotLying = new Float64Array(256);
  private knotX = new Float64Array(256);
  private knotY = new Float64Array(256);
  private strength = new Float64Array(256);
  private ex = new Float64Array(256);
  private ey = new Float64Array(256);
  private readonly sums = noSums();
  /** Half the window, paper px. */
  evenPx = 0;
  private lies = false;
  private turns = false;

  /** Begins another stroke. @param cssPx one CSS px of the hand in paper px. @returns whether lean changes its line. */
  restart(pen: Pen, cssPx: number): boolean {
    this.evenPx = EVEN_PX * cssPx;
    this.lies = leans(pen);
    this.turns = pen.turns === true;
    [this.turnX[0], this.turnY[0]] = directionOf(pen.nibDeg ?? 0);
    return usesLean(pen);
  }

  /** Takes sample `index`: the next one. */
  push(index: number, altitudeDeg: number, azimuthDeg: number): void {
    if (index === this.lying.length) {
      this.lying = enlarged(this.lying);
      this.turnX = enlarged(this.turnX);
      this.turnY = enlarged(this.turnY);
    }
    const lying = (UPRIGHT_DEG - altitudeDeg) / (UPRIGHT_DEG - FLAT_DEG);
    this.lying[index] = this.lies ? Math.min(1, Math.max(0, lying)) : 0;
    const before = Math.max(0, index - 1);
    let [x, y] = [this.turnX[before], this.turnY[before]];
    if (this.turns && altitudeDeg < POINTS_NOWHERE_DEG) {
      const [ax, ay] = directionOf(azimuthDeg + 90);
      // A nib has no front: of its two directions the one nearer to the last.
      const isSame = ax * x + ay * y >= 0;
      [x, y] = isSame ? [ax, ay] : [-ax, -ay];
    }
    this.turnX[index] = x;
    this.turnY[index] = y;
  }

  /** Knot `k` was made by that sample. */
  at(k: number, sample: number): void {
    if (k >= this.strength.length) this.growKnots();
    this.knotLying[k] = this.lying[sample];
    this.knotX[k] = this.turnX[sample];
    this.knotY[k] = this.turnY[sample];
  }

  /** Evens out knot `k` of the first `known`, along lengths `s`. @returns how many times as wide the line is there. */
  smooth(k: number, s: Float64Array, known: number, opening: number): number {
    const { sums, evenPx } = this;
    let lying = this.knotLying[k];
    let [x, y] = [this.knotX[k], this.knotY[k]];
    alongSums(s, this.knotX, this.knotY, known, k, evenPx, sums);
    if (sums.s0 > 0) [x, y] = [sums.a0 / sums.s0, sums.b0 / sums.s0];
    alongSums(s, this.knotLying, this.knotLying, known, k, evenPx, sums);
    if (sums.s0 > 0) lying = sums.a0 / sums.s0;
    this.ex[k] = x;
    this.ey[k] = y;
    this.strength[k] = this.lies ? (FAINTEST + (1 - FAINTEST) * opening) * (1 - LYING_PALER * lying) : 1;
    return 1 + (LYING_WIDTH - 1) * lying;
  }

  /** Writes {@link OWN} values of the place `s` along the line, between the first `count` knots. */
  write(s: Float64Array, count: number, place: number, into: Float64Array, at: number): void {
    const low = pieceAt(s, count, place);
    const high = Math.min(low + 1, Math.max(0, count - 1));
    const step = s[high] - s[low];
    const u = step > 0 ? Math.min(1, Math.max(0, (place - s[low]) / step)) : 0;
    const { strength, ex, ey } = this;
    into[at] = strength[low] + u * (strength[high] - strength[low]);
    const x = ex[low] + u * (ex[high] - ex[low]);
    const y = ey[low] + u * (ey[high] - ey[low]);
    const length = Math.sqrt(x * x + y * y);
    into[at + OWN - 2] = length > 0 ? x / length : ex[low];
    into[at + OWN - 1] = length > 0 ? y / length : ey[low];
  }

  private growKnots(): void {
    this.knotLying = enlarged(this.knotLying);
    this.knotX = enlarged(this.knotX);
    this.knotY = enlarged(this.knotY);
    this.strength = enlarged(this.strength);
    this.ex = enlarged(this.ex);
    this.ey = enlarged(this.ey);
  }
}
