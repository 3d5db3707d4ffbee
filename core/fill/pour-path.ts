import { joinedRings, type Rings } from '../geometry/rings';
import { fittedRing, type Nearness } from '../stroke/fitted-path';
import { makePen, settingsOf, type Pen } from '../stroke/pen';
import type { StrokePath } from '../stroke/path';

/** How far a pour's curves may lie from the middles of the lines around it, px. */
const NEAR: Nearness = { px: 0.1, radiusPx: 1 };
/**
 * Colour goes on beyond its border by half of this, px: under the line, so that two colours that share a line overlap, and
 * nothing shines through between them wherever they are drawn.
 */
export const OVERLAP_PX = 1;

/** What draws a pour: all that its border encloses, and a hair of the border itself. */
export const POUR_PEN: Pen = {
  ...makePen('fineliner', OVERLAP_PX, 0, false, 1, settingsOf('fineliner')),
  fill: 'with',
};

/** The closed path around an area with holes, or undefined where there is none. */
export function pourPath(rings: Rings): StrokePath | undefined {
  const ring = joinedRings(rings);
  const path = ring.length < 6 ? undefined : fittedRing(ring, OVERLAP_PX, NEAR);
  return path && path.nodes.length >= 2 ? path : undefined;
}
