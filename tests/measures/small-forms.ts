import type { Spine } from '../../core/stroke/spine';
import type { KnownPath } from './line-error';

/** How far a straight run goes before and after a small form, CSS px. */
const RUN_PX = 24;

/** A run, a loop that turns once and an eighth, and a run: as in a curl or a letter. */
export function loop(radiusPx: number): KnownPath {
  const turn = 2.25 * Math.PI;
  const round = turn * radiusPx;
  const on = (a: number) => [100 + radiusPx * Math.sin(a), 100 - radiusPx * Math.cos(a)] as const;
  const [ex, ey] = on(turn);
  return {
    lengthPx: round + 2 * RUN_PX,
    radiusPx,
    at: (s) => {
      if (s < RUN_PX) return [100 - RUN_PX + s, 100 - radiusPx];
      if (s <= RUN_PX + round) return on((s - RUN_PX) / radiusPx);
      const on2 = s - RUN_PX - round;
      return [ex + on2 * Math.cos(turn), ey + on2 * Math.sin(turn)];
    },
  };
}

/** Legs that meet in tips: each turns back by 180 degrees less `tipDeg`, to one side and the other. */
export function tips(tipDeg: number, legPx: number, legs: number): KnownPath {
  const half = ((tipDeg / 2) * Math.PI) / 180;
  const [across, along] = [legPx * Math.sin(half), legPx * Math.cos(half)];
  return {
    lengthPx: legPx * legs,
    radiusPx: 0,
    at: (s) => {
      const leg = Math.min(legs - 1, Math.floor(s / legPx));
      const part = s / legPx - leg;
      return [50 + (leg + part) * across, 300 - along * (leg % 2 ? 1 - part : part)];
    },
  };
}

/** The places of the tips of {@link tips}. */
export const tipPlaces = (legPx: number, legs: number): number[] =>
  Array.from({ length: legs - 1 }, (_, i) => (i + 1) * legPx);

/** How far a spine stays from the places of a path: the farthest of them, px. */
export function missedBy(spine: Spine, path: KnownPath, places: readonly number[]): number {
  return Math.max(...places.map((s) => distanceTo(spine, ...path.at(s))));
}

/** The places of a loop, every half px of its turn. */
export const loopPlaces = (path: KnownPath): number[] =>
  Array.from({ length: Math.floor((path.lengthPx - 2 * RUN_PX) * 2) }, (_, i) => RUN_PX + i / 2);

function distanceTo({ data, count }: Spine, x: number, y: number): number {
  let least = Infinity;
  for (let k = 0; k + 1 < count; k++) {
    const [ax, ay, , bx, by] = data.subarray(3 * k, 3 * k + 5);
    const [dx, dy] = [bx - ax, by - ay];
    const squared = dx * dx + dy * dy;
    const u = squared ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / squared)) : 0;
    least = Math.min(least, Math.hypot(ax + u * dx - x, ay + u * dy - y));
  }
  return least;
}
