import { InkLines } from '../core/areas/ink-lines';
import { AreaFinder, type Bounds } from '../core/fill/area-finder';
import { contourAround, type ContourLine, type ContourWays } from '../core/fill/contour';
import { Covered } from '../core/fill/covered';
import { following, type ChangedInk, type Followed } from '../core/fill/following';
import { pourTarget, shapesLike, shapesWithin, type PourTarget } from '../core/fill/pouring';
import type { Place } from '../core/fill/shape-inside';
import { unfilledShapes, type UnfilledShape } from '../core/fill/unfilled';
import type { PaperSize } from '../core/sheet/paper';
import { calmly } from './calmly';
import type { TileMaker } from './tile-maker';

/** What is asked about colour. `layerId`: where it is to be poured, if that layer is there already. */
export type ColourAsk =
  | { what: 'target'; bounds: Bounds; layerId?: string; at: Place }
  | { what: 'alike'; bounds: Bounds; layerId?: string; at: Place }
  /** The shapes within a loop `[x, y, ...]`. */
  | { what: 'within'; bounds: Bounds; layerId?: string; loop: Float64Array }
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
/** They are let go once nothing was asked for so long: they hold several KB a line. */
const KEPT_MS = 60_000;
let letGo: ReturnType<typeof setTimeout> | undefined;
let asked = 0;
let followed = 0;

function forget(): void {
  for (const kept of [lines, near, all]) kept.forget();
}

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
  const { ink } = maker;
  clearTimeout(letGo);
  letGo = setTimeout(forget, KEPT_MS);
  switch (ask.what) {
    case 'target':
      return maker.run(pourTarget(ink, near, paper, ask.bounds, ask.layerId, ask.at));
    case 'alike':
      return maker.run(shapesLike(ink, all, paper, ask.bounds, ask.layerId, ask.at));
    case 'within':
      return maker.run(shapesWithin(ink, near, paper, ask.bounds, ask.layerId, ask.loop));
    case 'unfilled': {
      const own = ++asked;
      return maker.run(calmly(unfilledShapes(ink, all, paper, ask.bounds, ask), isCalm), () => own === asked);
    }
    case 'follow': {
      const own = ++followed;
      return maker.run(calmly(following(ink, near, paper, ask.layerIds, ask.changed), isCalm), () => own === followed);
    }
    case 'leave-off':
      followed++;
      return undefined;
    case 'contour':
      return maker.run(contourAround(ink, ask.layerIds, paper, ask.ways));
    case 'colour-at': {
      const [x, y] = ask.at;
      const covered = await maker.run(Covered.of(ink, ask.layerIds, { x0: x - 1, y0: y - 1, x1: x + 1, y1: y + 1 }));
      return covered?.at(x, y)?.stroke.colour;
    }
  }
}
