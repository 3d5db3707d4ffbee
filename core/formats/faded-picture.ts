import { intersection, isEmpty, outward, overlaps, union, type Box } from '../geometry/box';
import { drawStroke, RasterWorkspace } from '../raster/draw-stroke';
import type { Rgb } from '../raster/pixels';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { StrokeRecord } from '../sheet/ink-record';
import { placedPicture, type PlacedPicture } from './placed-picture';
import { stripHeight } from './strips';

const AS_BLACK = { fades: false, colour: [0, 0, 0] } as const;

/**
 * Strokes that no outline can hold (soft edges, grain), in their order, as a picture of the paper's own pixels.
 * Soft erasures are in it as what they take away: black, as opaque as they are strong.
 * Yields what is lacking, and after each strip.
 * @param page what lies outside is not in it.
 * @param as draws all of them in this colour.
 * @returns undefined where nothing of them lies on the page.
 */
export function* fadedPicture(
  ink: InkStore,
  strokes: readonly StrokeRecord[],
  page: Box,
  done: number,
  as?: Rgb,
): Generator<Pause, PlacedPicture | undefined> {
  const box = intersection(outward(strokes.map((s) => s.box).reduce(union)), page);
  if (isEmpty(box)) return undefined;
  const work = new RasterWorkspace(box.x1 - box.x0, stripHeight(box.x1 - box.x0, box.y1 - box.y0));
  return yield* placedPicture(box, done, function* (strip) {
    const area = { x0: box.x0 - 1, y0: strip.y0 - 1, x1: box.x1 + 1, y1: strip.y0 + strip.height + 1 };
    const touching = strokes.filter((s) => overlaps(s.box, area));
    for (const record of yield* ink.readable(touching)) {
      const stroke = ink.drawable(record, 0, 'exact');
      const shown = as ? { ...stroke, colour: as } : stroke;
      drawStroke(strip, stroke.fades ? { ...stroke, ...AS_BLACK } : shown, 1, work);
    }
    return strip;
  });
}
