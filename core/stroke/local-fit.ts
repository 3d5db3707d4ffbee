/** The value, slope and mean of a channel at one time. Owned by the caller and overwritten. */
export interface Fit {
  value: number;
  slope: number;
  /** The weighted mean of the samples in reach: smoother than the line, but behind a movement. */
  mean: number;
}

/**
 * Local linear regression: the weighted least-squares line through the samples around `i`,
 * read at `t[i]`. It smooths without lagging behind a steady movement.
 * Weights fall as (1 - u^2)^2 from `t[i]` to `backMs` before and `aheadMs` after it.
 *
 * @param t times in ms, never falling; `v` the channel; both `n` values. Not modified.
 * @param out receives value and slope (units of v per ms); with under two distinct times in
 *   reach, the value itself and slope 0.
 * @see Cleveland (1979), JASA 74(368), 829-836. Differs: biweight instead of tricube (no cube
 *   roots), a window in time with two different sides, no robustness pass.
 */
export function localFit(
  t: Float64Array,
  v: Float64Array,
  n: number,
  i: number,
  backMs: number,
  aheadMs: number,
  out: Fit,
): void {
  const ti = t[i];
  let s0 = 0;
  let s1 = 0;
  let s2 = 0;
  let y0 = 0;
  let y1 = 0;
  let from = i;
  while (from > 0 && ti - t[from - 1] < backMs) from--;
  for (let j = from; j < n; j++) {
    const dt = t[j] - ti;
    if (j > i && dt >= aheadMs) break;
    const reach = dt < 0 ? backMs : aheadMs;
    const u = dt === 0 ? 0 : dt / reach;
    const w = (1 - u * u) * (1 - u * u);
    s0 += w;
    s1 += w * dt;
    s2 += w * dt * dt;
    y0 += w * v[j];
    y1 += w * v[j] * dt;
  }
  const det = s0 * s2 - s1 * s1;
  // s0 * s2 bounds det from above (Cauchy-Schwarz); below 1e-9 of it the times are one time.
  if (!(det > 1e-9 * s0 * s2)) {
    out.value = v[i];
    out.slope = 0;
    out.mean = v[i];
    return;
  }
  out.value = (s2 * y0 - s1 * y1) / det;
  out.mean = y0 / s0;
  out.slope = (s0 * y1 - s1 * y0) / det;
}
