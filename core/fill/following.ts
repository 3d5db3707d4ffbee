import { OUTSIDE } from '../areas/area-map';
import { grow, overlaps, type Box } from '../geometry/box';
import { apply, IDENTITY, invert, type Matrix } from '../geometry/matrix';
import type { Pour } from '../sheet/entities';
import { grouped } from '../sheet/grouped';
import type { InkStore } from '../sheet/ink-store';
import { BREATH, type Pause } from '../sheet/ink-work';
import type { StrokeRecord } from '../sheet/ink-record';
import type { PaperSize } from '../sheet/paper';
import type { AreaFinder, FoundArea } from './area-finder';
import { ringOf } from './covered';
import { Inside, type Place } from './shape-inside';

/** A part of a layer that has changed, paper px. */
export interface ChangedInk {
  layerId: string;
  box: Box;
}

/** What becomes of a tied pour whose lines have changed. */
export type Followed =
  | { kind: 'shape'; id: string; bytes: Uint8Array; seed: Place }
  /** Its lines enclose it no longer; it stays as it was. */
  | { kind: 'open'; id: string }
  /** A line has parted it: another pour like it, beside it. */
  | { kind: 'part'; like: string; bytes: Uint8Array; seed: Place }
  /** The shape of another pour of its colour is one with its own now. */
  | { kind: 'joined'; id: string };

/** Lines are looked at so far around the shape that was, in parts of it, and px. */
const AROUND = 0.5;
const AROUND_PX = 48;
/** Of a shape beside the main one so much was in the old shape, if it belongs to it. */
const LEAST_SHARED = 0.5;
/** Fewer places than this say nothing about a part. */
const FEWEST_PLACES = 2;

interface Poured {
  record: StrokeRecord;
  pour: Pour;
  inside: Inside;
  places: Place[];
}

/** What the tied pours of some layers become after lines have changed. @param layerIds in their order, bottom first. */
export function* following(
  ink: InkStore,
  finder: AreaFinder,
  paper: PaperSize,
  layerIds: readonly string[],
  changed: readonly ChangedInk[],
): Generator<Pause, Followed[]> {
  const followed: Followed[] = [];
  for (const layerId of layerIds) {
    const all = ink.poursOf(layerId);
    const touched = all.filter((record) => isTouched(record, changed));
    const poured = yield* pouredOf(ink, touched);
    const gone = new Set<string>();
    for (const one of poured) {
      if (gone.has(one.record.stroke.id)) continue;
      for (const result of yield* followOne(ink, finder, paper, one, all)) {
        if (result.kind === 'joined') gone.add(result.id);
        followed.push(result);
      }
    }
  }
  return followed;
}

function isTouched({ stroke, box }: StrokeRecord, changed: readonly ChangedInk[]): boolean {
  const { pour, tied } = stroke;
  if (!pour || !tied) return false;
  const near = grow(box, pour.gapPx + 1);
  return changed.some((change) => pour.against.includes(change.layerId) && overlaps(near, change.box));
}

function* pouredOf(ink: InkStore, records: readonly StrokeRecord[]): Generator<Pause, Poured[]> {
  return (yield* ink.readable(records)).map((record) => ({
    record,
    pour: record.stroke.pour!,
    ...coveredBy(ink, record),
  }));
}

interface Covered {
  matrix: Matrix | undefined;
  inside: Inside;
  places: Place[];
}

/** What pours cover as they are, by their samples. */
const covered = new WeakMap<Uint8Array, Covered>();

function coveredBy(ink: InkStore, record: StrokeRecord): Covered {
  const bytes = record.bytes!;
  const known = covered.get(bytes);
  if (known && known.matrix === record.matrix) return known;
  const inside = new Inside([ringOf(ink.drawable(record, 0, 'exact').spine)]);
  const made = { matrix: record.matrix, inside, places: inside.places() };
  covered.set(bytes, made);
  return made;
}

/** Where a pour was poured, as it lies now. */
const placesOf = ({ stroke: { pour, matrix } }: StrokeRecord): Place[] =>
  (pour?.seeds ?? []).map(([x, y]) => apply(matrix, x, y));

function* followOne(
  ink: InkStore,
  finder: AreaFinder,
  paper: PaperSize,
  one: Poured,
  all: readonly StrokeRecord[],
): Generator<Pause, Followed[]> {
  const { record, pour, inside, places } = one;
  const { id } = record.stroke;
  if (!places.length) return [];
  const { box } = inside;
  const reach = AROUND_PX + pour.gapPx + AROUND * Math.max(box.x1 - box.x0, box.y1 - box.y0);
  const { map, found: areaOf } = yield* finder.within(ink, paper, pour, grow(box, reach));
  const counts = grouped(places, ([x, y]) => map.areaAt(x, y));
  const [main] = [...counts].sort((a, b) => b[1].length - a[1].length)[0];
  // A shape that reaches beyond what was looked at is looked for as far as it goes.
  const first = counts.get(main)![0];
  yield BREATH;
  const found = areaOf(main) ?? (yield* finder.around(ink, paper, pour, ...first));
  if (!found) return open(record);
  yield BREATH;
  const now = found.inside;
  const others = othersIn(now, inside, all, record);
  const isAlike = ({ stroke }: StrokeRecord) => stroke.tied === true && stroke.colour === record.stroke.colour;
  const ranOut = found.reachesEdge && !reachesEdge(box, paper);
  if (ranOut || others.some((other) => !isAlike(other))) return open(record);
  const seed = placesOf(record).find(([x, y]) => now.holds(x, y)) ?? first;
  const shape = finder.shapes.shapeOf(found.rings, seed, record.matrix);
  if (!shape) return open(record);
  const out: Followed[] = others.map(({ stroke }) => ({ kind: 'joined', id: stroke.id }));
  if (pour.isOpen || !sameBytes(shape.bytes, record.bytes))
    out.push({ kind: 'shape', id, bytes: shape.bytes, seed: ownPlace(seed, record.matrix) });
  for (const part of partsOf(counts, main, inside, places.length, areaOf)) {
    const parted = finder.shapes.shapeOf(part.found.rings, part.at, record.matrix);
    const isTaken = all.some((other) => other.stroke.id !== id && holdsSeed(part.found.inside, other));
    if (parted && !isTaken)
      out.push({ kind: 'part', like: id, bytes: parted.bytes, seed: ownPlace(part.at, record.matrix) });
  }
  return out;
}

const open = ({ stroke }: StrokeRecord): Followed[] => (stroke.pour?.isOpen ? [] : [{ kind: 'open', id: stroke.id }]);

const ownPlace = ([x, y]: Place, matrix: Matrix | undefined): Place => apply(invert(matrix ?? IDENTITY), x, y);

/** Other pours of the layer that were poured into what is one shape now, outside of the old one. */
function othersIn(now: Inside, before: Inside, all: readonly StrokeRecord[], own: StrokeRecord): StrokeRecord[] {
  return all.filter((other) => {
    if (other.stroke.id === own.stroke.id || !overlaps(other.box, now.box)) return false;
    return placesOf(other).some(([x, y]) => now.holds(x, y) && !before.holds(x, y));
  });
}

const holdsSeed = (shape: Inside, other: StrokeRecord): boolean => placesOf(other).some(([x, y]) => shape.holds(x, y));

/** Shapes beside the main one that were mostly a part of the old one. */
function partsOf(
  counts: ReadonlyMap<number, readonly Place[]>,
  main: number,
  before: Inside,
  all: number,
  areaOf: (area: number) => FoundArea | undefined,
): { found: FoundArea; at: Place }[] {
  return [...counts].flatMap(([area, held]) => {
    if (area === main || area === OUTSIDE || held.length < FEWEST_PLACES) return [];
    const found = areaOf(area);
    if (!found) return [];
    const own = found.inside.places();
    const shared = own.filter(([x, y]) => before.holds(x, y));
    // What is under the lines anyway is no shape.
    const isSeen = held.length / all > MOST_SLIVER;
    return isSeen && shared.length >= LEAST_SHARED * own.length && shared.length
      ? [{ found, at: shared[Math.floor(shared.length / 2)] }]
      : [];
  });
}

/** A part of so little of the old shape is a sliver between two lines. */
const MOST_SLIVER = 0.01;

const reachesEdge = ({ x0, y0, x1, y1 }: Box, { widthPx, heightPx }: PaperSize): boolean =>
  x0 <= 0 || y0 <= 0 || x1 >= widthPx || y1 >= heightPx;

const sameBytes = (a: Uint8Array, b: Uint8Array | undefined): boolean =>
  b !== undefined && a.length === b.length && a.every((v, i) => v === b[i]);
