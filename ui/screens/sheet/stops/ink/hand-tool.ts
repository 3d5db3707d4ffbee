import type { SheetSettings } from '../../../../../core/sheet/entities';
import type { HandTool } from '../../../../session/inking';
import { isErasing, settingsInHand, steadyOf, type PenState } from '../../../../store/pen-slice';

/** The eraser's sizes in paper px, for a resolution. */
export const eraserSizes = (ppi: number): number[] =>
  [0.7, 2, 5, 12].map((mm) => Math.max(2, Math.round((mm / 25.4) * ppi)));

/** What is in the hand right now. `eraserEnd`: the pen came down with its other end. */
export function handTool(pen: PenState, settings: SheetSettings, ppi: number, eraserEnd: boolean): HandTool {
  const erases = eraserEnd || isErasing(pen);
  return {
    kind: pen.kind,
    sizePx: erases ? eraserSizes(ppi)[pen.eraserSize] : settings.nibs[pen.nib],
    steady: steadyOf(pen),
    settings: settingsInHand(pen),
    colour: pen.colour,
    beneath: pen.beneath,
    catching: pen.catching,
    erases,
  };
}
