import { firstSpecks } from '../../core/picture/recipe-bounds';
import { nanoid } from 'nanoid';
import { apply, invert } from '../../core/geometry/matrix';
import type { Recipe } from '../../core/picture/recipe';
import { shownSize } from '../../core/sheet/recipe-placement';
import {
  stepOf,
  stepsBefore,
  withoutKind,
  asCropped,
  withStep,
  withToneSet,
  type ToneKind,
  type ToneSet,
  type ValuesOf,
} from '../../core/picture/recipe-steps';
import { liftStepFor, touchedLift } from '../../core/picture/lift';
import { curveThrough, STRAIGHT } from '../../core/picture/tone-curve';
import { darkestAt, toneAt, type Tones } from '../../core/picture/tones';
import { isPicture, type PictureLayer } from '../../core/sheet/entities';
import { placementMatrix } from '../../core/sheet/placement';
import { assign } from '../../core/sheet/steps';
import { LIGHT_REACH } from './lifting';
import type { SheetSession } from './session';
import type { ShownSheet } from './sheet-drafts';
import { Watched } from './watched';

/** What a touch on the picture says of its tone: what should be shadow, or light; what is paper, or a line. */
export type ToneTouch = 'shadow' | 'light' | 'paper' | 'line';
/** Kinds of steps that are chosen by the tones before them. */
export type MeasuredKind = 'curve' | 'steps' | 'lift';

const withMore = (recipe: Recipe, set: ToneSet): Recipe =>
  set.reduce((made, [kind, values]) => withStep(made, kind, values as ValuesOf<ToneKind>, nanoid()), recipe);

/** Changing a picture's tones: shown while a control moves, one step when it rests. */
export class Toning {
  /** The recipe as it is being changed. */
  readonly draft = new Watched<{ layerId: string; recipe: Recipe } | undefined>(undefined);
  /** The next touch on the picture says what is shadow, or light. */
  readonly touch = new Watched<ToneTouch | undefined>(undefined);
  /** The picture's tones before each of these steps; undefined: not known yet. */
  readonly tones = {
    curve: new Watched<Tones | undefined>(undefined),
    steps: new Watched<Tones | undefined>(undefined),
    lift: new Watched<Tones | undefined>(undefined),
  } satisfies Record<MeasuredKind, unknown>;
  /** The picture is looked at as it came. */
  readonly asItCame = new Watched(false);
  /** Where the picture is parted from how it came, a part of the screen's width; undefined: nowhere. */
  readonly divider = new Watched<number | undefined>(undefined);
  private readonly measured: Partial<Record<MeasuredKind, { key: string; found: Promise<Tones | undefined> }>> = {};

  constructor(
    private readonly session: SheetSession,
    private readonly warn: (text: string) => void,
  ) {
    session.drafts.set('tones', (sheet) => this.toned(sheet));
  }

  /** What is done to a picture, as it is shown now. */
  recipeOf(layer: PictureLayer): Recipe {
    const draft = this.draft.now();
    return draft?.layerId === layer.id ? draft.recipe : (layer.recipe ?? []);
  }

  /** Shows a step with these values; nothing is kept yet. */
  show<K extends ToneKind>(layer: PictureLayer, kind: K, values: ValuesOf<K>): void {
    this.draft.set({ layerId: layer.id, recipe: withStep(this.recipeOf(layer), kind, values, nanoid()) });
    this.display();
  }

  /** Keeps what is shown: one step. */
  async keep(label: string): Promise<void> {
    const draft = this.draft.now();
    if (!draft) return;
    const layer = this.layer(draft.layerId);
    this.draft.set(undefined);
    if (layer) await this.session.act(label, [assign('layers', layer, 'recipe', draft.recipe)]);
  }

  async set<K extends ToneKind>(
    layer: PictureLayer,
    kind: K,
    values: ValuesOf<K> | undefined,
    label: string,
  ): Promise<void> {
    const recipe = this.recipeOf(layer);
    const next = values ? withStep(recipe, kind, values, nanoid()) : withoutKind(recipe, kind);
    this.draft.set({ layerId: layer.id, recipe: next });
    await this.keep(label);
  }

  /** Sets steps together, in the place of all that is done to the tones. */
  async setAll(layer: PictureLayer, set: ToneSet, label: string): Promise<void> {
    this.draft.set({ layerId: layer.id, recipe: withToneSet(this.recipeOf(layer), set, nanoid) });
    await this.keep(label);
  }

  /** Sets several steps at once: one step of the artist's. */
  async setMore(layer: PictureLayer, set: ToneSet, label: string): Promise<void> {
    this.draft.set({ layerId: layer.id, recipe: withMore(this.recipeOf(layer), set) });
    await this.keep(label);
  }

  /** Lifts a page's lines off its paper: its light evened out, paper and lines as they are found. */
  async lift(layer: PictureLayer, isDark = false): Promise<void> {
    const { stage } = this.session;
    const first: ToneSet = [...(isDark ? [['invert', {}] as const] : []), ['even', { reach: LIGHT_REACH }]];
    const before = stepsBefore(withMore(withoutKind(this.recipeOf(layer), 'lift'), first), 'lift');
    const task = stage?.pictureWork.tones({ picture: layer.picture, recipe: before });
    const tones = await task?.result.catch(() => undefined);
    if (!tones) {
      this.giveUp();
      return this.warn('This picture could not be read, so nothing was lifted. It is as it was; try again.');
    }
    const specks = firstSpecks(Math.max(layer.picture.width, layer.picture.height));
    const values = { ...liftStepFor(tones), specks };
    await this.setMore(layer, [...first, ['lift', values]], isDark ? 'Lift light lines' : 'Lift');
  }

  /** Takes the lift away, and the evened light; the rest stays. */
  async unlift(layer: PictureLayer): Promise<void> {
    this.draft.set({ layerId: layer.id, recipe: withoutKind(withoutKind(this.recipeOf(layer), 'lift'), 'even') });
    await this.keep('Not lifted');
  }

  /** Asks for a touch on the picture, or no longer. Paper and lines are touched on the page as it came. */
  ask(what: ToneTouch | undefined): void {
    this.touch.set(what);
    this.display();
  }

  /** Lifts them again, light on dark, or dark on light. */
  async liftAnew(layer: PictureLayer, isDark: boolean): Promise<void> {
    if (!isDark) this.draft.set({ layerId: layer.id, recipe: withoutKind(this.recipeOf(layer), 'invert') });
    await this.lift(layer, isDark);
  }

  /** Gives up what is shown but not kept. */
  giveUp(): void {
    this.draft.set(undefined);
    this.display();
  }

  /** Ends it all: other work begins. */
  drop(): void {
    this.touch.set(undefined);
    this.asItCame.set(false);
    this.part(undefined);
    this.giveUp();
  }

  /** Parts the picture on the screen from how it came, at a part of the screen's width; undefined: not any more. */
  part(at: number | undefined, layer?: PictureLayer): void {
    const { stage } = this.session;
    const now = at === undefined ? undefined : Math.min(0.98, Math.max(0.02, at));
    this.divider.set(now);
    stage?.setDivider(now === undefined || !layer ? undefined : { layerId: layer.id, x: now * stage.size.width });
  }

  /** Shows the picture as it came, cropped, for as long as that is held. */
  lookBefore(on: boolean): void {
    this.asItCame.set(on);
    this.display();
  }

  /** Finds the tones that a step works on, once; undefined: they cannot be had. */
  measure(layer: PictureLayer, kind: MeasuredKind): Promise<Tones | undefined> {
    const { stage } = this.session;
    const recipe = stepsBefore(this.recipeOf(layer), kind);
    const key = `${layer.picture.hash}:${JSON.stringify(recipe)}`;
    const known = this.measured[kind];
    if (!stage || known?.key === key) return known?.found ?? Promise.resolve(undefined);
    const found = stage.pictureWork.tones({ picture: layer.picture, recipe }).result.catch(() => undefined);
    const asked = { key, found };
    this.measured[kind] = asked;
    void found.then((tones) => {
      if (this.measured[kind] !== asked) return;
      if (tones) this.tones[kind].set(tones);
      else this.measured[kind] = undefined;
    });
    return found;
  }

  /** A touch on the picture (paper px): what lies there becomes shadow or light, or is paper or a line. */
  async takeTone(layer: PictureLayer, x: number, y: number): Promise<void> {
    const what = this.touch.now();
    this.ask(undefined);
    const isLift = what === 'paper' || what === 'line';
    const tones = this.tones[isLift ? 'lift' : 'curve'].now();
    if (!what || !tones) return;
    const size = shownSize(layer);
    const [px, py] = apply(invert(placementMatrix(layer.placement, size)), x, y);
    const [u, v] = [px / size.width, py / size.height];
    const tone = what === 'line' ? darkestAt(tones, u, v) : toneAt(tones, u, v);
    if (tone === undefined) return this.warn('That is beside the picture. Touch a place in it.');
    if (isLift) {
      const lift = stepOf(this.recipeOf(layer), 'lift') ?? liftStepFor(tones);
      const values = touchedLift(lift, what, tone);
      return this.set(layer, 'lift', values, what === 'paper' ? 'Paper' : 'Line');
    }
    const points = stepOf(this.recipeOf(layer), 'curve')?.points ?? STRAIGHT;
    const shadow = what === 'shadow' ? tone : points[0][0];
    const light = what === 'light' ? tone : points[points.length - 1][0];
    await this.set(layer, 'curve', { points: curveThrough(shadow, light) }, what === 'shadow' ? 'Shadow' : 'Light');
  }

  private layer(id: string): PictureLayer | undefined {
    const layer = this.session.model.layers.get(id);
    return isPicture(layer) && !layer.deleted ? layer : undefined;
  }

  private display(): void {
    this.session.drafts.refresh();
  }

  private toned({ stack, settings }: ShownSheet): ShownSheet {
    const draft = this.draft.now();
    const isBefore = this.asItCame.now() || ['paper', 'line'].includes(this.touch.now() ?? '');
    if (!draft && !isBefore) return { stack, settings };
    const toned = stack.map((l) => {
      if (!isPicture(l)) return l;
      const recipe = l.id === draft?.layerId ? draft.recipe : (l.recipe ?? []);
      return { ...l, recipe: isBefore ? asCropped(recipe) : recipe };
    });
    return { stack: toned, settings };
  }
}
