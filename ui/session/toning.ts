import { nanoid } from 'nanoid';
import { apply, invert } from '../../core/geometry/matrix';
import type { Recipe } from '../../core/picture/recipe';
import { shownSize } from '../../core/sheet/recipe-placement';
import {
  stepOf,
  stepsBefore,
  withoutKind,
  withPreset,
  withStep,
  type TonePreset,
  type ToneKind,
  type ValuesOf,
} from '../../core/picture/recipe-steps';
import { curveThrough, STRAIGHT } from '../../core/picture/tone-curve';
import { toneAt, type Tones } from '../../core/picture/tones';
import type { ReferenceLayer } from '../../core/sheet/entities';
import { placementMatrix } from '../../core/sheet/placement';
import { assign } from '../../core/sheet/steps';
import type { SheetSession } from './session';
import { Watched } from './watched';

/** What a touch on the picture says of its tone. */
export type ToneTouch = 'shadow' | 'light';

/** Changing a picture's tones: shown while a control moves, one step when it rests. */
export class Toning {
  /** The recipe as it is being changed. */
  readonly draft = new Watched<{ layerId: string; recipe: Recipe } | undefined>(undefined);
  /** The next touch on the picture says what is shadow, or light. */
  readonly touch = new Watched<ToneTouch | undefined>(undefined);
  /** The picture's tones before the curve; undefined: not known yet. */
  readonly tones = new Watched<Tones | undefined>(undefined);
  /** The picture is looked at as it came. */
  readonly asItCame = new Watched(false);
  private tonesOf: string | undefined;

  constructor(
    private readonly session: SheetSession,
    private readonly warn: (text: string) => void,
  ) {}

  /** What is done to a picture, as it is shown now. */
  recipeOf(layer: ReferenceLayer): Recipe {
    const draft = this.draft.now();
    return draft?.layerId === layer.id ? draft.recipe : (layer.recipe ?? []);
  }

  /** Shows a step with these values; nothing is kept yet. */
  show<K extends ToneKind>(layer: ReferenceLayer, kind: K, values: ValuesOf<K>): void {
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
    layer: ReferenceLayer,
    kind: K,
    values: ValuesOf<K> | undefined,
    label: string,
  ): Promise<void> {
    const recipe = this.recipeOf(layer);
    const next = values ? withStep(recipe, kind, values, nanoid()) : withoutKind(recipe, kind);
    this.draft.set({ layerId: layer.id, recipe: next });
    await this.keep(label);
  }

  async setPreset(layer: ReferenceLayer, preset: TonePreset | undefined, label: string): Promise<void> {
    this.draft.set({ layerId: layer.id, recipe: withPreset(this.recipeOf(layer), preset, nanoid) });
    await this.keep(label);
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
    this.giveUp();
  }

  /** Shows the picture as it came, cropped, for as long as that is held. */
  lookBefore(on: boolean): void {
    this.asItCame.set(on);
    this.display();
  }

  /** Finds the tones that the curve works on. */
  async measure(layer: ReferenceLayer): Promise<void> {
    const { stage } = this.session;
    const recipe = stepsBefore(this.recipeOf(layer), 'curve');
    const key = `${layer.picture.hash}:${JSON.stringify(recipe)}`;
    if (!stage || this.tonesOf === key) return;
    this.tonesOf = key;
    const found = await stage.pictureWork.tones({ picture: layer.picture, recipe }).result.catch(() => undefined);
    if (this.tonesOf !== key) return;
    if (found) this.tones.set(found);
    else this.tonesOf = undefined;
  }

  /** A touch on the picture (paper px): what lies there becomes shadow, or light. */
  async takeTone(layer: ReferenceLayer, x: number, y: number): Promise<void> {
    const what = this.touch.now();
    this.touch.set(undefined);
    const tones = this.tones.now();
    if (!what || !tones) return;
    const size = shownSize(layer);
    const [px, py] = apply(invert(placementMatrix(layer.placement, size)), x, y);
    const tone = toneAt(tones, px / size.width, py / size.height);
    if (tone === undefined) return this.warn('That is beside the picture. Touch a place in it.');
    const points = stepOf(this.recipeOf(layer), 'curve')?.points ?? STRAIGHT;
    const shadow = what === 'shadow' ? tone : points[0][0];
    const light = what === 'light' ? tone : points[points.length - 1][0];
    await this.set(layer, 'curve', { points: curveThrough(shadow, light) }, what === 'shadow' ? 'Shadow' : 'Light');
  }

  private layer(id: string): ReferenceLayer | undefined {
    const layer = this.session.model.layers.get(id);
    return layer?.kind === 'reference' && !layer.deleted ? layer : undefined;
  }

  private display(): void {
    const { stage, model } = this.session;
    const draft = this.draft.now();
    const stack = model.stack().map((l) => {
      if (l.kind !== 'reference') return l;
      const recipe = l.id === draft?.layerId ? draft.recipe : (l.recipe ?? []);
      return { ...l, recipe: this.asItCame.now() ? recipe.filter(({ kind }) => kind === 'crop') : recipe };
    });
    stage?.setSheet(stack, model.settings);
  }
}
