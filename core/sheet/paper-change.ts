import type { Box } from '../geometry/box';
import { apply, isIdentity, type Matrix } from '../geometry/matrix';
import { isPicture, type Layer } from './entities';
import { movedStrokes } from './moved-strokes';
import type { PaperSize } from './paper';
import type { SheetModel } from './sheet-model';
import { assign, type Assign, type Change } from './steps';

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
  const move: Matrix = [scale, 0, 0, scale, -box.x0 * scale, -box.y0 * scale];
  const changes: Change[] = [
    { op: 'set', table: 'sheet', field: 'paper', ids: ['sheet'], before: [before], after: [newPaperSize(paper)] },
  ];
  if (isIdentity(move)) return changes;
  changes.push(
    ...movedStrokes(model.strokes.values(), move),
    ...[...model.layers.values()].flatMap((layer) => movedPicture(layer, move, scale)),
  );
  const { guides, nibs } = model.settings;
  if (guides) {
    const points = guides.points.map(([x, y]) => apply(move, x, y));
    changes.push(assign('sheet', model.settings, 'guides', { ...guides, points }));
  }
  if (scale !== 1) {
    const scaled = nibs.map((px) => Math.min(MOST_NIB_PX, Math.max(LEAST_NIB_PX, round2(px * scale)))) as typeof nibs;
    changes.push(assign('sheet', model.settings, 'nibs', scaled));
  }
  return changes;
}

const LEAST_NIB_PX = 0.01;
const MOST_NIB_PX = 4000;
const round2 = (v: number): number => Math.round(v * 100) / 100;

function movedPicture(layer: Layer, move: Matrix, scale: number): Assign[] {
  if (!isPicture(layer)) return [];
  const { placement } = layer;
  const [cx, cy] = apply(move, placement.cx, placement.cy);
  return [assign('layers', layer, 'placement', { ...placement, cx, cy, scale: placement.scale * scale })];
}
