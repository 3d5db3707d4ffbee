import { scaled } from '../geometry/box';
import { tilesOver, type TileRange } from './tiles';

// The tiles of the low levels are kept with a sheet, so that it is shown without drawing all that is on it.

/** Which way of drawing made a kept tile: raised when the renderer draws otherwise, so that tiles are made anew. */
export const LOOK = 3;

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
