import type { Box } from './box';

/** A closed line drawn by hand: `[x0, y0, x1, y1, ...]`, its last point joined to its first. */
export type Loop = Float64Array;

/** Whether a point lies within a loop, by the nonzero rule: what a hand has gone around twice is inside, too. */
export function isWithin(loop: Loop, x: number, y: number): boolean {
  let winding = 0;
  for (let i = 0; i < loop.length; i += 2) {
    const j = i + 2 < loop.length ? i + 2 : 0;
    const [ax, ay, bx, by] = [loop[i], loop[i + 1], loop[j], loop[j + 1]];
    if (ay <= y === by <= y) continue;
    if (ax + ((y - ay) / (by - ay)) * (bx - ax) > x) winding += ay < by ? 1 : -1;
  }
  return winding !== 0;
}

/** Whether an edge of a loop enters a box. */
export function crosses(loop: Loop, box: Box): boolean {
  for (let i = 0; i < loop.length; i += 2) {
    const j = i + 2 < loop.length ? i + 2 : 0;
    if (entersBox(loop[i], loop[i + 1], loop[j], loop[j + 1], box)) return true;
  }
  return false;
}

/** Whether a straight line enters a box. Liang & Barsky (1984), ACM TOG 3(1): the part within each pair of sides. */
function entersBox(ax: number, ay: number, bx: number, by: number, { x0, y0, x1, y1 }: Box): boolean {
  let from = 0;
  let to = 1;
  for (const [start, way, low, high] of [
    [ax, bx - ax, x0, x1],
    [ay, by - ay, y0, y1],
  ]) {
    if (way === 0) {
      if (start < low || start > high) return false;
      continue;
    }
    const [a, b] = [(low - start) / way, (high - start) / way];
    from = Math.max(from, Math.min(a, b));
    to = Math.min(to, Math.max(a, b));
  }
  return from <= to;
}

/** The box around a loop. */
export function loopBox(loop: Loop): Box {
  const box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (let i = 0; i < loop.length; i += 2) {
    box.x0 = Math.min(box.x0, loop[i]);
    box.x1 = Math.max(box.x1, loop[i]);
    box.y0 = Math.min(box.y0, loop[i + 1]);
    box.y1 = Math.max(box.y1, loop[i + 1]);
  }
  return box;
}
