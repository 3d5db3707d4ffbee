import type { Pixels } from '../core/raster/pixels';
import { TILE_SIDE, tileRect, type TileAddress } from '../core/raster/tiles';

/** Unpacks a tile that was packed (`pack-tile.ts`). @throws {RangeError} not a tile. */
export async function unpackTile(bytes: Uint8Array, address: Pick<TileAddress, 'tx' | 'ty'>): Promise<Pixels> {
  const count = TILE_SIDE * TILE_SIDE;
  // Nothing that is larger than its pixels was packed by us.
  const isOurs = bytes.length <= 4 * count + 1024;
  const planes = isOurs && (await inflated(bytes, 4 * count).catch(() => undefined));
  if (!planes) throw new RangeError('no kept tile');
  const data = new Uint8ClampedArray(4 * count);
  // As little-endian words, as everywhere.
  const words = new Uint32Array(data.buffer);
  for (let i = 0, g = count, b = 2 * count, a = 3 * count; i < count; i++, g++, b++, a++)
    words[i] = planes[i] | (planes[g] << 8) | (planes[b] << 16) | (planes[a] << 24);
  return { ...tileRect(address), data };
}

/**
 * What was deflated (RFC 1951) and is known to have a length; no more than that is ever made of it. Undefined: it is shorter.
 * @throws {Error} it is longer, or damaged.
 */
async function inflated(bytes: Uint8Array, length: number): Promise<Uint8Array | undefined> {
  const platform = rawInflater();
  // In a file of its own, which few ever fetch.
  return platform ? allOf(bytes, platform, length) : (await import('./script-inflate')).inflate(bytes, length);
}

/** The platform's own; undefined: a browser of before 2023 may have none, or none of this kind. */
function rawInflater(): DecompressionStream | undefined {
  try {
    return new DecompressionStream('deflate-raw');
  } catch {
    return undefined;
  }
}

/** All that comes through. Returns and throws as {@link inflated}. */
async function allOf(bytes: Uint8Array, through: DecompressionStream, length: number): Promise<Uint8Array | undefined> {
  const out = new Uint8Array(length);
  let at = 0;
  const reader = new Blob([bytes as BlobPart]).stream().pipeThrough(through).getReader();
  for (let { done, value } = await reader.read(); !done; { done, value } = await reader.read()) {
    // Beyond its end this throws.
    out.set(value!, at);
    at += value!.length;
  }
  return at === length ? out : undefined;
}
