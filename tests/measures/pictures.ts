import { decode } from 'fast-png';

/** Whether two PNG files show the same: size, channels, and every pixel (fast-png), however they were packed. */
export function showTheSame(a: Uint8Array, b: Uint8Array): boolean {
  const [one, other] = [decode(a), decode(b)];
  const sides = (p: typeof one) => [p.width, p.height, p.channels, p.depth].join();
  return sides(one) === sides(other) && Buffer.compare(Buffer.from(one.data), Buffer.from(other.data)) === 0;
}

/** The values of a PNG file that comes in parts (fast-png). */
export const pngValues = (parts: readonly Uint8Array[]): Uint8Array =>
  Uint8Array.from(decode(Buffer.concat(parts)).data);

/** The opacity, 0 to 1, of a square picture (RGBA) that was drawn `fine` times as fine, averaged. @param side of the result. */
export function averagedAlpha(rgba: ArrayLike<number>, side: number, fine: number): Float64Array {
  const out = new Float64Array(side * side);
  for (let y = 0; y < fine * side; y++)
    for (let x = 0; x < fine * side; x++)
      out[Math.floor(y / fine) * side + Math.floor(x / fine)] +=
        rgba[4 * (y * fine * side + x) + 3] / (255 * fine * fine);
  return out;
}
