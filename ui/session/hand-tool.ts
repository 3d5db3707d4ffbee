import type { SheetSettings } from '../../core/sheet/entities';
import type { HandTool } from './inking';
import { isErasing, settingsInHand, steadyOf, type EraserState, type PenState } from '../store/pen-slice';

/** An eraser's sizes in paper px, for a resolution; whole ones from 2 px on. */
export const eraserSizes = ({ sizesMm }: Pick<EraserState, 'sizesMm'>, ppi: number): number[] =>
  sizesMm.map((mm) => Math.max(2, Math.round((mm / 25.4) * ppi)));

/** What is in the hand right now. `eraserEnd`: the pen came down with its other end. */
export function handTool(pen: PenState, settings: SheetSettings, ppi: number, eraserEnd: boolean): HandTool {
  const { kind, pressed, softness, strength, chosen } = pen.eraser;
  const erases = eraserEnd || isErasing(pen);
  const sizePx = erases ? eraserSizes(pen.eraser, ppi)[chosen] : settings.nibs[pen.nib];
  return {
    kind: pen.kind,
    sizePx,
    steady: steadyOf(pen),
    settings: settingsInHand(pen),
    colour: pen.colour,
    beneath: pen.beneath,
    catching: pen.catching,
    form: erases ? 'freehand' : pen.form,
    pointKind: pen.pointKind,
    ...(pen.fill === 'none' ? {} : { fill: pen.fill }),
    ...(erases ? { eraser: { kind, pressed, softness, strength, sizePx } } : {}),
  };
}
