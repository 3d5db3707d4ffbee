import type { Spine } from '../stroke/spine';
import { addCone, addDisc } from './add-cone';
import type { CoverageMask } from './coverage-mask';

/** Where a spine lies in a level's grid: `gridPx = paperPx * scale` (a power of two for tiles). */
export type LevelScale = number;

/**
 * Max-blends the cones of `spine` from point `from` on into `mask`.
 * @param spine paper px. Not modified.
 * @param scale grid px per paper px, > 0; multiplying by a power of two loses no bits.
 * @param from first point; with `from > 0` the cone that ends there is taken to be in already.
 */
export function addSpine(mask: CoverageMask, spine: Spine, scale: LevelScale, from = 0): void {
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
    );
  }
}
