import { signedArea, type Point } from '../geometry/homography';
import { Loop } from '../geometry/loop';
import { fittedPath } from '../stroke/fitted-path';
import type { PathNode, StrokePath } from '../stroke/path';
import { spineFrom } from '../stroke/spine';
import { around } from './trace';

/** A solid patch as a closed path around it; its holes are cut in from its rim. */
export function patchPaths(outlines: readonly (readonly Point[])[], nearPx: number): StrokePath[] {
  const loops = outlines
    .map((points) => ({ points, area: signedArea(points) }))
    .filter(({ area }) => Math.abs(area) > 1);
  const sign = Math.sign(loops.reduce((most, { area }) => (Math.abs(area) > Math.abs(most) ? area : most), 0));
  const outer = loops
    .filter(({ area }) => Math.sign(area) === sign)
    .map(({ points }) => ({ points, loop: new Loop(points.flat()), holes: [] as (readonly Point[])[] }));
  for (const { points, area } of loops) {
    if (Math.sign(area) === sign) continue;
    outer.find(({ loop }) => loop.holds(...points[0]))?.holes.push(points);
  }
  return outer.map(({ points, holes }) =>
    holes.reduce((path, hole) => cutIn(path, loopPath(hole, nearPx)), loopPath(points, nearPx)),
  );
}

function loopPath(points: readonly Point[], nearPx: number): StrokePath {
  const start = sharpest(points);
  const turned = [...points.slice(start), ...points.slice(0, start), points[start]];
  const open = fittedPath(spineFrom(turned.map(([x, y]) => [x, y, 1] as const)), 2, { px: nearPx, radiusPx: 1 });
  return open.nodes.length > 3 ? around(open) : { closed: true, nodes: open.nodes };
}

/** Where a loop turns the most: its path begins with a corner. */
function sharpest(points: readonly Point[]): number {
  const n = points.length;
  let [best, least] = [0, Infinity];
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [points[(i - 3 + n) % n], points[i], points[(i + 3) % n]];
    const cos = (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1]);
    if (cos < least) [best, least] = [i, cos];
  }
  return best;
}

/** A path that goes from its node nearest to a hole around that and back. */
function cutIn({ nodes }: StrokePath, { nodes: hole }: StrokePath): StrokePath {
  let [from, to, least] = [0, 0, Infinity];
  nodes.forEach((a, i) =>
    hole.forEach((b, j) => {
      const far = Math.hypot(a.x - b.x, a.y - b.y);
      if (far < least) [from, to, least] = [i, j, far];
    }),
  );
  const loop = (all: readonly PathNode[], at: number): PathNode[] => {
    const first: PathNode = { ...all[at], kind: 'corner', inX: 0, inY: 0 };
    const last: PathNode = { ...all[at], kind: 'corner', outX: 0, outY: 0 };
    return [first, ...all.slice(at + 1), ...all.slice(0, at), last];
  };
  return { closed: true, nodes: [...loop(nodes, from), ...loop(hole, to)] };
}
