import { pxToMm } from '../../../../../core/sheet/paper';
import type { Checked } from '../../../../../workers/checking';

/** What is known where no gap up to `gapPx` is left: wider ones are looked for up to `widePx`. */
export function noLeaks(gapPx: number, widePx: number, ppi: number, wider: Checked['wider']): string {
  const mm = (px: number) => `${Number(pxToMm(px, ppi).toFixed(1))} mm`;
  if (!wider) return `No gap up to ${mm(gapPx)}.`;
  if (!wider.count) return `No gap up to ${mm(Math.max(gapPx, widePx))}.`;
  return `No gap up to ${mm(gapPx)}. Wider ones: ${wider.count}.`;
}
