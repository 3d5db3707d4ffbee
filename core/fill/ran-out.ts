import type { InkLine } from '../areas/ink-line';
import { foundLeak, type FoundLeak } from '../check/found-leak';
import { leakOf } from '../check/leaks';
import { ringsLength, ringsSize, type Rings } from '../geometry/rings';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { PaperSize } from '../sheet/paper';
import type { AreaFinder, Bounds, FoundArea } from './area-finder';
import { shapesWithin, targetIn, type PourTarget } from './pouring';
import { Inside, type Place } from './shape-inside';

/** A shape that colour was meant for, and the gaps through which it runs out of it. */
export interface RanOut {
  /** The shape, were they closed. */
  target: PourTarget;
  /** The widest first. */
  leaks: FoundLeak[];
}

/** Neither makes the other begin anew. */
export interface Finders {
  near: AreaFinder;
  /** For wider gaps than those that are closed. */
  wide: AreaFinder;
}

/** Colour floods if it reaches the paper's edge, or covers so much of the paper. */
const FLOOD_PART = 0.1;
/** And is so many times as large as the shape that it ran out of: twice, if it reaches the edge. */
const MANY_TIMES = 4;
const TWICE = 2;
/** A shape that is open has so few gaps, which are no more than so much of its border (no source: judged by eye). */
const MOST_GAPS = 4;
const MOST_OPEN = 0.25;
/** Gaps are looked for that are so many times as wide as those before, up to the widest of all. */
const WIDER = 3;
/** A place that sees the paper's edge on so many of its sides lies in no shape. */
const RAYS = 32;
const MOST_SEEN = RAYS / 4;

/** What would be poured at a place. */
export interface Flooded {
  at: Place;
  reachesEdge: boolean;
  /** px2. */
  size: number;
}

/**
 * The shape that colour at a place was meant for, if it runs out of one.
 * @param widePx gaps are looked for up to this.
 * @returns undefined: it does not flood, or there is no such shape.
 */
export function* ranOut(
  ink: InkStore,
  { near, wide }: Finders,
  paper: PaperSize,
  bounds: Bounds,
  layerId: string | undefined,
  { at, reachesEdge, size }: Flooded,
  widePx: number,
): Generator<Pause, RanOut | undefined> {
  if (!floods({ reachesEdge, size }, paper)) return undefined;
  const flood = yield* near.around(ink, paper, bounds, ...at);
  if (!flood || liesInTheOpen(at, flood.lines)) return undefined;
  const most = size / (reachesEdge ? TWICE : MANY_TIMES);
  for (const gapPx of stepsOf(bounds.gapPx, widePx)) {
    const wider = { ...bounds, gapPx };
    const found = yield* wide.around(ink, paper, wider, ...at);
    if (!found || ringsSize(found.rings) > most) continue;
    const leaks = leaksOf(found, bounds.gapPx);
    if (!leaks) continue;
    const target = yield* targetIn(ink, found, layerId, at);
    if (target) return { target, leaks };
  }
  return undefined;
}

/** The shapes within a loop that are open. @param closed the borders of those that are not. */
export function* ranOutWithin(
  ink: InkStore,
  { wide }: Pick<Finders, 'wide'>,
  paper: PaperSize,
  bounds: Bounds,
  layerId: string | undefined,
  loop: Float64Array,
  closed: readonly Rings[],
  widePx: number,
): Generator<Pause, RanOut[]> {
  const taken = closed.map((rings) => new Inside(rings));
  const found: RanOut[] = [];
  for (const gapPx of stepsOf(bounds.gapPx, widePx)) {
    const wider = { ...bounds, gapPx };
    const targets = yield* shapesWithin(ink, wide, paper, wider, layerId, loop);
    for (const target of targets) {
      const { seed } = target.shape;
      if (taken.some((one) => one.holds(...seed))) continue;
      const area = yield* wide.around(ink, paper, wider, ...seed);
      const leaks = area && leaksOf(area, bounds.gapPx);
      if (!leaks) continue;
      found.push({ target, leaks });
      taken.push(area.inside);
    }
  }
  return found;
}

/**
 * How wide the gaps are that are looked for, one after the other: where wide ones are closed, lines are joined that belong
 * to nothing, so the narrowest that closes a shape is the one that was left open.
 */
function stepsOf(gapPx: number, widePx: number): number[] {
  const steps: number[] = [];
  for (let px = WIDER * gapPx; px < widePx; px *= WIDER) steps.push(px);
  return widePx > gapPx ? [...steps, widePx] : steps;
}

/** Whether colour would cover so much that it may have run out of a shape. */
export const floods = ({ reachesEdge, size }: Omit<Flooded, 'at'>, { widthPx, heightPx }: PaperSize): boolean =>
  reachesEdge || size > FLOOD_PART * widthPx * heightPx;

/** The gaps of a shape that are open now; undefined: there are none, or so many that it is no shape. */
function leaksOf({ gaps, lines, rings }: FoundArea, closedPx: number): FoundLeak[] | undefined {
  const open = gaps()
    .filter(({ gap }) => gap > closedPx)
    .sort((a, b) => b.gap - a.gap);
  const sum = open.reduce((px, { gap }) => px + gap, 0);
  if (!open.length || open.length > MOST_GAPS || sum > MOST_OPEN * ringsLength(rings)) return undefined;
  // No line of anyone's ends at the paper's edge itself.
  if (open.some(({ end }) => !lines[end.line].id)) return undefined;
  const about = { runsOut: true, areaPx: ringsSize(rings) };
  return open.map((gap) => foundLeak(leakOf(gap, lines, about), lines));
}

/** Whether a place sees the paper's edge on many sides. */
function liesInTheOpen(at: Place, lines: readonly InkLine[]): boolean {
  let seen = 0;
  for (let k = 0; k < RAYS; k++) {
    const angle = (2 * Math.PI * k) / RAYS;
    const [dx, dy] = [Math.cos(angle), Math.sin(angle)];
    if (!lines.some((line) => line.id !== '' && isMetBy(at, dx, dy, line))) seen++;
  }
  return seen > MOST_SEEN;
}

/** Whether a ray meets a line. */
function isMetBy([x, y]: Place, dx: number, dy: number, { data, count }: InkLine): boolean {
  for (let i = 0; i + 1 < count; i++) {
    const [ax, ay] = [data[3 * i] - x, data[3 * i + 1] - y];
    const [bx, by] = [data[3 * i + 3] - x, data[3 * i + 4] - y];
    // To which side of the ray both ends lie.
    const [a, b] = [dx * ay - dy * ax, dx * by - dy * bx];
    if (a > 0 === b > 0) continue;
    const u = a / (a - b);
    if (dx * (ax + u * (bx - ax)) + dy * (ay + u * (by - ay)) > 0) return true;
  }
  return false;
}
