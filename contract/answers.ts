import * as z from 'zod/mini';
import type { Layer, SheetSettings } from '../core/sheet/entities';
import type { Step } from '../core/sheet/steps';
import { ERROR_CODES } from './errors';

// What the server answers. The page checks its shape with the small build of the library; the bounds of what is
// written are checked at the server's door (requests.ts).

const count = z.number().check(z.int(), z.nonnegative());

/** The body of every error answer; `message` is written for the artist. */
export const errorBody = z.strictObject({
  code: z.enum(ERROR_CODES),
  message: z.string(),
  detail: z.optional(z.string()),
});
export type ErrorBody = z.infer<typeof errorBody>;

/** A sheet as the drawer shows it. `overviewSeq` is the step up to which its small picture shows it. */
export const sheetCard = z.strictObject({
  id: z.string(),
  name: z.string(),
  widthPx: z.number(),
  heightPx: z.number(),
  ppi: z.number(),
  updatedAt: z.number(),
  seq: z.number(),
  overviewSeq: z.nullable(z.number()),
});
export type SheetCard = z.infer<typeof sheetCard>;
export const drawerAnswer = z.strictObject({ sheets: z.array(sheetCard) });

/**
 * What our own tables hold is read by its shape alone: it passed the door of its day, and a bound
 * that came later must not lock an old sheet.
 */
const isEntity = (value: unknown): boolean =>
  typeof value === 'object' && value !== null && typeof (value as { id?: unknown }).id === 'string';

/** `GET /api/sheets/:id`: everything of a sheet but its strokes. */
export const sheetHead = z.strictObject({
  card: sheetCard,
  deleted: z.boolean(),
  settings: z.custom<SheetSettings>(isEntity),
  layers: z.array(z.custom<Layer>(isEntity)),
  /** The place of each layer's topmost stroke, so that ink can go on before all of it is there. */
  tops: z.record(z.string(), z.string()),
  /** The small picture is of an earlier step, of another paper, or not there. */
  isOverviewDue: z.boolean(),
});
export type SheetHead = z.infer<typeof sheetHead>;

/** A stored picture, upright. `frames` > 1: the first frame or page was taken. */
const storedPicture = { hash: z.string(), width: count, height: count, frames: count };

/** A layer of a file that has several: its top left corner in px of the file's canvas, its opacity and eye. */
const fileLayer = z.strictObject({
  name: z.string(),
  x: z.number(),
  y: z.number(),
  opacity: z.number(),
  visible: z.boolean(),
});

/** `POST /api/pictures`: what was in the file, bottom first; with `canvas`, its layers. */
export const pictureAnswer = z.strictObject({
  pictures: z.array(z.strictObject({ ...storedPicture, layer: z.optional(fileLayer) })),
  canvas: z.optional(z.strictObject({ width: count, height: count })),
});
export type PictureAnswer = z.infer<typeof pictureAnswer>;
export type StoredPicture = Omit<PictureAnswer['pictures'][number], 'layer'>;

/** A step that the server gives back is read by its shape alone: bounds that came later must not stop its replay. */
const writtenStep = z.custom<Step>((value) => {
  const step = value as Partial<Step> | null;
  return typeof step === 'object' && typeof step?.id === 'string' && Array.isArray(step.changes);
});

/**
 * What became of each step: its number, or why it was refused (then nothing of it was written). `isOther`: what was written
 * may be something else than was sent, since the paper is another or others have drawn meanwhile.
 */
export const stepsAnswer = z.strictObject({
  results: z.array(
    z.union([
      z.strictObject({ id: z.string(), seq: count, isOther: z.optional(z.literal(true)) }),
      z.strictObject({ id: z.string(), refused: errorBody }),
    ]),
  ),
  seq: count,
  /** The sheet lies among the deleted ones. */
  deleted: z.boolean(),
});
export type StepsAnswer = z.infer<typeof stepsAnswer>;

/**
 * `GET /api/sheets/:id/history?device=`: what that device can undo and redo, nearest last, with the
 * labels of the nearest ones, and as many of their bodies as fit `ANSWER_BYTES`.
 */
export const historyAnswer = z.strictObject({
  undo: z.array(z.string()),
  redo: z.array(z.string()),
  labels: z.array(z.strictObject({ id: z.string(), label: z.string() })),
  steps: z.array(writtenStep),
});

export type HistoryAnswer = z.infer<typeof historyAnswer>;

/** `POST /api/sheets/:id/steps/find`: the first of the steps asked for that fit `ANSWER_BYTES`, at least one. */
export const stepList = z.strictObject({ steps: z.array(writtenStep) });

/** `POST /api/sheets/:id/steps/known`: which of the steps asked for are written. */
export const knownStepsAnswer = z.strictObject({ ids: z.array(z.string()) });

/**
 * `GET /api/sheets/:id/steps?after=`, framed with samples: steps in order, as many as fit; `seq` is
 * the sheet's latest, so that whoever asked knows whether there are more.
 */
export const stepsAfter = z.strictObject({ steps: z.array(writtenStep), seq: count, deleted: z.boolean() });
export type StepsAfter = z.infer<typeof stepsAfter>;
