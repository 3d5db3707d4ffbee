import { overlaps, type Box } from '../../core/geometry/box';
import { gridArea } from '../../core/raster/draw-stroke';
import { LruCache } from '../../core/raster/lru-cache';
import { TILE, tileBox } from '../../core/raster/tiles';
import type { InkRun } from './layer-runs';
import { runTileKey, type RunTile } from '../../workers/sheet-protocol';

const CACHE_BYTES = 96 * 1024 * 1024;
const TILE_BYTES = 4 * TILE * TILE;
/** What an empty tile takes. */
const EMPTY_BYTES = 64;

/** A tile of a run as the worker painted it. `bitmap` null: nothing lies there. */
export interface StoredTile {
  bitmap: ImageBitmap | null;
  /** False once a step has changed something there: shown until the next one comes. */
  fresh: boolean;
}

/** Painted tiles by run, level and place; the least recently used go. */
export class TileStore {
  private readonly tiles = new LruCache<StoredTile>(CACHE_BYTES, (tile) => tile.bitmap?.close());

  get bytes(): number {
    return this.tiles.bytes;
  }

  get(tile: RunTile): StoredTile | undefined {
    return this.tiles.get(runTileKey(tile));
  }

  put(tile: RunTile, bitmap: ImageBitmap | null): void {
    this.tiles.set(runTileKey(tile), { bitmap, fresh: true }, bitmap ? TILE_BYTES : EMPTY_BYTES);
  }

  /** Marks what a step changed. @param runs those in use; tiles of others are dropped. */
  spoil(damage: readonly { layerId: string; box: Box }[], runs: readonly InkRun[]): void {
    const idsOf = new Map(runs.map((r) => [r.key, r.deciding]));
    for (const key of this.tiles.keys()) {
      const [run, level, tx, ty] = key.split('/');
      const ids = idsOf.get(run);
      const tile = tileBox(Number(tx), Number(ty));
      const isHit = damage.some(
        (d) => (ids ?? run).includes(d.layerId) && overlaps(gridArea(d.box, 2 ** Number(level)), tile),
      );
      if (!isHit) continue;
      const stored = this.tiles.peek(key);
      if (ids && stored) stored.fresh = false;
      else this.tiles.delete(key);
    }
  }

  clear(): void {
    this.tiles.clear();
  }
}
