/** A smoothed place: {@link smoothAlong} fills it; owned by the caller. */
export interface SmoothedPlace {
  x: number;
  y: number;
}

/**
 * Below this part of its bound the determinant says that there are too few knots for a curve (a
 * full window has 0.57 of it).
 */
const LEAST_DETERMINANT = 1e-7;

/**
 * The place of knot `k` on the parabola that fits the knots within `reach` of it best. Unlike the mean or the straight
 * line, it draws no curve together: the part of its radius R that a circle loses goes with (reach / R)^4.
 * Weights are those of `alongSums`: biweight times the length that each knot stands for.
 *
 * @param s lengths along the line, rising; `x`, `y` places; the first `n` values are read.
 * @param reach half the window, in the unit of `s`, > 0.
 * @see Savitzky and Golay (1964), Analytical Chemistry 36(8), 1627-1639, for even spacing and weights; Fan and
 *   Gijbels (1996), Local Polynomial Modelling, section 3.2, for the bias of even orders. O(knots in the window).
 */
export function smoothAlong(
  s: Float64Array,
  x: Float64Array,
  y: Float64Array,
  n: number,
  k: number,
  reach: number,
  out: SmoothedPlace,
): void {
  const at = s[k];
  const per = 1 / reach;
  let s0 = 0;
  let s1 = 0;
  let s2 = 0;
  let s3 = 0;
  let s4 = 0;
  let x0 = 0;
  let x1 = 0;
  let x2 = 0;
  let y0 = 0;
  let y1 = 0;
  let y2 = 0;
  let j = k;
  while (j > 0 && at - s[j - 1] < reach) j--;
  for (; j < n && s[j] - at < reach; j++) {
    const u = (s[j] - at) * per;
    const uu = u * u;
    const rest = 1 - uu;
    const w = rest * rest * (s[j + 1 < n ? j + 1 : j] - s[j > 0 ? j - 1 : j]);
    const wu = w * u;
    const wuu = w * uu;
    s0 += w;
    s1 += wu;
    s2 += wuu;
    s3 += wuu * u;
    s4 += wuu * uu;
    // Offsets from the knot itself: nothing is lost to rounding far from the paper's corner.
    const dx = x[j] - x[k];
    const dy = y[j] - y[k];
    x0 += w * dx;
    x1 += wu * dx;
    x2 += wuu * dx;
    y0 += w * dy;
    y1 += wu * dy;
    y2 += wuu * dy;
  }
  // Cofactors of the first column of the normal equations give the value at the middle.
  const c0 = s2 * s4 - s3 * s3;
  const c1 = s2 * s3 - s1 * s4;
  const c2 = s1 * s3 - s2 * s2;
  const det = s0 * c0 + s1 * c1 + s2 * c2;
  const isCurve = det > LEAST_DETERMINANT * s0 * s2 * s4;
  out.x = x[k] + (isCurve ? (c0 * x0 + c1 * x1 + c2 * x2) / det : 0);
  out.y = y[k] + (isCurve ? (c0 * y0 + c1 * y1 + c2 * y2) / det : 0);
}
