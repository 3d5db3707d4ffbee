import { z } from 'zod';
import { areaOf, isConvex, type Quad } from '../core/geometry/homography';
import { LEAST_LIFT_SPAN } from '../core/picture/lift';
import { FEWEST_VALUES, MOST_VALUES } from '../core/picture/otsu';
import type { RecipeStep } from '../core/picture/recipe';
import { MOST_BLUR_PX, MOST_EDGE_PX, MOST_SPECKS_PX, MOST_STOPS } from '../core/picture/recipe-bounds';
import { LEAST_APART } from '../core/picture/tone-curve';
import { BLENDS } from '../core/raster/compose';
import {
  INKABLE_KINDS,
  LABEL_ALIGNS,
  LABEL_FONTS,
  MOST_LABEL,
  MOST_SWATCHES,
  type Erasure,
  type Label,
  type Layer,
  type Pour,
  type SheetSettings,
  type Stroke,
} from '../core/sheet/entities';
import { LEAST_SQUARES, MOST_SQUARES } from '../core/sheet/guides';
import { isOrder } from '../core/sheet/orders';
import { paperProblem } from '../core/sheet/paper';
import { isPrintable, MAX_NAME } from '../core/sheet/words';
import { ENGINE, FILLS, LEAST_FLAT, LEAST_OPACITY, PEN_KINDS, WIDTH_SOURCES, type Pen } from '../core/stroke/pen';

/** Words that every object has are no ids: looked up by name, they would be found. */
export const id = z
  .string()
  .regex(/^[A-Za-z0-9_-]{1,40}$/)
  .refine((v) => !(v in {}), 'This id is a word of the language.');
const order = z
  .string()
  .regex(/^[A-Za-z0-9]{1,200}$/)
  .refine(isOrder, 'Nothing can be put beside this place.');
const colour = z.string().regex(/^#[0-9a-f]{6}$/);
const unit = z.number().min(0).max(1);
const name = z.string().min(1).max(MAX_NAME).refine(isPrintable, 'A name has no control characters.');
export const hash = z.string().regex(/^[0-9a-f]{64}$/);

const press = z
  .strictObject({ light: unit, firm: unit, middle: unit })
  .refine(({ light, firm }) => firm - light > 1e-3, 'A nib is full at a firmer pressure than it opens at.');

export const pen = z.strictObject({
  kind: z.enum(PEN_KINDS),
  sizePx: z.number().min(1e-3).max(4000),
  steady: z.number().min(0).max(100),
  widthFrom: z.enum(WIDTH_SOURCES),
  smallest: unit,
  taperInPx: z.number().min(0).max(40000),
  taperOutPx: z.number().min(0).max(40000),
  handScale: z.number().min(1e-4).max(1e4),
  opacity: z.number().min(LEAST_OPACITY).max(1).optional(),
  press: press.optional(),
  speed: unit.optional(),
  taperInPart: unit.optional(),
  taperOutPart: unit.optional(),
  soft: unit.optional(),
  grain: unit.optional(),
  flat: z.number().min(LEAST_FLAT).max(1).optional(),
  nibDeg: z.number().min(0).max(180).optional(),
  turns: z.literal(true).optional(),
  fades: z.literal(true).optional(),
  fill: z.enum(FILLS).optional(),
}) satisfies z.ZodType<Pen>;

/** Farther out than any paper, wherever its picture was moved to. */
const place = z.number().min(-1e7).max(1e7);
const factor = z.number().min(-1e5).max(1e5);
export const matrix = z
  .tuple([factor, factor, factor, factor, place, place])
  .readonly()
  .refine((m) => {
    const area = Math.abs(m[0] * m[3] - m[1] * m[2]);
    return area >= 1e-10 && area <= 1e10;
  }, 'A matrix neither flattens nor scales by more than 100,000.');

export const placement = z.strictObject({
  cx: place,
  cy: place,
  scale: z.number().min(1e-4).max(1e4),
  turnDeg: z.number().min(0).max(360),
  mirrored: z.boolean(),
});

const flags = { visible: z.boolean(), locked: z.boolean(), deleted: z.boolean() };
const layerBase = { id, name, order, opacity: unit, ...flags, parent: id.nullable().optional() };
const laid = { ...layerBase, blend: z.enum(BLENDS).nullable().optional() };
const inkable = { ...laid, inside: z.boolean().nullable().optional() };
const folded = z.boolean().nullable();
/** Corners of a crop, parts of the picture: they may lie a little beyond it, and go around without a dent. */
const part = z.number().min(-1).max(2);
const corner = z.tuple([part, part]).readonly();
const corners = z
  .tuple([corner, corner, corner, corner])
  .readonly()
  .refine((quad) => isConvex(quad) || isConvex(quad.toReversed() as unknown as Quad), 'Corners go around.')
  .refine((quad) => areaOf(quad) > 1e-8, 'Corners hold something.');
/** Points of a curve rise from left to right: two over each other would have no curve between them. */
const curvePoints = z
  .array(z.tuple([unit, unit]).readonly())
  .min(2)
  .max(16)
  .refine((points) => points.every(([x], i) => i === 0 || x - points[i - 1][0] >= LEAST_APART / 2), 'Points rise.');
const thresholds = z
  .array(unit)
  .min(FEWEST_VALUES - 1)
  .max(MOST_VALUES - 1)
  .refine((rising) => rising.every((t, i) => i === 0 || t > rising[i - 1]), 'Thresholds rise.');
const cropPx = z.number().int().min(1).max(30000);
const recipeStep = z.discriminatedUnion('kind', [
  z.strictObject({ id, on: z.boolean(), kind: z.literal('crop'), corners, width: cropPx, height: cropPx }),
  z.strictObject({ id, on: z.boolean(), kind: z.literal('grey') }),
  z.strictObject({
    id,
    on: z.boolean(),
    kind: z.literal('exposure'),
    stops: z.number().min(-MOST_STOPS).max(MOST_STOPS),
  }),
  z.strictObject({ id, on: z.boolean(), kind: z.literal('curve'), points: curvePoints }),
  z.strictObject({ id, on: z.boolean(), kind: z.literal('invert') }),
  z.strictObject({ id, on: z.boolean(), kind: z.literal('tint'), colour, amount: unit }),
  z.strictObject({ id, on: z.boolean(), kind: z.literal('blur'), px: z.number().min(0).max(MOST_BLUR_PX) }),
  z.strictObject({ id, on: z.boolean(), kind: z.literal('steps'), thresholds, amount: unit }),
  z.strictObject({
    id,
    on: z.boolean(),
    kind: z.literal('edges'),
    px: z.number().min(0).max(MOST_EDGE_PX),
    sensitivity: unit,
    amount: unit,
  }),
  z.strictObject({ id, on: z.boolean(), kind: z.literal('even'), reach: unit }),
  z
    .strictObject({
      id,
      on: z.boolean(),
      kind: z.literal('lift'),
      paper: unit,
      line: unit,
      keep: unit,
      specks: z.number().min(0).max(MOST_SPECKS_PX),
    })
    .refine(({ paper, line }) => paper - line >= LEAST_LIFT_SPAN / 2, 'Paper is lighter than a line.'),
]) satisfies z.ZodType<RecipeStep>;
const MOST_RECIPE_STEPS = 40;
const recipe = z.array(recipeStep).max(MOST_RECIPE_STEPS);

const picture = z.strictObject({ hash, width: z.number().int().positive(), height: z.number().int().positive() });
const onPicture = { recipe: recipe.nullable().optional(), placement };
const onReference = {
  ...onPicture,
  veil: unit.nullable().optional(),
  beside: z.boolean().nullable().optional(),
};
export const layer = z.discriminatedUnion('kind', [
  z.strictObject({
    ...layerBase,
    kind: z.literal('reference'),
    picture,
    ...onReference,
  }),
  z.strictObject({ ...laid, kind: z.literal('lifted'), picture, ...onPicture }),
  z.strictObject({ ...inkable, kind: z.literal('rough') }),
  z.strictObject({ ...inkable, kind: z.literal('ink') }),
  z.strictObject({ ...inkable, kind: z.literal('colour') }),
  z.strictObject({ ...laid, kind: z.literal('text') }),
  z.strictObject({ ...laid, kind: z.literal('group'), folded: folded.optional() }),
]) satisfies z.ZodType<Layer>;

const MOST_SAMPLES = 1e7;
/** A range of samples. The largest number is only a bound: what lies beyond the last sample is the end of the stroke. */
const stands = z
  .strictObject({ samples: id, of: id, from: z.number().min(0).max(MOST_SAMPLES), to: z.number().max(MOST_SAMPLES) })
  .refine(({ from, to }) => from < to, 'What stands of a stroke begins before it ends.');

const MOST_SEEDS = 64;
const pour = z.strictObject({
  seeds: z
    .array(z.tuple([place, place]).readonly())
    .min(1)
    .max(MOST_SEEDS)
    .readonly(),
  gapPx: z.number().min(0).max(400),
  against: z.array(id).max(5000).readonly(),
  shape: id.optional(),
  isOpen: z.literal(true).optional(),
}) satisfies z.ZodType<Pour>;

const label = z.strictObject({
  text: z
    .string()
    .min(1)
    .max(MOST_LABEL)
    .refine((text) => text.split('\n').every(isPrintable), 'A label has no control characters.'),
  font: z.enum(LABEL_FONTS),
  align: z.enum(LABEL_ALIGNS),
  spacing: z.number().min(0.5).max(4),
  box: z.tuple([place, place, place, place]).readonly(),
  isOutline: z.literal(true).optional(),
  shape: id.optional(),
}) satisfies z.ZodType<Label>;

export const stroke = z.strictObject({
  id,
  deleted: z.boolean(),
  layerId: id,
  order,
  colour,
  pen,
  matrix,
  engine: z.number().int().min(1).max(ENGINE),
  stands: stands.optional(),
  group: id.nullable().optional(),
  pour: pour.optional(),
  tied: z.boolean().optional(),
  label: label.optional(),
}) satisfies z.ZodType<Stroke>;

export const erasure = z.strictObject({
  id,
  deleted: z.boolean(),
  layerId: id,
  pen,
  strokeIds: z.array(id).max(200000),
  matrices: z.record(id, matrix).optional(),
  engine: z.number().int().min(1).max(ENGINE),
}) satisfies z.ZodType<Erasure>;

const nib = z.number().min(1e-3).max(4000);

const guides = z.strictObject({
  kind: z.enum(['thirds', 'squares', 'perspective']),
  squares: z.number().int().min(LEAST_SQUARES).max(MOST_SQUARES),
  points: z
    .array(z.tuple([place, place]))
    .min(1)
    .max(3),
});

export const paper = z
  .strictObject({ widthPx: z.number(), heightPx: z.number(), ppi: z.number() })
  .superRefine((value, ctx) => {
    const problem = paperProblem(value);
    if (problem) ctx.addIssue({ code: 'custom', message: problem });
  });

export const frame = z.tuple([z.number().min(1e-5).max(1e5), place, place]);

export const settings = z.strictObject({
  id: z.literal('sheet'),
  paperColour: colour,
  hush: unit,
  scaffoldingShown: z.boolean(),
  veil: unit,
  target: id.nullable(),
  nibs: z.tuple([nib, nib, nib, nib]),
  guides: guides.nullable().optional(),
  paper: paper.optional(),
  frame: frame.nullable().optional(),
  swatches: z
    .array(z.strictObject({ id, colour, name: name.optional() }))
    .max(MOST_SWATCHES)
    .nullable()
    .optional(),
}) satisfies z.ZodType<SheetSettings>;

/** The schema of each changeable field, by table: a step's values are checked against these. */
export const FIELD_SCHEMAS: Record<string, Record<string, z.ZodType>> = {
  sheet: settings.shape,
  layers: { ...inkable, ...onReference, folded, kind: z.enum(INKABLE_KINDS) },
  strokes: stroke.shape,
  erasures: erasure.shape,
};
