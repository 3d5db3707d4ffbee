import { apply, IDENTITY, invert, type Matrix } from '../geometry/matrix';
import { decodeSamples, encodeSamples, MAX_SAMPLES } from '../stroke/codec';
import {
  handPointAt,
  PRESSURE_MAX,
  SampleRecorder,
  TICKS_PER_MS,
  type HandPoint,
  type Samples,
} from '../stroke/samples';
import { spineFrom, type Spine } from '../stroke/spine';
import type { SampleRange } from '../stroke/spine-maker';
import { directionAt } from '../stroke/spine-place';
import type { Erasure, Stroke } from './entities';
import { removal } from './erasing';
import type { InkStore, Pause, StrokeRecord } from './ink-store';
import { LineRoad } from './line-road';
import { linesNear, nearestOn } from './lines-near';
import { putRows, type Change } from './steps';
import { spinesTouch } from './touching';

/** A line that takes another way along a part of it. */
export interface Mended {
  /** The line that gives way to it. */
  id: string;
  bytes: Uint8Array;
  /** What stands of it, where it still has an end that was cut. */
  stands?: SampleRange;
  /** What erases what it keeps of the old line: `then` is where that lay when it was erased. */
  erasures: { erasure: Erasure; bytes: Uint8Array; then: Matrix }[];
  /** The new stretch, `[x, y, radius, ...]` paper px. */
  way: Float32Array;
}

/** The way passes into the line over at least the reach, and so many times the distance between them. */
const BLEND_TIMES = 4;
/** The other end of a way may be so many times as far from the line. */
const OTHER_REACH = 2.5;
/** Samples of the new stretch lie so close, as a part of the reach. */
const STEP_OF_REACH = 1 / 6;
/** A stretch that is replaced by one so many times as long says nothing of how hard the pen was pressed there. */
const MOST_STRETCH = 3;
/** Speeds are looked at over so many samples to each side. */
const SPEED_WINDOW = 3;
/** Between two samples lies no less and no more time, ms. */
const LEAST_MS = 0.25;
const MOST_MS = 40;

/**
 * Draws a part of a line anew: the line that a way begins and ends on takes that way between the two places, joined
 * smoothly, with the widths that it had. Where the way only begins or only ends on it, the line ends, or begins, with it.
 *
 * @param layerIds layers whose lines can be changed, topmost first.
 * @param way where the pen went, `[x, y, ...]` paper px.
 * @param reach how far from a line's edge the way may begin or end, px; the other end of the two may be farther.
 * @returns undefined: neither end is at a line.
 */
export function* mendAlong(
  ink: InkStore,
  layerIds: readonly string[],
  way: Float64Array,
  reach: number,
): Generator<Pause, Mended | undefined> {
  if (way.length < 4) return undefined;
  const id = yield* lineOf(ink, layerIds, way, reach);
  if (id === undefined) return undefined;
  const [record] = yield* ink.readable(ink.standing([id]));
  if (!record) return undefined;
  const road = new LineRoad(ink.measured(record), record.stands);
  const detour = detourOf(road, way, reach);
  return detour && mended(ink, record, road, detour, reach);
}

/** The line that both ends of the way are nearest to, or else one of them. */
function* lineOf(
  ink: InkStore,
  layerIds: readonly string[],
  way: Float64Array,
  reach: number,
): Generator<Pause, string | undefined> {
  let best: { id: string; score: number } | undefined;
  for (const layerId of layerIds) {
    const scores = new Map<string, number>();
    for (const at of [0, way.length - 2])
      for (const { id, gap } of yield* linesNear(ink, layerId, way[at], way[at + 1], reach))
        scores.set(id, (scores.get(id) ?? 4 * reach) + Math.max(0, gap) - 2 * reach);
    // Of two as good ones that which lies on top.
    for (const [id, score] of [...scores].reverse()) if (!best || score < best.score) best = { id, score };
  }
  return best?.id;
}

/** A way from a line and back to it. */
interface Detour {
  points: [x: number, y: number][];
  /** Where it leaves the line and comes back to it, px along it; at least one of them. */
  from?: number;
  to?: number;
}

function detourOf(road: LineRoad, way: Float64Array, reach: number): Detour | undefined {
  const points = Array.from({ length: way.length / 2 }, (_, i): [number, number] => [way[2 * i], way[2 * i + 1]]);
  const ends = [points[0], points[points.length - 1]].map(([x, y]) => nearestOn(road.line.spine, x, y));
  // A hand that is sure of one end is less so of the other.
  const isAtLine = ends.some(({ gap }) => gap <= reach);
  const [a, b] = ends.map(({ gap, place }) =>
    isAtLine && gap <= OTHER_REACH * reach ? road.within(road.lengthAt(place)) : undefined,
  );
  const turned = () => points.reverse();
  if (a !== undefined && b !== undefined)
    return a <= b ? { points, from: a, to: b } : { points: turned(), from: b, to: a };
  if (a !== undefined) {
    const goesOn = along(road, a, points[0], farFrom(points, reach)) >= 0;
    return goesOn ? { points, from: a } : { points: turned(), to: a };
  }
  if (b !== undefined) {
    const goesOn = along(road, b, farFrom([...points].reverse(), reach), points[points.length - 1]) >= 0;
    return goesOn ? { points, to: b } : { points: turned(), from: b };
  }
  return undefined;
}

/** The first of some points that is as far from the first one as the reach; else the last. */
const farFrom = (points: readonly [number, number][], reach: number): [number, number] =>
  points.find(([x, y]) => Math.hypot(x - points[0][0], y - points[0][1]) >= reach) ?? points[points.length - 1];

/** How far a movement goes along the line, px. */
function along(road: LineRoad, at: number, from: readonly [number, number], to: readonly [number, number]): number {
  const [dx, dy] = directionAt(road.line.spine, road.placeAt(at));
  return dx * (to[0] - from[0]) + dy * (to[1] - from[1]);
}

function mended(
  ink: InkStore,
  record: StrokeRecord,
  road: LineRoad,
  detour: Detour,
  reach: number,
): Mended | undefined {
  const old = decodeSamples(record.bytes!);
  const { from, to } = detour;
  const places = blended(road, detour, reach);
  const hand = new HandOnLine(old, road, record.matrix);
  const toOwn = invert(record.matrix ?? IDENTITY);
  const recorder = new SampleRecorder(Math.max(UNIT_LOG2, old.unitLog2));
  const head = from === undefined ? 0 : Math.floor(road.sampleOf(from)) + 1;
  for (let i = 0; i < head; i++) recorder.add(handPointAt(old, i));
  const first = recorder.count;
  let tMs = head > 0 ? old.t[head - 1] / TICKS_PER_MS : 0;
  let before = head > 0 ? hand.placeOf(head - 1) : places[0].at;
  const width = hand.along(detour, places[places.length - 1].s);
  for (const { at, s } of places) {
    const { speed, ...held } = width(s);
    const step = Math.hypot(at[0] - before[0], at[1] - before[1]);
    if (recorder.count > 0) tMs += Math.min(MOST_MS, Math.max(LEAST_MS, step / speed));
    const [x, y] = apply(toOwn, at[0], at[1]);
    recorder.add({ x, y, tMs, ...held });
    before = at;
  }
  const last = recorder.count - 1;
  const tail = to === undefined ? old.count : Math.min(old.count - 1, Math.ceil(road.sampleOf(to)));
  if (tail < old.count) {
    const start = hand.placeOf(tail);
    const gap = Math.hypot(start[0] - before[0], start[1] - before[1]) / width(places[places.length - 1].s).speed;
    const shift = tMs + Math.min(MOST_MS, Math.max(LEAST_MS, gap)) - old.t[tail] / TICKS_PER_MS;
    for (let i = tail; i < old.count; i++) {
      const point = handPointAt(old, i);
      recorder.add({ ...point, tMs: point.tMs + shift });
    }
  }
  if (recorder.count > MAX_SAMPLES) return undefined;
  const bytes = encodeSamples(recorder.samples());
  const stands = standing(record.stands, road, detour, { shift: last + 1 - tail, count: recorder.count });
  const made = new LineRoad(ink.measured({ ...record, bytes }), stands);
  const kept = [
    ...(from === undefined ? [] : [spineOf(road.stretch(road.start, from))]),
    ...(to === undefined ? [] : [spineOf(road.stretch(to, road.end))]),
  ];
  return {
    id: record.stroke.id,
    bytes,
    ...(stands ? { stands } : {}),
    erasures: ink
      .erasuresLying(record)
      .flatMap(({ spine, ...one }) => (kept.some((line) => spinesTouch(line, spine)) ? [one] : [])),
    way: made.stretch(made.lengthOfSample(first), made.lengthOfSample(last)),
  };
}

/** To 1/64 px. */
const UNIT_LOG2 = 6;

const spineOf = (line: Float32Array): Spine =>
  spineFrom(Array.from({ length: line.length / 3 }, (_, i) => [line[3 * i], line[3 * i + 1], line[3 * i + 2]]));

/** What stands of the samples that were made: ends that were cut stay so, unless the way has replaced them. */
function standing(
  stands: SampleRange | undefined,
  road: LineRoad,
  { from, to }: Detour,
  { shift, count }: { shift: number; count: number },
): SampleRange | undefined {
  if (!stands) return undefined;
  const isCutStart = from !== undefined && stands.from > 0;
  const isCutEnd = to !== undefined && stands.to < road.line.last;
  if (!isCutStart && !isCutEnd) return undefined;
  return { from: isCutStart ? stands.from : 0, to: isCutEnd ? stands.to + shift : count - 1 };
}

/** The places of a detour, close to each other, passing smoothly from the line and back; `s`: px along it. */
function blended(road: LineRoad, { points, from, to }: Detour, reach: number): { at: [number, number]; s: number }[] {
  const curve = new WayCurve(points);
  const { length } = curve;
  const zone = (where: number | undefined, end: [number, number]): number => {
    if (where === undefined) return 0;
    const [x, y] = road.pointBeyond(where);
    return Math.min(length / 3, Math.max(reach, BLEND_TIMES * Math.hypot(x - end[0], y - end[1])));
  };
  const [zoneIn, zoneOut] = [zone(from, points[0]), zone(to, points[points.length - 1])];
  const pieces = Math.max(2, Math.ceil(length / Math.max(0.5, reach * STEP_OF_REACH)));
  const places: { at: [number, number]; s: number }[] = [];
  for (let i = 0; i <= pieces; i++) {
    const s = (length * i) / pieces;
    let at = curve.at(s);
    if (s < zoneIn) at = mixed(road.pointBeyond(from! + s), at, s / zoneIn);
    if (length - s < zoneOut) at = mixed(road.pointBeyond(to! - (length - s)), at, (length - s) / zoneOut);
    places.push({ at, s });
  }
  return places;
}

/** From one place to another, beginning and ending without a bend. */
function mixed([ax, ay]: readonly number[], [bx, by]: readonly number[], u: number): [number, number] {
  const w = u * u * (3 - 2 * u);
  return [ax + w * (bx - ax), ay + w * (by - ay)];
}

/** A smooth curve through the places of a hand (Catmull and Rom 1974), walked by the lengths of its chords. */
class WayCurve {
  readonly length: number;
  private readonly lengths: number[] = [0];

  constructor(private readonly points: readonly [number, number][]) {
    for (let i = 1; i < points.length; i++)
      this.lengths.push(
        this.lengths[i - 1] + Math.hypot(points[i][0] - points[i - 1][0], points[i][1] - points[i - 1][1]),
      );
    this.length = this.lengths[points.length - 1];
  }

  at(s: number): [number, number] {
    const { points, lengths } = this;
    let i = 0;
    while (i < points.length - 2 && lengths[i + 1] <= s) i++;
    const step = lengths[i + 1] - lengths[i];
    const u = step > 0 ? Math.min(1, (s - lengths[i]) / step) : 0;
    const p = [-1, 0, 1, 2].map((n) => points[Math.min(points.length - 1, Math.max(0, i + n))]);
    const along = (c: 0 | 1) => {
      const [a, b, e, f] = p.map((point) => point[c]);
      return b + (u / 2) * (e - a + u * (2 * a - 5 * b + 4 * e - f + u * (3 * (b - e) + f - a)));
    };
    return [along(0), along(1)];
  }
}

/** What the hand did along a line: how hard it pressed, how it held the pen, how fast it went. */
class HandOnLine {
  constructor(
    private readonly samples: Samples,
    private readonly road: LineRoad,
    private readonly matrix: Matrix | undefined,
  ) {}

  /** Where a sample lies on the paper. */
  placeOf(i: number): [number, number] {
    const { x, y } = handPointAt(this.samples, i);
    return this.matrix ? apply(this.matrix, x, y) : [x, y];
  }

  /** What it does along a detour of some length: what it did along the stretch that the detour replaces. */
  along({ from, to }: Detour, length: number): (s: number) => Omit<HandPoint, 'x' | 'y' | 'tMs'> & { speed: number } {
    const { road } = this;
    const [start, end] = [from ?? road.start, to ?? road.end];
    const says = length <= MOST_STRETCH * (end - start);
    const typical = this.typicalPressure();
    return (s) => {
      const u = length > 0 ? s / length : 0;
      const sample = Math.min(this.samples.count - 1, Math.round(road.sampleOf(start + u * (end - start))));
      const { pressure, altitudeDeg, azimuthDeg } = handPointAt(this.samples, sample);
      // Far from what is known of it the hand presses as it does most of the time.
      const away = says ? 0 : from === undefined ? 1 - u : to === undefined ? u : 1 - Math.abs(2 * u - 1);
      return {
        pressure: pressure + Math.min(1, 3 * away) * (typical - pressure),
        altitudeDeg,
        azimuthDeg,
        speed: this.speedAt(sample),
      };
    };
  }

  /** Paper px a ms. */
  private speedAt(sample: number): number {
    const { samples } = this;
    const [a, b] = [Math.max(0, sample - SPEED_WINDOW), Math.min(samples.count - 1, sample + SPEED_WINDOW)];
    let px = 0;
    for (let i = a; i < b; i++) {
      const [p, q] = [this.placeOf(i), this.placeOf(i + 1)];
      px += Math.hypot(q[0] - p[0], q[1] - p[1]);
    }
    const ms = (samples.t[b] - samples.t[a]) / TICKS_PER_MS;
    return ms > 0 && px > 0 ? px / ms : 1;
  }

  private typicalPressure(): number {
    const { pressure, count } = this.samples;
    return pressure.slice(0, count).sort()[count >> 1] / PRESSURE_MAX;
  }
}

/**
 * The step of a mend: the line gives way to another in its place.
 * @param newId makes ids for the line and for copies of what erases it.
 */
export function mendingChanges(
  { bytes, stands, erasures }: Pick<Mended, 'bytes' | 'stands' | 'erasures'>,
  stroke: Stroke,
  newId: () => string,
): { changes: Change[]; parts: [string, Uint8Array][] } {
  const id = newId();
  const { stands: _, ...whole } = stroke;
  const line: Stroke = { ...whole, id, ...(stands ? { stands: { samples: id, of: id, ...stands } } : {}) };
  const parts: [string, Uint8Array][] = [[id, bytes]];
  const copies = erasures.map((one): Erasure => {
    const copy = {
      ...one.erasure,
      id: newId(),
      layerId: stroke.layerId,
      strokeIds: [id],
      matrices: { [id]: one.then },
    };
    parts.push([copy.id, one.bytes]);
    return copy;
  });
  const changes: Change[] = [putRows('strokes', line)];
  if (copies.length) changes.push(putRows('erasures', ...copies));
  changes.push(removal([stroke]));
  return { changes, parts };
}
