import { z } from 'zod';
import type { Change, Step } from '../core/sheet/steps';
import { isPrintable, MAX_NAME } from '../core/sheet/words';
import type { MadeFrom } from './low-tiles';
import { erasure, FIELD_SCHEMAS, frame, id, layer, paper, stroke } from './entities';

// What may be asked of the server, with every bound; checked there alone.

export const sheetName = z
  .string()
  .trim()
  .min(1, 'A sheet needs a name.')
  .max(MAX_NAME, `A name has at most ${MAX_NAME} characters.`)
  .refine(isPrintable, 'A name has no control characters.');

const act = { id, sheetId: id };
/** An act in the drawer. One sent twice is one act. */
export const drawerAct = z.discriminatedUnion('kind', [
  z.strictObject({ ...act, kind: z.literal('create'), name: sheetName, paper }),
  z.strictObject({ ...act, kind: z.literal('rename'), name: sheetName }),
  z.strictObject({ ...act, kind: z.literal('duplicate'), newId: id, name: sheetName }),
  z.strictObject({ ...act, kind: z.literal('delete') }),
  z.strictObject({ ...act, kind: z.literal('restore') }),
]);
export type DrawerAct = z.infer<typeof drawerAct>;

const put = z.discriminatedUnion('table', [
  z.strictObject({ op: z.literal('put'), table: z.literal('layers'), rows: z.array(layer) }),
  z.strictObject({ op: z.literal('put'), table: z.literal('strokes'), rows: z.array(stroke) }),
  z.strictObject({ op: z.literal('put'), table: z.literal('erasures'), rows: z.array(erasure) }),
]);

const set = z
  .strictObject({
    op: z.literal('set'),
    table: z.enum(['sheet', 'layers', 'strokes', 'erasures']),
    field: z.string(),
    ids: z.array(id).min(1),
    before: z.array(z.unknown()),
    after: z.array(z.unknown()),
  })
  .superRefine((change, ctx) => {
    const schema = Object.hasOwn(FIELD_SCHEMAS[change.table], change.field)
      ? FIELD_SCHEMAS[change.table][change.field]
      : undefined;
    const wrong = schema ? change.after.find((v) => !schema.safeParse(v).success) : change.after[0];
    if (!schema) ctx.addIssue({ code: 'custom', message: `${change.table} has no field ${change.field}` });
    else if (wrong !== undefined)
      ctx.addIssue({ code: 'custom', message: `${change.table}.${change.field} cannot be ${JSON.stringify(wrong)}` });
  });

export const change = z.union([put, set]) satisfies z.ZodType<Change>;

export const step = z.strictObject({
  id,
  device: id,
  seq: z.number().int().positive().optional(),
  undoes: id.optional(),
  on: frame.optional(),
  undoable: z.boolean(),
  label: z.string().min(1).max(MAX_NAME),
  changes: z.array(change),
}) satisfies z.ZodType<Step>;

/** `POST /api/sheets/:id/steps`: a frame with this body; parts are samples by stroke or erasure id. */
export const stepsRequest = z.strictObject({ steps: z.array(step).min(1).max(1000) });

/** `POST /api/sheets/:id/steps/find` and `.../known`: the bodies of these steps; which of them are written. */
export const findStepsRequest = z.strictObject({ ids: z.array(id).max(200) });
export const knownStepsRequest = z.strictObject({ ids: z.array(id).max(5000) });

/**
 * `POST /api/sheets/:id/samples`: the samples of these strokes as they are, or those stored under an id (`storedName` in core); the
 * answer is a frame of them by what was asked.
 */
export const samplesRequest = z.strictObject({
  ids: z
    .array(z.string().regex(/^~?[A-Za-z0-9_-]{1,40}$/))
    .min(1)
    .max(4000),
});

const level = z.number().int().min(-12).max(0);
const tilePlace = z.number().int().min(0).max(1000);

/** `POST /api/sheets/:id/tiles/find`: tiles as a step left them; the answer is a frame of those that are kept, by their keys. */
export const findTilesRequest = z.strictObject({
  tiles: z
    .array(z.strictObject({ layerId: id, level, tx: tilePlace, ty: tilePlace, seq: z.number().int().min(0) }))
    .min(1)
    .max(256),
});

/** `PUT /api/sheets/:id/tiles` (a frame without a body of its own) and `.../overview`: what they were made from, in the query. */
export const madeFrom = z.object({
  seq: z.coerce.number().int().min(0),
  widthPx: z.coerce.number().int().positive(),
  heightPx: z.coerce.number().int().positive(),
}) satisfies z.ZodType<MadeFrom>;
export const tileName = z.string().regex(/^[A-Za-z0-9_-]{1,40}\/-?\d{1,2}\/\d{1,3}\/\d{1,3}$/);
