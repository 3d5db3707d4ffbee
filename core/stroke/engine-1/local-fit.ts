/** The value, slope and mean of a channel at one time. Owned by the caller and overwritten. */
export interface Fit {
  value: number;
  slope: number;
  /** The weighted mean of the samples in reach: smoother than the line, but behind a movement. */
  mean: number;
}

/** More than a pen of 1000 Hz gives in any window; samples without end at one time would take for ever. */
const MOST_NEIGHBOURS = 512;

/**
 * Local linear regression of two channels at once: the weighted least-squares lines through the
 * samples around `i`, read at `t[i]`. It smooths without lagging behind a steady movement.
 * Weights fall as (1 - u^2)^2 from `t[i]` to `backMs` before and `aheadMs` after it.
 *
 * @param t times in ms, never falling; `v`, `w` the channels; all `n` values. Not modified.
 * @param outV, outW (left alone when both channels are one) receive value, mean and slope (units per ms); with under two distinct times
 *   in reach, the value itself and slope 0.
 * @see Cleveland (1979), JASA 74(368), 829-836. Differs: biweight instead of tricube (no cube
 *   roots), a window in time with two different sides, no robustness pass.
 */
export function localFit(
  t: Float64Array,
  v: Float64Array,
  w: Float64Array,
  n: number,
  i: number,
  backMs: number,
  aheadMs: number,
  outV: Fit,
  outW: Fit,
): void {
  const isPair = v !== w;
  const ti = t[i];
  // The sample itself has weight 1 and no distance.
  let s0 = 1;
  let s1 = 0;
  let s2 = 0;
  let v0 = v[i];
  let v1 = 0;
  let w0 = w[i];
  let w1 = 0;
  const perBack = backMs > 0 ? 1 / backMs : 0;
  const perAhead = aheadMs > 0 ? 1 / aheadMs : 0;
  for (let step = -1; step <= 1; step += 2) {
    const reach = step < 0 ? backMs : aheadMs;
    const per = step < 0 ? perBack : perAhead;
    const most = i + step * MOST_NEIGHBOURS;
    for (let j = i + step; j >= 0 && j < n && j !== most; j += step) {
      const dt = t[j] - ti;
      const far = step < 0 ? -dt : dt;
      if (far > 0 ? far >= reach : reach === 0) break;
      const u = dt * per;
      const rest = 1 - u * u;
      const weight = rest * rest;
      const moment = weight * dt;
      s0 += weight;
      s1 += moment;
      s2 += moment * dt;
      v0 += weight * v[j];
      v1 += moment * v[j];
      if (!isPair) continue;
      w0 += weight * w[j];
      w1 += moment * w[j];
    }
  }
  solve(s0, s1, s2, v0, v1, v[i], outV);
  if (isPair) solve(s0, s1, s2, w0, w1, w[i], outW);
}

function solve(s0: number, s1: number, s2: number, y0: number, y1: number, own: number, out: Fit): void {
  const det = s0 * s2 - s1 * s1;
  // s0 * s2 bounds det from above (Cauchy-Schwarz); below 1e-9 of it the times are one time.
  if (!(det > 1e-9 * s0 * s2)) {
    out.value = own;
    out.slope = 0;
    out.mean = own;
    return;
  }
  out.value = (s2 * y0 - s1 * y1) / det;
  out.mean = y0 / s0;
  out.slope = (s0 * y1 - s1 * y0) / det;
}
