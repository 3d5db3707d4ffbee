import type { Spine } from '../stroke/spine';
import { addCone, addDisc } from './add-cone';
import type { CoverageMask } from './coverage-mask';

/** Where a spine lies in a level's grid: `gridPx = paperPx * scale` (a power of two for tiles). */
export type LevelScale = number;

/** Which part of a stroke a spine is. */
export interface SpinePart {
  /** First point to draw from; the cone that ends there is taken to be in already. */
  from?: number;
  /** The stroke begins with the first point; it ends with the last one. */
  begins?: boolean;
  ends?: boolean;
}

/**
 * Max-blends the cones of `spine` into `mask`.
 * @param spine paper px. Not modified.
 * @param scale grid px per paper px, > 0; multiplying by a power of two loses no bits.
 */
export function addSpine(
  mask: CoverageMask,
  spine: Spine,
  scale: LevelScale,
  { from = 0, begins = true, ends = true }: SpinePart = {},
): void {
  const { data, count } = spine;
  if (count === 1 && from === 0) addDisc(mask, data[0] * scale, data[1] * scale, data[2] * scale);
  for (let i = from; i + 1 < count; i++) {
    const a = 3 * i;
    addCone(
      mask,
      data[a] * scale,
      data[a + 1] * scale,
      data[a + 2] * scale,
      data[a + 3] * scale,
      data[a + 4] * scale,
      data[a + 5] * scale,
      begins && i === 0,
      ends && i + 2 === count,
    );
  }
}
