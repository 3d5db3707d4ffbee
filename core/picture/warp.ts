import type { Homography } from '../geometry/homography';

/** Pixels of a picture as canvases give them: RGBA, 8 bits a channel, not multiplied by alpha, row-major. */
export interface Picture {
  width: number;
  height: number;
  data: Uint8ClampedArray<ArrayBuffer>;
}

export const makePicture = (width: number, height: number): Picture => ({
  width,
  height,
  data: new Uint8ClampedArray(4 * width * height),
});

/**
 * Rows `from` to `to` of a picture seen through a projective map, bilinear between the source's pixel centres; what
 * lies beyond the source is clear, and its edge fades over a pixel.
 * @param toSource from the target's px to the source's px, corner to corner: a pixel's centre lies at + 1/2. Where it
 *   shows less than half of the source's px, make the source smaller first: pixels would be passed over.
 */
export function warpRows(source: Picture, target: Picture, toSource: Homography, from: number, to: number): void {
  const [a, b, c, d, e, f, g, h, i] = toSource;
  const { width, height } = source;
  const from32 = new Uint32Array(source.data.buffer, source.data.byteOffset, width * height);
  const to32 = new Uint32Array(target.data.buffer, target.data.byteOffset, target.width * target.height);
  const isStraight = g === 0 && h === 0;
  for (let row = from; row < to; row++) {
    const y = row + 0.5;
    let at = row * target.width;
    for (let col = 0; col < target.width; col++, at++) {
      const x = col + 0.5;
      const w = isStraight ? 1 / i : 1 / (g * x + h * y + i);
      const u = (a * x + b * y + c) * w - 0.5;
      const v = (d * x + e * y + f) * w - 0.5;
      if (!(u > -1 && v > -1 && u < width && v < height)) continue;
      const left = Math.floor(u);
      const top = Math.floor(v);
      const fx = ((u - left) * 256 + 0.5) | 0;
      const fy = ((v - top) * 256 + 0.5) | 0;
      const inside = left >= 0 && top >= 0 && left + 1 < width && top + 1 < height;
      if (inside) {
        const p = top * width + left;
        const [p00, p10, p01, p11] = [from32[p], from32[p + 1], from32[p + width], from32[p + width + 1]];
        // Where all four are opaque, alpha needs no care: nearly everywhere.
        if ((p00 & p10 & p01 & p11) >>> 24 === 255) {
          to32[at] = mixedWord(p00, p10, p01, p11, fx, fy);
          continue;
        }
      }
      mixPixel(source, target.data, 4 * at, left, top, fx / 256, fy / 256);
    }
  }
}

const PAIR = 0xff00ff;

/** Four opaque pixels by weights of 256: two channels at a time. */
function mixedWord(p00: number, p10: number, p01: number, p11: number, fx: number, fy: number): number {
  const w11 = (fx * fy + 128) >> 8;
  const w10 = fx - w11;
  const w01 = fy - w11;
  const w00 = 256 - fx - fy + w11;
  const half = 0x800080;
  const rb = (((p00 & PAIR) * w00 + (p10 & PAIR) * w10 + (p01 & PAIR) * w01 + (p11 & PAIR) * w11 + half) / 256) & PAIR;
  const g =
    ((((p00 >>> 8) & 255) * w00 +
      ((p10 >>> 8) & 255) * w10 +
      ((p01 >>> 8) & 255) * w01 +
      ((p11 >>> 8) & 255) * w11 +
      128) >>
      8) &
    255;
  return ((255 << 24) | rb | (g << 8)) >>> 0;
}

/** The same with alpha: colours weigh as much as they cover, and beyond the source there is nothing. */
function mixPixel(
  { width, height, data }: Picture,
  out: Uint8ClampedArray,
  at: number,
  left: number,
  top: number,
  fx: number,
  fy: number,
): void {
  let r = 0;
  let g = 0;
  let b = 0;
  let alpha = 0;
  for (let k = 0; k < 4; k++) {
    const x = left + (k & 1);
    const y = top + (k >> 1);
    if (x < 0 || y < 0 || x >= width || y >= height) continue;
    const p = 4 * (y * width + x);
    const weight = (k & 1 ? fx : 1 - fx) * (k >> 1 ? fy : 1 - fy) * data[p + 3];
    r += weight * data[p];
    g += weight * data[p + 1];
    b += weight * data[p + 2];
    alpha += weight;
  }
  if (alpha < 0.5) return;
  // Such an array rounds by itself.
  out[at] = r / alpha;
  out[at + 1] = g / alpha;
  out[at + 2] = b / alpha;
  out[at + 3] = alpha;
}
