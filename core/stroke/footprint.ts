import { withinTurn } from '../geometry/degrees';
import type { Pen } from './pen';

/** What a nib leaves that is not round, hard and even. */
export interface Footprint {
  /** The thickness of a flat nib as a part of its width; 1: round. */
  flat: number;
  /** Unit vector along the width of a flat nib; where the nib turns along the stroke, its spine holds one a point. */
  ex: number;
  ey: number;
  /** The part of the radius over which the edge fades, 0 (hard) to 1. */
  soft: number;
  /** How much the paper's grain shows through, 0 to 1. */
  grain: number;
}

/** @returns undefined for a round, hard nib. */
export function footprintOf({ flat = 1, nibDeg = 0, soft = 0, grain = 0 }: Pen): Footprint | undefined {
  if (flat === 1 && soft === 0 && grain === 0) return undefined;
  const [ex, ey] = directionOf(nibDeg);
  return { flat, ex, ey, soft, grain };
}

/** Browsers differ in the last bits of sines: these are rounded to what all of them agree on. */
const ROUND = 2 ** 24;
const DIRECTIONS = Float64Array.from({ length: 720 }, (_, i) => {
  const angle = ((i >> 1) * Math.PI) / 180;
  return Math.round((i & 1 ? Math.sin(angle) : Math.cos(angle)) * ROUND) / ROUND;
});

/** The unit vector at clockwise degrees from the right (y down), to the whole degree; unit to 1e-7. */
export function directionOf(deg: number): readonly [x: number, y: number] {
  const at = 2 * withinTurn(Math.round(deg));
  return [DIRECTIONS[at], DIRECTIONS[at + 1]];
}
