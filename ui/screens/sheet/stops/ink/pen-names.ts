import type { PenKind } from '../../../../../core/stroke/pen';
import { isErasing, type PenState } from '../../../../store/pen-slice';

/** The pens in the order in which they are offered. */
export const PEN_NAMES: Record<PenKind, string> = {
  fineliner: 'Fineliner',
  dip: 'Dip pen',
  brush: 'Brush pen',
  marker: 'Marker',
  pencil: 'Pencil',
  wash: 'Wash',
};

/** What draws now is called. */
export const nameInUse = (pen: PenState): string =>
  isErasing(pen) ? (pen.eraser.kind === 'soft' ? 'Soft eraser' : 'Eraser') : nameInHand(pen);

/** What the pen in the hand is called. */
export const nameInHand = ({ kind, keptId, pens }: PenState): string =>
  pens.find(({ id }) => id === keptId)?.name ?? PEN_NAMES[kind];
