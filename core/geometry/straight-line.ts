import type { HandPoint } from '../stroke/samples';

const RAD = Math.PI / 180;
/** Of a hand that stood still or went back, nothing is kept: steps along the line are at least so long, as a part of it. */
const LEAST_STEP = 1 / 2000;

/** A held key turns lines to multiples of this. */
export const ANGLE_STEP_DEG = 15;

type Place = { x: number; y: number };

/** The unit vector from one place towards another, or in the nearest multiple of `stepDeg`, and how far the other is along it. */
function directionTo(from: Place, to: Place, stepDeg?: number): { ux: number; uy: number; length: number } {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  const angle = Math.atan2(dy, dx);
  const turned = stepDeg === undefined ? angle : Math.round(angle / (stepDeg * RAD)) * stepDeg * RAD;
  const [ux, uy] = [Math.cos(turned), Math.sin(turned)];
  return { ux, uy, length: dx * ux + dy * uy };
}

/** The end of a straight line that points in a multiple of so many degrees, nearest to a place. */
export function snapped(from: Place, to: Place, stepDeg: number): Place {
  const { ux, uy, length } = directionTo(from, to, stepDeg);
  return { x: from.x + length * ux, y: from.y + length * uy };
}

/**
 * A hand's way made straight, from its first point to its last, pressed as it was pressed on the way.
 * @param points at least one, as the hand gave them. Not modified.
 * @param stepDeg the line points in a multiple of so many degrees; absent: to the last point.
 */
export function straightened(points: readonly HandPoint[], stepDeg?: number): HandPoint[] {
  const [first] = points;
  const last = points[points.length - 1];
  const { ux, uy, length } = directionTo(first, last, stepDeg);
  if (!(length > 0)) return [first];
  const line: HandPoint[] = [first];
  let furthest = 0;
  for (const p of points) {
    const along = Math.min(length, (p.x - first.x) * ux + (p.y - first.y) * uy);
    if (along - furthest < LEAST_STEP * length) continue;
    furthest = along;
    line.push({ ...p, x: first.x + along * ux, y: first.y + along * uy });
  }
  if (furthest < length) line.push({ ...last, x: first.x + length * ux, y: first.y + length * uy });
  return line;
}
