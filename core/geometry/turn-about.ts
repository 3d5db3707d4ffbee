import type { Matrix } from './matrix';

const RAD = Math.PI / 180;

/** What is done about a point: mirrored left to right, scaled, turned clockwise, then moved, paper px. */
export interface Turn {
  scale?: number;
  turnDeg?: number;
  mirrors?: boolean;
  dx?: number;
  dy?: number;
}

/** The matrix of a turn about a point. */
export function turnAbout(
  [cx, cy]: readonly [x: number, y: number],
  { scale = 1, turnDeg = 0, mirrors = false, dx = 0, dy = 0 }: Turn,
): Matrix {
  const c = scale * Math.cos(turnDeg * RAD);
  const s = scale * Math.sin(turnDeg * RAD);
  const side = mirrors ? -1 : 1;
  const [a, b, d, e] = [side * c, side * s, -s, c];
  return [a, b, d, e, cx - a * cx - d * cy + dx, cy - b * cx - e * cy + dy];
}
