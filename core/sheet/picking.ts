import { emptyBox, overlaps, union, type Box } from '../geometry/box';
import type { Loop } from '../geometry/loop';
import type { Matrix } from '../geometry/matrix';
import { decodePlaces, decodeSamples } from '../stroke/codec';
import { emptySamples, type Samples } from '../stroke/samples';
import type { Erasure, Stroke } from './entities';
import type { InkStore, Verdict } from './ink-store';
import type { Pause } from './ink-work';
import type { StrokeRecord } from './ink-record';
import { linesNear, type NearLine } from './lines-near';

/** Records whose samples are asked for at once. */
const PART = 256;

/**
 * The standing lines of layers that lie within a loop, with more than half of their length. Lines whose box the loop does not
 * cross are told by their box alone; of the others the hand's way is looked at, not the line that is made of it, which
 * would take ten times as long.
 */
export function* linesIn(ink: InkStore, layerIds: readonly string[], loop: Loop): Generator<Pause, string[]> {
  const picked: string[][] = [];
  const samples = emptySamples();
  const judge = (box: Box): Verdict => {
    if (loop.crosses(box)) return 'unsure';
    return loop.holds((box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2) ? 'in' : 'out';
  };
  for (const layerId of layerIds) {
    const { ids, unsure } = ink.sift(layerId, loop.box, judge);
    for (let from = 0; from < unsure.length; from += PART)
      for (const record of yield* ink.readable(unsure, from, from + PART))
        if (partWithin(record, decodePlaces(record.bytes!, samples), loop) > 0.5) ids.push(record.stroke.id);
    picked.push(ids);
  }
  return picked.flat();
}

/** A hand's way is looked at in at most so many places. */
const MOST_PLACES = 24;

/** The part of the length of a hand's way that lies within a loop, 0 to 1. */
function partWithin({ stroke, stands }: StrokeRecord, { x, y, count, unitLog2 }: Samples, loop: Loop): number {
  const first = stands ? Math.min(count - 1, Math.floor(stands.from)) : 0;
  const last = stands ? Math.min(count - 1, Math.ceil(stands.to)) : count - 1;
  const perPx = 2 ** unitLog2;
  const step = Math.max(1, (last - first) / MOST_PLACES);
  const [a, b, c, d, e, f] = stroke.matrix;
  let [inside, whole] = [0, 0];
  let [beforeX, beforeY] = [x[first] / perPx, y[first] / perPx];
  for (let at = first + step; ; at += step) {
    const i = Math.min(last, Math.round(at));
    const [px, py] = [x[i] / perPx, y[i] / perPx];
    // A dot has no length, but a place.
    const length = Math.sqrt((px - beforeX) * (px - beforeX) + (py - beforeY) * (py - beforeY)) + 1e-6;
    const [mx, my] = [(px + beforeX) / 2, (py + beforeY) / 2];
    whole += length;
    if (loop.holds(a * mx + c * my + e, b * mx + d * my + f)) inside += length;
    [beforeX, beforeY] = [px, py];
    if (i >= last) return inside / whole;
  }
}

/** What is shown of picked lines: where they lie, and of the first ones their way `[x, y, r, ...]`, paper px. */
export interface PickedShape {
  box: Box;
  lines: Float32Array[];
  /** The ids of all even ones that a device without pressure drew: with another pen they have no pressure to go by. */
  unpressed: string[];
}

/** @param level of the tiles that the screen shows. @param most of how many lines the way is wanted. */
export function* shapeOf(
  ink: InkStore,
  ids: readonly string[],
  level: number,
  most: number,
): Generator<Pause, PickedShape> {
  const records = ink.standing(ids);
  const lines: Float32Array[] = [];
  const unpressed: string[] = [];
  const shown = records.slice(0, most);
  let box = emptyBox();
  for (let from = 0; from < shown.length; from += PART)
    for (const record of yield* ink.readable(shown, from, from + PART)) {
      const { data, count } = ink.drawable(record, level).spine;
      lines.push(Float32Array.from(data.subarray(0, 3 * count)));
    }
  for (const record of records) box = union(box, record.box);
  const even = records.filter(({ pen, stroke }) => pen.widthFrom === 'even' && !stroke.pour);
  for (let from = 0; from < even.length; from += PART)
    for (const record of yield* ink.readable(even, from, from + PART))
      if (!hasPressure(record.bytes!)) unpressed.push(record.stroke.id);
  return { box, lines, unpressed };
}

/** A device without pressure tells the same all along (W3C Pointer Events, "pressure"). */
function hasPressure(bytes: Uint8Array): boolean {
  const { pressure, count } = decodeSamples(bytes);
  for (let i = 1; i + 1 < count; i++) if (pressure[i] !== pressure[0]) return true;
  return false;
}

/**
 * The line at a place: the topmost of those that lie there, or else the nearest within reach, px.
 * @param layerIds topmost first.
 */
export function* lineAt(
  ink: InkStore,
  layerIds: readonly string[],
  x: number,
  y: number,
  reach: number,
): Generator<Pause, string | undefined> {
  let nearest: NearLine | undefined;
  for (const layerId of layerIds) {
    const near = yield* linesNear(ink, layerId, x, y, reach);
    const hit = [...near].reverse().find((line) => line.gap <= 0);
    if (hit) return hit.id;
    for (const line of near) if (!nearest || line.gap < nearest.gap) nearest = line;
  }
  return nearest?.id;
}

/** A place between two lines of a layer; absent: there is none on that side. */
export interface Gap {
  below?: string;
  above?: string;
}

/**
 * Where lines of one layer go that move by one: beyond the next line, up or down, that lies over or under one of them, as far as
 * their boxes tell.
 * @returns undefined: there is none.
 */
export function gapBeyond(ink: InkStore, ids: readonly string[], side: 'up' | 'down'): Gap | undefined {
  const moving = ink.standing(ids);
  if (!moving.length) return undefined;
  const own = new Set(ids);
  const { layerId } = moving[0].stroke;
  const all = ink.ofLayer(layerId).filter((r) => !own.has(r.stroke.id));
  const order = (r: StrokeRecord) => r.stroke.order;
  const edge = side === 'up' ? order(moving[moving.length - 1]) : order(moving[0]);
  const isBeyond = (r: StrokeRecord) => (side === 'up' ? order(r) > edge : order(r) < edge);
  const meets = (r: StrokeRecord) => isBeyond(r) && moving.some((m) => overlaps(m.box, r.box));
  const at = side === 'up' ? all.findIndex(meets) : all.length - 1 - [...all].reverse().findIndex(meets);
  if (!all[at] || !meets(all[at])) return undefined;
  const [below, above] = side === 'up' ? [all[at], all[at + 1]] : [all[at - 1], all[at]];
  return { ...(below ? { below: order(below) } : {}), ...(above ? { above: order(above) } : {}) };
}

/** A line with all that makes it, to be put down again somewhere. */
export interface CopiedLine {
  stroke: Stroke;
  bytes: Uint8Array;
  /** What erases it: `then` is where the line lay when it was erased. */
  erasures: { erasure: Erasure; bytes: Uint8Array; then: Matrix }[];
}

/** Copies of standing lines, first drawn first; those that cannot be read are left out. */
export function* copiesOf(ink: InkStore, ids: readonly string[]): Generator<Pause, CopiedLine[]> {
  const records = ink.standing(ids);
  const copies: CopiedLine[] = [];
  for (let from = 0; from < records.length; from += PART)
    for (const record of yield* ink.readable(records, from, from + PART))
      copies.push({ stroke: record.stroke, bytes: record.bytes!, erasures: ink.erasuresOn(record.stroke.id) });
  return copies;
}
