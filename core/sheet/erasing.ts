import { isIdentity } from '../geometry/matrix';
import { samplesOf, type Erasure, type Stroke } from './entities';
import type { ErasedStroke } from './erased-strokes';
import { putRows, type Assign, type Change } from './steps';
import type { SampleRange } from '../stroke/spine-maker';

/**
 * The changes of one movement of a hard eraser. What it severs gives way to its parts, which are strokes of their own;
 * the erasure lists what it touched, and so holds for the parts as well.
 * @param erased what it does to the strokes that it touches.
 * @param find the strokes as they are; those that have gone meanwhile are passed over.
 * @param newId makes an id for each part.
 */
export function erasingChanges(
  erased: readonly ErasedStroke[],
  mark: Pick<Erasure, 'id' | 'layerId' | 'pen' | 'engine'>,
  find: (id: string) => Stroke | undefined,
  newId: () => string,
): Change[] {
  const standing = erased.flatMap(({ id, left }) => {
    const stroke = find(id);
    return stroke && !stroke.deleted ? [{ stroke, left }] : [];
  });
  if (!standing.length) return [];
  const moved = standing.filter(({ stroke }) => !isIdentity(stroke.matrix));
  const erasure: Erasure = {
    ...mark,
    deleted: false,
    strokeIds: standing.map(({ stroke }) => stroke.id),
    ...(moved.length ? { matrices: Object.fromEntries(moved.map(({ stroke }) => [stroke.id, stroke.matrix])) } : {}),
  };
  const severed = standing.filter(({ left }) => left);
  const parts = severed.flatMap(({ stroke, left }) => partsOf(stroke, left!, newId));
  const changes: Change[] = [putRows('erasures', erasure)];
  if (parts.length) changes.push(putRows('strokes', ...parts));
  if (severed.length) changes.push(removal(severed.map(({ stroke }) => stroke)));
  return changes;
}

/** What ranges of a stroke's samples leave of it: strokes of their own. */
export const partsOf = (stroke: Stroke, ranges: readonly SampleRange[], newId: () => string): Stroke[] =>
  ranges.map(({ from, to }) => ({
    ...stroke,
    id: newId(),
    stands: { samples: samplesOf(stroke), of: stroke.id, from, to },
  }));

/** The change that deletes standing strokes. */
export const removal = (strokes: readonly Stroke[]): Assign => ({
  op: 'set',
  table: 'strokes',
  field: 'deleted',
  ids: strokes.map(({ id }) => id),
  before: strokes.map(() => false),
  after: strokes.map(() => true),
});
