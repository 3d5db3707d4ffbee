import type { Form } from './form';
import { smoothed, straightPath } from './pulls';
import type { NodeKind, PathNode, StrokePath } from './path';

type Place = { x: number; y: number };

/** A quarter of a circle by one cubic curve: off by at most 0.027 % of the radius (Riskus 2006). */
const QUARTER = 0.5522847498307936;

const node = (x: number, y: number, kind: NodeKind, inX = 0, inY = 0, outX = 0, outY = 0): PathNode => ({
  ...{ x, y, kind, inX, inY, outX, outY },
  width: 1,
});

/** The corners of a box, the second moved so that its sides are as long as each other where it is to be even. */
function corners(from: Place, to: Place, isEven: boolean): [x0: number, y0: number, x1: number, y1: number] {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  if (!isEven) return [from.x, from.y, to.x, to.y];
  const side = Math.max(Math.abs(dx), Math.abs(dy));
  return [from.x, from.y, from.x + (dx < 0 ? -side : side), from.y + (dy < 0 ? -side : side)];
}

/** A box between two opposite corners, paper px. @param isEven a square. */
export function boxPath(from: Place, to: Place, isEven: boolean): StrokePath {
  const [x0, y0, x1, y1] = corners(from, to, isEven);
  const places = [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ];
  return { closed: true, nodes: places.map(([x, y]) => node(x, y, 'corner')) };
}

/** The oval that fits into the box between two opposite corners, paper px. @param isEven a circle. */
export function ovalPath(from: Place, to: Place, isEven: boolean): StrokePath {
  const [x0, y0, x1, y1] = corners(from, to, isEven);
  const [cx, cy, rx, ry] = [(x0 + x1) / 2, (y0 + y1) / 2, (x1 - x0) / 2, (y1 - y0) / 2];
  const [hx, hy] = [QUARTER * rx, QUARTER * ry];
  return {
    closed: true,
    nodes: [
      node(cx + rx, cy, 'smooth', 0, -hy, 0, hy),
      node(cx, cy + ry, 'smooth', hx, 0, -hx, 0),
      node(cx - rx, cy, 'smooth', 0, hy, 0, -hy),
      node(cx, cy - ry, 'smooth', -hx, 0, hx, 0),
    ],
  };
}

/** Lines go in steps of so many degrees. */
const STEP_DEG = 15;

/** A place in a direction that is a multiple of {@link STEP_DEG}, as far along it. */
function inSteps(from: Place, to: Place): Place {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  const step = (STEP_DEG * Math.PI) / 180;
  const angle = Math.round(Math.atan2(dy, dx) / step) * step;
  const along = dx * Math.cos(angle) + dy * Math.sin(angle);
  return { x: from.x + along * Math.cos(angle), y: from.y + along * Math.sin(angle) };
}

/**
 * The path of a form between two places; of the hand's own way there is none.
 * @param isEven its sides are as long as each other; a line goes in steps of 15 degrees.
 * @param kind what the first of points that are tapped out is.
 */
export function pathOf(
  form: Form,
  from: Place,
  to: Place,
  { isEven = false, kind = 'auto' }: { isEven?: boolean; kind?: NodeKind } = {},
): StrokePath | undefined {
  if (form === 'bend') return smoothed(straightPath(from, isEven ? inSteps(from, to) : to));
  if (form === 'points') return { closed: false, nodes: [node(to.x, to.y, kind)] };
  if (form === 'box') return boxPath(from, to, isEven);
  if (form === 'oval') return ovalPath(from, to, isEven);
  return undefined;
}
