import { contoursOf } from '../geometry/marching-squares';
import { componentsOf } from '../picture/components';
import type { Box } from '../geometry/box';
import type { Point } from '../geometry/homography';
import { COVERED, type Coverage } from './coverage';

/** Ink that is no line: wider than any. Its mask, and its outlines, px; holes go around the other way. */
export interface Patches {
  mask: Uint8Array;
  count: number;
  /** Where they lie. */
  box: Box;
}

/**
 * The solid parts of a mask: where a disc of a radius fits in (its opening), with the corners around them that are too
 * small for a line.
 * @param squared distances of {@link squaredDistances}.
 */
export function patchesOf(
  mask: Uint8Array,
  squared: Float32Array,
  width: number,
  height: number,
  radius: number,
): Patches {
  const solid = new Uint8Array(mask.length);
  const limit = (radius + 0.5) ** 2;
  const seen = { x0: width, y0: height, x1: 0, y1: 0 };
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (squared[i] <= limit) continue;
      solid[i] = 1;
      seen.x0 = Math.min(seen.x0, x);
      seen.y0 = Math.min(seen.y0, y);
      seen.x1 = Math.max(seen.x1, x + 1);
      seen.y1 = Math.max(seen.y1, y + 1);
    }
  if (seen.x1 <= seen.x0) return { mask: solid, count: 0, box: { x0: 0, y0: 0, x1: 0, y1: 0 } };
  // All that there is of patches lies near their seeds.
  const far = Math.ceil(3 * radius) + 3;
  const box = {
    x0: Math.max(0, seen.x0 - far),
    y0: Math.max(0, seen.y0 - far),
    x1: Math.min(width, seen.x1 + far),
    y1: Math.min(height, seen.y1 + far),
  };
  const [w, h] = [box.x1 - box.x0, box.y1 - box.y0];
  const near = partOf(mask, width, box);
  const found = discsAround(largeOf(partOf(solid, width, box), w, h, radius * radius), near, w, h, radius + 1);
  takeCorners(near, found, w, h, radius);
  solid.fill(0);
  for (let y = 0; y < h; y++) solid.set(found.subarray(y * w, (y + 1) * w), (box.y0 + y) * width + box.x0);
  return { mask: solid, count: componentsOf(found, w, h).areas.length - 1, box };
}

/** Seeds that hang together over an area: smaller ones are where lines cross. */
function largeOf(
  seeds: Uint8Array<ArrayBuffer>,
  width: number,
  height: number,
  least: number,
): Uint8Array<ArrayBuffer> {
  const { labels, areas } = componentsOf(seeds, width, height);
  for (let i = 0; i < seeds.length; i++) if (labels[i] && areas[labels[i]] < least) seeds[i] = 0;
  return seeds;
}

function partOf(mask: Uint8Array, width: number, { x0, y0, x1, y1 }: Box): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array((x1 - x0) * (y1 - y0));
  for (let y = y0; y < y1; y++) out.set(mask.subarray(y * width + x0, y * width + x1), (y - y0) * (x1 - x0));
  return out;
}

/** All of a mask that lies within a radius of a seed: discs around the seeds' rims, and the seeds. */
function discsAround(
  seeds: Uint8Array<ArrayBuffer>,
  mask: Uint8Array,
  width: number,
  height: number,
  radius: number,
): Uint8Array {
  const out = seeds.slice();
  const reach = Math.floor(radius);
  const halves = Int32Array.from({ length: reach + 1 }, (_, dy) => Math.floor(Math.sqrt(radius * radius - dy * dy)));
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (!seeds[i]) continue;
      const isInner = x > 0 && x + 1 < width && seeds[i - 1] && seeds[i + 1] && seeds[i - width] && seeds[i + width];
      if (isInner) continue;
      for (let v = Math.max(0, y - reach); v <= Math.min(height - 1, y + reach); v++) {
        const half = halves[Math.abs(v - y)];
        const row = v * width;
        for (let u = Math.max(0, x - half), end = Math.min(width - 1, x + half); u <= end; u++)
          out[row + u] |= mask[row + u];
      }
    }
  return out;
}

/** What is left beside a patch and is too small for a line belongs to it. */
function takeCorners(mask: Uint8Array, solid: Uint8Array, width: number, height: number, radius: number): void {
  const rest = new Uint8Array(mask.length);
  for (let i = 0; i < mask.length; i++) if (mask[i] && !solid[i]) rest[i] = 1;
  const { labels, areas } = componentsOf(rest, width, height);
  const touches = new Uint8Array(areas.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (!labels[i]) continue;
      // What goes on beyond what is looked at is larger than it seems.
      if (x === 0 || y === 0 || x === width - 1 || y === height - 1) areas[labels[i]] = mask.length;
      if (touches[labels[i]]) continue;
      if (
        (x > 0 && solid[i - 1]) ||
        (x + 1 < width && solid[i + 1]) ||
        (y > 0 && solid[i - width]) ||
        (y + 1 < height && solid[i + width])
      )
        touches[labels[i]] = 1;
    }
  const most = 1.5 * radius * radius;
  for (let i = 0; i < solid.length; i++) if (labels[i] && touches[labels[i]] && areas[labels[i]] <= most) solid[i] = 1;
}

/**
 * The outlines of patches, where their ink covers half: to a part of a pixel. Holes go around the
 * other way than outer ones.
 */
export function outlinesOf({ mask, box }: Patches, coverage: Coverage): Point[][] {
  const { data } = coverage;
  const [w, h] = [box.x1 - box.x0, box.y1 - box.y0];
  const solid = partOf(mask, coverage.width, box);
  const near = widened(solid, w, h);
  const values = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      if (!near[i]) continue;
      const covered = data[(box.y0 + y) * coverage.width + box.x0 + x];
      // Beyond the patch and its rim there is nothing: what goes on there is a line.
      values[i] = solid[i] ? Math.max(COVERED, covered) : Math.min(covered, COVERED - 1);
    }
  return contoursOf(values, near, w, h, COVERED - 0.5).map((outline) =>
    outline.map(([x, y]) => [x + box.x0, y + box.y0] as const),
  );
}

/** A mask and all pixels beside it. */
function widened(mask: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(mask.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (!mask[i]) continue;
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        out.fill(1, v * width + Math.max(0, x - 1), v * width + Math.min(width, x + 2));
    }
  return out;
}
