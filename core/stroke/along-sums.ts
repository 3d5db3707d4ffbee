/** Sums of a weighted local line: {@link alongSums} fills it; owned by the caller. */
export interface AlongSums {
  s0: number;
  s1: number;
  s2: number;
  a0: number;
  a1: number;
  b0: number;
  b1: number;
}

/**
 * Sums for smoothing along the line: each knot within `reach` of knot `k` counts with
 * `(1 - u^2)^2` times the length that it stands for, so that it makes no difference how densely the
 * hand was sampled, or when.
 *
 * @param s lengths along the line, rising; `a`, `b` two channels; the first `n` values are read.
 * @param reach half the window, in the unit of `s`; with 0 only knot k counts.
 * @see Cleveland (1979), JASA 74(368), 829-836. Differs: biweight, a window in length, and weights
 *   by the trapezoidal rule. O(knots in the window).
 */
export function alongSums(
  s: Float64Array,
  a: Float64Array,
  b: Float64Array,
  n: number,
  k: number,
  reach: number,
  out: AlongSums,
): void {
  const at = s[k];
  const per = reach > 0 ? 1 / reach : 0;
  let s0 = 0;
  let s1 = 0;
  let s2 = 0;
  let a0 = 0;
  let a1 = 0;
  let b0 = 0;
  let b1 = 0;
  let j = k;
  while (j > 0 && at - s[j - 1] < reach) j--;
  for (; j < n && s[j] - at < reach; j++) {
    const d = s[j] - at;
    const u = d * per;
    const rest = 1 - u * u;
    const w = rest * rest * (s[j + 1 < n ? j + 1 : j] - s[j > 0 ? j - 1 : j]);
    const wd = w * d;
    s0 += w;
    s1 += wd;
    s2 += wd * d;
    a0 += w * a[j];
    a1 += wd * a[j];
    b0 += w * b[j];
    b1 += wd * b[j];
  }
  out.s0 = s0;
  out.s1 = s1;
  out.s2 = s2;
  out.a0 = a0;
  out.a1 = a1;
  out.b0 = b0;
  out.b1 = b1;
}

/** Sums of no knots. */
export const noSums = (): AlongSums => ({ s0: 0, s1: 0, s2: 0, a0: 0, a1: 0, b0: 0, b1: 0 });

/** The value at the window's middle of the line through one channel (its sums `y0`, `y1`). */
export function lineValue({ s0, s1, s2 }: AlongSums, y0: number, y1: number, own: number): number {
  if (!(s0 > 0)) return own;
  const det = s0 * s2 - s1 * s1;
  // s0 * s2 bounds det from above (Cauchy-Schwarz); below 1e-9 of it there is one place only.
  return det > 1e-9 * s0 * s2 ? (s2 * y0 - s1 * y1) / det : y0 / s0;
}
