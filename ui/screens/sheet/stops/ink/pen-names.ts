import type { PenKind } from '../../../../../core/stroke/pen';

/** The pens in the order in which they are offered. */
export const PEN_NAMES: Record<PenKind, string> = { fineliner: 'Fineliner', dip: 'Dip pen', brush: 'Brush pen' };
