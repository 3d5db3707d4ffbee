import { z } from 'zod';
import type { Change, Step } from '../core/sheet/steps';
import { MAX_NAME } from '../core/sheet/words';
import { erasure, FIELD_SCHEMAS, id, layer, stroke } from './entities';
import { errorBody } from './errors';

/** The largest framed body of steps, bytes. */
export const MAX_STEP_BYTES = 32 * 1024 * 1024;
/** Steps that come back are as many as fit this, and at least one. */
export const ANSWER_BYTES = 4 * 1024 * 1024;

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
  undoable: z.boolean(),
  label: z.string().min(1).max(MAX_NAME),
  changes: z.array(change),
}) satisfies z.ZodType<Step>;

/** A step that the server gives back is read by its shape alone: bounds that came later must not stop its replay. */
const writtenStep = z.custom<Step>((value) => {
  const step = value as Partial<Step> | null;
  return typeof step === 'object' && typeof step?.id === 'string' && Array.isArray(step.changes);
});

/** `POST /api/sheets/:id/steps`: a frame with this body; parts are samples by stroke or erasure id. */
export const stepsRequest = z.strictObject({ steps: z.array(step).min(1).max(1000) });

/** What became of each step: its number, or why it was refused (then nothing of it was written). */
export const stepsAnswer = z.strictObject({
  results: z.array(
    z.union([z.strictObject({ id, seq: z.number().int().positive() }), z.strictObject({ id, refused: errorBody })]),
  ),
  seq: z.number().int().min(0),
  /** The sheet lies among the deleted ones. */
  deleted: z.boolean(),
});
export type StepsAnswer = z.infer<typeof stepsAnswer>;

/**
 * `GET /api/sheets/:id/history?device=`: what that device can undo and redo, nearest last, with the
 * labels of the nearest ones, and as many of their bodies as fit {@link ANSWER_BYTES}.
 */
export const historyAnswer = z.strictObject({
  undo: z.array(id),
  redo: z.array(id),
  labels: z.array(z.strictObject({ id, label: z.string() })),
  steps: z.array(writtenStep),
});

/** `POST /api/sheets/:id/steps/find`: the first of these steps that fit {@link ANSWER_BYTES}, at least one. */
export const findStepsRequest = z.strictObject({ ids: z.array(id).max(200) });
export const stepList = z.strictObject({ steps: z.array(writtenStep) });

/** `POST /api/sheets/:id/steps/known`: which of these steps are written. */
export const knownStepsRequest = z.strictObject({ ids: z.array(id).max(5000) });
export const knownStepsAnswer = z.strictObject({ ids: z.array(id) });

/**
 * `GET /api/sheets/:id/steps?after=`, framed with samples: steps in order, as many as fit; `seq` is
 * the sheet's latest, so that whoever asked knows whether there are more.
 */
export const stepsAfter = z.strictObject({
  steps: z.array(writtenStep),
  seq: z.number().int().min(0),
  deleted: z.boolean(),
});
export type StepsAfter = z.infer<typeof stepsAfter>;
