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
