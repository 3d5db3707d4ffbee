import { InkLines } from '../core/areas/ink-lines';
import { AreaFinder, type Bounds } from '../core/fill/area-finder';
import { contourAround, type ContourLine, type ContourWays } from '../core/fill/contour';
import { Covered } from '../core/fill/covered';
import { following, type ChangedInk, type Followed } from '../core/fill/following';
import { pourTarget, shapesLike, shapesWithin, type PourTarget } from '../core/fill/pouring';
import { ranOut, ranOutWithin, type Flooded, type RanOut } from '../core/fill/ran-out';
import type { Place } from '../core/fill/shape-inside';
import { unfilledShapes, type UnfilledShape } from '../core/fill/unfilled';
import type { Rings } from '../core/geometry/rings';
import { inTurn } from '../core/in-turn';
import type { InkStore } from '../core/sheet/ink-store';
import type { Pause } from '../core/sheet/ink-work';
import type { PaperSize } from '../core/sheet/paper';
import { lettingGo } from './let-go';
import { calmly } from './resting';
import type { TileMaker } from './tile-maker';

/** What is asked about colour. `layerId`: where it is to be poured, if that layer is there already. */
export type ColourAsk =
  | { what: 'target'; bounds: Bounds; layerId?: string; at: Place }
  | { what: 'alike'; bounds: Bounds; layerId?: string; at: Place }
  /** The shapes within a loop `[x, y, ...]`. */
  | { what: 'within'; bounds: Bounds; layerId?: string; loop: Float64Array }
  /** The shape that colour at a place runs out of, if it does; gaps of at most `widePx` are looked for. */
  | { what: 'ran-out'; bounds: Bounds; layerId?: string; flooded: Flooded; widePx: number }
  /** The shapes within a loop that are open; `closed`: the borders of those that are not. */
  | {
      what: 'ran-out-within';
      bounds: Bounds;
      layerId?: string;
      loop: Float64Array;
      closed: readonly Rings[];
      widePx: number;
    }
  | { what: 'unfilled'; bounds: Bounds; colourIds: readonly string[]; inkIds: readonly string[] }
  | { what: 'follow'; layerIds: readonly string[]; changed: readonly ChangedInk[] }
  /** What is being followed is not wanted any more. */
  | { what: 'leave-off' }
  /** Thick lines around all that lies on some layers. */
  | { what: 'contour'; layerIds: readonly string[]; ways: ContourWays }
  /** The colour of the ink at a place of some layers, bottom first; none: nothing lies there. */
  | { what: 'colour-at'; layerIds: readonly string[]; at: Place };

export interface ColourAnswers {
  target: PourTarget | undefined;
  alike: PourTarget[];
  within: PourTarget[];
  'ran-out': RanOut | undefined;
  'ran-out-within': RanOut[] | undefined;
  /** Undefined: something newer was asked. */
  unfilled: UnfilledShape[] | undefined;
  /** Undefined: it was left off. */
  follow: Followed[] | undefined;
  'leave-off': undefined;
  contour: ContourLine[];
  'colour-at': string | undefined;
}

const lines = new InkLines();
/** One for what is touched and one for all the paper: neither makes the other begin anew. */
const [near, all] = [new AreaFinder(lines), new AreaFinder(lines)];
/** For wider gaps than those that are closed; asked in turn with what is touched. */
const wide = new AreaFinder(lines);
/** Each is asked one thing after the other: what it keeps would change under the one that waits. */
const [nearTurn, allTurn] = [inTurn(), inTurn()];
const used = lettingGo(() => [lines, near, all, wide].forEach((kept) => kept.forget()));
/** Of these only the last is answered. */
const asked = { unfilled: 0, follow: 0, 'ran-out': 0 };

/**
 * Answers what is asked about colour. In a file that comes later: no first stroke waits for it.
 * @param isCalm false while the screen waits for something: what nobody waits for rests meanwhile.
 */
export async function answerColour(
  maker: TileMaker,
  paper: PaperSize,
  ask: ColourAsk,
  isCalm: () => boolean = () => true,
): Promise<unknown> {
  used();
  switch (ask.what) {
    case 'target':
    case 'alike':
    case 'within':
      // The hand waits for this.
      asked.follow++;
      asked['ran-out']++;
      return nearTurn(() => maker.run(foundFor(maker.ink, paper, ask)));
    case 'ran-out':
    case 'ran-out-within': {
      const isLast = latest('ran-out');
      return nearTurn(() => maker.run(runningOut(maker.ink, paper, ask), isLast));
    }
    case 'unfilled': {
      const isLast = latest('unfilled');
      const unfilled = () => unfilledShapes(maker.ink, all, paper, ask.bounds, ask);
      return allTurn(() => lastOnly(maker, isCalm, isLast, unfilled));
    }
    case 'follow': {
      const isLast = latest('follow');
      const follow = () => following(maker.ink, near, paper, ask.layerIds, ask.changed);
      return nearTurn(() => lastOnly(maker, isCalm, isLast, follow));
    }
    case 'leave-off':
      asked.follow++;
      return undefined;
    case 'contour':
      return maker.run(contourAround(maker.ink, ask.layerIds, paper, ask.ways));
    case 'colour-at': {
      const [x, y] = ask.at;
      const around = { x0: x - 1, y0: y - 1, x1: x + 1, y1: y + 1 };
      const covered = await maker.run(Covered.of(maker.ink, ask.layerIds, around));
      return covered?.at(x, y)?.stroke.colour;
    }
  }
}

function latest(what: keyof typeof asked): () => boolean {
  const own = ++asked[what];
  return () => own === asked[what];
}

/** @returns undefined: something newer was asked. */
async function lastOnly<T>(
  maker: TileMaker,
  isCalm: () => boolean,
  isLast: () => boolean,
  work: () => Generator<Pause, T>,
): Promise<T | undefined> {
  return isLast() ? maker.run(calmly(work(), isCalm), isLast) : undefined;
}

function foundFor(
  ink: InkStore,
  paper: PaperSize,
  ask: Extract<ColourAsk, { what: 'target' | 'alike' | 'within' }>,
): Generator<Pause, PourTarget | PourTarget[] | undefined> {
  if (ask.what === 'target') return pourTarget(ink, near, paper, ask.bounds, ask.layerId, ask.at);
  if (ask.what === 'alike') return shapesLike(ink, near, paper, ask.bounds, ask.layerId, ask.at);
  return shapesWithin(ink, near, paper, ask.bounds, ask.layerId, ask.loop);
}

function runningOut(
  ink: InkStore,
  paper: PaperSize,
  ask: Extract<ColourAsk, { what: 'ran-out' | 'ran-out-within' }>,
): Generator<Pause, RanOut | RanOut[] | undefined> {
  const { bounds, layerId, widePx } = ask;
  if (ask.what === 'ran-out') return ranOut(ink, { near, wide }, paper, bounds, layerId, ask.flooded, widePx);
  return ranOutWithin(ink, { wide }, paper, bounds, layerId, ask.loop, ask.closed, widePx);
}
