import type { Picture } from './warp';

/** One value a pixel, 0 to 255, row-major. */
export interface GreyPicture {
  width: number;
  height: number;
  data: Float32Array;
}

/** Weights of red, green and blue. @see ITU-R BT.709, 3.2 (luma, of the values as they are coded) */
export const LUMA = [0.2126, 0.7152, 0.0722] as const;

/** A picture's luma, as it is seen on white. */
export function lumaOf({ width, height, data }: Picture): GreyPicture {
  const out = new Float32Array(width * height);
  const [r, g, b] = LUMA;
  for (let i = 0, at = 0; i < out.length; i++, at += 4) {
    const luma = r * data[at] + g * data[at + 1] + b * data[at + 2];
    const alpha = data[at + 3];
    out[i] = alpha === 255 ? luma : (luma * alpha + 255 * (255 - alpha)) / 255;
  }
  return { width, height, data: out };
}

/** A grey picture made smaller by a whole number: means of squares; what is left over at the far edges is left out. */
export function shrunk({ width, height, data }: GreyPicture, by: number): GreyPicture {
  const [w, h] = [Math.max(1, Math.floor(width / by)), Math.max(1, Math.floor(height / by))];
  const out = new Float32Array(w * h);
  const [bx, by2] = [Math.min(by, width), Math.min(by, height)];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (let dy = 0; dy < by2; dy++) {
        const row = (y * by + dy) * width + x * by;
        for (let dx = 0; dx < bx; dx++) sum += data[row + dx];
      }
      out[y * w + x] = sum / (bx * by2);
    }
  return { width: w, height: h, data: out };
}

/** Smoothed by 1 2 1 in both directions, `times` times; the edge is repeated. */
export function smoothed(grey: GreyPicture, times = 1): GreyPicture {
  const { width, height } = grey;
  let data = grey.data;
  for (let n = 0; n < times; n++) {
    const across = new Float32Array(data.length);
    for (let y = 0; y < height; y++)
      for (let x = 0, at = y * width; x < width; x++, at++)
        across[at] = (data[x > 0 ? at - 1 : at] + 2 * data[at] + data[x + 1 < width ? at + 1 : at]) / 4;
    data = new Float32Array(data.length);
    for (let y = 0; y < height; y++)
      for (let x = 0, at = y * width; x < width; x++, at++)
        data[at] = (across[y > 0 ? at - width : at] + 2 * across[at] + across[y + 1 < height ? at + width : at]) / 4;
  }
  return { width, height, data };
}

/** The slope across at a pixel that is none of the outermost, values per px. @see Sobel & Feldman 1968 */
export const slopeAcross = (data: Float32Array, at: number, width: number): number =>
  (data[at - width + 1] +
    2 * data[at + 1] +
    data[at + width + 1] -
    (data[at - width - 1] + 2 * data[at - 1] + data[at + width - 1])) /
  8;

/** The same downwards. */
export const slopeDown = (data: Float32Array, at: number, width: number): number =>
  (data[at + width - 1] +
    2 * data[at + width] +
    data[at + width + 1] -
    (data[at - width - 1] + 2 * data[at - width] + data[at - width + 1])) /
  8;

/** Both of each pixel; nothing on the outermost. */
export function gradients({ width, height, data }: GreyPicture): { gx: Float32Array; gy: Float32Array } {
  const gx = new Float32Array(data.length);
  const gy = new Float32Array(data.length);
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1, at = y * width + 1; x + 1 < width; x++, at++) {
      gx[at] = slopeAcross(data, at, width);
      gy[at] = slopeDown(data, at, width);
    }
  return { gx, gy };
}
