import * as z from 'zod/mini';
import { isPrintable, MAX_NAME } from '../../core/sheet/words';
import { LEAST_FLAT, LEAST_OPACITY, MOST_TAPER, PEN_KINDS, settingsOf } from '../../core/stroke/pen';
import type { KeptPen } from './kept-pen';
import { parsedJson } from './parsed-json';
import { LEAST_MIDDLE, LEAST_SPAN } from '../../core/stroke/pressure-curve';

const range = (least: number, most: number) => z.number().check(z.minimum(least), z.maximum(most));
const unit = range(0, 1);

const pen = z.object({
  name: z.string().check(
    z.minLength(1),
    z.maxLength(MAX_NAME),
    z.refine((name) => isPrintable(name)),
  ),
  kind: z.enum(PEN_KINDS),
  steady: range(0, 100),
  handSteady: range(0, 100),
  settings: z.object({
    smallest: unit,
    tapersBy: z.enum(['size', 'length']),
    taperIn: range(0, MOST_TAPER),
    taperOut: range(0, MOST_TAPER),
    taperInPart: unit,
    taperOutPart: unit,
    speed: unit,
    handSpeed: unit,
    opacity: range(LEAST_OPACITY, 1),
    soft: unit,
    grain: unit,
    flat: range(LEAST_FLAT, 1),
    nibDeg: range(0, 180),
    turns: z.boolean(),
    press: z
      .object({ light: unit, firm: unit, middle: range(LEAST_MIDDLE, 1 - LEAST_MIDDLE) })
      .check(z.refine(({ light, firm }) => firm - light > LEAST_SPAN / 2)),
  }),
});

const FORMAT = 'pens of Hush Line';
const file = z.object({ format: z.literal(FORMAT), version: z.literal(1), pens: z.array(z.unknown()) });

/** Pens as a file, for another device or an artist's friend. */
export const pensFile = (pens: readonly KeptPen[]): string =>
  JSON.stringify({ format: FORMAT, version: 1, pens: pens.map(({ id: _, ...rest }) => rest) }, null, 2);

/** What a file or the device's storage holds of pens. @param makeId the ids that they get here. */
export interface ReadPens {
  pens: KeptPen[];
  /** How many could not be read. */
  left: number;
}

/**
 * Reads pens one by one: what a pen of an older version did not have is as that pen comes; one that cannot be read is left out.
 * @returns undefined: this is no file of pens.
 */
export function readPensFile(text: string, makeId: () => string): ReadPens | undefined {
  const parsed = file.safeParse(parsedJson(text));
  if (!parsed.success) return undefined;
  const pens = parsed.data.pens.flatMap((raw) => readPen(raw, makeId()) ?? []);
  return { pens, left: parsed.data.pens.length - pens.length };
}

/** The pens that this device has kept, each once. */
export function readKeptPens(text: string | null): ReadPens {
  if (text === null) return { pens: [], left: 0 };
  const found = parsedJson(text);
  if (!Array.isArray(found)) return { pens: [], left: 1 };
  const pens = new Map<string, KeptPen>();
  let left = 0;
  for (const raw of found as unknown[]) {
    const id = (raw as { id?: unknown } | null)?.id;
    const pen = typeof id === 'string' ? readPen(raw, id) : undefined;
    if (!pen) left++;
    else if (!pens.has(pen.id)) pens.set(pen.id, pen);
  }
  return { pens: [...pens.values()], left };
}

function readPen(raw: unknown, id: string): KeptPen | undefined {
  const kind = PEN_KINDS.find((known) => known === (raw as { kind?: unknown } | null)?.kind);
  if (!kind) return undefined;
  const { settings, ...rest } = raw as { settings?: object };
  const whole = pen.safeParse({ ...rest, settings: { ...settingsOf(kind), ...settings } });
  return whole.success ? { ...whole.data, id } : undefined;
}
