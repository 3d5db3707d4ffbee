import type { Box } from '../geometry/box';

/** The side of a tile, grid px. */
export const TILE = 256;

/** Grid px that a painted tile shows beyond each of its sides: turned neighbours overlap by up to 2.3 of them. */
export const TILE_APRON = 4;
export const TILE_SIDE = TILE + 2 * TILE_APRON;

/** One tile of one layer: grid px `tx * TILE ..` by `ty * TILE ..` of level `level`. */
export interface TileAddress {
  layerId: string;
  level: number;
  tx: number;
  ty: number;
}

export const tileKey = (t: TileAddress): string => `${t.layerId}/${t.level}/${t.tx}/${t.ty}`;

/** The address in a {@link tileKey}. */
export function tileAddress(key: string): TileAddress {
  const [layerId, level, tx, ty] = key.split('/');
  return { layerId, level: Number(level), tx: Number(tx), ty: Number(ty) };
}

/** The coarsest level whose pixels are no larger than the screen's. */
export function levelFor(devicePxPerPaperPx: number): number {
  let level = 0;
  while (2 ** level < devicePxPerPaperPx) level++;
  while (2 ** (level - 1) >= devicePxPerPaperPx) level--;
  return level;
}

/** Whole tiles as ranges, `x0 <= tx < x1`. */
export type TileRange = Box;

/** The tiles that a box of grid px touches. */
export const tilesOver = (grid: Box): TileRange => ({
  x0: Math.floor(grid.x0 / TILE),
  y0: Math.floor(grid.y0 / TILE),
  x1: Math.ceil(grid.x1 / TILE),
  y1: Math.ceil(grid.y1 / TILE),
});

/** Calls `visit` for each tile of a range, row by row. */
export function eachTile(range: TileRange, visit: (tx: number, ty: number) => void): void {
  for (let ty = range.y0; ty < range.y1; ty++) for (let tx = range.x0; tx < range.x1; tx++) visit(tx, ty);
}

export const tileBox = (tx: number, ty: number): Box => ({
  x0: tx * TILE,
  y0: ty * TILE,
  x1: (tx + 1) * TILE,
  y1: (ty + 1) * TILE,
});

/** A tile's rectangle of the grid with its apron, as it is painted. */
export const tileRect = ({ tx, ty }: Pick<TileAddress, 'tx' | 'ty'>) => ({
  x0: tx * TILE - TILE_APRON,
  y0: ty * TILE - TILE_APRON,
  width: TILE_SIDE,
  height: TILE_SIDE,
});
