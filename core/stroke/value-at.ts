/**
 * Which piece between neighbouring values holds `x`: the index of its beginning; the first or last piece outside of them.
 * @param xs growing, `count` of them; of fewer than two it is 0. O(log n).
 */
export function pieceAt(xs: Float64Array, count: number, x: number): number {
  let low = 0;
  let high = Math.max(0, count - 1);
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (xs[middle] <= x) low = middle;
    else high = middle;
  }
  return low;
}

/**
 * What lies at `x` between known pairs, straight from one to the next; the first or last value outside of them.
 * @param xs growing, `count` of them. O(log n).
 */
export function valueAt(xs: Float64Array, ys: Float64Array, count: number, x: number): number {
  const last = count - 1;
  if (last < 0) return 0;
  if (x <= xs[0]) return ys[0];
  if (x >= xs[last]) return ys[last];
  const low = pieceAt(xs, count, x);
  const step = xs[low + 1] - xs[low];
  return step > 0 ? ys[low] + ((x - xs[low]) / step) * (ys[low + 1] - ys[low]) : ys[low + 1];
}
