import { pieceAt } from '../stroke/value-at';
import { directionAt } from '../stroke/spine-place';
import type { InkStore } from './ink-store';
import type { Pause } from './ink-work';
import type { LineRoad } from './line-road';
import { linesNear, nearestOn } from './lines-near';

/** The way passes into the line over at least the reach, and so many times the distance between them. */
const BLEND_TIMES = 4;
/** The other end of a way may be so many times as far from the line. */
const OTHER_REACH = 2.5;
/** Places of the new stretch lie so close, as a part of the reach. */
const STEP_OF_REACH = 1 / 6;

/** The line that both ends of the way are nearest to, or else one of them. */
export function* lineOf(
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
export interface Detour {
  points: [x: number, y: number][];
  /** Where it leaves the line and comes back to it, px along it; at least one of them. */
  from?: number;
  to?: number;
  /** Of a line that closes: it goes over where the line's own ends lie on each other, so `to` is before `from`. */
  isAcross?: boolean;
}

export function detourOf(road: LineRoad, way: Float64Array, reach: number): Detour | undefined {
  const points = Array.from({ length: way.length / 2 }, (_, i): [number, number] => [way[2 * i], way[2 * i + 1]]);
  const ends = [points[0], points[points.length - 1]].map(([x, y]) => nearestOn(road.line.spine, x, y));
  // A hand that is sure of one end is less so of the other.
  const isAtLine = ends.some(({ gap }) => gap <= reach);
  const [a, b] = ends.map(({ gap, place }) =>
    isAtLine && gap <= OTHER_REACH * reach ? road.within(road.lengthAt(place)) : undefined,
  );
  const turned = () => points.reverse();
  if (a !== undefined && b !== undefined) {
    const [low, high] = [Math.min(a, b), Math.max(a, b)];
    const isAcross = road.isClosed && goesAcross(road, points, low, high);
    const first = isAcross ? high : low;
    return { points: a === first ? points : turned(), from: first, to: isAcross ? low : high, isAcross };
  }
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

/** Whether a way follows the rest of a line that closes, rather than what lies between two lengths. */
function goesAcross(road: LineRoad, points: readonly [number, number][], low: number, high: number): boolean {
  const [mx, my] = points[points.length >> 1];
  const away = (length: number) => {
    const [x, y] = road.pointBeyond(length % road.length);
    return Math.hypot(x - mx, y - my);
  };
  return away((low + high + road.length) / 2) < away((low + high) / 2);
}

/** The first of some points that is as far from the first one as the reach; else the last. */
const farFrom = (points: readonly [number, number][], reach: number): [number, number] =>
  points.find(([x, y]) => Math.hypot(x - points[0][0], y - points[0][1]) >= reach) ?? points[points.length - 1];

/** How far a movement goes along the line, px. */
function along(road: LineRoad, at: number, from: readonly [number, number], to: readonly [number, number]): number {
  const [dx, dy] = directionAt(road.line.spine, road.placeAt(at));
  return dx * (to[0] - from[0]) + dy * (to[1] - from[1]);
}

/** A place of a new stretch, `s` px along it. */
export interface WayPlace {
  at: [x: number, y: number];
  s: number;
}

/** The places of a detour, close to each other, passing smoothly from the line and back. */
export function blended(road: LineRoad, { points, from, to, isAcross }: Detour, reach: number): WayPlace[] {
  const onLine = (length: number) => road.pointBeyond(isAcross ? (length + road.length) % road.length : length);
  const curve = new WayCurve(points);
  const { length } = curve;
  const zone = (where: number | undefined, end: [number, number]): number => {
    if (where === undefined) return 0;
    const [x, y] = onLine(where);
    return Math.min(length / 3, Math.max(reach, BLEND_TIMES * Math.hypot(x - end[0], y - end[1])));
  };
  const [zoneIn, zoneOut] = [zone(from, points[0]), zone(to, points[points.length - 1])];
  const pieces = Math.max(2, Math.ceil(length / Math.max(0.5, reach * STEP_OF_REACH)));
  const places: WayPlace[] = [];
  for (let i = 0; i <= pieces; i++) {
    const s = (length * i) / pieces;
    let at = curve.at(s);
    if (s < zoneIn) at = mixed(onLine(from! + s), at, s / zoneIn);
    if (length - s < zoneOut) at = mixed(onLine(to! - (length - s)), at, (length - s) / zoneOut);
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
  private readonly lengths: Float64Array;

  constructor(private readonly points: readonly [number, number][]) {
    this.lengths = new Float64Array(points.length);
    for (let i = 1; i < points.length; i++)
      this.lengths[i] =
        this.lengths[i - 1] + Math.hypot(points[i][0] - points[i - 1][0], points[i][1] - points[i - 1][1]);
    this.length = this.lengths[points.length - 1];
  }

  at(s: number): [number, number] {
    const { points, lengths } = this;
    const i = pieceAt(lengths, lengths.length, s);
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
