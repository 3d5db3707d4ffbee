import { contoursOf } from '../geometry/marching-squares';
import { ringSize } from '../geometry/rings';
import { RasterWorkspace } from '../raster/draw-stroke';
import { layParts } from '../raster/lay-parts';
import { makePixels } from '../raster/pixels';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { PaperSize } from '../sheet/paper';
import { fittedRing, type Nearness } from '../stroke/fitted-path';
import { encodePath } from '../stroke/pack-path';
import { squaredDistances } from '../trace/distance';

/** What a contour looks like, paper px. */
export interface ContourWays {
  /** Its width, in the mean all around. */
  widthPx: number;
  /** How much thicker it is on the side that is turned from the light, and thinner on the other, 0 (even) to 1. */
  uneven: number;
  /** Gaps between lines up to this are not gone into. */
  gapPx: number;
}

/** A closed line around something, packed; its pen is as wide as it is where it is widest. */
export interface ContourLine {
  bytes: Uint8Array;
  sizePx: number;
}

/** How far a contour lies over what it goes around, as a part of its width and at most in px: no light shines between. */
const OVERLAP = 0.25;
const MOST_OVERLAP_PX = 2;
/** Light comes from the upper left (common practice, no source): the side to the lower right is the thick one. */
const SHADED = [Math.SQRT1_2, Math.SQRT1_2] as const;
/** From so much cover on something is inked, of 255: the faintest wash is. */
const SEEN = 40;
/** Pixels that are looked at, at most; of a larger paper each is several. */
const MOST_PX = 6e6;
/** How far ink is looked at beyond what a contour reaches over the paper, px: a line around what goes on there leaves it, too. */
const BEYOND_PX = 16;
const STRIP = 256;
/** How far what is inked reaches beyond the middle of its last pixel, in the mean: from where a fifth is covered to all of it. */
const RIM_PX = 0.1;
/** Values of a field to a px: places are known to a part of that. */
const FIELD_STEPS = 32;
const FIELD_LEVEL = 128;
/** No further apart are the points that a line is fitted to, px. */
const STEP_PX = 3;
/** How near a line has to be, px of what is looked at: its jags are smoothed. */
const NEAR_PX = 0.4;

/**
 * Thick lines around all that lies on some layers: one around each part that stands alone, outside it, touching it.
 *
 * What lies outside is a Minkowski sum: the border, widened by a disc that is shifted towards the shaded side, is as thick at
 * each place as the cosine of its direction has it, without ever crossing itself. Borders are those of the ink's pixels, moved
 * by a distance transform, so that the work does not grow with how many strokes lie on each other. Yields what is lacking, and
 * breaths.
 * @returns closed paths; none where nothing is inked.
 */
export function* contourAround(
  ink: InkStore,
  layerIds: readonly string[],
  paper: PaperSize,
  { widthPx, uneven, gapPx }: ContourWays,
): Generator<Pause, ContourLine[]> {
  const level = levelFor(paper);
  const scale = 2 ** level;
  const overlap = Math.min(MOST_OVERLAP_PX, OVERLAP * widthPx);
  const outPx = (widthPx - overlap) / 2;
  const grid = yield* inkedGrid(ink, layerIds, paper, level, gapPx + outPx);
  if (!grid) return [];
  yield* fillInside(grid);
  const half = (gapPx / 2) * scale;
  // Out by half of the gap, where borders meet over it, and back.
  if (half > 0) {
    yield* fillInside(grid, yield* widened(grid, half));
    yield* narrow(grid, half);
  }
  const rim = RIM_PX + outPx * scale;
  const { field, near: beside } = fieldAround(yield* distancesTo(grid), rim);
  // What goes on beyond is cut there.
  eachOnRim(grid, (at) => ([field[at], beside[at]] = [0, 1]));
  const contours = contoursOf(field, beside, grid.width, grid.height, FIELD_LEVEL - 0.5);
  yield [];
  const [sx, sy] = SHADED.map((d) => d * uneven * widthPx);
  const sizePx = widthPx * (1 + uneven) + overlap;
  const near: Nearness = { px: NEAR_PX / scale, radiusPx: NEAR_PX / scale };
  const lines: ContourLine[] = [];
  for (const places of contours) {
    const ring = smoothed(stepped(places.map(([x, y]): Place => [(x + grid.x0) / scale, (y + grid.y0) / scale])));
    // A bay that the line closes by its own width is inside.
    if (ringSize(ring) < 0) continue;
    const radii = radiiAround(ring, (nx, ny) => (widthPx + overlap + nx * sx + ny * sy) / 2);
    for (let i = 0; i < ring.length; i += 2) {
      ring[i] += sx / 2;
      ring[i + 1] += sy / 2;
    }
    lines.push({ bytes: encodePath(fittedRing(ring, sizePx, near, (i) => radii[i])), sizePx });
    yield [];
  }
  return lines;
}

/** The finest level at which all of a paper is few enough pixels. */
function levelFor({ widthPx, heightPx }: PaperSize): number {
  let level = 0;
  while (widthPx * heightPx * 4 ** level > MOST_PX) level--;
  return level;
}

/** The pixels of a level, of the paper and of what lies around it; `inked` is 1 where something lies. */
interface Grid {
  inked: Uint8Array;
  /** Where it begins, px of its level. */
  x0: number;
  y0: number;
  width: number;
  height: number;
}

/** @param aroundPx how far the paper is gone beyond, paper px. @returns undefined where nothing is inked. */
function* inkedGrid(
  ink: InkStore,
  layerIds: readonly string[],
  { widthPx, heightPx }: PaperSize,
  level: number,
  aroundPx: number,
): Generator<Pause, Grid | undefined> {
  const scale = 2 ** level;
  const beyond = BEYOND_PX + Math.ceil(aroundPx * scale);
  const [width, height] = [widthPx, heightPx].map((px) => Math.ceil(px * scale) + 2 * beyond);
  const grid: Grid = { inked: new Uint8Array(width * height), x0: -beyond, y0: -beyond, width, height };
  const work = new RasterWorkspace(width, STRIP);
  const all = layerIds.map((id) => ({ id, opacity: 1 }));
  for (let y = 0; y < height; y += STRIP) {
    const strip = makePixels(-beyond, y - beyond, width, Math.min(STRIP, height - y));
    yield* layParts(strip, all, (id, rect) => ink.drawing(id, level, rect, work, 'exact'));
    for (let i = 3, at = y * width; i < strip.data.length; i += 4, at++) if (strip.data[i] >= SEEN) grid.inked[at] = 1;
    yield [];
  }
  return grid.inked.includes(1) ? grid : undefined;
}

/**
 * Takes all that cannot be reached from the rim without crossing what is inked for inked.
 * @param inked in the place of the grid's own.
 */
function* fillInside(grid: Grid, inked = grid.inked): Generator<Pause, void> {
  const { width } = grid;
  const reached = new Uint8Array(inked.length);
  const queue = new Int32Array(inked.length);
  let count = 0;
  const reach = (at: number) => {
    if (reached[at] || inked[at]) return;
    reached[at] = 1;
    queue[count++] = at;
  };
  eachOnRim(grid, reach);
  for (let n = 0; n < count; n++) {
    const at = queue[n];
    const x = at % width;
    if (x > 0) reach(at - 1);
    if (x + 1 < width) reach(at + 1);
    if (at >= width) reach(at - width);
    if (at + width < inked.length) reach(at + width);
  }
  for (let at = 0; at < reached.length; at++) reached[at] = 1 - reached[at];
  grid.inked = reached;
  yield [];
}

/** Every pixel of a grid's outermost rows and columns. */
function eachOnRim({ width, height }: Grid, does: (at: number) => void): void {
  for (let x = 0; x < width; x++) for (const y of [0, height - 1]) does(y * width + x);
  for (let y = 0; y < height; y++) for (const x of [0, width - 1]) does(y * width + x);
}

/** The squared distance from each pixel outside to the nearest that is inked, middle to middle; 0 inside. */
function* distancesTo({ inked, width, height }: Grid): Generator<Pause, Float32Array> {
  const outside = new Uint8Array(inked.length);
  for (let at = 0; at < inked.length; at++) outside[at] = 1 - inked[at];
  const squared = squaredDistances(outside, width, height);
  yield [];
  return squared;
}

/** What is inked, and all that lies within a distance of it, px. */
function* widened(grid: Grid, by: number): Generator<Pause, Uint8Array> {
  return within(yield* distancesTo(grid), by, 1);
}

/** Leaves of what is inked only what lies further from its border than a distance, px. */
function* narrow(grid: Grid, by: number): Generator<Pause, void> {
  const squared = squaredDistances(grid.inked, grid.width, grid.height);
  yield [];
  grid.inked = within(squared, by, 0);
}

/** Says of each pixel whether it is within a distance: `is` where it is. */
function within(squared: Float32Array, distance: number, is: 0 | 1): Uint8Array {
  const out = new Uint8Array(squared.length);
  // By index, as below: walking by an iterator takes ten times as long.
  for (let at = 0; at < out.length; at++) out[at] = squared[at] <= distance * distance ? is : 1 - is;
  return out;
}

/** A field that passes {@link FIELD_LEVEL} at a distance from what is inked, and is larger within it; and where that is near. */
function fieldAround(squared: Float32Array, distance: number): { field: Uint8Array; near: Uint8Array } {
  const field = new Uint8Array(squared.length);
  const near = new Uint8Array(squared.length);
  for (let at = 0; at < field.length; at++) {
    const by = distance - Math.sqrt(squared[at]);
    field[at] = Math.max(0, Math.min(255, Math.round(FIELD_LEVEL + FIELD_STEPS * by)));
    if (by > -NEAR_BORDER && by < NEAR_BORDER) near[at] = 1;
  }
  return { field, near };
}

/** The corners of a square that a border passes lie no further from it than this, px. */
const NEAR_BORDER = 1.5;

type Place = readonly [x: number, y: number];

/** A ring clockwise on the screen, with points about as far apart as {@link STEP_PX}: those that are nearer say no more. */
function stepped(places: readonly Place[]): Float64Array {
  const out: number[] = [];
  let [lx, ly] = [Infinity, Infinity];
  // What is inked lies at the left hand of a contour: turned round, it goes around as paths here do.
  for (const [x, y] of places.toReversed()) {
    if (Math.hypot(x - lx, y - ly) < STEP_PX && places.length > 12) continue;
    out.push(x, y);
    [lx, ly] = [x, y];
  }
  return Float64Array.from(out);
}

/** Each point between its neighbours, by quarters: what is left of the pixels' steps goes. */
function smoothed(ring: Float64Array): Float64Array {
  const count = ring.length;
  return ring.map((v, i) => (ring[(i + count - 2) % count] + 2 * v + ring[(i + 2) % count]) / 4);
}

/** A radius for each point of a ring that goes around clockwise on the screen, by the direction that it is turned to. */
function radiiAround(ring: Float64Array, radiusFor: (nx: number, ny: number) => number): Float64Array {
  const count = ring.length / 2;
  const reach = Math.min(SEEN_OVER, Math.floor(count / 8));
  return Float64Array.from({ length: count }, (_, i) => {
    // Seen over more than the next points, so that a line does not swell where a pixel stands out.
    let [dx, dy] = [0, 0];
    for (let k = 1; k <= reach + 1; k++) {
      const [a, b] = [2 * ((i + count - k) % count), 2 * ((i + k) % count)];
      dx += ring[b] - ring[a];
      dy += ring[b + 1] - ring[a + 1];
    }
    const length = Math.hypot(dx, dy) || 1;
    return radiusFor(dy / length, -dx / length);
  });
}

/** Points to both sides over which a direction is seen. */
const SEEN_OVER = 5;
