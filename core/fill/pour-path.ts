import { joinedRings, type Rings } from '../geometry/rings';
import { fittedPath, type Nearness } from '../stroke/fitted-path';
import { makePen, settingsOf, type Pen } from '../stroke/pen';
import type { StrokePath } from '../stroke/path';
import { spineFrom } from '../stroke/spine';

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
  if (ring.length < 6) return undefined;
  const points: [number, number, number][] = [];
  for (let at = 0; at < ring.length; at += 2) points.push([ring[at], ring[at + 1], OVERLAP_PX / 2]);
  points.push(points[0]);
  const { nodes } = fittedPath(spineFrom(points), OVERLAP_PX, NEAR);
  if (nodes.length < 3) return undefined;
  const last = nodes.pop()!;
  [nodes[0].inX, nodes[0].inY] = [last.inX, last.inY];
  return { closed: true, nodes };
}
