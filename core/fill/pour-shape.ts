import { type Rings, ringsSize } from '../geometry/rings';
import { invert, type Matrix } from '../geometry/matrix';
import { encodePath } from '../stroke/pack-path';
import { MOST_PACKED_NODES } from '../stroke/path';
import { movedPath } from '../stroke/pulls';
import { pourPath } from './pour-path';
import type { Place } from './shape-inside';

/** An area that can be poured. */
export interface PourShape {
  /** Its packed path, to be kept as a stroke's samples. */
  bytes: Uint8Array;
  seed: Place;
  /** px2. */
  size: number;
}

/**
 * An area as the shape of a pour.
 * @param seed a place in it. @param matrix of the stroke that it is the shape of.
 * @returns undefined: it has no breadth, or its border is beyond what a path can hold.
 */
export function pourShape(rings: Rings, seed: Place, matrix?: Matrix): PourShape | undefined {
  const path = pourPath(rings);
  if (!path || path.nodes.length > MOST_PACKED_NODES) return undefined;
  const size = ringsSize(rings);
  return size > 0 ? { bytes: encodePath(matrix ? movedPath(path, invert(matrix)) : path), seed, size } : undefined;
}
