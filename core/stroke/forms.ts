import { ANGLE_STEP_DEG, snapped } from '../geometry/straight-line';
import type { Form } from './form';
import { smoothed, straightPath } from './pulls';
import { plainNode, type NodeKind, type StrokePath } from './path';

type Place = { x: number; y: number };

/** A quarter of a circle by one cubic curve: off by at most 0.027 % of the radius (Riskus 2006). */
const QUARTER = 0.5522847498307936;

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
  return { closed: true, nodes: places.map(([x, y]) => plainNode(x, y, 'corner')) };
}

/** The oval that fits into the box between two opposite corners, paper px. @param isEven a circle. */
export function ovalPath(from: Place, to: Place, isEven: boolean): StrokePath {
  const [x0, y0, x1, y1] = corners(from, to, isEven);
  const [cx, cy, rx, ry] = [(x0 + x1) / 2, (y0 + y1) / 2, (x1 - x0) / 2, (y1 - y0) / 2];
  const [hx, hy] = [QUARTER * rx, QUARTER * ry];
  return {
    closed: true,
    nodes: [
      { ...plainNode(cx + rx, cy, 'smooth'), inY: -hy, outY: hy },
      { ...plainNode(cx, cy + ry, 'smooth'), inX: hx, outX: -hx },
      { ...plainNode(cx - rx, cy, 'smooth'), inY: hy, outY: -hy },
      { ...plainNode(cx, cy - ry, 'smooth'), inX: -hx, outX: hx },
    ],
  };
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
  if (form === 'bend') return smoothed(straightPath(from, isEven ? snapped(from, to, ANGLE_STEP_DEG) : to));
  if (form === 'points') return { closed: false, nodes: [plainNode(to.x, to.y, kind)] };
  if (form === 'box') return boxPath(from, to, isEven);
  if (form === 'oval') return ovalPath(from, to, isEven);
  return undefined;
}
