import type { Pixels } from '../core/raster/pixels';
import { TILE_SIDE, tileRect, type TileAddress } from '../core/raster/tiles';

/** Unpacks a tile that was packed (`pack-tile.ts`). @throws {RangeError} not a tile. */
export async function unpackTile(bytes: Uint8Array, address: Pick<TileAddress, 'tx' | 'ty'>): Promise<Pixels> {
  const count = TILE_SIDE * TILE_SIDE;
  // Nothing that is larger than its pixels was packed by us.
  if (bytes.length > 4 * count + 1024) throw new RangeError('a kept tile is too large');
  const planes = await inflated(bytes, 4 * count);
  const data = new Uint8ClampedArray(4 * count);
  // As little-endian words, as everywhere.
  const words = new Uint32Array(data.buffer);
  for (let i = 0, g = count, b = 2 * count, a = 3 * count; i < count; i++, g++, b++, a++)
    words[i] = planes[i] | (planes[g] << 8) | (planes[b] << 16) | (planes[a] << 24);
  return { ...tileRect(address), data };
}

/** What was deflated (RFC 1951) and is known to have a length; no more than that is ever made of it. @throws {RangeError} */
async function inflated(bytes: Uint8Array, length: number): Promise<Uint8Array> {
  const out = new Uint8Array(length);
  let at = 0;
  try {
    const packed = new Blob([bytes as BlobPart]).stream();
    const reader = packed.pipeThrough(new DecompressionStream('deflate-raw')).getReader();
    for (let { done, value } = await reader.read(); !done; { done, value } = await reader.read()) {
      // Beyond its end this throws.
      out.set(value!, at);
      at += value!.length;
    }
  } catch (error) {
    throw new RangeError(`a kept tile cannot be unpacked: ${String(error)}`);
  }
  if (at !== length) throw new RangeError('a kept tile of another size');
  return out;
}
