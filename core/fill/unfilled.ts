import { OUTSIDE, type AreaMap } from '../areas/area-map';
import { type Rings, ringsSize } from '../geometry/rings';
import type { LineSegments } from '../areas/line-segments';
import { widestRadius } from '../areas/ink-line';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { PaperSize } from '../sheet/paper';
import { boxOf, type AreaFinder, type Bounds } from './area-finder';
import { Covered } from './covered';
import { pourShape } from './pour-shape';
import { Inside, type Place } from './shape-inside';

/** A small closed shape without colour, beside one that has some. */
export interface UnfilledShape {
  /** Where it can be seen. */
  x: number;
  y: number;
  bytes: Uint8Array;
  /** The pour beside it, along the most of its border. */
  besideId: string;
}

/** A shape is small up to this part of the paper. */
const SMALL_PART = 0.004;
/** So much of what is seen of it has no colour. */
const LEAST_BARE = 0.6;
/** Less than this beyond the lines' edges cannot be seen, px. */
const LEAST_SEEN_PX = 0.4;
/** A small shape is looked at on so many lines across it. */
const SMALL_ROWS = 9;
/** Shapes between two looks at whether to go on, and listed at most. */
const AT_A_TIME = 200;
export const MOST_UNFILLED = 999;

/**
 * Small closed shapes that were left without colour beside coloured ones: easily missed, and told as they are.
 * @param layers of colour, where all covers, and of ink, where only what is filled does.
 */
export function* unfilledShapes(
  ink: InkStore,
  finder: AreaFinder,
  paper: PaperSize,
  bounds: Bounds,
  { colourIds, inkIds }: { colourIds: readonly string[]; inkIds: readonly string[] },
): Generator<Pause, UnfilledShape[]> {
  const covers = new Set(colourIds);
  const covered = yield* Covered.of(ink, [...colourIds, ...inkIds], boxOf(paper), ({ pen, stroke }) => pen.fill !== undefined || covers.has(stroke.layerId)); // prettier-ignore
  if (covered.isEmpty) return [];
  const { map } = yield* finder.within(ink, paper, bounds);
  const widest = widestRadius(map.segments.lines);
  const most = SMALL_PART * paper.widthPx * paper.heightPx;
  const found: UnfilledShape[] = [];
  let looked = 0;
  for (const area of map.areas()) {
    if (map.sizeOf(area) / 2 > most) continue;
    if (++looked % AT_A_TIME === 0) yield [];
    const rings = map.ringsOf(area);
    if (rings[0].length < 6) continue;
    const seen = seenIn(rings, map.segments, widest);
    if (!seen.length) continue;
    const bare = seen.filter(([x, y]) => !covered.at(x, y));
    if (bare.length < LEAST_BARE * seen.length) continue;
    const besideId = colourBeside(map, area, covered);
    const shape = besideId === undefined ? undefined : pourShape(rings, bare[0]);
    if (besideId === undefined || !shape) continue;
    const [x, y] = bare[Math.floor(bare.length / 2)];
    found.push({ x, y, bytes: shape.bytes, besideId });
    if (found.length === MOST_UNFILLED) break;
  }
  return found;
}

/** Places of a shape that no line covers. */
function seenIn(rings: Rings, segments: LineSegments, widest: number): Place[] {
  const places = ringsSize(rings) > 0 ? new Inside(rings).places(SMALL_ROWS) : [];
  return places.filter(([x, y]) => !segments.hasInk(x, y, LEAST_SEEN_PX, widest));
}

/** The pour beside an area, along the most of its border. */
function colourBeside(map: AreaMap, area: number, covered: Covered): string | undefined {
  const beside = [...map.besides(area)].sort((a, b) => b[1] - a[1]);
  for (const [other] of beside) {
    if (other === OUTSIDE) continue;
    for (const [x, y] of new Inside(map.ringsOf(other)).places(SMALL_ROWS)) {
      const record = covered.at(x, y);
      if (record?.stroke.pour) return record.stroke.id;
      if (record) break;
    }
  }
  return undefined;
}
