import { componentRuns } from './components';
import { LUMA } from './luma';
import type { LiftStep } from './recipe';
import { histogramOf, type Tones } from './tones';
import type { Picture } from './warp';

/** So much of the way from paper to line it takes from clear to full. */
const SOFT = 0.36;
/** Less than this is paper's grain: it makes nothing hang together, 0 to 255. */
const FAINT = 24;
/** In a mask: hangs together with enough. */
const KEPT = 2;

/** Paper is at least so much lighter than a line, 0 to 1. */
export const LEAST_LIFT_SPAN = 0.02;

export type LiftValues = Omit<LiftStep, 'id' | 'kind' | 'on'>;
export type Lift = Pick<LiftStep, 'paper' | 'line' | 'keep'>;

/** How opaque each of 256 values of luma becomes, 0 to 255: the paper clear, a line full. */
export function liftTable({ paper, line, keep }: Lift): Uint8Array<ArrayBuffer> {
  const from = (1 - SOFT) * (1 - keep);
  const span = Math.max(1 / 255, paper - line);
  return Uint8Array.from({ length: 256 }, (_, v) => {
    const dark = (paper - v / 255) / span;
    return Math.round(255 * Math.min(1, Math.max(0, (dark - from) / SOFT)));
  });
}

/** Rows `from` to `to` become black lines on nothing, in place. What was clear stays so. */
export function liftRows({ width, data }: Picture, table: Uint8Array, from: number, to: number): void {
  const words = new Uint32Array(data.buffer, data.byteOffset, data.length / 4);
  const [r, g, b] = LUMA.map((weight) => Math.round(weight * 65536));
  for (let i = width * from, end = width * to; i < end; i++) {
    const word = words[i];
    const luma = (r * (word & 255) + g * ((word >>> 8) & 255) + b * ((word >>> 16) & 255) + 32768) >> 16;
    const alpha = word >>> 24;
    words[i] = alpha === 255 ? table[luma] << 24 : Math.round((table[luma] * alpha) / 255) << 24;
  }
}

/**
 * Drops lines' specks: what hangs together and covers less than a disc of a diameter, with the faint rim around it.
 * @param px the diameter; in place.
 */
export function dropSpecks({ width, height, data }: Picture, px: number): void {
  const least = (Math.PI / 4) * px * px;
  if (least <= 1) return;
  const mask = new Uint8Array(width * height);
  const words = new Uint32Array(data.buffer, data.byteOffset, mask.length);
  for (let i = 0; i < mask.length; i++) if (words[i] >>> 24 >= FAINT) mask[i] = 1;
  const { runs, areas } = componentRuns(mask, width, height);
  for (let k = 0; k < runs.length; k += 3) if (areas[runs[k + 2]] >= least) mask.fill(KEPT, runs[k], runs[k + 1]);
  const stays = (x: number, y: number): boolean => {
    for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++)
        if (mask[v * width + u] === KEPT) return true;
    return false;
  };
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (words[i] >>> 24 === 0) continue;
      // Of the faint only the rim of what is kept.
      if (mask[i] ? mask[i] !== KEPT : !stays(x, y)) data[4 * i + 3] = 0;
    }
}

/**
 * What a page's paper and its lines are, 0 to 1 each, by its histogram: the value most common, and where the darkest of
 * its pixels lie.
 * @param counts of 256 values of luma.
 */
export function liftFor(counts: ArrayLike<number>): { paper: number; line: number } {
  let [total, paper] = [0, 255];
  let most = -1;
  for (let v = 0; v < 256; v++) {
    total += counts[v];
    if (v < 64 || counts[v] <= most) continue;
    most = counts[v];
    paper = v;
  }
  let [line, sum] = [0, 0];
  while (line < 255 && (sum += counts[line]) < DARKEST * total) line++;
  // Paper is not all one value.
  const least = paper - PAPER_MARGIN;
  return { paper: least / 255, line: Math.min(line, least - LEAST_SPAN) / 255 };
}

/** A lift as a page of such tones asks for it, with nothing dropped. */
export const liftStepFor = (tones: Tones): LiftValues => ({ ...liftFor(histogramOf(tones)), keep: 0.5, specks: 0 });

/** A lift whose paper, or whose lines, have a tone that was touched; the other gives way where it must. */
export function touchedLift(
  { paper, line, keep, specks }: LiftValues,
  what: 'paper' | 'line',
  tone: number,
): LiftValues {
  if (what === 'paper') {
    const now = Math.max(LEAST_LIFT_SPAN, tone - PAPER_MARGIN / 255);
    return { paper: now, line: Math.max(0, Math.min(line, now - LEAST_LIFT_SPAN)), keep, specks };
  }
  const now = Math.min(tone, 1 - LEAST_LIFT_SPAN);
  return { paper: Math.min(1, Math.max(paper, now + LEAST_LIFT_SPAN)), line: now, keep, specks };
}

/** So many of a page's pixels, a part, are its darkest lines. */
const DARKEST = 0.004;
const PAPER_MARGIN = 8;
const LEAST_SPAN = 24;
