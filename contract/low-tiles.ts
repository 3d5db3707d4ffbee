import type { Box } from '../core/geometry/box';
import type { TileAddress } from '../core/raster/tiles';

/** A kept tile: its layer, level and place, and the step up to which it shows its layer. */
export type LowTileRow = [layerId: string, level: number, tx: number, ty: number, seq: number];
/** Tiles of one level of a layer on which nothing lay at a step: `tx, ty` one after the other. */
export type BlankTilesRow = [layerId: string, level: number, seq: number, places: number[]];
/** Where a step has changed a layer's ink, paper px. */
export type DamageRow = [seq: number, layerId: string, x0: number, y0: number, x1: number, y1: number];

/**
 * `GET /api/sheets/:id/tiles?level=`: what is kept of a sheet, and what has changed since the oldest of it; parts are
 * the tiles of that level, by their keys, as many as fit `ANSWER_BYTES`. Of a tile that is in neither list nothing is kept.
 */
export interface LowTilesBody {
  /** The sheet's latest step. */
  seq: number;
  tiles: LowTileRow[];
  blank: BlankTilesRow[];
  damage: DamageRow[];
}

/** What something that is kept beside the journal was made from: all steps up to one, on a paper of this size. */
export interface MadeFrom {
  seq: number;
  widthPx: number;
  heightPx: number;
}

/** A tile as it was left at a step: another device may have left a later one in its place. */
export type KeptTile = TileAddress & { seq: number };

export const keptTile = ([layerId, level, tx, ty, seq]: LowTileRow): KeptTile => ({ layerId, level, tx, ty, seq });

/** Each tile of a {@link BlankTilesRow}. */
export const blankAddresses = ([layerId, level, , places]: BlankTilesRow): TileAddress[] =>
  Array.from({ length: places.length >> 1 }, (_, i) => ({ layerId, level, tx: places[2 * i], ty: places[2 * i + 1] }));

export const damageBox = ([, layerId, x0, y0, x1, y1]: DamageRow): { layerId: string; box: Box } => ({
  layerId,
  box: { x0, y0, x1, y1 },
});
