import type { Box } from '../geometry/box';

/**
 * A rectangle of premultiplied RGBA, 8 bits a channel, row-major, over the grid px
 * `x0 .. x0 + width` by `y0 .. y0 + height`.
 */
export interface Pixels {
  x0: number;
  y0: number;
  width: number;
  height: number;
  data: Uint8ClampedArray<ArrayBuffer>;
}

/** Where a rectangle lies. */
export const boxOfPixels = ({ x0, y0, width, height }: Omit<Pixels, 'data'>): Box => ({
  x0,
  y0,
  x1: x0 + width,
  y1: y0 + height,
});

export const makePixels = (x0: number, y0: number, width: number, height: number): Pixels => ({
  x0,
  y0,
  width,
  height,
  data: new Uint8ClampedArray(4 * width * height),
});

let lastPixels: Uint8ClampedArray | undefined;
let lastWords: Int32Array = new Int32Array(0);

/**
 * Whole pixels as words, red in the lowest byte and alpha in the highest (memory is little-endian wherever this runs); a
 * tile takes many strokes one after the other. @throws {RangeError} pixels that do not lie at a whole word.
 */
export function wordsOf(data: Uint8ClampedArray): Int32Array {
  if (data !== lastPixels) {
    lastWords = new Int32Array(data.buffer, data.byteOffset, data.length / 4);
    lastPixels = data;
  }
  return lastWords;
}

/** Puts `source` in the place of what `target` has where they overlap: the same grid. */
export function copyInto(target: Pixels, source: Pixels): void {
  const x0 = Math.max(target.x0, source.x0);
  const x1 = Math.min(target.x0 + target.width, source.x0 + source.width);
  const y0 = Math.max(target.y0, source.y0);
  const y1 = Math.min(target.y0 + target.height, source.y0 + source.height);
  if (x1 <= x0) return;
  for (let y = y0; y < y1; y++) {
    const from = 4 * ((y - source.y0) * source.width + x0 - source.x0);
    const row = source.data.subarray(from, from + 4 * (x1 - x0));
    target.data.set(row, 4 * ((y - target.y0) * target.width + x0 - target.x0));
  }
}

/** The one rounding of products of two 8-bit values: `round(x / 255)`, exact for 0 <= x <= 255 * 255. */
export function div255(x: number): number {
  const y = x + 128;
  return (y + (y >> 8)) >> 8;
}

/** An opaque colour, 0 to 255 each. */
export type Rgb = readonly [r: number, g: number, b: number];

/**
 * Reads `#rgb` or `#rrggbb`.
 * @throws {RangeError} anything else.
 */
export function parseColour(hex: string): Rgb {
  const long = /^#([0-9a-f])([0-9a-f])([0-9a-f])$/i.exec(hex) ? hex.replace(/[0-9a-f]/gi, (d) => d + d) : hex;
  const m = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(long);
  if (!m) throw new RangeError(`a colour is written #rrggbb, not ${hex}`);
  return [parseInt(m[1], 16), parseInt(m[2], 16), parseInt(m[3], 16)];
}
