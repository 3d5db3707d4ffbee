import type { Box } from '../core/geometry/box';
import type { TileAddress } from '../core/raster/tiles';

/** A kept tile: its layer, level and place, and the step up to which it shows its layer. */
export type LowTileRow = [layerId: string, level: number, tx: number, ty: number, seq: number];
/** A level of a layer that is kept whole: where no tile of it is kept, nothing lay at that step. */
export type LowLevelRow = [layerId: string, level: number, seq: number];
/** Where a step has changed a layer's ink, paper px. */
export type DamageRow = [seq: number, layerId: string, x0: number, y0: number, x1: number, y1: number];

/**
 * `GET /api/sheets/:id/tiles?level=`: what is kept of a sheet, and what has changed since the oldest of it; parts are
 * the tiles of that level, by their keys, as many as fit `ANSWER_BYTES`.
 */
export interface LowTilesBody {
  /** The sheet's latest step. */
  seq: number;
  tiles: LowTileRow[];
  levels: LowLevelRow[];
  damage: DamageRow[];
}

export const lowTileAddress = ([layerId, level, tx, ty]: readonly [
  string,
  number,
  number,
  number,
  ...unknown[],
]): TileAddress => ({
  layerId,
  level,
  tx,
  ty,
});

export const damageBox = ([, layerId, x0, y0, x1, y1]: DamageRow): { layerId: string; box: Box } => ({
  layerId,
  box: { x0, y0, x1, y1 },
});
