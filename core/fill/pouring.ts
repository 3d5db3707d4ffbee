import { grow, overlaps, type Box } from '../geometry/box';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { StrokeRecord } from '../sheet/ink-record';
import type { PaperSize } from '../sheet/paper';
import { boxOf, type AreaFinder, type Bounds, type FoundArea } from './area-finder';
import { Covered } from './covered';
import { pourShape, type PourShape } from './pour-shape';
import { ringsSize, type Rings } from '../geometry/rings';
import { Inside, type Place } from './shape-inside';

/** What lies where colour is to be poured. */
export interface PourTarget {
  shape: PourShape;
  /** Its borders, paper px: to be shown. */
  rings: Rings;
  /** The pour of the layer that fills this shape already, if one does. */
  pouredId?: string;
  /** It goes out to the paper's edge. */
  reachesEdge: boolean;
  /** Where it lies, paper px. */
  box: Box;
}

/** Shapes between two looks at whether to go on. */
const AT_A_TIME = 50;
/** So much of a shape lies in a pour that is this shape's. */
const LEAST_SHARED = 0.8;
/** And that one is at most so many times as large. */
const MOST_LARGER = 1.5;
/** A shape is like another if it is no more than so many times as large or as small. */
const ALIKE = 1.6;

/** The shape around a place. @param layerId on which it is to be poured. */
export function* pourTarget(
  ink: InkStore,
  finder: AreaFinder,
  paper: PaperSize,
  bounds: Bounds,
  layerId: string | undefined,
  [x, y]: Place,
): Generator<Pause, PourTarget | undefined> {
  const found = yield* finder.around(ink, paper, bounds, x, y);
  return found && (yield* targetIn(ink, found, layerId, [x, y]));
}

/** An area as what is to be poured from a place in it. @param layerId on which it is to be poured. */
export function* targetIn(
  ink: InkStore,
  found: FoundArea,
  layerId: string | undefined,
  at: Place,
): Generator<Pause, PourTarget | undefined> {
  const covered = layerId === undefined ? undefined : yield* Covered.of(ink, [layerId], found.inside.box, isPour);
  return targetOf(found, at, covered);
}

function targetOf(found: FoundArea, seed: Place, covered: Covered | undefined): PourTarget | undefined {
  const { rings, inside, reachesEdge } = found;
  const shape = pourShape(rings, seed);
  if (!shape) return undefined;
  const pouredId = covered && !covered.isEmpty ? pourOf(found, seed, covered) : undefined;
  return { shape, rings, box: inside.box, reachesEdge, ...(pouredId === undefined ? {} : { pouredId }) };
}

const isPour = ({ stroke }: StrokeRecord): boolean => stroke.pour !== undefined;

/** The pour whose shape an area is. */
function pourOf({ rings, inside }: FoundArea, seed: Place, covered: Covered): string | undefined {
  const places = inside.places();
  // The place itself may lie on the border.
  if (!places.length) places.push(seed);
  const record = mostFrequent(places.map(([x, y]) => covered.at(x, y)));
  const shared = places.filter(([x, y]) => covered.at(x, y) === record).length;
  if (!record || shared < LEAST_SHARED * places.length) return undefined;
  return covered.sizeOf(record) <= MOST_LARGER * ringsSize(rings) ? record.stroke.id : undefined;
}

function mostFrequent<T>(values: readonly T[]): T | undefined {
  const counts = new Map<T, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

/** All shapes without colour that are about as large as the one around a place, that one first. */
export function* shapesLike(
  ink: InkStore,
  finder: AreaFinder,
  paper: PaperSize,
  bounds: Bounds,
  layerId: string | undefined,
  at: Place,
): Generator<Pause, PourTarget[]> {
  const own = yield* pourTarget(ink, finder, paper, bounds, layerId, at);
  if (!own) return [];
  const { map, found: areaOf } = yield* finder.within(ink, paper, bounds);
  const covered = yield* Covered.of(ink, layerId === undefined ? [] : [layerId], boxOf(paper), isPour);
  const { size } = own.shape;
  const ownArea = map.areaAt(...at);
  const alike: PourTarget[] = [own];
  for (const area of map.areas()) {
    if (area === ownArea || map.sizeOf(area) / 2 < size / ALIKE) continue;
    const found = areaOf(area)!;
    const other = ringsSize(found.rings);
    if (other < size / ALIKE || other > size * ALIKE) continue;
    const place = found.inside.places().find(([x, y]) => !covered.at(x, y));
    const target = place && targetOf(found, place, covered);
    if (target && target.pouredId === undefined) alike.push(target);
    yield [];
  }
  return alike;
}

/** Of a shape at least this much lies within a loop that means it. */
const MOSTLY = 0.6;

/** The shapes that lie mostly within a loop that was drawn loosely around them; what it cuts into a little is not meant. */
export function* shapesWithin(
  ink: InkStore,
  finder: AreaFinder,
  paper: PaperSize,
  bounds: Bounds,
  layerId: string | undefined,
  loop: Float64Array,
): Generator<Pause, PourTarget[]> {
  const around = new Inside([loop]);
  const { map, found: areaOf } = yield* finder.within(ink, paper, bounds, grow(around.box, 1));
  const covered = layerId === undefined ? undefined : yield* Covered.of(ink, [layerId], around.box, isPour);
  const within: PourTarget[] = [];
  let looked = 0;
  for (const area of map.areas()) {
    const found = areaOf(area);
    if (!found || found.reachesEdge || !overlaps(found.inside.box, around.box)) continue;
    const places = found.inside.places();
    const held = places.filter(([x, y]) => around.holds(x, y));
    if (!held.length || held.length < MOSTLY * places.length) continue;
    const target = targetOf(found, held[0], covered);
    if (target) within.push(target);
    if (++looked % AT_A_TIME === 0) yield [];
  }
  return within;
}
