import { parseColour } from '../raster/pixels';
import { liftRows, liftTable } from './lift';
import { LUMA } from './luma';
import type { RecipeStep } from './recipe';
import type { StepOf } from './recipe-steps';
import { fromLight, toLight } from './srgb';
import { monotoneCurve } from './tone-curve';
import type { Picture } from './warp';

/** What is done to each pixel by itself. */
type PixelWork =
  | { kind: 'table'; table: Uint8Array }
  | { kind: 'grey' }
  | { kind: 'tint'; table: Uint8Array }
  | { kind: 'lift'; table: Uint8Array }
  | { kind: 'steps'; table: Float32Array; rest: number };

/** Steps that look at one pixel at a time. */
export type PixelStep = Exclude<RecipeStep, { kind: 'crop' | 'blur' | 'even' | 'edges' }>;

const table = (of: (v: number) => number): Uint8Array =>
  Uint8Array.from({ length: 256 }, (_, v) => Math.min(255, Math.max(0, Math.round(255 * of(v / 255)))));

/** Neighbouring tables are one: each pixel is looked up once. */
export function pixelWork(steps: readonly PixelStep[]): PixelWork[] {
  const works: PixelWork[] = [];
  for (const step of steps) {
    const work = workOf(step);
    const last = works[works.length - 1];
    if (work.kind === 'table' && last?.kind === 'table')
      works[works.length - 1] = { kind: 'table', table: last.table.map((v) => work.table[v]) };
    else works.push(work);
  }
  return works;
}

function workOf(step: PixelStep): PixelWork {
  if (step.kind === 'grey') return { kind: 'grey' };
  if (step.kind === 'invert') return { kind: 'table', table: table((v) => 1 - v) };
  if (step.kind === 'curve') return { kind: 'table', table: table(monotoneCurve(step.points)) };
  if (step.kind === 'exposure') {
    const factor = 2 ** step.stops;
    return { kind: 'table', table: table((v) => fromLight(Math.min(1, toLight(v) * factor))) };
  }
  if (step.kind === 'lift') return { kind: 'lift', table: liftTable(step) };
  if (step.kind === 'steps') return { kind: 'steps', table: stepsTable(step), rest: 1 - step.amount };
  return { kind: 'tint', table: tintTable(step.colour, step.amount) };
}

/** The flat grey of each luma, by the amount. */
function stepsTable({ thresholds, amount }: StepOf<'steps'>): Float32Array {
  return Float32Array.from({ length: 256 }, (_, v) => {
    const above = thresholds.filter((t) => v / 255 > t).length;
    return (amount * 255 * above) / thresholds.length;
  });
}

/** What a luma becomes of each channel, three values a luma: black becomes the colour, white stays, by an amount. */
function tintTable(colour: string, amount: number): Uint8Array {
  const rgb = parseColour(colour);
  return Uint8Array.from({ length: 768 }, (_, k) => {
    const luma = Math.floor(k / 3);
    const tinted = rgb[k % 3] + ((255 - rgb[k % 3]) * luma) / 255;
    return Math.round(luma + amount * (tinted - luma));
  });
}

/** Works on rows `from` to `to` of a picture, in place; alpha stays. */
export function adjustRows(
  { width, height, data }: Picture,
  works: readonly PixelWork[],
  from: number,
  to: number,
): void {
  const [first, end] = [4 * width * from, 4 * width * to];
  const [r, g, b] = LUMA.map((weight) => Math.round(weight * 65536));
  for (const work of works)
    if (work.kind === 'table') {
      const { table: values } = work;
      for (let at = first; at < end; at += 4) {
        data[at] = values[data[at]];
        data[at + 1] = values[data[at + 1]];
        data[at + 2] = values[data[at + 2]];
      }
    } else if (work.kind === 'grey') {
      for (let at = first; at < end; at += 4)
        data[at] = data[at + 1] = data[at + 2] = (r * data[at] + g * data[at + 1] + b * data[at + 2] + 32768) >> 16;
    } else if (work.kind === 'lift') liftRows({ width, height, data }, work.table, from, to);
    else if (work.kind === 'steps') {
      const { table: values, rest } = work;
      for (let at = first; at < end; at += 4) {
        const grey = values[(r * data[at] + g * data[at + 1] + b * data[at + 2] + 32768) >> 16];
        // Such an array rounds by itself.
        data[at] = rest * data[at] + grey;
        data[at + 1] = rest * data[at + 1] + grey;
        data[at + 2] = rest * data[at + 2] + grey;
      }
    } else {
      const { table: values } = work;
      for (let at = first; at < end; at += 4) {
        const luma = 3 * ((r * data[at] + g * data[at + 1] + b * data[at + 2] + 32768) >> 16);
        data[at] = values[luma];
        data[at + 1] = values[luma + 1];
        data[at + 2] = values[luma + 2];
      }
    }
}
