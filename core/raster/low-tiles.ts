import { inflateSync } from 'fflate';
import { scaled } from '../geometry/box';
import type { Pixels } from './pixels';
import { TILE_SIDE, tileRect, tilesOver, type TileAddress, type TileRange } from './tiles';

// The tiles of the low levels are kept with a sheet, so that it is shown without drawing all that is on it.

/** Which way of drawing made a kept tile: raised when the renderer draws otherwise, so that tiles are made anew. */
export const LOOK = 2;

/** A level is kept where no more tiles than this lie on the paper: together a third more of all levels. */
const MOST_TILES = 144;
const COARSEST = -12;

/** The tiles of a level that lie on the paper. */
export const tilesOfPaper = ({ widthPx, heightPx }: { widthPx: number; heightPx: number }, level: number): TileRange =>
  tilesOver(scaled({ x0: 0, y0: 0, x1: widthPx, y1: heightPx }, 2 ** level));

/** The levels whose tiles are kept, coarsest first: from the one in which the paper is one tile. */
export function lowLevels(paper: { widthPx: number; heightPx: number }): number[] {
  const levels: number[] = [];
  for (let level = 0; level >= COARSEST; level--) {
    const { x1, y1 } = tilesOfPaper(paper, level);
    if (x1 * y1 <= MOST_TILES) levels.unshift(level);
    if (x1 * y1 <= 1) break;
  }
  return levels;
}

/** Unpacks a tile that was packed (`pack-tile.ts`). @throws {RangeError} not a tile. */
export function unpackTile(bytes: Uint8Array, address: Pick<TileAddress, 'tx' | 'ty'>): Pixels {
  const count = TILE_SIDE * TILE_SIDE;
  // Nothing that is larger than its pixels was packed by us.
  if (bytes.length > 4 * count + 1024) throw new RangeError('a kept tile is too large');
  const data = new Uint8ClampedArray(4 * count);
  let planes: Uint8Array;
  try {
    // Room for one byte too many tells what is too long.
    planes = inflateSync(bytes, { out: new Uint8Array(4 * count + 1) });
  } catch (error) {
    throw new RangeError(`a kept tile cannot be unpacked: ${String(error)}`);
  }
  if (planes.length !== 4 * count) throw new RangeError('a kept tile of another size');
  // As little-endian words, as everywhere.
  const words = new Uint32Array(data.buffer);
  for (let i = 0, g = count, b = 2 * count, a = 3 * count; i < count; i++, g++, b++, a++)
    words[i] = planes[i] | (planes[g] << 8) | (planes[b] << 16) | (planes[a] << 24);
  return { ...tileRect(address), data };
}
