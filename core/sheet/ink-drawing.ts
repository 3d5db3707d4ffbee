import { intersection, union, type Box } from '../geometry/box';
import { drawStroke, gridArea, paperArea, type DrawableStroke, type RasterWorkspace } from '../raster/draw-stroke';
import { boxOfPixels, makePixels, type Pixels } from '../raster/pixels';
import type { StrokeRecord } from './ink-record';
import { BREATH, type Lacking } from './ink-work';

/**
 * What a spine is made for: the screen, which keeps it, or something of exactly that level, which does not push out
 * what the screen uses.
 */
export type SpineUse = 'keep' | 'exact';

/** Strokes that are drawn at a time: between two parts samples may be brought, and others may have a turn. */
const PART = 400;

/** Ink that can be drawn: an `InkStore`. */
interface Drawn {
  find(layerId: string, box: Box): StrokeRecord[];
  readable(records: readonly StrokeRecord[], from: number, to: number): Generator<Lacking, StrokeRecord[]>;
  drawable(record: StrokeRecord, level: number, use: SpineUse): DrawableStroke;
}

type Rect = Omit<Pixels, 'data'>;

/**
 * Draws a layer's part of a rectangle of the level's grid, in parts; yields what is lacking.
 * @param work of at least the size of `rect`; others may use it while this waits.
 * @param isTight only as much of it is made as its strokes may touch.
 * @returns undefined when nothing lies there.
 */
export function* drawingOf(
  ink: Drawn,
  layerId: string,
  level: number,
  rect: Rect,
  work: RasterWorkspace,
  use: SpineUse,
  isTight?: boolean,
): Generator<Lacking, Pixels | undefined> {
  const scale = 2 ** level;
  const found = ink.find(layerId, paperArea(rect, scale));
  if (!found.length) return undefined;
  let area = boxOfPixels(rect);
  if (isTight) area = intersection(area, found.map(({ box }) => gridArea(box, scale)).reduce(union));
  const pixels = makePixels(area.x0, area.y0, Math.max(0, area.x1 - area.x0), Math.max(0, area.y1 - area.y0));
  for (let from = 0; from < found.length; from += PART) {
    if (from > 0) yield BREATH;
    for (const record of yield* ink.readable(found, from, from + PART))
      drawStroke(pixels, ink.drawable(record, level, use), scale, work);
  }
  return pixels;
}
