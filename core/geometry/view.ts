import { withinTurn } from './degrees';
import type { Box } from './box';
import { apply, compose, invert, type Matrix } from './matrix';

/**
 * How the paper lies on the screen: CSS px per paper px, clockwise degrees, and where the paper's
 * top left corner is, in CSS px of the viewport.
 */
export interface View {
  scale: number;
  turnDeg: number;
  x: number;
  y: number;
}

export interface Size {
  width: number;
  height: number;
}

export const MAX_SCALE = 64;
/** The paper never gets smaller than this part of its fitted size. */
const SMALLEST_OF_FIT = 0.25;
/** Turning comes to rest at a right angle within this many degrees. */
const LEVEL_SNAP_DEG = 3;

/** From paper px to CSS px of the viewport. */
export function viewMatrix({ scale, turnDeg, x, y }: View): Matrix {
  const [c, s] = turnParts(turnDeg);
  return [c * scale, s * scale, -s * scale, c * scale, x, y];
}

/** Cosine and sine, exact at right angles so that a level page stays on the pixel grid. */
function turnParts(deg: number): [number, number] {
  const quarter = (((deg / 90) % 4) + 4) % 4;
  if (Number.isInteger(quarter))
    return (
      [
        [1, 0],
        [0, 1],
        [-1, 0],
        [0, -1],
      ] as [number, number][]
    )[quarter];
  const angle = (deg * Math.PI) / 180;
  return [Math.cos(angle), Math.sin(angle)];
}

/** The paper point under a point of the viewport. */
export const toPaper = (view: View, x: number, y: number): [number, number] => apply(invert(viewMatrix(view)), x, y);

/** The scale at which the whole paper fits, turned as it is, with `marginPx` around. */
export function fitScale(paper: Size, viewport: Size, turnDeg: number, marginPx: number): number {
  const [c, s] = turnParts(turnDeg).map(Math.abs);
  const width = paper.width * c + paper.height * s;
  const height = paper.width * s + paper.height * c;
  return Math.max(
    1e-3,
    Math.min((viewport.width - 2 * marginPx) / width, (viewport.height - 2 * marginPx) / height, MAX_SCALE),
  );
}

/** The view that shows the whole paper in the middle. */
export function fitted(paper: Size, viewport: Size, turnDeg = 0, marginPx = 12): View {
  const scale = fitScale(paper, viewport, turnDeg, marginPx);
  const view = { scale, turnDeg, x: 0, y: 0 };
  const [cx, cy] = apply(viewMatrix(view), paper.width / 2, paper.height / 2);
  return { ...view, x: viewport.width / 2 - cx, y: viewport.height / 2 - cy };
}

/**
 * The view after a movement that carries the point `from` to `to` (viewport px), scales by `factor`
 * and turns by `turnDeg` about it.
 */
export function moved(
  view: View,
  from: readonly [number, number],
  to: readonly [number, number],
  factor = 1,
  turnDeg = 0,
): View {
  const [px, py] = toPaper(view, from[0], from[1]);
  const next = {
    scale: view.scale * factor,
    turnDeg: withinTurn(view.turnDeg + turnDeg),
    x: 0,
    y: 0,
  };
  const [qx, qy] = apply(viewMatrix(next), px, py);
  return { ...next, x: to[0] - qx, y: to[1] - qy };
}

/**
 * Keeps the scale within bounds, and the middle of what is free on the paper.
 * @param free the part of the viewport that no bar covers, CSS px.
 * @param anchor the point that stays where it is when the scale is held back: the fingers' middle, the mouse.
 */
export function bounded(view: View, paper: Size, free: Box, anchor?: readonly [number, number]): View {
  const size = { width: Math.max(1, free.x1 - free.x0), height: Math.max(1, free.y1 - free.y0) };
  const least = Math.min(1, fitScale(paper, size, view.turnDeg, 12)) * SMALLEST_OF_FIT;
  const scale = Math.min(MAX_SCALE, Math.max(least, view.scale));
  const middle: [number, number] = [(free.x0 + free.x1) / 2, (free.y0 + free.y1) / 2];
  const still = anchor ?? middle;
  const next = scale === view.scale ? view : moved(view, still, still, scale / view.scale);
  const [px, py] = toPaper(next, ...middle);
  const cx = Math.min(paper.width, Math.max(0, px));
  const cy = Math.min(paper.height, Math.max(0, py));
  if (cx === px && cy === py) return next;
  const [qx, qy] = apply(viewMatrix(next), cx, cy);
  return { ...next, x: next.x + middle[0] - qx, y: next.y + middle[1] - qy };
}

/** The turn that a finished gesture comes to rest at: level when it is nearly so. */
export function restingTurn(turnDeg: number): number {
  const nearest = Math.round(turnDeg / 90) * 90;
  return Math.abs(turnDeg - nearest) <= LEVEL_SNAP_DEG ? withinTurn(nearest) : turnDeg;
}

/** A view at rest lies on whole device pixels, so that a page at 100 % shows its pixels one to one. */
export function settledView(view: View, devicePixelRatio: number): View {
  const snap = (v: number) => Math.round(v * devicePixelRatio) / devicePixelRatio;
  return { ...view, x: snap(view.x), y: snap(view.y) };
}

/** From level px (origin at a grid point) to CSS px of the viewport. */
export const gridMatrix = (view: View, level: number, x0: number, y0: number): Matrix =>
  compose(viewMatrix(view), [2 ** -level, 0, 0, 2 ** -level, x0 * 2 ** -level, y0 * 2 ** -level]);
