import type { Matrix } from '../geometry/matrix';
import type { SampleRange } from '../stroke/spine-maker';
import { withOwnShape, type Erasure, type Stroke } from './entities';
import { removal } from './erasing';
import { putRows, type Change } from './steps';

/** What a line becomes. */
export interface Replacement {
  /** Its packed samples, or its path. */
  bytes: Uint8Array;
  /** What stands of them, where an end of it was cut. */
  stands?: SampleRange;
  /** What erases it as well: `then` is where the line lay when it was erased. */
  erasures: readonly { erasure: Erasure; bytes: Uint8Array; then: Matrix }[];
}

/**
 * A line gives way to another in its place, made of other samples.
 * @param newId makes ids for the line and for copies of what erases it.
 */
export function replacementChanges(
  stroke: Stroke,
  by: Replacement,
  newId: () => string,
): { changes: Change[]; parts: [string, Uint8Array][] } {
  const { bytes, stands, erasures } = by;
  const id = newId();
  const { stands: _, ...whole } = withOwnShape(stroke);
  const line: Stroke = { ...whole, id, ...(stands ? { stands: { samples: id, of: id, ...stands } } : {}) };
  const parts: [string, Uint8Array][] = [[id, bytes]];
  const copies = erasures.map((one): Erasure => {
    const copy = {
      ...one.erasure,
      id: newId(),
      layerId: stroke.layerId,
      strokeIds: [id],
      matrices: { [id]: one.then },
    };
    parts.push([copy.id, one.bytes]);
    return copy;
  });
  const changes: Change[] = [putRows('strokes', line)];
  if (copies.length) changes.push(putRows('erasures', ...copies));
  changes.push(removal([stroke]));
  return { changes, parts };
}
