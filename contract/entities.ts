import { z } from 'zod';
import type { Erasure, Layer, SheetSettings, Stroke } from '../core/sheet/entities';
import { PEN_KINDS, WIDTH_SOURCES, type Pen } from '../core/stroke/pen';

export const id = z.string().regex(/^[A-Za-z0-9_-]{1,40}$/);
const order = z.string().regex(/^[A-Za-z0-9]{1,200}$/);
const colour = z.string().regex(/^#[0-9a-f]{6}$/);
const unit = z.number().min(0).max(1);
const name = z.string().min(1).max(120);
export const hash = z.string().regex(/^[0-9a-f]{64}$/);

export const pen = z.strictObject({
  kind: z.enum(PEN_KINDS),
  sizePx: z.number().positive().max(4000),
  steady: z.number().min(0).max(100),
  widthFrom: z.enum(WIDTH_SOURCES),
  smallest: unit,
  taperInPx: z.number().min(0).max(40000),
  taperOutPx: z.number().min(0).max(40000),
  handScale: z.number().positive().max(1e4),
}) satisfies z.ZodType<Pen>;

const matrix = z.tuple([z.number(), z.number(), z.number(), z.number(), z.number(), z.number()]).readonly();

export const placement = z.strictObject({
  cx: z.number(),
  cy: z.number(),
  scale: z.number().positive().max(1e4),
  turnDeg: z.number().min(0).max(360),
  mirrored: z.boolean(),
});

const layerBase = { id, name, order, visible: z.boolean(), locked: z.boolean(), opacity: unit, deleted: z.boolean() };
export const layer = z.discriminatedUnion('kind', [
  z.strictObject({
    ...layerBase,
    kind: z.literal('reference'),
    picture: z.strictObject({ hash, width: z.number().int().positive(), height: z.number().int().positive() }),
    placement,
  }),
  z.strictObject({ ...layerBase, kind: z.literal('rough') }),
  z.strictObject({ ...layerBase, kind: z.literal('ink') }),
]) satisfies z.ZodType<Layer>;

export const stroke = z.strictObject({
  id,
  deleted: z.boolean(),
  layerId: id,
  order,
  colour,
  pen,
  matrix,
  engine: z.number().int().positive(),
}) satisfies z.ZodType<Stroke>;

export const erasure = z.strictObject({
  id,
  deleted: z.boolean(),
  layerId: id,
  pen,
  strokeIds: z.array(id).max(200000),
  matrices: z.record(id, matrix).optional(),
  engine: z.number().int().positive(),
}) satisfies z.ZodType<Erasure>;

export const settings = z.strictObject({
  id: z.literal('sheet'),
  paperColour: colour,
  hush: unit,
  scaffoldingShown: z.boolean(),
  veil: unit,
  target: id.nullable(),
  nibs: z.tuple([z.number().positive(), z.number().positive(), z.number().positive(), z.number().positive()]),
}) satisfies z.ZodType<SheetSettings>;

/** The schema of each changeable field, by table: a step's values are checked against these. */
export const FIELD_SCHEMAS: Record<string, Record<string, z.ZodType>> = {
  sheet: settings.shape,
  layers: { ...layerBase, placement },
  strokes: stroke.shape,
  erasures: erasure.shape,
};
