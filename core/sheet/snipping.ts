import { grow, overlaps } from '../geometry/box';
import { isIdentity } from '../geometry/matrix';
import { spineBox, type DrawableStroke } from '../raster/draw-stroke';
import { encodeSamples } from '../stroke/pack-samples';
import { ENGINE, makePen } from '../stroke/pen';
import { SampleRecorder } from '../stroke/samples';
import { partOf, spineFrom, type Spine } from '../stroke/spine';
import type { MeasuredSpine, SampleRange } from '../stroke/spine-maker';
import { directionAt, pointAt } from '../stroke/spine-place';
import { crossings, selfCrossings } from './crossings';
import type { Erasure, Stroke } from './entities';
import { partsOf, removal } from './erasing';
import type { InkStore } from './ink-store';
import type { Pause } from './ink-work';
import type { StrokeRecord } from './ink-record';
import { isErased, nearestOn } from './lines-near';
import { LineRoad } from './line-road';
import { lineAt } from './picking';
import { putRows, type Change } from './steps';

/** What goes of a line, and what is left of it. Lengths are paper px. */
export interface Snip {
  id: string;
  /** The stretches that go, `[x, y, radius, ...]` each. */
  removed: Float32Array[];
  left: LeftPart[];
}

/** A part that stays, with what trims its ends. */
export interface LeftPart extends SampleRange {
  trims: Trim[];
}

/**
 * An even erasure along the line that bounds a part, on the side that goes: the end of the part lies along that line,
 * however wide it is and however it is crossed.
 */
export interface Trim {
  /** `[x, y, ...]` */
  way: Float64Array;
  sizePx: number;
}

/** Records whose samples are asked for at once. */
const PART = 64;
/** An end this close to a line's edge touches it, px. */
const TOUCH_PX = 0.5;
/** A loop that a line makes within so many of its radii is none: it cannot be seen. */
const LOOP_RADII = 4;
/** A part is trimmed along a line that it crosses at a slant as far as this many of its radii. */
const MOST_SLANT = 4;

/** Where something bounds a line: another line, or the line itself elsewhere. */
interface Bound {
  /** Along the line, px. */
  at: number;
  by: Spine;
  /** Along `by`, as a place (see {@link LineRoad}). */
  byPlace: number;
  /** Half the width of `by` there. */
  radius: number;
}

/**
 * What a snip takes away: of each line that is touched the part between the two places where others cross or touch it,
 * or it itself; its loose end; or all of it, where nothing crosses it.
 *
 * @param layerIds layers whose lines can be snipped, topmost first.
 * @param boundIds layers whose lines bound them.
 * @param way where the pen went, `[x, y, ...]` paper px: one place takes the line there, more of them each that it crosses.
 * @param reach how far from the first place a line may be, px.
 */
export function* snipsAlong(
  ink: InkStore,
  layerIds: readonly string[],
  boundIds: readonly string[],
  way: Float64Array,
  reach: number,
): Generator<Pause, Snip[]> {
  const touched = yield* touchedBy(ink, layerIds, way, reach);
  const snips: Snip[] = [];
  for (const { record, line, places } of touched) {
    const road = new LineRoad(line, record.stands);
    const bounds = yield* boundsOf(ink, record, road, boundIds);
    const snip = snipOf(record.stroke.id, road, bounds, places);
    if (snip) snips.push(snip);
  }
  return snips;
}

interface Touched {
  record: StrokeRecord;
  line: MeasuredSpine;
  /** Places along the line. */
  places: number[];
}

function* touchedBy(
  ink: InkStore,
  layerIds: readonly string[],
  way: Float64Array,
  reach: number,
): Generator<Pause, Touched[]> {
  const touched = new Map<string, Touched>();
  const take = (record: StrokeRecord, line: MeasuredSpine, place: number) => {
    const known = touched.get(record.stroke.id);
    if (known) known.places.push(place);
    else touched.set(record.stroke.id, { record, line, places: [place] });
  };
  const id = yield* lineAt(ink, layerIds, way[0], way[1], reach);
  if (id !== undefined)
    for (const record of yield* ink.readable(ink.standing([id]))) {
      if (record.pen.fill) continue;
      const line = ink.measured(record);
      take(record, line, nearestOn(line.spine, way[0], way[1]).place);
    }
  const pen = spineFrom(Array.from({ length: way.length / 2 }, (_, i) => [way[2 * i], way[2 * i + 1], 0]));
  if (pen.count < 2) return [...touched.values()];
  const box = grow(spineBox(pen), TOUCH_PX);
  // To make all of a line costs a thousand times what its box does.
  const legs = Array.from({ length: pen.count - 1 }, (_, i) => grow(spineBox(partOf(pen, i, i + 2)), TOUCH_PX));
  for (const layerId of layerIds) {
    const found = ink.find(layerId, box);
    for (let from = 0; from < found.length; from += PART)
      for (const record of yield* ink.readable(found, from, from + PART)) {
        if (record.pen.fades || record.pen.fill) continue;
        if (!legs.some((leg) => overlaps(leg, record.box))) continue;
        const line = ink.measured(record);
        const { holes } = ink.drawable(record, 0, 'exact');
        for (const { a, ...at } of crossings(line.spine, pen)) if (!isErased(holes, at)) take(record, line, a);
      }
  }
  return [...touched.values()];
}

/** All that bounds a line, along it. */
function* boundsOf(
  ink: InkStore,
  record: StrokeRecord,
  road: LineRoad,
  layerIds: readonly string[],
): Generator<Pause, Bound[]> {
  const bounds = ownBounds(road);
  for (const layerId of layerIds) {
    const found = ink.find(layerId, grow(record.box, TOUCH_PX));
    for (let from = 0; from < found.length; from += PART)
      for (const other of yield* ink.readable(found, from, from + PART)) {
        if (other.pen.fades || other.stroke.id === record.stroke.id) continue;
        const { spine, holes } = ink.drawable(other, 0, 'exact');
        bounds.push(...boundsBy(road, spine, holes));
      }
  }
  return bounds.filter(({ at }) => at >= road.start && at <= road.end).sort((a, b) => a.at - b.at);
}

/** Where another line crosses, or touches with an end. */
function boundsBy(road: LineRoad, by: Spine, holes: DrawableStroke['holes']): Bound[] {
  const bounds: Bound[] = [];
  if (!overlaps(grow(road.box, TOUCH_PX), spineBox(by))) return bounds;
  for (const { a, b, ...at } of crossings(road.line.spine, by))
    if (!isErased(holes, at)) bounds.push({ at: road.lengthAt(a), by, byPlace: b, radius: pointAt(by, b)[2] });
  for (const end of new Set([0, by.count - 1])) {
    const [x, y, r] = by.data.subarray(3 * end, 3 * end + 3);
    const near = nearestOn(road.line.spine, x, y);
    const at = road.lengthAt(near.place);
    const isCrossing = bounds.some((one) => Math.abs(one.at - at) <= road.radiusAt(near.place) + r + TOUCH_PX);
    if (near.gap - r > TOUCH_PX || isCrossing || isErased(holes, { x, y })) continue;
    bounds.push({ at, by, byPlace: end, radius: r });
  }
  return bounds;
}

/** Where a line crosses itself. */
function ownBounds(road: LineRoad): Bound[] {
  const by = road.line.spine;
  return selfCrossings(by).flatMap(({ a, b }) => {
    const [first, second] = [road.lengthAt(a), road.lengthAt(b)];
    const least = LOOP_RADII * road.radiusAt(a);
    // Where a line closes, its ends lie on each other.
    if (second - first < least || first + road.length - second < least) return [];
    return [
      { at: first, by, byPlace: b, radius: pointAt(by, b)[2] },
      { at: second, by, byPlace: a, radius: pointAt(by, a)[2] },
    ];
  });
}

/** A stretch of a line, px along it, with what bounds it. */
interface Stretch {
  from: number;
  to: number;
  low?: Bound;
  high?: Bound;
}

function snipOf(id: string, road: LineRoad, bounds: readonly Bound[], places: readonly number[]): Snip | undefined {
  const gone: Stretch[] = [];
  for (const place of places) {
    const at = road.lengthAt(place);
    if (at >= road.start && at <= road.end) gone.push(...around(road, bounds, at));
  }
  if (!gone.length) return undefined;
  const removed = joined(gone);
  const left: LeftPart[] = [];
  let before: Stretch = { from: road.start, to: road.start };
  for (const next of [...removed, { from: road.end, to: road.end }]) {
    const part = { from: before.to, to: next.from, low: before.high, high: next.low };
    if (part.to > part.from && !isHidden(road, part)) left.push(leftPart(road, part, before, next));
    before = next;
  }
  return { id, removed: removed.map((one) => road.stretch(one.from, one.to)), left };
}

/** The stretch between two bounds that holds a place; of a line that closes, with what it goes on as beyond its ends. */
function around(road: LineRoad, bounds: readonly Bound[], at: number): Stretch[] {
  const low = [...bounds].reverse().find((one) => one.at <= at);
  const high = bounds.find((one) => one.at > at);
  const own = { from: low?.at ?? road.start, to: high?.at ?? road.end, low, high };
  if (!bounds.length || (low && high) || !road.isClosed) return [own];
  const [first, last] = [bounds[0], bounds[bounds.length - 1]];
  return low
    ? [own, { from: road.start, to: first.at, high: first }]
    : [own, { from: last.at, to: road.end, low: last }];
}

/** Stretches in their order, those that meet as one. */
function joined(stretches: readonly Stretch[]): Stretch[] {
  const sorted = [...stretches].sort((a, b) => a.from - b.from || a.to - b.to);
  const out: Stretch[] = [];
  for (const one of sorted) {
    const last = out[out.length - 1];
    if (!last || one.from > last.to) out.push({ ...one });
    else if (one.to > last.to) [last.to, last.high] = [one.to, one.high];
  }
  return out;
}

/** Whether all of a part lies beneath what bounds it. */
function isHidden(road: LineRoad, { from, to, low, high }: Stretch): boolean {
  const caps = (low ? 0 : road.radiusAt(road.placeAt(from))) + (high ? 0 : road.radiusAt(road.placeAt(to)));
  return to - from + caps <= (low?.radius ?? 0) + (high?.radius ?? 0);
}

/** @param before what goes before it, and @param after after it. */
function leftPart(road: LineRoad, { from, to, low, high }: Stretch, before: Stretch, after: Stretch): LeftPart {
  const trims: Trim[] = [];
  const end = (bound: Bound | undefined, at: number, side: 1 | -1, gone: Stretch): number => {
    if (!bound) return road.placeAt(at);
    const slant = slantOf(road, bound);
    // The corners of a straight end lie so far from the middle of what bounds it.
    if (slant.corner <= bound.radius - TOUCH_PX) return road.placeAt(at);
    trims.push(trimOf(road, bound, slant, side));
    // What is left on the other side reaches as far.
    return road.placeAt(at + side * Math.min(slant.beyond, (gone.to - gone.from) / 2));
  };
  return { ...road.range(end(low, from, -1, before), end(high, to, 1, after)), trims };
}

/** How a line is crossed. */
interface Slant {
  /** How far the corners of a straight end are from the middle of what crosses, px. */
  corner: number;
  /** So far beyond the middle an edge of the line still reaches what crosses, along the line, px. */
  beyond: number;
  /** Half of the length of the crossing, along what crosses, px. */
  across: number;
}

function slantOf(road: LineRoad, { at, by, byPlace }: Bound): Slant {
  const place = road.placeAt(at);
  const [dx, dy] = directionAt(road.line.spine, place);
  const [ex, ey] = directionAt(by, byPlace);
  const r = road.radiusAt(place);
  const cos = Math.min(1, Math.abs(dx * ex + dy * ey));
  const sin = Math.max(1e-6, Math.sqrt(1 - cos * cos));
  const most = MOST_SLANT * r;
  return { corner: r * cos, beyond: Math.min(most, (r * cos) / sin) + 1, across: Math.min(most, r / sin) };
}

/** @param side where the part goes on beyond its end: 1, towards the line's end. */
function trimOf(road: LineRoad, { at, by, byPlace }: Bound, { beyond, across }: Slant, side: 1 | -1): Trim {
  const [dx, dy] = directionAt(road.line.spine, road.placeAt(at));
  const [ex, ey] = directionAt(by, byPlace);
  // The eraser's edge goes along the middle of what crosses, and it takes all that lies beyond.
  const radius = road.radiusAt(road.placeAt(at)) + beyond / 2 + 1;
  const turn = -ey * dx + ex * dy >= 0 ? side : -side;
  const points = alongBoth(by, byPlace, across + beyond + radius);
  const way = new Float64Array(points.length * 2);
  points.forEach(([x, y], i) => {
    const [px, py] = points[Math.max(0, i - 1)];
    const [qx, qy] = points[Math.min(points.length - 1, i + 1)];
    const length = Math.hypot(qx - px, qy - py) || 1;
    way[2 * i] = x - (turn * radius * (qy - py)) / length;
    way[2 * i + 1] = y + (turn * radius * (qx - px)) / length;
  });
  return { way, sizePx: 2 * radius };
}

/** The middle of a line on both sides of a place, so far each way; straight on beyond its ends. */
function alongBoth(line: Spine, place: number, reach: number): [number, number][] {
  const { data, count } = line;
  const i = Math.min(count - 1, Math.floor(place));
  const [mx, my] = pointAt(line, place);
  const [ex, ey] = directionAt(line, place);
  const side = (first: number, step: 1 | -1): [number, number][] => {
    const points: [number, number][] = [];
    let [x, y] = [mx, my];
    let [dx, dy] = [step * ex, step * ey];
    let left = reach;
    for (let at = first; at >= 0 && at < count && left > 0; at += step) {
      const [px, py] = [data[3 * at], data[3 * at + 1]];
      const length = Math.hypot(px - x, py - y);
      if (length < 1e-6) continue;
      const part = Math.min(1, left / length);
      [dx, dy] = [(px - x) / length, (py - y) / length];
      [x, y] = [x + part * (px - x), y + part * (py - y)];
      points.push([x, y]);
      left -= length;
    }
    if (left > 0) points.push([x + left * dx, y + left * dy]);
    return points;
  };
  return [...side(place > i ? i : i - 1, -1).reverse(), [mx, my], ...side(i + 1, 1)];
}

/** The places where the hand is said to have been along a trim lie so close, ms: any time will do, its pen is even. */
const STEP_MS = 4;

/**
 * The step of a snip.
 * @param find the strokes as they are; those that have gone meanwhile are passed over.
 * @param newId makes an id for each part and each trim.
 * @returns its changes, and the samples that they bring.
 */
export function snippingChanges(
  snips: readonly Snip[],
  find: (id: string) => Stroke | undefined,
  newId: () => string,
): { changes: Change[]; parts: [string, Uint8Array][] } {
  const parts: [string, Uint8Array][] = [];
  const pieces: Stroke[] = [];
  const erasures: Erasure[] = [];
  const gone: Stroke[] = [];
  for (const { id, left } of snips) {
    const stroke = find(id);
    if (!stroke || stroke.deleted) continue;
    gone.push(stroke);
    const made = partsOf(stroke, left, newId);
    pieces.push(...made);
    left.forEach(({ trims }, i) => {
      for (const trim of trims) {
        const erasure = trimming(trim, made[i], newId());
        erasures.push(erasure);
        parts.push([erasure.id, samplesOfWay(trim.way)]);
      }
    });
  }
  const changes: Change[] = [];
  if (pieces.length) changes.push(putRows('strokes', ...pieces));
  if (erasures.length) changes.push(putRows('erasures', ...erasures));
  if (gone.length) changes.push(removal(gone));
  return { changes, parts };
}

const trimming = ({ sizePx }: Trim, { id: part, layerId, matrix }: Stroke, id: string): Erasure => ({
  id,
  deleted: false,
  layerId,
  pen: makePen('fineliner', sizePx, 0, false, 1),
  engine: ENGINE,
  strokeIds: [part],
  ...(isIdentity(matrix) ? {} : { matrices: { [part]: matrix } }),
});

/** A way as a hand would have gone it. */
function samplesOfWay(way: Float64Array): Uint8Array {
  const recorder = new SampleRecorder(UNIT_LOG2);
  for (let i = 0; i < way.length; i += 2)
    recorder.add({
      x: way[i],
      y: way[i + 1],
      tMs: (i / 2) * STEP_MS,
      pressure: 0.5,
      altitudeDeg: 90,
      azimuthDeg: 0,
    });
  return encodeSamples(recorder.samples());
}

/** To 1/64 px. */
const UNIT_LOG2 = 6;
