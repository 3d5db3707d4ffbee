/** How a hand's pressure opens the nib. */
export interface PressureCurve {
  /** The pressure from which on the line is wider than its smallest, 0 to 1. */
  light: number;
  /** The pressure from which on it is full; more than `light`. */
  firm: number;
  /** How far the nib is open half way between them, 0 to 1. */
  middle: number;
}

/** From the lightest touch that a hand controls to a firm one, evenly (common practice, no source). */
export const EVEN_PRESSURE: PressureCurve = { light: 0.1, firm: 0.9, middle: 0.5 };
/** What two pressures have to lie apart, so that a hand can tell them apart. */
export const LEAST_SPAN = 0.1;
/** The middle never lies at an end: the curve always rises. */
export const LEAST_MIDDLE = 0.05;

/**
 * How much of a pen's range a pressure 0 to 1 opens: nothing up to `light`, all of it from `firm` on, between them a
 * monotone cubic through the middle.
 * @see Fritsch & Carlson (1980), SIAM J. Numer. Anal. 17(2); the inner slope is the harmonic mean of Fritsch & Butland
 *   (1984), the outer ones those of the chords. Only + - x /.
 */
export function openingAt(p: number, { light, firm, middle }: PressureCurve): number {
  const u = (p - light) / (firm - light);
  if (!(u > 0)) return 0;
  if (u >= 1) return 1;
  if (middle === 0.5) return u;
  const before = 2 * middle;
  const after = 2 * (1 - middle);
  const slope = (2 * before * after) / (before + after);
  return u < 0.5
    ? hermite(2 * u, 0, middle, before / 2, slope / 2)
    : hermite(2 * u - 1, middle, 1, slope / 2, after / 2);
}

/** The cubic from a to b over 0 to 1, with these slopes at its ends. */
function hermite(t: number, a: number, b: number, slopeA: number, slopeB: number): number {
  const s = 1 - t;
  return a * (1 + 2 * t) * s * s + b * t * t * (3 - 2 * t) + slopeA * t * s * s - slopeB * t * t * s;
}
