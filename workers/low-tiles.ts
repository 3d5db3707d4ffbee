import { blankAddresses, keptTile, type KeptTile, type LowTilesBody } from '../contract/low-tiles';
import type { Parts } from '../contract/frame';
import { LruCache } from '../core/raster/lru-cache';
import { tileKey, type TileAddress } from '../core/raster/tiles';

/** Packed tiles at hand; others are asked for again. */
const BYTES_LIMIT = 8 * 1024 * 1024;

interface Known {
  /** Where in the log of damage it is right. */
  at: number;
  /** The step that it shows; undefined: nothing lies on it. */
  seq: number | undefined;
}

/** What is known of the tiles that are kept with the sheet. */
export class LowTiles {
  private readonly tiles = new Map<string, Known>();
  private readonly packed = new LruCache<Uint8Array>(BYTES_LIMIT);

  clear(): void {
    this.tiles.clear();
    this.packed.clear();
  }

  /**
   * Takes in what a sheet has kept.
   * @param placeOf where in the log the steps after a number begin.
   */
  take({ tiles, blank }: Pick<LowTilesBody, 'tiles' | 'blank'>, parts: Parts, placeOf: (seq: number) => number): void {
    for (const row of tiles) this.tiles.set(tileKey(keptTile(row)), { at: placeOf(row[4]), seq: row[4] });
    for (const row of blank)
      for (const address of blankAddresses(row))
        this.tiles.set(tileKey(address), { at: placeOf(row[2]), seq: undefined });
    this.takeBytes(parts);
  }

  /** Takes in tiles that were asked for, as the steps left them that are known here. */
  takeBytes(parts: Parts): void {
    // A copy: a view would keep the whole answer.
    for (const [key, bytes] of parts)
      if (this.tiles.get(key)?.seq !== undefined) this.packed.set(key, bytes.slice(), bytes.length);
  }

  /** A tile that is no longer with the sheet, or another one in its place. */
  drop(key: string): void {
    this.tiles.delete(key);
    this.packed.delete(key);
  }

  /**
   * What is kept in a tile's place, and where in the log it is right: packed pixels, `blank`, or `away` when they have to
   * be asked for. Undefined: nothing is kept.
   */
  find(address: TileAddress): { at: number; bytes: Uint8Array | 'blank' | 'away' } | undefined {
    const key = tileKey(address);
    const known = this.tiles.get(key);
    if (!known) return undefined;
    return { at: known.at, bytes: known.seq === undefined ? 'blank' : (this.packed.get(key) ?? 'away') };
  }

  /** A tile that has to be asked for, as it is known here. */
  away(address: TileAddress): KeptTile[] {
    const key = tileKey(address);
    const seq = this.tiles.get(key)?.seq;
    return seq === undefined || this.packed.has(key) ? [] : [{ ...address, seq }];
  }

  /** Every tile of which something is kept. */
  keys(): string[] {
    return [...this.tiles.keys()];
  }

  /** A tile has been left with the sheet as a step left it. @param bytes none: it is blank. */
  kept(address: TileAddress, known: { at: number; seq: number }, bytes: Uint8Array): void {
    const key = tileKey(address);
    this.packed.delete(key);
    this.tiles.set(key, bytes.length ? known : { at: known.at, seq: undefined });
    if (bytes.length) this.packed.set(key, bytes, bytes.length);
  }
}
