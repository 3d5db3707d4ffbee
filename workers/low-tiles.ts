import { lowTileAddress, type LowTilesBody } from '../contract/low-tiles';
import type { Parts } from '../contract/frame';
import { LruCache } from '../core/raster/lru-cache';
import { tileKey, type TileAddress } from '../core/raster/tiles';

/** Packed tiles at hand; others are asked for again. */
const BYTES_LIMIT = 8 * 1024 * 1024;

const levelKey = (layerId: string, level: number): string => `${layerId}/${level}`;

/** What is known of the tiles that are kept with the sheet. */
export class LowTiles {
  /** Where in the log of damage each tile is right. */
  private readonly tiles = new Map<string, number>();
  /** Levels of layers that are kept whole: where in the log the tiles that are not there are blank. */
  private readonly levels = new Map<string, number>();
  private readonly packed = new LruCache<Uint8Array>(BYTES_LIMIT);

  clear(): void {
    this.tiles.clear();
    this.levels.clear();
    this.packed.clear();
  }

  /**
   * Takes in what a sheet has kept.
   * @param placeOf where in the log the steps after a number begin.
   */
  take(
    { tiles, levels }: Pick<LowTilesBody, 'tiles' | 'levels'>,
    parts: Parts,
    placeOf: (seq: number) => number,
  ): void {
    for (const row of tiles) this.tiles.set(tileKey(lowTileAddress(row)), placeOf(row[4]));
    for (const [layerId, level, seq] of levels) this.levels.set(levelKey(layerId, level), placeOf(seq));
    this.takeBytes(parts);
  }

  /** Takes in tiles that were asked for. They may be later than what is known of them, never earlier. */
  takeBytes(parts: Parts): void {
    // A copy: a view would keep the whole answer.
    for (const [key, bytes] of parts) if (this.tiles.has(key)) this.packed.set(key, bytes.slice(), bytes.length);
  }

  /** A tile that is no longer with the sheet. */
  drop(key: string): void {
    this.tiles.delete(key);
    this.packed.delete(key);
    const [layerId, level] = key.split('/');
    this.levels.delete(levelKey(layerId, Number(level)));
  }

  /**
   * What is kept in a tile's place, and where in the log it is right: packed pixels, `blank`, or `away` when they have to
   * be asked for. Undefined: nothing is kept.
   */
  find(address: TileAddress): { at: number; bytes: Uint8Array | 'blank' | 'away' } | undefined {
    const key = tileKey(address);
    const own = this.tiles.get(key);
    if (own !== undefined) return { at: own, bytes: this.packed.get(key) ?? 'away' };
    const at = this.levels.get(levelKey(address.layerId, address.level));
    return at === undefined ? undefined : { at, bytes: 'blank' };
  }

  isWhole(layerId: string, level: number): boolean {
    return this.levels.has(levelKey(layerId, level));
  }

  /** A tile has been left with the sheet. @param bytes none: it is blank. */
  kept(address: TileAddress, at: number, bytes: Uint8Array): void {
    const key = tileKey(address);
    this.packed.delete(key);
    if (!bytes.length) {
      this.tiles.delete(key);
      return;
    }
    this.tiles.set(key, at);
    this.packed.set(key, bytes, bytes.length);
  }

  /** A level has been left whole, its blank tiles right at a place in the log. */
  keptWhole(layerId: string, level: number, at: number): void {
    this.levels.set(levelKey(layerId, level), at);
  }
}
