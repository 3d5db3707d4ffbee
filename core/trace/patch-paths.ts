import { signedArea, type Point } from '../geometry/homography';
import { Loop } from '../geometry/loop';
import { joinedRings } from '../geometry/rings';
import { fittedRing } from '../stroke/fitted-path';
import type { StrokePath } from '../stroke/path';

/** What the width of a patch's border is measured by: it has none of its own, px. */
const SIZE_PX = 2;

/** A solid patch as a closed path around it; its holes are cut in from its rim. */
export function patchPaths(outlines: readonly (readonly Point[])[], nearPx: number): StrokePath[] {
  const loops = outlines
    .map((points) => ({ ring: Float64Array.from(points.flat()), start: points[0], area: signedArea(points) }))
    .filter(({ area }) => Math.abs(area) > 1);
  const sign = Math.sign(loops.reduce((most, { area }) => (Math.abs(area) > Math.abs(most) ? area : most), 0));
  const outer = loops
    .filter(({ area }) => Math.sign(area) === sign)
    .map(({ ring }) => ({ rings: [ring], loop: new Loop(ring) }));
  for (const { ring, start, area } of loops) {
    if (Math.sign(area) === sign) continue;
    outer.find(({ loop }) => loop.holds(...start))?.rings.push(ring);
  }
  return outer.map(({ rings }) => fittedRing(joinedRings(rings), SIZE_PX, { px: nearPx, radiusPx: 1 }));
}
