import { lumaOf } from './luma';
import type { Picture } from './warp';

/** A small picture's luma, 0 to 255, row-major: what is looked at to choose tones. */
export interface Tones {
  width: number;
  height: number;
  data: Uint8Array<ArrayBuffer>;
}

export function tonesOf(picture: Picture): Tones {
  const { width, height, data } = lumaOf(picture);
  return { width, height, data: Uint8Array.from(data, (v) => Math.round(v)) };
}

/** How many pixels have each of 256 values. */
export function histogramOf({ data }: Pick<Tones, 'data'>): Uint32Array {
  const counts = new Uint32Array(256);
  // By index: it is looked at where nobody may wait, and walking by an iterator takes ten times as long.
  for (let i = 0; i < data.length; i++) counts[data[i]]++;
  return counts;
}

/** What a finger takes for one place: the part of the longer side around it that is looked at. */
const REACH = 0.012;

/** The tone at a place (parts of width and height), 0 to 1: the mean around it; undefined beyond the picture. */
export function toneAt(tones: Tones, u: number, v: number): number | undefined {
  const around = tonesAround(tones, u, v);
  return around && around.reduce((sum, tone) => sum + tone, 0) / around.length / 255;
}

/** The same of the darkest tone around a place: of a line that is thinner than a finger. */
export function darkestAt(tones: Tones, u: number, v: number): number | undefined {
  const around = tonesAround(tones, u, v);
  return around && Math.min(...around) / 255;
}

function tonesAround({ width, height, data }: Tones, u: number, v: number): number[] | undefined {
  if (!(u >= 0 && v >= 0 && u < 1 && v < 1)) return undefined;
  const reach = Math.max(1, Math.round(REACH * Math.max(width, height)));
  const [cx, cy] = [Math.floor(u * width), Math.floor(v * height)];
  const found: number[] = [];
  for (let y = Math.max(0, cy - reach); y <= Math.min(height - 1, cy + reach); y++)
    for (let x = Math.max(0, cx - reach); x <= Math.min(width - 1, cx + reach); x++)
      if ((x - cx) ** 2 + (y - cy) ** 2 <= reach * reach) found.push(data[y * width + x]);
  return found;
}
