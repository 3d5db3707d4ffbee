/** A sheet's size in px with the resolution that gives it a size in mm. */
export interface PaperSize {
  widthPx: number;
  heightPx: number;
  ppi: number;
}

/** The size alone of what has one. */
export const sizeOf = ({ widthPx, heightPx, ppi }: PaperSize): PaperSize => ({ widthPx, heightPx, ppi });

export interface PaperPreset {
  id: string;
  name: string;
  widthMm: number;
  heightMm: number;
  ppi: number;
}

export const MM_PER_INCH = 25.4;
export const MAX_SIDE_PX = 20000;
export const MAX_AREA_PX = 150e6;
export const MIN_SIDE_PX = 16;
export const MIN_PPI = 36;
export const MAX_PPI = 2400;

/**
 * Upright paper to choose from. A and B sizes: ISO 216. The comics page is 11 x 17 in and its
 * 600 ppi, like the 300 elsewhere: common practice, no source.
 */
export const PAPER_PRESETS: readonly PaperPreset[] = [
  { id: 'a6', name: 'A6', widthMm: 105, heightMm: 148, ppi: 300 },
  { id: 'a5', name: 'A5', widthMm: 148, heightMm: 210, ppi: 300 },
  { id: 'a4', name: 'A4', widthMm: 210, heightMm: 297, ppi: 300 },
  { id: 'a3', name: 'A3', widthMm: 297, heightMm: 420, ppi: 300 },
  { id: 'b5', name: 'B5', widthMm: 176, heightMm: 250, ppi: 300 },
  { id: 'comics', name: 'Comics page', widthMm: 279.4, heightMm: 431.8, ppi: 600 },
  { id: 'square', name: 'Large square', widthMm: 254, heightMm: 254, ppi: 300 },
];

/** Not rounded. */
export const lengthInPx = (mm: number, ppi: number): number => (mm / MM_PER_INCH) * ppi;
export const mmToPx = (mm: number, ppi: number): number => Math.round(lengthInPx(mm, ppi));
export const pxToMm = (px: number, ppi: number): number => (px / ppi) * MM_PER_INCH;

/** What the sides of a paper are told in. */
export const SIZE_UNITS = ['px', 'mm', 'in'] as const;
export type SizeUnit = (typeof SIZE_UNITS)[number];

const inMm = (side: number, unit: 'mm' | 'in'): number => (unit === 'mm' ? side : side * MM_PER_INCH);

/** A side that was told in a unit, in whole px; px stay what they are. */
export const sideInPx = (side: number, unit: SizeUnit, ppi: number): number =>
  unit === 'px' ? side : mmToPx(inMm(side, unit), ppi);

/** A side in a unit, so finely that it comes back as the same px up to {@link MAX_PPI}. */
export const sideIn = (px: number, unit: SizeUnit, ppi: number): number =>
  unit === 'px' ? px : Number((pxToMm(px, ppi) / inMm(1, unit)).toFixed(unit === 'mm' ? 2 : 4));

/** The paper of a preset, upright or lying. */
export function paperOf(preset: PaperPreset, lying: boolean): PaperSize {
  const w = mmToPx(preset.widthMm, preset.ppi);
  const h = mmToPx(preset.heightMm, preset.ppi);
  return { widthPx: lying ? h : w, heightPx: lying ? w : h, ppi: preset.ppi };
}

/** What is wrong with a paper size, in the artist's words; undefined when it will do. */
export function paperProblem({ widthPx, heightPx, ppi }: PaperSize): string | undefined {
  const whole = [widthPx, heightPx].every((v) => Number.isInteger(v));
  if (!whole) return 'Width and height must be whole numbers of pixels.';
  if (Math.min(widthPx, heightPx) < MIN_SIDE_PX) return `A side must be at least ${MIN_SIDE_PX} px.`;
  if (Math.max(widthPx, heightPx) > MAX_SIDE_PX) return `A side can be at most ${MAX_SIDE_PX} px.`;
  if (widthPx * heightPx > MAX_AREA_PX) return `The paper can hold at most ${MAX_AREA_PX / 1e6} million pixels.`;
  if (!(ppi >= MIN_PPI && ppi <= MAX_PPI)) return `The resolution must be ${MIN_PPI} to ${MAX_PPI} ppi.`;
  return undefined;
}
