import * as z from 'zod/mini';
import { LEAST_LIFT_SPAN } from '../../core/picture/lift';
import { MOST_VALUES } from '../../core/picture/otsu';
import { MOST_BLUR_PX, MOST_EDGE_PX, MOST_SPECKS_PX, MOST_STOPS } from '../../core/picture/recipe-bounds';
import type { ToneSet } from '../../core/picture/recipe-steps';
import { LEAST_APART } from '../../core/picture/tone-curve';
import { isPrintable, MAX_NAME } from '../../core/sheet/words';
import { parsedJson } from './parsed-json';

/** Steps that an artist keeps under a name, for other pictures and sheets. */
export interface OwnTones {
  id: string;
  name: string;
  set: ToneSet;
}

const range = (least: number, most: number) => z.number().check(z.minimum(least), z.maximum(most));
const unit = range(0, 1);
const step = z.union([
  z.tuple([z.enum(['grey', 'invert']), z.strictObject({})]),
  z.tuple([z.literal('exposure'), z.strictObject({ stops: range(-MOST_STOPS, MOST_STOPS) })]),
  z.tuple([
    z.literal('curve'),
    z.strictObject({
      points: z.array(z.tuple([unit, unit])).check(
        z.minLength(2),
        z.maxLength(16),
        z.refine((points) => points.every(([x], i) => i === 0 || x - points[i - 1][0] >= LEAST_APART / 2)),
      ),
    }),
  ]),
  z.tuple([z.literal('tint'), z.strictObject({ colour: z.string().check(z.regex(/^#[0-9a-f]{6}$/)), amount: unit })]),
  z.tuple([z.literal('blur'), z.strictObject({ px: range(0, MOST_BLUR_PX) })]),
  z.tuple([
    z.literal('steps'),
    z.strictObject({
      thresholds: z.array(unit).check(
        z.minLength(1),
        z.maxLength(MOST_VALUES - 1),
        z.refine((rising) => rising.every((t, i) => i === 0 || t > rising[i - 1])),
      ),
      amount: unit,
    }),
  ]),
  z.tuple([z.literal('edges'), z.strictObject({ px: range(0, MOST_EDGE_PX), sensitivity: unit, amount: unit })]),
  z.tuple([z.literal('even'), z.strictObject({ reach: unit })]),
  z.tuple([
    z.literal('lift'),
    z
      .strictObject({ paper: unit, line: unit, keep: unit, specks: range(0, MOST_SPECKS_PX) })
      .check(z.refine(({ paper, line }) => paper - line >= LEAST_LIFT_SPAN / 2)),
  ]),
]);
const tones = z.object({
  id: z.string(),
  name: z.string().check(
    z.minLength(1),
    z.maxLength(MAX_NAME),
    z.refine((name) => isPrintable(name)),
  ),
  set: z.array(step).check(z.minLength(1), z.maxLength(30)),
});

/** What storage holds of tones, one by one; what cannot be read is left out, and counted. */
export function readTones(text: string | null): { all: OwnTones[]; left: number } {
  const found = parsedJson(text ?? '[]');
  if (!Array.isArray(found)) return { all: [], left: 1 };
  const all = (found as unknown[]).flatMap((raw) => {
    const read = tones.safeParse(raw);
    return read.success ? [read.data as OwnTones] : [];
  });
  return { all, left: found.length - all.length };
}
