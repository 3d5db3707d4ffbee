import { overlaps, type Box } from '../../core/geometry/box';
import { gridArea } from '../../core/raster/draw-stroke';
import { LruCache } from '../../core/raster/lru-cache';
import { TILE, tileBox } from '../../core/raster/tiles';
import type { InkRun } from './layer-runs';
import { runTileKey, type RunTile } from '../../workers/sheet-protocol';

/** Tiles are kept in so much memory, while those in sight fit; these stay whatever they take. */
const CACHE_BYTES = 96 * 1024 * 1024;
/** What is left at least for tiles that are out of sight. */
const LEAST_UNSEEN_BYTES = 16 * 1024 * 1024;
const TILE_BYTES = 4 * TILE * TILE;
/** What an empty tile takes. */
const EMPTY_BYTES = 64;

/** A tile of a run as the worker painted it. `bitmap` null: nothing lies there. */
export interface StoredTile {
  bitmap: ImageBitmap | null;
  /** False once a step has changed something there: shown until the next one comes. */
  fresh: boolean;
}

const bytesOf = ({ bitmap }: StoredTile): number => (bitmap ? TILE_BYTES : EMPTY_BYTES);

/**
 * Painted tiles by run, level and place. Those in sight stay: without them nothing could be drawn there. Of the others the
 * least recently used go.
 */
export class TileStore {
  private readonly unseen = new LruCache<StoredTile>(CACHE_BYTES, (tile) => tile.bitmap?.close());
  private seen = new Map<string, StoredTile | undefined>();
  private seenBytes = 0;

  get bytes(): number {
    return this.unseen.bytes + this.seenBytes;
  }

  /** What the tiles in sight take. */
  get bytesInSight(): number {
    return this.seenBytes;
  }

  /** These are in sight from now on, and no others. */
  see(tiles: Iterable<RunTile>): void {
    const before = this.seen;
    this.seen = new Map();
    this.seenBytes = 0;
    for (const tile of tiles) {
      const key = runTileKey(tile);
      const stored = before.get(key) ?? this.unseen.take(key);
      before.delete(key);
      this.seen.set(key, stored);
      if (stored) this.seenBytes += bytesOf(stored);
    }
    this.unseen.limit = Math.max(LEAST_UNSEEN_BYTES, CACHE_BYTES - this.seenBytes);
    for (const [key, stored] of before) if (stored) this.unseen.set(key, stored, bytesOf(stored));
  }

  get(tile: RunTile): StoredTile | undefined {
    const key = runTileKey(tile);
    return this.seen.get(key) ?? this.unseen.get(key);
  }

  put(tile: RunTile, bitmap: ImageBitmap | null): void {
    const key = runTileKey(tile);
    const stored = { bitmap, fresh: true };
    if (!this.seen.has(key)) return this.unseen.set(key, stored, bytesOf(stored));
    this.drop(key);
    this.seen.set(key, stored);
    this.seenBytes += bytesOf(stored);
  }

  /** Marks what a step changed. @param runs those in use; tiles of others are dropped. */
  spoil(damage: readonly { layerId: string; box: Box }[], runs: readonly InkRun[]): void {
    const idsOf = new Map(runs.map((r) => [r.key, r.deciding]));
    for (const key of [...this.seen.keys(), ...this.unseen.keys()]) {
      const [run, level, tx, ty] = key.split('/');
      const ids = idsOf.get(run);
      const tile = tileBox(Number(tx), Number(ty));
      const isHit = damage.some(
        (d) => (ids ?? run).includes(d.layerId) && overlaps(gridArea(d.box, 2 ** Number(level)), tile),
      );
      if (!isHit) continue;
      const stored = this.seen.get(key) ?? this.unseen.peek(key);
      if (ids && stored) stored.fresh = false;
      else this.drop(key);
    }
  }

  clear(): void {
    for (const key of this.seen.keys()) this.drop(key);
    this.unseen.clear();
  }

  /** Lets go of a tile; one in sight is missing from then on. */
  private drop(key: string): void {
    const stored = this.seen.get(key);
    if (!stored) return this.unseen.delete(key);
    stored.bitmap?.close();
    this.seen.set(key, undefined);
    this.seenBytes -= bytesOf(stored);
  }
}
