import { compose, type Matrix } from '../geometry/matrix';
import type { Stroke } from './entities';
import type { Assign } from './steps';

/** The change that moves strokes by a matrix (paper px to paper px); none where there are none. */
export function movedStrokes(strokes: Iterable<Stroke>, move: Matrix): Assign[] {
  const all = [...strokes];
  if (!all.length) return [];
  return [
    {
      op: 'set',
      table: 'strokes',
      field: 'matrix',
      ids: all.map((s) => s.id),
      before: all.map((s) => s.matrix),
      after: all.map((s) => compose(move, s.matrix)),
    },
  ];
}
