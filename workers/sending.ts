import type { DrawLayer } from '../core/formats/sheet-png';
import { boxOfPixels, copyInto, makePixels, type Pixels } from '../core/raster/pixels';
import { eachTile, tilesOver, type TileAddress } from '../core/raster/tiles';
import type { TileMaker } from './tile-maker';

// What only files and small pictures need: in a file of its own, which comes when one is made.
export { sheetPng } from '../core/formats/sheet-png';
export { platformDeflating } from './platform-deflate';
export { sheetSvg } from '../core/formats/sheet-svg';

/** Draws small pictures from tiles, which are there or kept with the sheet, whatever lies on it. */
export const fromTiles = (maker: TileMaker, level: number): DrawLayer =>
  function* (layerId, rect) {
    const out = makePixels(rect.x0, rect.y0, rect.width, rect.height);
    const tiles: TileAddress[] = [];
    eachTile(tilesOver(boxOfPixels(rect)), (tx, ty) => tiles.push({ layerId, level, tx, ty }));
    for (const address of tiles) {
      let pixels: Pixels | null = null;
      yield maker.pixels(address, 'small').then((made) => (pixels = made));
      if (pixels) copyInto(out, pixels);
    }
    return out;
  };
