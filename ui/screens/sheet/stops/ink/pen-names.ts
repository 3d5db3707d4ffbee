import type { PenKind } from '../../../../../core/stroke/pen';
import type { PenState } from '../../../../store/pen-slice';

/** The pens in the order in which they are offered. */
export const PEN_NAMES: Record<PenKind, string> = {
  fineliner: 'Fineliner',
  dip: 'Dip pen',
  brush: 'Brush pen',
  marker: 'Marker',
  pencil: 'Pencil',
  wash: 'Wash',
};

/** What the pen in the hand is called. */
export const nameInHand = ({ kind, keptId, pens }: PenState): string =>
  pens.find(({ id }) => id === keptId)?.name ?? PEN_NAMES[kind];
