import { applyMap, areaScale, composeMaps, invertMap } from '../geometry/homography';
import { apply } from '../geometry/matrix';
import type { Size } from '../geometry/view';
import { resultSize, sourceMap, type Recipe } from '../picture/recipe';
import type { Placement, PictureLayer } from './entities';
import { placementMatrix } from './placement';

/** The size of a reference as it lies on the paper, before its placement: of what its recipe makes. */
export const shownSize = ({ picture, recipe }: Pick<PictureLayer, 'picture' | 'recipe'>): Size =>
  resultSize(picture, recipe);

/**
 * Where what another recipe makes has to lie so that it stays where it was on the paper: its middle and its scale; it is
 * turned and mirrored as before.
 */
export function keptPlacement(
  placement: Placement,
  picture: Size,
  before: Recipe | null | undefined,
  after: Recipe,
): Placement {
  const size = resultSize(picture, after);
  const [cx, cy] = [size.width / 2, size.height / 2];
  const change = composeMaps(invertMap(sourceMap(picture, before)), sourceMap(picture, after));
  const [x, y] = apply(placementMatrix(placement, resultSize(picture, before)), ...applyMap(change, cx, cy));
  return { ...placement, cx: x, cy: y, scale: placement.scale * Math.sqrt(areaScale(change, cx, cy)) };
}
