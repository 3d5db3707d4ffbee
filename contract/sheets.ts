import { z } from 'zod';
import { paperProblem } from '../core/sheet/paper';
import { isPrintable, MAX_NAME } from '../core/sheet/words';
import type { Erasure, Layer, SheetSettings, Stroke } from '../core/sheet/entities';
import { hash, id } from './entities';

export const paper = z
  .strictObject({ widthPx: z.number(), heightPx: z.number(), ppi: z.number() })
  .superRefine((value, ctx) => {
    const problem = paperProblem(value);
    if (problem) ctx.addIssue({ code: 'custom', message: problem });
  });

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
  z.strictObject({ ...act, kind: z.literal('resize'), paper }),
  z.strictObject({ ...act, kind: z.literal('duplicate'), newId: id, name: sheetName }),
  z.strictObject({ ...act, kind: z.literal('delete') }),
  z.strictObject({ ...act, kind: z.literal('restore') }),
]);
export type DrawerAct = z.infer<typeof drawerAct>;

/** A sheet as the drawer shows it. `overviewSeq` is the step up to which its small picture shows it. */
export const sheetCard = z.strictObject({
  id,
  name: z.string(),
  widthPx: z.number(),
  heightPx: z.number(),
  ppi: z.number(),
  updatedAt: z.number(),
  seq: z.number(),
  overviewSeq: z.number().nullable(),
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
});
export type SheetHead = z.infer<typeof sheetHead>;

/**
 * `GET /api/sheets/:id/strokes`: a frame with this body, tombstones included; its parts are the
 * samples by id. Not walked by zod on the page: it is large and comes from our own tables.
 */
export interface StrokesBody {
  seq: number;
  strokes: Stroke[];
  erasures: Erasure[];
}

/** `POST /api/pictures`: the stored picture, upright. `frames` > 1: the first frame was taken. */
export const pictureAnswer = z.strictObject({
  hash,
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  frames: z.number().int().positive(),
});
export type PictureAnswer = z.infer<typeof pictureAnswer>;

export const MAX_PICTURE_BYTES = 50 * 1024 * 1024;
export const MAX_PICTURE_PIXELS = 100e6;
/** The longest side of the copy that devices show. */
export const WORKING_SIDE_PX = 4096;
