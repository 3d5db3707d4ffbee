import type { Box } from '../../../../core/geometry/box';
import { apply, type Matrix } from '../../../../core/geometry/matrix';
import { TOUCH } from '../../../theme/theme';

export type Point = readonly [x: number, y: number];

/** The turn handle stands this far outside the picture's upper edge, CSS px. */
const STEM_PX = 40;
/** Handles that would lie under a bar, or beyond the screen, stay this far inside what is free. */
const EDGE_PX = 12;
const SAID_BELOW_PX = 34;

/** Where a picture's frame and its handles stand on the screen, CSS px. */
export interface HandlePlaces {
  corners: readonly Point[];
  centre: Point;
  /** The middle of the upper edge, where the stem begins. */
  top: Point;
  /** The handles of the corners, in the corners' order. */
  scaleAt: readonly Point[];
  turnAt: Point;
  /** The middle of what is said about a drag: below the frame, where there is room. */
  saidAt: Point;
}

/**
 * @param toScreen from the picture's pixels to the screen; `width` and `height` in those pixels.
 * @param free what no bar or column covers; handles of a picture that reaches beyond it stay inside.
 */
export function handlePlaces(toScreen: Matrix, width: number, height: number, free: Box): HandlePlaces {
  const at = (u: number, v: number): Point => apply(toScreen, u * width, v * height);
  const corners = [at(0, 0), at(1, 0), at(1, 1), at(0, 1)];
  const centre = at(0.5, 0.5);
  const top = at(0.5, 0);
  const reach = Math.hypot(top[0] - centre[0], top[1] - centre[1]) || 1;
  const tip: Point = [
    top[0] + ((top[0] - centre[0]) / reach) * STEM_PX,
    top[1] + ((top[1] - centre[1]) / reach) * STEM_PX,
  ];
  const box = { x0: free.x0 + EDGE_PX, y0: free.y0 + EDGE_PX, x1: free.x1 - EDGE_PX, y1: free.y1 - EDGE_PX };
  const scaleAt = corners.map((corner) => within(box, centre, corner));
  const [xs, ys] = [scaleAt.map(([x]) => x), scaleAt.map(([, y]) => y)];
  const saidAt: Point = [
    (Math.min(...xs) + Math.max(...xs)) / 2,
    Math.min(Math.max(...ys) + SAID_BELOW_PX, free.y1 - EDGE_PX),
  ];
  return { corners, centre, top, scaleAt, saidAt, turnAt: apartFrom(scaleAt, within(box, centre, tip), centre, box) };
}

/**
 * Where a handle stands: at its place, or, where that lies beyond the box, on the way there from the
 * centre, still on the picture's own line. A centre that is out of sight itself leaves the nearest edge.
 */
function within({ x0, y0, x1, y1 }: Box, [cx, cy]: Point, [x, y]: Point): Point {
  const nearest: Point = [Math.min(x1, Math.max(x0, x)), Math.min(y1, Math.max(y0, y))];
  if (cx < x0 || cx > x1 || cy < y0 || cy > y1) return nearest;
  let u = 1;
  if (x > x1) u = Math.min(u, (x1 - cx) / (x - cx));
  if (x < x0) u = Math.min(u, (x0 - cx) / (x - cx));
  if (y > y1) u = Math.min(u, (y1 - cy) / (y - cy));
  if (y < y0) u = Math.min(u, (y0 - cy) / (y - cy));
  return [cx + u * (x - cx), cy + u * (y - cy)];
}

/**
 * The place nearest to `at` that can be touched apart from the others: towards the centre if it can be, else in
 * another direction, and always inside the box.
 */
function apartFrom(others: readonly Point[], at: Point, centre: Point, { x0, y0, x1, y1 }: Box): Point {
  const isFree = ([x, y]: Point) => others.every((o) => Math.hypot(o[0] - x, o[1] - y) >= TOUCH);
  if (isFree(at)) return at;
  const inwards = Math.atan2(centre[1] - at[1], centre[0] - at[0]);
  for (let steps = 1; steps <= MOST_STEPS; steps++)
    for (const turn of [0, 1, -1, 2, -2, 3, -3, 4]) {
      const angle = inwards + (turn * Math.PI) / 4;
      const place: Point = [at[0] + steps * TOUCH * Math.cos(angle), at[1] + steps * TOUCH * Math.sin(angle)];
      const isInside = place[0] >= x0 && place[0] <= x1 && place[1] >= y0 && place[1] <= y1;
      if (isInside && isFree(place)) return place;
    }
  return at;
}

/** Four others clash with at most so many steps in any one direction. */
const MOST_STEPS = 5;
