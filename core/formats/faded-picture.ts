import { intersection, isEmpty, outward, overlaps, union, type Box } from '../geometry/box';
import { unpremultiply } from '../raster/compose';
import { drawStroke, RasterWorkspace } from '../raster/draw-stroke';
import { makePixels } from '../raster/pixels';
import type { InkStore, Pause, StrokeRecord } from '../sheet/ink-store';
import { PngWriter } from './png';
import { stripHeight } from './strips';

/** A picture as a file, and where it lies on the paper, whole px. */
export interface PlacedPicture {
  box: Box;
  png: Uint8Array;
}

const AS_BLACK = { fades: false, colour: [0, 0, 0] } as const;

/**
 * Strokes that no outline can hold (soft edges, grain), in their order, as a picture of the paper's own pixels.
 * Soft erasures are in it as what they take away: black, as opaque as they are strong.
 * Yields what is lacking, and after each strip.
 * @param page what lies outside is not in it.
 * @returns undefined where nothing of them lies on the page.
 */
export function* fadedPicture(
  ink: InkStore,
  strokes: readonly StrokeRecord[],
  page: Box,
  done: number,
): Generator<Pause, PlacedPicture | undefined> {
  const box = intersection(outward(strokes.map((s) => s.box).reduce(union)), page);
  if (isEmpty(box)) return undefined;
  const [width, height] = [box.x1 - box.x0, box.y1 - box.y0];
  const rows = stripHeight(width, height);
  const work = new RasterWorkspace(width, rows);
  const png = new PngWriter({ width, height, channels: 4 });
  for (let y = box.y0; y < box.y1; y += rows) {
    const strip = makePixels(box.x0, y, width, Math.min(rows, box.y1 - y));
    const area = { x0: box.x0 - 1, y0: y - 1, x1: box.x1 + 1, y1: y + strip.height + 1 };
    const touching = strokes.filter((s) => overlaps(s.box, area));
    for (const record of yield* ink.readable(touching)) {
      const stroke = ink.drawable(record, 0, 'exact');
      drawStroke(strip, stroke.fades ? { ...stroke, ...AS_BLACK } : stroke, 1, work);
    }
    unpremultiply(strip.data);
    png.write(strip.data);
    yield done;
  }
  return { box, png: joined(png.finish()) };
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const all = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}
