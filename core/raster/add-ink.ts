import type { Spine } from '../stroke/spine';
import { addFill } from './add-fill';
import { addNib } from './add-nib';
import { addSpine, type LevelScale, type SpinePart } from './add-spine';
import type { CoverageMask } from './coverage-mask';

/**
 * Max-blends a line into `mask`, as its nib leaves it: `addSpine` for round, hard ones, else `addNib`; and what it encloses.
 * @param whole takes what is filled wholly instead of the mask.
 */
export function addInk(
  mask: CoverageMask,
  spine: Spine,
  scale: LevelScale,
  part: SpinePart = {},
  whole?: number[],
): void {
  const { footprint, fill } = spine;
  if (fill !== 'alone') {
    if (footprint) addNib(mask, spine, footprint, scale, part);
    else addSpine(mask, spine, scale, part);
  }
  if (fill) addFill(mask, spine, scale, whole);
}
