import type { Recipe, RecipeKind, RecipeStep } from './recipe';

/** The order in which steps are put in; the artist may change it. */
const ORDER: readonly RecipeKind[] = [
  ...(['crop', 'invert', 'even', 'exposure', 'grey', 'curve'] as const),
  ...(['blur', 'steps', 'edges', 'lift', 'tint'] as const),
];

/** Kinds of which a picture has one at most. */
export type ToneKind = Exclude<RecipeKind, 'crop'>;
export type StepOf<K extends RecipeKind> = Extract<RecipeStep, { kind: K }>;
/** What a step holds beside its id, its kind and whether it is on. */
export type ValuesOf<K extends RecipeKind> = Omit<StepOf<K>, 'id' | 'kind' | 'on'>;

export const stepOf = <K extends RecipeKind>(recipe: Recipe, kind: K): StepOf<K> | undefined =>
  recipe.findLast((step): step is StepOf<K> => step.kind === kind);

/** The recipe with a step set, where it stands or else where its kind belongs; switched on. @param id of a new one. */
export function withStep<K extends ToneKind>(recipe: Recipe, kind: K, values: ValuesOf<K>, id: string): Recipe {
  const known = stepOf(recipe, kind);
  const step = { ...values, kind, on: true, id: (known as RecipeStep | undefined)?.id ?? id } as unknown as RecipeStep;
  if (known) return recipe.map((s) => (s === known ? step : s));
  const rank = ORDER.indexOf(kind);
  const at = recipe.findLastIndex((s) => ORDER.indexOf(s.kind) <= rank) + 1;
  return [...recipe.slice(0, at), step, ...recipe.slice(at)];
}

export const withoutKind = (recipe: Recipe, kind: ToneKind): Recipe => recipe.filter((step) => step.kind !== kind);

/** What is done before a kind of step, or would be: what its histogram shows. */
export function stepsBefore(recipe: Recipe, kind: ToneKind): Recipe {
  const at = recipe.findLastIndex((step) => step.kind === kind);
  if (at !== -1) return recipe.slice(0, at);
  const rank = ORDER.indexOf(kind);
  return recipe.slice(0, recipe.findLastIndex((s) => ORDER.indexOf(s.kind) <= rank) + 1);
}

/** Steps that are set together: kinds with their values, first to last. */
export type ToneSet = readonly (readonly [kind: ToneKind, values: object])[];

/** Such, by what they are good for. */
export const TONE_PRESETS = {
  'separate-shadows': [
    ['grey', {}],
    ['curve', { points: [[0, 0], [0.25, 0.42], [0.55, 0.8], [1, 1]] }],
  ],
  'pencil-page': [
    ['grey', {}],
    ['curve', { points: [[0.25, 0], [0.6, 0.45], [0.8, 1]] }],
  ],
  'dark-photo': [
    ['exposure', { stops: 1.3 }],
    ['curve', { points: [[0, 0], [0.3, 0.38], [0.85, 1]] }],
  ],
} as const satisfies Record<string, ToneSet>; // prettier-ignore
export type TonePreset = keyof typeof TONE_PRESETS;

/** The recipe with its tones as a set has them; crops stay. @param newId gives ids. */
export function withToneSet(recipe: Recipe, set: ToneSet, newId: () => string): Recipe {
  const crops = recipe.filter((step) => step.kind === 'crop');
  return set.reduce<Recipe>(
    (made, [kind, values]) => [...made, { ...values, kind, on: true, id: newId() } as unknown as RecipeStep],
    crops,
  );
}

/** What a recipe does to tones, to be kept and set again: what is switched off is left out. */
export const toneSetOf = (recipe: Recipe): ToneSet =>
  recipe.flatMap(({ id: _id, on, kind, ...values }) => (on && kind !== 'crop' ? [[kind, values] as const] : []));

/** The recipe of the picture as it came, cropped. */
export const asCropped = (recipe: Recipe | null | undefined): Recipe =>
  (recipe ?? []).filter(({ kind }) => kind === 'crop');
