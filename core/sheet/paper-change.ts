import type { Box } from '../geometry/box';
import { FIRST_FRAME, movedFrame } from '../geometry/frame';
import { isIdentity, type Matrix } from '../geometry/matrix';
import { completed, type Movable } from './frames';
import type { PaperSize } from './paper';
import type { SheetModel } from './sheet-model';
import { assign, type Change } from './steps';

/** What a paper becomes. */
export interface NewPaper {
  /** The part that stays, paper px; it may reach beyond the paper: then that is made larger. */
  box: Box;
  /** How much larger everything on it becomes. */
  scale: number;
  ppi: number;
}

/** The size of a new paper, whole px. */
export const newPaperSize = ({ box, scale, ppi }: NewPaper): PaperSize => ({
  widthPx: Math.round((box.x1 - box.x0) * scale),
  heightPx: Math.round((box.y1 - box.y0) * scale),
  ppi,
});

/**
 * The changes that give a sheet another paper: everything on it goes along, what comes to lie outside and what is
 * deleted too, so that nothing is lost when it grows or comes back.
 * @param before the paper as it is.
 */
export function paperChanges(model: SheetModel, before: PaperSize, paper: NewPaper): Change[] {
  const { box, scale } = paper;
  const { settings } = model;
  const move: Matrix = [scale, 0, 0, scale, -box.x0 * scale, -box.y0 * scale];
  const changes: Change[] = [
    { op: 'set', table: 'sheet', field: 'paper', ids: ['sheet'], before: [before], after: [newPaperSize(paper)] },
  ];
  if (isIdentity(move)) return changes;
  const frame = settings.frame ?? FIRST_FRAME;
  changes.push(assign('sheet', settings, 'frame', movedFrame(frame, move)));
  if (scale !== 1) {
    const scaled = settings.nibs.map((px) => Math.min(MOST_NIB_PX, Math.max(LEAST_NIB_PX, round2(px * scale))));
    changes.push(assign('sheet', settings, 'nibs', scaled as typeof settings.nibs));
  }
  return completed(changes, frame, movableOf(model));
}

/** What of a sheet goes along with its paper. */
export const movableOf = ({ strokes, layers, settings }: SheetModel): Movable => ({
  strokes: strokes.values(),
  layers: layers.values(),
  guides: settings.guides,
});

const LEAST_NIB_PX = 0.01;
const MOST_NIB_PX = 4000;
const round2 = (v: number): number => Math.round(v * 100) / 100;
