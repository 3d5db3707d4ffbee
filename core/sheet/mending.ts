import { apply, IDENTITY, invert, lengthScale, type Matrix } from '../geometry/matrix';
import { encodeSamples } from '../stroke/pack-samples';
import { decodeSamples, MAX_SAMPLES } from '../stroke/codec';
import { fittedPath } from '../stroke/fitted-path';
import { encodePath } from '../stroke/pack-path';
import { decodePath, isPath, MOST_NODES } from '../stroke/path';
import { movedPath, splicedPath } from '../stroke/pulls';
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
import { blended, detourOf, lineOf, type Detour, type WayPlace } from './detour';
import type { InkStore } from './ink-store';
import type { Pause } from './ink-work';
import type { StrokeRecord } from './ink-record';
import { LineRoad } from './line-road';
import type { Replacement } from './replacing';
import { spinesTouch } from './touching';

/** A line that takes another way along a part of it; what erases it is what erases what it keeps. */
export interface Mended extends Replacement {
  /** The line that gives way to it. */
  id: string;
  /** The new stretch, `[x, y, radius, ...]` paper px. */
  way: Float32Array;
}

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
  if (!detour) return undefined;
  const places = blended(road, detour, reach);
  const old: OldLine = { record, road, hand: new HandOnLine(decodeSamples(record.bytes!), road, record.matrix) };
  const made = isPath(record.bytes!) ? alongPath(ink, old, detour, places) : alongHand(ink, old, detour, places);
  return made && { id, ...made, erasures: erasuresKept(ink, old, detour) };
}

interface OldLine {
  record: StrokeRecord;
  road: LineRoad;
  hand: HandOnLine;
}

type Made = Pick<Mended, 'bytes' | 'stands' | 'way'>;

/** What erases what is kept of a line. */
function erasuresKept(ink: InkStore, { record, road }: OldLine, { from, to, isAcross }: Detour) {
  const kept = isAcross
    ? [[to!, from!]]
    : [...(from === undefined ? [] : [[road.start, from]]), ...(to === undefined ? [] : [[to, road.end]])];
  const lines = kept.map(([a, b]) => spineOf(road.stretch(a, b)));
  return ink
    .erasuresLying(record)
    .flatMap(({ spine, ...one }) => (lines.some((line) => spinesTouch(line, spine)) ? [one] : []));
}

/** A line that was drawn by hand: samples of the old one, of the way, and of the old one again. */
function alongHand(
  ink: InkStore,
  { record, road, hand }: OldLine,
  detour: Detour,
  places: readonly WayPlace[],
): Made | undefined {
  const old = hand.samples;
  const { from, to, isAcross } = detour;
  const start = isAcross ? Math.min(old.count - 1, Math.ceil(road.sampleOf(to!))) : 0;
  const head = from === undefined ? 0 : Math.floor(road.sampleOf(from)) + 1;
  const tail = to === undefined || isAcross ? old.count : Math.min(old.count - 1, Math.ceil(road.sampleOf(to)));
  const samples = new Appended(Math.max(UNIT_LOG2, old.unitLog2), hand);
  samples.addOld(start, head);
  const first = samples.count;
  samples.addWay(places, hand.along(detour, places[places.length - 1].s));
  const last = samples.count - 1;
  samples.addOld(tail, old.count);
  if (samples.count > MAX_SAMPLES) return undefined;
  const bytes = encodeSamples(samples.samples());
  const stands = standing(record.stands, road, detour, { shift: last + 1 - tail, count: samples.count });
  const made = new LineRoad(ink.measured({ ...record, bytes }), stands);
  const way = made.stretch(made.lengthOfSample(first), made.lengthOfSample(last));
  return { bytes, ...(stands ? { stands } : {}), way };
}

/** Samples that are put together of old ones and of a way, one after the other in time. */
class Appended extends SampleRecorder {
  private tMs = 0;
  private speed = 1;
  private before: readonly [number, number] | undefined;

  constructor(
    unitLog2: number,
    private readonly hand: HandOnLine,
  ) {
    super(unitLog2);
  }

  /** Old samples, `from` to `to` (not included): as they were, later or earlier as a whole. */
  addOld(from: number, to: number): void {
    const { hand } = this;
    if (from >= to) return;
    const shift = this.next(hand.placeOf(from)) - handPointAt(hand.samples, from).tMs;
    for (let i = from; i < to; i++) {
      const point = handPointAt(hand.samples, i);
      this.tMs = point.tMs + shift;
      this.add({ ...point, tMs: this.tMs });
    }
    this.before = hand.placeOf(to - 1);
  }

  addWay(places: readonly WayPlace[], held: ReturnType<HandOnLine['along']>): void {
    const toOwn = invert(this.hand.matrix ?? IDENTITY);
    for (const { at, s } of places) {
      const { speed, ...hand } = held(s);
      this.speed = speed;
      this.tMs = this.next(at);
      const [x, y] = apply(toOwn, at[0], at[1]);
      this.add({ x, y, tMs: this.tMs, ...hand });
      this.before = at;
    }
  }

  /** When the hand is at a place, as fast as it was last. */
  private next([x, y]: readonly [number, number]): number {
    const { before } = this;
    if (!before) return this.tMs;
    const ms = Math.hypot(x - before[0], y - before[1]) / this.speed;
    return this.tMs + Math.min(MOST_MS, Math.max(LEAST_MS, ms));
  }
}

/** A path: the nodes that it keeps, and between them those that the way needs. */
function alongPath(
  ink: InkStore,
  { record, road, hand }: OldLine,
  detour: Detour,
  places: readonly WayPlace[],
): Made | undefined {
  const { from, to, isAcross } = detour;
  const matrix = record.matrix ?? IDENTITY;
  const radius = (record.pen.sizePx / 2) * lengthScale(matrix);
  const held = hand.along(detour, places[places.length - 1].s);
  const way = spineFrom(places.map(({ at: [x, y], s }) => [x, y, radius * held(s).pressure]));
  const old = movedPath(decodePath(record.bytes!), matrix);
  const place = (length: number | undefined) => (length === undefined ? undefined : road.placeOn(length));
  const path = splicedPath(old, fittedPath(way, 2 * radius), { from: place(from), to: place(to), isAcross });
  if (path.nodes.length > MOST_NODES) return undefined;
  const bytes = encodePath(movedPath(path, invert(matrix)));
  const { stands } = record;
  const made = ink.measured({ ...record, bytes });
  const sampleBy = (length: number) => {
    const [x, y] = road.pointBeyond(length);
    return new LineRoad(made).sampleNear(x, y);
  };
  const isCutStart = stands !== undefined && from !== undefined && stands.from > 0;
  const isCutEnd = stands !== undefined && to !== undefined && stands.to < road.line.last;
  const range = {
    from: isCutStart ? sampleBy(road.start) : 0,
    to: isCutEnd ? sampleBy(road.end) : made.last,
  };
  return {
    bytes,
    ...(isCutStart || isCutEnd ? { stands: range } : {}),
    way: Float32Array.from(way.data.subarray(0, 3 * way.count)),
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

/** What the hand did along a line: how hard it pressed, how it held the pen, how fast it went. */
class HandOnLine {
  constructor(
    readonly samples: Samples,
    private readonly road: LineRoad,
    readonly matrix: Matrix | undefined,
  ) {}

  /** Where a sample lies on the paper. */
  placeOf(i: number): [number, number] {
    const { x, y } = handPointAt(this.samples, i);
    return this.matrix ? apply(this.matrix, x, y) : [x, y];
  }

  /** What it does along a detour of some length: what it did along the stretch that the detour replaces. */
  along(
    { from, to, isAcross }: Detour,
    length: number,
  ): (s: number) => Omit<HandPoint, 'x' | 'y' | 'tMs'> & { speed: number } {
    const { road } = this;
    const start = from ?? road.start;
    const end = (to ?? road.end) + (isAcross ? road.length : 0);
    const says = length <= MOST_STRETCH * (end - start);
    const wrapped = (at: number) => (isAcross ? at % road.length : at);
    const typical = this.typicalPressure();
    return (s) => {
      const u = length > 0 ? s / length : 0;
      const sample = Math.min(this.samples.count - 1, Math.round(road.sampleOf(wrapped(start + u * (end - start)))));
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
