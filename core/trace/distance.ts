const FAR = 1e9;

/**
 * The square of the distance from each pixel of a mask to the nearest one that is not in it, middle to middle; 0 outside.
 * What lies beyond the picture is not known and does not count. First down the columns, then along each run of a row,
 * beyond whose ends nothing can be nearer: the cost grows with the ink.
 * @see Felzenszwalb & Huttenlocher 2012, Distance transforms of sampled functions
 */
export function squaredDistances(mask: ArrayLike<number>, width: number, height: number): Float32Array {
  const out = columnDistances(mask, width, height);
  const scratch = new Envelope(width + 2);
  for (let y = 0, row = 0; y < height; y++, row += width)
    for (let x = 0; x < width; x++) {
      if (!mask[row + x]) continue;
      const from = x;
      while (x < width && mask[row + x]) x++;
      scratch.lower(out, row, Math.max(0, from - 1), Math.min(width - 1, x), from, x);
    }
  return out;
}

/** The square of the distance within the column alone. */
function columnDistances(mask: ArrayLike<number>, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height);
  for (let at = 0; at < out.length; at++) if (mask[at]) out[at] = at < width ? FAR : Math.min(FAR, out[at - width] + 1);
  for (let at = out.length - width - 1; at >= 0; at--) {
    if (!out[at]) continue;
    const steps = out[at + width] + 1;
    if (steps < out[at]) out[at] = steps;
  }
  for (let at = 0; at < out.length; at++) if (out[at] > 1) out[at] = out[at] >= FAR ? FAR : out[at] * out[at];
  return out;
}

/** The lower envelope of parabolas along a row. */
class Envelope {
  private readonly middles: Int32Array;
  private readonly heights: Float64Array;
  private readonly starts: Float64Array;

  constructor(length: number) {
    this.middles = new Int32Array(length);
    this.heights = new Float64Array(length);
    this.starts = new Float64Array(length + 1);
  }

  /** Takes values `first` to `last`, and writes from `from` up to, without, `to`. */
  lower(values: Float32Array, row: number, first: number, last: number, from: number, to: number): void {
    const { middles, heights, starts } = this;
    let top = -1;
    for (let x = first; x <= last; x++) {
      const height = values[row + x];
      if (height >= FAR) continue;
      let start = -Infinity;
      while (top >= 0) {
        const m = middles[top];
        start = (height + x * x - heights[top] - m * m) / (2 * (x - m));
        if (start > starts[top]) break;
        top--;
      }
      if (top < 0) start = -Infinity;
      top++;
      middles[top] = x;
      heights[top] = height;
      starts[top] = start;
    }
    if (top < 0) return;
    starts[top + 1] = Infinity;
    for (let x = from, k = 0; x < to; x++) {
      while (starts[k + 1] < x) k++;
      values[row + x] = (x - middles[k]) ** 2 + heights[k];
    }
  }
}
