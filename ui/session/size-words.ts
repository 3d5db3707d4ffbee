import { pxToMm, type PaperSize } from '../../core/sheet/paper';

/** A length in px, and in mm of the paper. */
export function sizeWords(px: number, { ppi }: Pick<PaperSize, 'ppi'>): string {
  const short = px < 10 ? px.toFixed(1) : String(Math.round(px));
  return `${short} px (${pxToMm(px, ppi).toFixed(2)} mm)`;
}
