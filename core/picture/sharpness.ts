import { lumaOf, smoothed } from './luma';
import type { Picture } from './warp';

/**
 * How sharp a picture is, to compare shots of one thing: how much its second differences vary, against how much its
 * luma does, so that a darker shot counts no less. Noise is smoothed first: it is no sharpness.
 * @see Pech-Pacheco et al. 2000, the variance of the Laplacian as a measure of focus
 */
export function sharpnessOf(picture: Picture): number {
  const { width, height, data } = smoothed(lumaOf(picture));
  let [n, sum, squares, second] = [0, 0, 0, 0];
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1, at = y * width + 1; x + 1 < width; x++, at++) {
      const v = data[at];
      const laplacian = data[at - 1] + data[at + 1] + data[at - width] + data[at + width] - 4 * v;
      n++;
      sum += v;
      squares += v * v;
      second += laplacian * laplacian;
    }
  const variance = n ? squares / n - (sum / n) ** 2 : 0;
  return variance < 1e-6 ? 0 : second / n / variance;
}

/** A shot is said to be sharper where it is so by this factor: less is seen by nobody. */
const CLEARLY = 1.15;

/** The sharpest of several, and by how much it is sharper than the next; undefined: none stands out. */
export function sharpest(values: readonly number[]): { index: number; factor: number } | undefined {
  const index = values.reduce((best, v, i) => (v > values[best] ? i : best), 0);
  const next = Math.max(...values.filter((_, i) => i !== index));
  if (values.length < 2 || !(values[index] > 0)) return undefined;
  // Edges are as much steeper as the root tells: second differences were squared.
  const factor = next > 0 ? Math.sqrt(values[index] / next) : Infinity;
  return factor >= CLEARLY ? { index, factor } : undefined;
}
