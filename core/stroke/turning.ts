import { smoothAlong } from './along-curve';
import { enlarged } from './growing';

/**
 * Directions are read from places smoothed over this much to both sides, CSS px, but never over more than half of what
 * the line is: what a device adds to a sample then turns a direction by some ten degrees (measured).
 */
const CALM_PX = 6;
/**
 * A hand that turns one way by less than the first, radians, trembles; by more than the second, means it. A tremor of
 * 1.28 px and 17 px a wave turns by 0.9 before it turns back; a loop by 2 pi, a tip of 45 degrees by 2.4.
 */
const TREMBLES = 1.2;
const MEANS_IT = 2;
/** How far a curve that is meant is smoothed, in its radii: a circle loses a thirtieth of its radius. */
const REACH_IN_RADII = 2.2;
/** How finely arcs are tried, CSS px. */
const ARC_STEP_PX = 1.5;

/**
 * How far a hand turns one way around each knot, and so how far its line may be smoothed there without losing what was
 * meant. An arc of half-length a that turns by w has the radius 2a / w; the tightest arc that turns far enough
 * decides. It is a bandwidth that follows the curve, as in Fan and Gijbels (1996), Local Polynomial Modelling, section
 * 4.2; what is not the curve is told from it by its turning back. Only + - x / and sqrt, so the bits agree everywhere.
 */
export class Turning {
  /** Knots whose calm place no later sample changes. */
  private placed = 0;
  private x = new Float64Array(256);
  private y = new Float64Array(256);
  /** The direction from the knot before, radians, unwound: a loop adds 2 pi. */
  private direction = new Float64Array(256);
  private readonly place = { x: 0, y: 0 };
  private calmPx = 0;
  private reachPx = 0;
  private stepPx = 0;
  private longestArcPx = 0;

  /** @param reachPx how far the line is smoothed where the hand does not turn; @param cssPx one CSS px; both paper px. */
  restart(reachPx: number, cssPx: number): void {
    this.placed = 0;
    this.reachPx = reachPx;
    this.calmPx = Math.min(CALM_PX * cssPx, reachPx / 2);
    this.stepPx = ARC_STEP_PX * cssPx;
    // A longer arc that turns as far as is asked for has a radius that allows the whole reach.
    this.longestArcPx = (MEANS_IT * reachPx) / (2 * REACH_IN_RADII);
  }

  /** Makes the calm places that no later sample changes, of the first `n` knots of a line that goes on beyond them. */
  settle(s: Float64Array, x: Float64Array, y: Float64Array, n: number): void {
    while (this.placed < n && s[this.placed] + this.calmPx <= s[n - 1]) this.calm(this.placed++, s, x, y, n);
  }

  /** Makes the others for a line that ends with its knot `n - 1`. */
  end(s: Float64Array, x: Float64Array, y: Float64Array, n: number): void {
    for (let k = this.placed; k < n; k++) this.calm(k, s, x, y, n);
  }

  /** Whether the reach at a place is settled: nothing later is looked at. */
  isSettled(at: number, s: Float64Array): boolean {
    const k = this.placed - 1;
    return k > 0 && at + this.longestArcPx <= (s[k - 1] + s[k]) / 2;
  }

  /** How far the line may be smoothed around knot `k` of the first `n`, paper px. O(longest arc). */
  reachAt(k: number, s: Float64Array, n: number): number {
    const { reachPx, stepPx, longestArcPx } = this;
    let reach = reachPx;
    let before = k;
    let after = k;
    for (let arc = stepPx; arc <= longestArcPx; arc += stepPx) {
      const from = s[k] - arc;
      const to = s[k] + arc;
      while (before > 1 && (s[before - 1] + s[before]) / 2 > from) before--;
      while (after + 1 < n && (s[after] + s[after + 1]) / 2 <= to) after++;
      const turned = this.directionAt(after, to, s, n) - this.directionAt(before, from, s, n);
      const turn = turned < 0 ? -turned : turned;
      if (turn <= TREMBLES) continue;
      const allowed = (REACH_IN_RADII * 2 * arc) / turn;
      if (allowed >= reachPx) continue;
      const sure = turn < MEANS_IT ? (turn - TREMBLES) / (MEANS_IT - TREMBLES) : 1;
      reach = Math.min(reach, reachPx + sure * sure * (3 - 2 * sure) * (allowed - reachPx));
    }
    return reach;
  }

  /** The direction at a place from half way to knot `k` on, before half way to the next. */
  private directionAt(k: number, at: number, s: Float64Array, n: number): number {
    const { direction } = this;
    if (k < 1) return direction[n > 1 ? 1 : 0];
    if (k + 1 >= n) return direction[k];
    const here = (s[k - 1] + s[k]) / 2;
    const part = (at - here) / ((s[k] + s[k + 1]) / 2 - here);
    return part <= 0 ? direction[k] : direction[k] + part * (direction[k + 1] - direction[k]);
  }

  private calm(k: number, s: Float64Array, x: Float64Array, y: Float64Array, n: number): void {
    if (k >= this.x.length) this.growArrays();
    const { place } = this;
    const reach = Math.min(this.calmPx, s[k], s[n - 1] - s[k]);
    place.x = x[k];
    place.y = y[k];
    if (reach > 0) smoothAlong(s, x, y, n, k, reach, place);
    this.x[k] = place.x;
    this.y[k] = place.y;
    this.direction[k] = k < 2 ? 0 : this.direction[k - 1] + this.turnAt(k - 1);
    if (k === 1) this.direction[0] = 0;
  }

  /** By how much the line turns at a knot, radians; the one after it has its calm place. */
  private turnAt(k: number): number {
    const { x, y } = this;
    const ax = x[k] - x[k - 1];
    const ay = y[k] - y[k - 1];
    const bx = x[k + 1] - x[k];
    const by = y[k + 1] - y[k];
    return angleOf(ax * bx + ay * by, ax * by - ay * bx);
  }

  private growArrays(): void {
    this.x = enlarged(this.x);
    this.y = enlarged(this.y);
    this.direction = enlarged(this.direction);
  }
}

/**
 * The angle of (dot, cross), radians, -pi to pi, to 0.01: the arc tangent of the half angle as t / (1 + 0.28 t^2).
 * @see Abramowitz and Stegun (1964), 4.4.48.
 */
export function angleOf(dot: number, cross: number): number {
  const side = cross < 0 ? -cross : cross;
  const length = Math.sqrt(dot * dot + cross * cross);
  if (length === 0) return 0;
  const isBack = dot < 0;
  const t = side / (length + (isBack ? -dot : dot));
  const half = t / (1 + 0.28 * t * t);
  const angle = isBack ? Math.PI - 2 * half : 2 * half;
  return cross < 0 ? -angle : angle;
}
