import { intersection, isEmpty, union, type Box } from '../geometry/box';
import { drawStroke, gridArea, paperArea, type DrawableStroke, type RasterWorkspace } from '../raster/draw-stroke';
import { makePixels, type Pixels } from '../raster/pixels';
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
 * @returns undefined when nothing lies there.
 */
export function* drawingOf(
  ink: Drawn,
  layerId: string,
  level: number,
  rect: Rect,
  work: RasterWorkspace,
  use: SpineUse,
): Generator<Lacking, Pixels | undefined> {
  const found = ink.find(layerId, paperArea(rect, 2 ** level));
  return found.length ? yield* drawn(ink, found, level, rect, work, use) : undefined;
}

/** As {@link drawingOf}, no larger than what its strokes may touch. */
export function* tightDrawingOf(
  ink: Drawn,
  layerId: string,
  level: number,
  rect: Rect,
  work: RasterWorkspace,
): Generator<Lacking, Pixels | undefined> {
  const found = ink.find(layerId, paperArea(rect, 2 ** level));
  if (!found.length) return undefined;
  const all = found.map(({ box }) => gridArea(box, 2 ** level)).reduce(union);
  const { x0, y0, x1, y1 } = intersection(all, boxOf(rect));
  if (isEmpty({ x0, y0, x1, y1 })) return undefined;
  return yield* drawn(ink, found, level, { x0, y0, width: x1 - x0, height: y1 - y0 }, work, 'keep');
}

function* drawn(
  ink: Drawn,
  found: readonly StrokeRecord[],
  level: number,
  { x0, y0, width, height }: Rect,
  work: RasterWorkspace,
  use: SpineUse,
): Generator<Lacking, Pixels> {
  const pixels = makePixels(x0, y0, width, height);
  for (let from = 0; from < found.length; from += PART) {
    if (from > 0) yield BREATH;
    for (const record of yield* ink.readable(found, from, from + PART))
      drawStroke(pixels, ink.drawable(record, level, use), 2 ** level, work);
  }
  return pixels;
}

const boxOf = ({ x0, y0, width, height }: Rect): Box => ({ x0, y0, x1: x0 + width, y1: y0 + height });
