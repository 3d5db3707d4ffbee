import type { Point } from '../geometry/homography';
import { LUMA } from '../picture/luma';
import { otsuThresholds } from '../picture/otsu';
import type { Picture } from '../picture/warp';

/** How much of each pixel is covered by lines, 0 to 255, row-major. */
export interface Coverage {
  width: number;
  height: number;
  data: Uint8Array<ArrayBuffer>;
}

/** From this on a pixel belongs to a line. */
export const COVERED = 128;

/**
 * The lines of a picture: of a lifted one its opacity; of another one what is darker than its paper, so that a pixel
 * halfway between both, as Otsu's threshold parts them, is covered by half.
 */
export function coverageOf({ width, height, data }: Picture): Coverage {
  const out = new Uint8Array(width * height);
  if (isLifted(data)) {
    for (let i = 0, at = 3; i < out.length; i++, at += 4) out[i] = data[at];
    return { width, height, data: out };
  }
  const counts = new Uint32Array(256);
  for (let i = 0, at = 0; i < out.length; i++, at += 4) {
    out[i] = LUMA[0] * data[at] + LUMA[1] * data[at + 1] + LUMA[2] * data[at + 2];
    counts[out[i]]++;
  }
  const [threshold] = otsuThresholds(counts, 2);
  const [dark, light] = [meanOf(counts, 0, threshold + 1), meanOf(counts, threshold + 1, 256)];
  const span = Math.max(1, light - dark);
  const table = Uint8Array.from({ length: 256 }, (_, v) => {
    const covered = ((light - v) / span) * 255;
    // The threshold itself parts what is covered from what is not.
    return v > threshold ? Math.max(0, Math.min(COVERED - 1, covered)) : Math.min(255, Math.max(COVERED, covered));
  });
  for (let i = 0; i < out.length; i++) out[i] = table[out[i]];
  return { width, height, data: out };
}

/** Whether a picture has clear paper. */
function isLifted(data: Uint8ClampedArray): boolean {
  let clear = 0;
  for (let at = 3; at < data.length; at += 4) if (data[at] < 8) clear++;
  return clear > data.length / 40;
}

function meanOf(counts: Uint32Array, from: number, to: number): number {
  let [n, sum] = [0, 0];
  for (let v = from; v < to; v++) {
    n += counts[v];
    sum += v * counts[v];
  }
  return n ? sum / n : from;
}

/**
 * What lies within a loop, px; what lies outside is clear. By the pixels' middles, and the nonzero rule: what a hand has
 * gone around twice is inside, too.
 */
export function within({ width, height, data }: Coverage, loop: readonly Point[]): Coverage {
  const out = new Uint8Array(data.length);
  for (let y = 0; y < height; y++) {
    const crossings: { x: number; way: 1 | -1 }[] = [];
    for (let i = 0; i < loop.length; i++) {
      const [[ax, ay], [bx, by]] = [loop[i], loop[(i + 1) % loop.length]];
      const v = y + 0.5;
      if (ay <= v !== by <= v) crossings.push({ x: ax + ((v - ay) / (by - ay)) * (bx - ax), way: ay < by ? 1 : -1 });
    }
    crossings.sort((a, b) => a.x - b.x);
    for (let k = 0, winding = 0; k + 1 < crossings.length; k++) {
      winding += crossings[k].way;
      const from = Math.max(0, Math.ceil(crossings[k].x - 0.5));
      const to = Math.min(width, Math.ceil(crossings[k + 1].x - 0.5));
      if (winding !== 0 && to > from) out.set(data.subarray(y * width + from, y * width + to), y * width + from);
    }
  }
  return { width, height, data: out };
}
