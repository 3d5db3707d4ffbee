/**
 * What lies at `x` between known pairs, straight from one to the next; the first or last value outside of them.
 * @param xs growing, `count` of them. O(log n).
 */
export function valueAt(xs: Float64Array, ys: Float64Array, count: number, x: number): number {
  let low = 0;
  let high = count - 1;
  if (high < 0) return 0;
  if (x <= xs[0]) return ys[0];
  if (x >= xs[high]) return ys[high];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (xs[middle] <= x) low = middle;
    else high = middle;
  }
  const step = xs[high] - xs[low];
  return step > 0 ? ys[low] + ((x - xs[low]) / step) * (ys[high] - ys[low]) : ys[high];
}
