/** Half a pixel's diagonal, rounded up: no edge further away than this crosses the pixel. */
export const REACH = 0.7072;
/** Ends thinner than this radius fade; measured: there the two forms err least (bench coverage). */
export const THIN_END = 0.65;

/**
 * The covered part of a unit pixel whose centre lies `s` inside a straight edge (negative: outside).
 * Exact: the integral of the pixel's profile along the edge's normal, a trapezoid of half widths
 * (a - b) / 2 and (a + b) / 2.
 * @param a, b the larger and the smaller of the normal's |x| and |y|.
 */
export function halfPlane(s: number, a: number, b: number): number {
  const far = (a + b) / 2;
  const d = s < 0 ? -s : s;
  if (d >= far) return s < 0 ? 0 : 1;
  if (2 * d <= a - b) return 0.5 + s / a;
  const t = far - d;
  const rest = (t * t) / (2 * a * b);
  return s < 0 ? rest : 1 - rest;
}

/** Table steps per px of distance, and of the normal's b / a from 0 to 1. */
export const RAMP_STEPS = 128;
const RAMP_LEAN_STEPS = 32;
/** Entries of one direction: distances from -REACH to REACH, each in the middle of its step. */
const RAMP_LENGTH = Math.ceil(2 * REACH * RAMP_STEPS);

/**
 * {@link halfPlane} in 0 to 255 for every distance within reach of an edge, by the edge's direction: entry
 * `rampAt(nx, ny) + floor((s + REACH) * RAMP_STEPS)` for -REACH <= s < REACH. Off by at most 0.012: half a step of
 * distance, half a step of direction, and the rounding. Reading it costs no branch that a processor can guess wrong.
 */
export const RAMPS: Uint8Array = Uint8Array.from({ length: RAMP_LENGTH * (RAMP_LEAN_STEPS + 1) }, (_, k) => {
  const lean = Math.floor(k / RAMP_LENGTH) / RAMP_LEAN_STEPS;
  const s = ((k % RAMP_LENGTH) + 0.5) / RAMP_STEPS - REACH;
  const a = 1 / Math.sqrt(1 + lean * lean);
  return Math.round(255 * halfPlane(s, a, lean * a));
});

/** Where the ramp of an edge with the unit normal (nx, ny) begins in {@link RAMPS}. */
export function rampAt(nx: number, ny: number): number {
  const x = nx < 0 ? -nx : nx;
  const y = ny < 0 ? -ny : ny;
  return RAMP_LENGTH * (((x > y ? y / x : x / y) * RAMP_LEAN_STEPS + 0.5) | 0);
}
