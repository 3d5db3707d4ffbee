import type { CoverageMask } from './coverage-mask';
import { div255, wordsOf, type Pixels, type Rgb } from './pixels';

/**
 * Lays a colour over `target` where `mask` covers it (source-over), and cleans the mask on the way.
 * Works on whole pixels as little-endian words (alpha highest), as on every platform that we run on.
 * @param mask within `target`, in the same grid.
 * @param whole runs that are covered wholly, whatever the mask says: row, from and to of each in turn, first rows first.
 * @see W3C Compositing and Blending Level 1, source-over on premultiplied values.
 */
export function pourMask(target: Pixels, mask: CoverageMask, colour: Rgb, whole?: readonly number[]): void {
  const { rowFrom, rowTo } = mask;
  const words = wordsOf(target.data);
  const inks = inkWords(colour);
  const first = (mask.y0 - target.y0) * target.width + mask.x0 - target.x0;
  let next = 0;
  for (let j = 0; j < mask.height; j++) {
    const row = first + j * target.width;
    let from = rowFrom[j];
    for (; whole && next < whole.length && whole[next] === j; next += 3) {
      const [start, end] = [whole[next + 1], whole[next + 2]];
      pourRow(words, row, mask, j, from, Math.min(start, rowTo[j]), inks);
      words.fill(inks[255], row + start, row + end);
      mask.data.fill(0, j * mask.width + start, j * mask.width + end);
      from = Math.max(from, end);
    }
    pourRow(words, row, mask, j, from, rowTo[j], inks);
  }
  mask.forget();
}

/** Columns `from` up to, without, `to` of a row. @param at of the row's first word. */
function pourRow(
  words: Int32Array,
  at: number,
  { data, width }: CoverageMask,
  j: number,
  from: number,
  to: number,
  inks: Int32Array,
): void {
  const row = j * width;
  const full = inks[255];
  for (let i = from; i < to; i++) {
    const cover = data[row + i];
    if (cover === 0) continue;
    data[row + i] = 0;
    words[at + i] = cover === 255 ? full : inkOver(words[at + i], inks[cover], cover);
  }
}

/** A word of ink of that coverage over another: neither sum of a channel's two parts leaves its byte. */
const inkOver = (under: number, ink: number, cover: number): number =>
  under === 0 ? ink : (ink + wordOver255(under, 255 - cover)) | 0;

const inkTable = new Int32Array(256);
let inkColour = -1;

/** The premultiplied word of a colour at every coverage, 0 to 255; valid until the next call. */
function inkWords([r, g, b]: Rgb): Int32Array {
  const colour = (b << 16) | (g << 8) | r;
  if (colour === inkColour) return inkTable;
  inkColour = colour;
  const opaque = (255 << 24) | colour;
  for (let cover = 0; cover < 256; cover++) inkTable[cover] = wordOver255(opaque, cover);
  return inkTable;
}

/**
 * Takes away from `target` what `mask` covers (destination-out), and cleans the mask on the way.
 * @param mask within `target`, in the same grid.
 * @see W3C Compositing and Blending Level 1, destination-out on premultiplied values.
 */
export function fadeUnder(target: Pixels, mask: CoverageMask): void {
  const { data, rowFrom, rowTo } = mask;
  const words = wordsOf(target.data);
  for (let j = mask.top; j < mask.bottom; j++) {
    const from = rowFrom[j];
    const stop = j * mask.width + rowTo[j];
    let m = j * mask.width + from;
    let at = (j + mask.y0 - target.y0) * target.width + from + mask.x0 - target.x0;
    for (; m < stop; m++, at++) {
      const cover = data[m];
      if (cover === 0) continue;
      data[m] = 0;
      const under = words[at];
      if (under === 0) continue;
      words[at] = wordOver255(under, 255 - cover);
    }
  }
  mask.forget();
}

/** Two 8-bit values in one word, 16 bits apart. */
const PAIR = 0xff00ff;

/** `div255` of both values of a pair times `k` (0 to 255): the sums stay within their 16 bits. */
function pairOver255(pair: number, k: number): number {
  const y = (Math.imul(pair, k) + 0x800080) | 0;
  return ((y + ((y >>> 8) & PAIR)) >>> 8) & PAIR;
}

/** `div255` of all four bytes of a word times `k` (0 to 255). */
const wordOver255 = (word: number, k: number): number =>
  (pairOver255((word >>> 8) & PAIR, k) << 8) | pairOver255(word & PAIR, k);

/** What an opacity 0 to 1 makes of coverage: 0 to 255, of 255. */
export const inkStrength = (opacity = 1): number => Math.round(opacity * 255);

/** Weakens all of a mask. @param strength 0 to 255, of 255. */
export function fadeMask(mask: CoverageMask, strength: number): void {
  const { data, rowFrom, rowTo, width } = mask;
  for (let j = mask.top; j < mask.bottom; j++) {
    const stop = j * width + rowTo[j];
    for (let at = j * width + rowFrom[j]; at < stop; at++) data[at] = div255(data[at] * strength);
  }
}

/** Takes from `mask` what `hole` covers (destination-out). Same size and origin. */
export function cutMask(mask: CoverageMask, hole: CoverageMask): void {
  const top = Math.max(mask.top, hole.top);
  const bottom = Math.min(mask.bottom, hole.bottom);
  for (let j = top; j < bottom; j++) {
    const row = j * mask.width;
    const to = Math.min(mask.rowTo[j], hole.rowTo[j]);
    for (let i = Math.max(mask.rowFrom[j], hole.rowFrom[j]); i < to; i++)
      mask.data[row + i] = div255(mask.data[row + i] * (255 - hole.data[row + i]));
  }
}

/**
 * Keeps of `target` only as much as `bounds` covers (destination-in).
 * @param bounds same size and origin.
 * @see W3C Compositing and Blending Level 1, destination-in on premultiplied values.
 */
export function keepInside(target: Pixels, bounds: Pixels): void {
  const words = wordsOf(target.data);
  for (let at = 0; at < words.length; at++) {
    const cover = bounds.data[4 * at + 3];
    if (cover < 255 && words[at] !== 0) words[at] = cover === 0 ? 0 : wordOver255(words[at], cover);
  }
}

/** How what is laid over something mixes with it; the names are those of the standard. */
export const BLENDS = ['normal', 'multiply', 'screen'] as const;
export type Blend = (typeof BLENDS)[number];

/**
 * Lays `source` over `target` (source-over, group opacity 0 to 1) where they overlap.
 * @see W3C Compositing and Blending Level 1: "multiply" and "screen" as there, on premultiplied values.
 */
export function layOver(target: Pixels, source: Pixels, opacity: number, blend: Blend = 'normal'): void {
  const o = Math.round(opacity * 255);
  const x0 = Math.max(target.x0, source.x0);
  const x1 = Math.min(target.x0 + target.width, source.x0 + source.width);
  const y0 = Math.max(target.y0, source.y0);
  const y1 = Math.min(target.y0 + target.height, source.y0 + source.height);
  const [from, to] = [source.data, target.data];
  const words = wordsOf(from);
  const below = new Int32Array(to.buffer, to.byteOffset, to.length / 4);
  // Then what is opaque, or lies over nothing, is put there as it is.
  const isPlain = o === 255 && blend === 'normal';
  for (let y = y0; y < y1; y++) {
    let s = 4 * ((y - source.y0) * source.width + x0 - source.x0);
    let t = 4 * ((y - target.y0) * target.width + x0 - target.x0);
    for (let x = x0; x < x1; x++, s += 4, t += 4) {
      const word = words[s >> 2];
      if (word === 0) continue;
      if (isPlain && (word >>> 24 === 255 || below[t >> 2] === 0)) {
        below[t >> 2] = word;
        continue;
      }
      const alpha = div255(from[s + 3] * o);
      if (alpha === 0) continue;
      const under = to[t + 3];
      for (let c = 0; c < 3; c++) to[t + c] = blended(blend, div255(from[s + c] * o), alpha, to[t + c], under);
      to[t + 3] = alpha + div255(under * (255 - alpha));
    }
  }
}

/** One colour value over another, both multiplied by their alphas. */
function blended(blend: Blend, over: number, alpha: number, below: number, under: number): number {
  if (blend === 'normal') return over + div255(below * (255 - alpha));
  if (blend === 'screen') return over + below - div255(over * below);
  return div255(over * (255 - under) + below * (255 - alpha) + over * below);
}

/** Multiplies colours by their alpha, in place. */
export function premultiply(data: Uint8ClampedArray): void {
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3];
    if (alpha === 255) continue;
    // Such an array rounds by itself.
    data[i] = (data[i] * alpha) / 255;
    data[i + 1] = (data[i + 1] * alpha) / 255;
    data[i + 2] = (data[i + 2] * alpha) / 255;
  }
}

/** The least of the words whose alpha is full, as signed numbers; all of them are below 0. */
const OPAQUE = 0xff000000 | 0;

/** Colour as files and `ImageData` want it: not multiplied by alpha. Modifies `data` in place. */
export function unpremultiply(data: Uint8ClampedArray): void {
  const words = wordsOf(data);
  for (let i = 0; i < words.length; i++) {
    // Nothing, or opaque.
    if (words[i] >= OPAQUE && words[i] <= 0) continue;
    const at = 4 * i;
    const alpha = data[at + 3];
    if (alpha === 0) continue;
    for (let c = 0; c < 3; c++) data[at + c] = Math.round((data[at + c] * 255) / alpha);
  }
}
