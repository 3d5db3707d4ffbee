/** Tone steps: so many values a picture can be reduced to. */
export const FEWEST_VALUES = 2;
export const MOST_VALUES = 6;

/**
 * Thresholds that part a histogram into classes which differ most from each other and least in themselves, exactly: by
 * dynamic programming over all ways to part it. Where nothing lies between two classes, in the middle of that gap.
 * @param counts how many pixels have each value. @param classes how many classes; @returns one threshold fewer, rising:
 *   what is larger than one lies above it.
 * @see Otsu 1979, A threshold selection method from gray-level histograms (several thresholds: section III.B)
 */
export function otsuThresholds(counts: ArrayLike<number>, classes: number): number[] {
  const n = counts.length;
  const weights = new Float64Array(n + 1);
  const sums = new Float64Array(n + 1);
  for (let v = 0; v < n; v++) {
    weights[v + 1] = weights[v] + counts[v];
    sums[v + 1] = sums[v] + v * counts[v];
  }
  /** What values from `a` up to, without, `b` add to the variance between classes, but for a constant. */
  const gain = (a: number, b: number): number => {
    const weight = weights[b] - weights[a];
    return weight > 0 ? (sums[b] - sums[a]) ** 2 / weight : 0;
  };
  // The best that classes up to the k-th can add when they end before v, and where the last of them begins then.
  let best = Float64Array.from({ length: n + 1 }, (_, v) => gain(0, v));
  const begins: Int16Array[] = [];
  for (let k = 1; k < classes; k++) {
    const next = new Float64Array(n + 1).fill(-1);
    const begin = new Int16Array(n + 1);
    for (let v = k + 1; v <= n; v++)
      for (let a = k; a < v; a++) {
        const total = best[a] + gain(a, v);
        if (total <= next[v]) continue;
        next[v] = total;
        begin[v] = a;
      }
    best = next;
    begins.push(begin);
  }
  const thresholds: number[] = [];
  for (let k = classes - 2, end = n; k >= 0; k--) {
    end = begins[k][end];
    thresholds.unshift(end - 1);
  }
  return thresholds.map((t, k) => inGap(counts, t, thresholds[k + 1] ?? n - 1));
}

/** A threshold moved to the middle of the empty values above it. */
function inGap(counts: ArrayLike<number>, threshold: number, end: number): number {
  let above = threshold;
  while (above + 1 < end && !counts[above + 1]) above++;
  return Math.floor((threshold + above) / 2);
}
