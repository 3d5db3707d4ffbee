import type { HandPoint } from '../stroke/samples';

const RAD = Math.PI / 180;
/** Of a hand that stood still or went back, nothing is kept: steps along the line are at least so long, as a part of it. */
const LEAST_STEP = 1 / 2000;

/**
 * A hand's way made straight, from its first point to its last, pressed as it was pressed on the way.
 * @param points at least one, as the hand gave them. Not modified.
 * @param stepDeg the line points in a multiple of so many degrees; absent: to the last point.
 */
export function straightened(points: readonly HandPoint[], stepDeg?: number): HandPoint[] {
  const [first] = points;
  const last = points[points.length - 1];
  const [dx, dy] = [last.x - first.x, last.y - first.y];
  const angle = Math.atan2(dy, dx);
  const snapped = stepDeg === undefined ? angle : Math.round(angle / (stepDeg * RAD)) * stepDeg * RAD;
  const [ux, uy] = [Math.cos(snapped), Math.sin(snapped)];
  const length = dx * ux + dy * uy;
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
