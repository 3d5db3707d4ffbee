import type { EdgeChains } from '../../core/check/edge-chains';
import type { MeantPart } from '../../core/check/meant-part';
import { apply, compose, scaling, type Matrix } from '../../core/geometry/matrix';
import { isLocked, isVisible } from '../../core/sheet/layer-tree';
import type { ReferenceLayer } from '../../core/sheet/entities';
import { activeSteps, type Recipe } from '../../core/picture/recipe';
import { placementMatrix } from '../../core/sheet/placement';
import { shownSize } from '../../core/sheet/recipe-placement';
import { lengthInPx, mmToPx, type PaperSize } from '../../core/sheet/paper';
import { isTooLarge } from '../../core/sheet/step-size';
import { putRows, type Assign } from '../../core/sheet/steps';
import { LINE_WIDTHS_MM } from '../../core/stroke/line-widths';
import { restyled } from '../../core/stroke/restyle';
import type { FoundLeak } from '../../core/check/found-leak';
import { bringNear } from '../canvas/bring-near';
import type { Checked } from '../../workers/checking';
import { bridgesOver, shutWords } from './bridging';
import { lineCount, tooMany } from './pickable';
import { sizeWords } from './size-words';
import type { SheetSession, WayBack } from './session';
import { Watched } from './watched';

/** What is looked for. */
export const FINDERS = ['missed', 'off', 'leaks', 'thin'] as const;
export type Finder = (typeof FINDERS)[number];

/** Paper px. */
export interface CheckDials {
  gapPx: number;
  thinPx: number;
  /** Ink so near to an edge of the picture is that edge's. */
  nearPx: number;
  /** Of the picture's edges: 0 to 1, more finds fainter ones. */
  sensitivity: number;
}

/** Something found, as it is listed and marked. */
export interface Finding {
  x: number;
  y: number;
  words: string;
  /** The stretch that is meant, `[x, y, ...]`. */
  points?: Float64Array;
}

/** Hairlines under 0.09 mm are unsafe in print (common practice, no source). */
const THIN_MM = 0.09;
/** A thin line becomes so much wider than it has to be: what rounds down is not thin again. */
const ENOUGH = 1.03;
const GAP_MM = 0.7;
/** Gaps are looked for up to this, and up to so many px. */
const WIDE_MM = 5;
export const MOST_GAP_PX = 80;
/** A hand inks an edge about so exactly; a stretch that is told is some times as long. */
const NEAR_MM = 1;
const LEAST_NEARS = 4;
/** Of a screen less than this a line is lost, whatever the print says: half a pixel is half a grey. */
const THIN_PX = 0.5;
const TOLD_AFTER_MS = 400;
/** After an edit, until it is looked through again. */
const AFTER_MS = 120;

/** Gaps are looked for up to this, px. */
export const widestGapPx = ({ ppi }: Pick<PaperSize, 'ppi'>): number => Math.min(MOST_GAP_PX, mmToPx(WIDE_MM, ppi));

export const firstCheckDials = ({ ppi }: Pick<PaperSize, 'ppi'>): CheckDials => ({
  gapPx: Math.max(4, mmToPx(GAP_MM, ppi)),
  thinPx: Math.max(THIN_PX, Math.round(20 * lengthInPx(THIN_MM, ppi)) / 20),
  nearPx: Math.max(4, mmToPx(NEAR_MM, ppi)),
  sensitivity: 0.4,
});

const NO_PART: MeantPart = { loops: [], ways: [] };

/** What is found in the ink, up to date a moment after each edit as long as someone looks. */
export class Checking {
  readonly dials: Watched<CheckDials>;
  readonly found = new Watched<Checked | undefined>(undefined);
  readonly finder = new Watched<Finder | undefined>(undefined);
  /** The finding that is looked at, from 0. */
  readonly at = new Watched(0);
  /** What is found is being looked for. */
  readonly busy = new Watched(false);
  /** The part of the work on the picture that is done, where it takes long. */
  readonly progress = new Watched<number | undefined>(undefined);
  /** Only that is held against the picture; undefined: all of it. */
  readonly part = new Watched<MeantPart | undefined>(undefined);
  /** The next drag over the paper adds to it: what lies within, or what is painted over. */
  readonly marking = new Watched<'loop' | 'paint' | undefined>(undefined);
  private edges: { key: string; chains: EdgeChains } | undefined;
  private listed: { found: Checked; finder: Finder; list: readonly Finding[] } | undefined;
  /** The edges that the worker has. */
  private given: string | undefined;
  private task: { key: string; stop(): void } | undefined;
  private soon: ReturnType<typeof setTimeout> | undefined;
  private asked = 0;
  private readonly done = new WeakSet<object>();
  private ending: (() => void)[] = [];

  constructor(
    private readonly session: SheetSession,
    private readonly say: (text: string, wayBack?: WayBack) => void,
    private readonly warn: (text: string) => void,
  ) {
    this.dials = new Watched(firstCheckDials(session.paper));
  }

  /** Looks, and looks again after each edit. @returns ends it. */
  begin(): () => void {
    void this.look();
    this.ending.push(this.session.stage?.watchInk(() => this.lookSoon()) ?? (() => undefined));
    return () => {
      clearTimeout(this.soon);
      this.busy.set(false);
      for (const end of this.ending.splice(0)) end();
      this.task?.stop();
      this.task = undefined;
      this.progress.set(undefined);
      this.marking.set(undefined);
    };
  }

  /** Up to this gaps are looked for where there are none up to the dial's. */
  get widePx(): number {
    return widestGapPx(this.session.paper);
  }

  turn(change: Partial<CheckDials>): void {
    this.dials.set({ ...this.dials.now(), ...change });
    this.lookSoon();
  }

  /** What lies within a loop `[x, y, ...]` is meant, too; paper px. */
  loopPart(xy: Float64Array): void {
    const { loops, ways } = this.part.now() ?? NO_PART;
    this.marking.set(undefined);
    this.setPart({ loops: [...loops, xy], ways });
  }

  /** What was painted over is meant, too; more may follow. */
  paintPart(xy: Float64Array, radiusPx: number): void {
    const { loops, ways } = this.part.now() ?? NO_PART;
    this.setPart({ loops, ways: [...ways, { xy, radiusPx }] });
  }

  /** All of the picture is meant again. */
  allOfIt(): void {
    this.marking.set(undefined);
    this.setPart(undefined);
  }

  private setPart(part: MeantPart | undefined): void {
    this.part.set(part);
    this.at.set(0);
    void this.look();
  }

  lookSoon(): void {
    clearTimeout(this.soon);
    this.busy.set(true);
    this.soon = setTimeout(() => void this.look(), AFTER_MS);
  }

  private async look(): Promise<void> {
    const { session } = this;
    const asked = ++this.asked;
    const { layers } = session.model;
    const shown = session.model.stack().filter((layer) => layer.kind === 'ink' && isVisible(layer, layers));
    this.busy.set(true);
    const { gapPx, thinPx, nearPx } = this.dials.now();
    const rule = { nearPx, leastPx: LEAST_NEARS * nearPx, part: this.part.now() };
    const edges = this.edgesNow();
    const wish = {
      gapPx,
      thinPx,
      widePx: this.widePx,
      layerIds: shown.map(({ id }) => id),
      classesPx: widthClasses(session.paper),
      edges: edges && { ...(this.given === edges.key ? { key: edges.key } : edges), rule },
    };
    const found = await session.client.check(wish).catch(() => null);
    // An edit or a dial has been quicker: what comes then is newer.
    if (asked !== this.asked) return;
    this.busy.set(false);
    if (found && edges) this.given = edges.key;
    if (found === null) return this.warn('The ink could not be looked through now: a part of it cannot be fetched. It is looked for again after the next edit.'); // prettier-ignore
    if (!found) return;
    // While the picture is looked through anew, what was found against it before stays.
    const before = this.found.now()?.compared;
    this.found.set(this.task && !edges ? { ...found, compared: before } : found);
    this.at.set(Math.max(0, Math.min(this.at.now(), this.findings().length - 1)));
  }

  /** The topmost picture that is shown under the ink; what is inked is held against it. */
  picture(): ReferenceLayer | undefined {
    const { model } = this.session;
    return model.stack().findLast((layer): layer is ReferenceLayer => layer.kind === 'reference' && !layer.beside && isVisible(layer, model.layers)); // prettier-ignore
  }

  /** The picture's edges as they lie on the paper; looked for where they are not known, and then all is looked through again. */
  private edgesNow(): { key: string; chains: EdgeChains } | undefined {
    const layer = this.picture();
    const { stage } = this.session;
    if (!layer || !stage) return undefined;
    const { picture, placement } = layer;
    const recipe = activeSteps(layer.recipe) as Recipe;
    const { sensitivity } = this.dials.now();
    const key = JSON.stringify([picture.hash, placement, recipe, sensitivity]);
    if (this.edges?.key === key) return this.edges;
    if (this.task?.key === key) return undefined;
    this.task?.stop();
    const began = performance.now();
    const asked = stage.pictureWork.edges({ picture, recipe }, sensitivity, (part) => {
      if (this.task === task && performance.now() - began > TOLD_AFTER_MS) this.progress.set(part);
    });
    const task = { key, stop: () => asked.stop() };
    this.task = task;
    const done = () => {
      if (this.task !== task) return false;
      this.task = undefined;
      this.progress.set(undefined);
      return true;
    };
    asked.result.then(
      (found) => {
        if (!done() || !found) return;
        const onPaper = compose(placementMatrix(placement, shownSize(layer)), scaling(1 / found.scale));
        this.edges = { key, chains: onto(found.edges, onPaper) };
        void this.look();
      },
      () => done() && this.warn('The picture could not be looked through. It is looked for again after the next edit.'),
    );
    return undefined;
  }

  choose(finder: Finder): void {
    const isOn = this.finder.now() === finder;
    this.finder.set(isOn ? undefined : finder);
    this.at.set(0);
  }

  /** What the chosen finder has found, the worst first. */
  findings(): readonly Finding[] {
    const found = this.found.now();
    const finder = this.finder.now();
    if (!found || !finder) return [];
    // Asked at every frame while the page moves.
    if (this.listed?.found !== found || this.listed.finder !== finder)
      this.listed = { found, finder, list: this.list(found, finder) };
    return this.listed.list;
  }

  private list(found: Checked, finder: Finder): readonly Finding[] {
    if (finder === 'leaks') return found.leaks.map((leak) => this.leakFound(leak));
    if (finder === 'thin') return found.thin.map((thin) => ({ x: thin.x, y: thin.y, words: this.thinWords(thin) }));
    if (finder === 'missed')
      return (found.compared?.missed ?? []).map(({ x, y, lengthPx, points }) => ({
        ...{ x, y, points },
        words: `${this.size(lengthPx)} of an edge without ink`,
      }));
    return (found.compared?.off ?? []).map(({ x, y, meanPx, mostPx, layerId }) => ({
      ...{ x, y },
      words: `${this.size(meanPx)} off in the mean, ${this.size(mostPx)} here, on ${this.nameOf(layerId)}`,
    }));
  }

  /** How many each finder has found; undefined: not known yet, or there is no picture to hold against. */
  count(finder: Finder): number | undefined {
    const found = this.found.now();
    if (finder === 'leaks' || finder === 'thin') return found?.[finder].length;
    return found?.compared?.[finder].length;
  }

  private nameOf(layerId: string): string {
    return this.session.model.layers.get(layerId)?.name ?? '';
  }

  private leakFound(leak: FoundLeak): Finding {
    const [a, b] = [this.nameOf(leak.layerId), this.nameOf(leak.otherLayerId)];
    const where = a === b ? `on ${a}` : `between ${a} and ${b}`;
    const runs = leak.runsOut ? 'colour would run out of the shape' : 'two shapes would run together';
    return { x: leak.x, y: leak.y, words: `${this.size(leak.gapPx)} ${where}: ${runs}` };
  }

  private thinWords({ layerId, widthPx, lengthPx }: Checked['thin'][number]): string {
    return `${this.size(widthPx)} wide for ${Math.round(lengthPx)} px, on ${this.nameOf(layerId)}`;
  }

  /** A length in px, and in mm of the paper. */
  size(px: number): string {
    return sizeWords(px, this.session.paper);
  }

  /** Goes to a finding, around at both ends: it lies in the middle, near enough to be seen. */
  goTo(at: number): void {
    const findings = this.findings();
    const { stage } = this.session;
    if (!findings.length || !stage) return;
    const n = ((at % findings.length) + findings.length) % findings.length;
    this.at.set(n);
    const { x, y } = findings[n];
    const { thinPx, nearPx } = this.dials.now();
    const finder = this.finder.now();
    const gap = finder === 'leaks' ? this.found.now()!.leaks[n].gapPx : finder === 'thin' ? thinPx : 2 * nearPx;
    bringNear(stage, x, y, gap);
  }

  /** Of findings those that nothing was done about yet: a second tap comes before they are looked for again. */
  private undone<T extends object>(findings: readonly T[]): T[] {
    const undone = findings.filter((finding) => !this.done.has(finding));
    for (const finding of undone) this.done.add(finding);
    return undone;
  }

  /** Closes leaks by lines of the layer and colour that the loose end has, in one step. */
  async bridge(leaks: readonly FoundLeak[]): Promise<void> {
    const { strokes, parts, shut } = bridgesOver(this.session, this.undone(leaks));
    if (shut) this.warn(shutWords(shut));
    if (!strokes.length) return;
    const changes = [putRows('strokes', ...strokes)];
    if (isTooLarge(changes, parts)) return this.warn(tooMany(strokes.length));
    await this.session.act(strokes.length === 1 ? 'Bridge' : `Bridge ${strokes.length} gaps`, changes, { parts });
    if (strokes.length > 1) this.say(`${lineCount(strokes.length)} drawn over gaps. Undo takes all of them back.`);
  }

  /** Makes the thin lines as wide as they have to be, each by as much as it lacks, in one step. */
  async bolder(ids: readonly string[]): Promise<void> {
    const { model } = this.session;
    const thin = (this.found.now()?.thin ?? []).filter(({ id }) => ids.includes(id));
    const factors = new Map(this.undone(thin).map(({ id, factor }) => [id, factor]));
    let shut = 0;
    const strokes = ids.flatMap((id) => {
      const stroke = model.strokes.get(id);
      const layer = stroke && model.layers.get(stroke.layerId);
      if (!stroke || !layer || !factors.has(id)) return [];
      const stays = isLocked(layer, model.layers);
      if (stays) shut++;
      return stays ? [] : [stroke];
    });
    if (shut) this.warn(`${lineCount(shut)} ${shut === 1 ? 'lies' : 'lie'} on a locked layer and stayed as thin. Unlock it in the stack first.`); // prettier-ignore
    if (!strokes.length) return;
    const pens = strokes.map(({ id, pen }) => restyled(pen, { sizeFactor: factors.get(id)! * ENOUGH }, true));
    const change: Assign = { op: 'set', table: 'strokes', field: 'pen', ids: strokes.map(({ id }) => id), before: strokes.map(({ pen }) => pen), after: pens } as Assign; // prettier-ignore
    if (isTooLarge([change], [])) return this.warn(tooMany(strokes.length));
    await this.session.act(`Bolder: ${lineCount(strokes.length)}`, [change]);
  }
}

/** The classes of width that lengths are summed in: between the steps of the ladder of ISO 128-2, px. */
export const widthClasses = ({ ppi }: Pick<PaperSize, 'ppi'>): number[] =>
  LINE_WIDTHS_MM.map((mm) => lengthInPx(mm, ppi));

/** Chains in px of a picture as they lie on the paper. */
function onto({ points, starts }: EdgeChains, matrix: Matrix): EdgeChains {
  const moved = new Float32Array(points.length);
  for (let i = 0; i < points.length; i += 2) moved.set(apply(matrix, points[i], points[i + 1]), i);
  return { points: moved, starts };
}
