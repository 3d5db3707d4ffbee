import type { Box } from '../geometry/box';
import { unpremultiply } from '../raster/compose';
import { makePixels, type Pixels } from '../raster/pixels';
import type { Pause } from '../sheet/ink-work';
import { PngWriter } from './png';
import { stripHeight } from './strips';

/** A picture as a file, and where it lies on the paper, whole px. */
export interface PlacedPicture {
  box: Box;
  png: Uint8Array;
}

/**
 * A picture of the paper's own pixels, made in strips. Yields what is lacking, and after each strip.
 * @param draw draws a strip, or gives another one in its place.
 */
export function* placedPicture(
  box: Box,
  done: number,
  draw: (strip: Pixels) => Generator<Pause, Pixels>,
): Generator<Pause, PlacedPicture> {
  const [width, height] = [box.x1 - box.x0, box.y1 - box.y0];
  const rows = stripHeight(width, height);
  const png = new PngWriter({ width, height, channels: 4 });
  for (let y = box.y0; y < box.y1; y += rows) {
    const strip = yield* draw(makePixels(box.x0, y, width, Math.min(rows, box.y1 - y)));
    unpremultiply(strip.data);
    png.write(strip.data);
    yield done;
  }
  return { box, png: joined(yield* png.finish()) };
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
