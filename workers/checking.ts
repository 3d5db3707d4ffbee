import type { EdgeChains } from '../core/check/edge-chains';
import { Closing } from '../core/areas/closing';
import type { InkLine } from '../core/areas/ink-line';
import { InkLines } from '../core/areas/ink-lines';
import { foundLeak, type FoundLeak } from '../core/check/found-leak';
import { leaksOf } from '../core/check/leaks';
import { comparing, type Compared, type NearRule } from '../core/check/missed';
import { findThin, type ThinLine } from '../core/check/thin';
import { lettingGo } from './let-go';
import type { TileMaker } from './tile-maker';

/** What is looked for in the ink of some layers. */
export interface CheckWish {
  layerIds: readonly string[];
  /** Gaps up to this are leaks, lines below this are thin, paper px. */
  gapPx: number;
  thinPx: number;
  /** Where there are no leaks, gaps up to this are looked for on their own. */
  widePx: number;
  /** Classes of width that lengths are summed in, px. */
  classesPx: readonly number[];
  /** The edges of the picture, paper px; they are kept under their key, and need to be given once. */
  edges?: { key: string; chains?: EdgeChains; rule: NearRule };
}

export interface Checked {
  leaks: FoundLeak[];
  /** Where there are none: how many gaps are wider, and the widest of them. */
  wider?: { count: number; mostPx: number };
  thin: ThinLine[];
  widths: Float64Array;
  /** Against the edges of the picture, if there is one. */
  compared?: Compared;
  /** How many lines were looked at. */
  lines: number;
}

/** Of the sheet that is open: its lines, and what joins them, kept from edit to edit. */
const kept = new InkLines();
let closing: Closing | undefined;
/** What joins them over wider gaps. */
let wide: Closing | undefined;
/** Of what was asked only the last is answered: tiles are painted in between. */
let asked = 0;
let edges: { key: string; chains: EdgeChains } | undefined;

/** Looks through the ink; lines that have not changed since the last time are there already. In the same later file. */
export async function answerCheck(maker: TileMaker, wish: CheckWish): Promise<Checked | undefined> {
  used();
  const own = ++asked;
  const isWanted = () => own === asked;
  const lines = await maker.run(kept.of(maker.ink, wish.layerIds), isWanted);
  if (!lines) return undefined;
  if (closing?.gapPx !== wish.gapPx) closing = new Closing(wish.gapPx);
  const joined = closing;
  await maker.run(joined.follow(lines), isWanted);
  if (!isWanted()) return undefined;
  const { key, chains, rule } = wish.edges ?? {};
  if (key !== undefined && chains) edges = { key, chains };
  const isKnown = rule && edges && edges.key === key;
  const compared = isKnown ? await maker.run(comparing(lines, edges!.chains, rule), isWanted) : undefined;
  if (!isWanted()) return undefined;
  const leaks = leaksOf(joined).map((leak) => foundLeak(leak, joined.segments.lines));
  const wider = leaks.length || wish.widePx <= wish.gapPx ? undefined : await widerThan(maker, wish, lines, isWanted);
  if (!isWanted()) return undefined;
  return {
    leaks,
    wider,
    ...findThin(lines, wish.thinPx, wish.classesPx),
    compared,
    lines: lines.length,
  };
}

async function widerThan(
  maker: TileMaker,
  { gapPx, widePx }: CheckWish,
  lines: readonly InkLine[],
  isWanted: () => boolean,
): Promise<Checked['wider']> {
  if (wide?.gapPx !== widePx) wide = new Closing(widePx);
  const joined = wide;
  if ((await maker.run(joined.follow(lines), isWanted)) === undefined) return undefined;
  const gaps = leaksOf(joined).flatMap((leak) => (leak.gapPx > gapPx ? leak.gapPx : []));
  return { count: gaps.length, mostPx: Math.max(0, ...gaps) };
}

const used = lettingGo(() => {
  kept.forget();
  closing = wide = undefined;
});
