/** A coordinate of a cubic Bezier curve with the points `a` to `d`, at its parameter `u`, 0 to 1. */
export function cubicAt(a: number, b: number, c: number, d: number, u: number): number {
  const v = 1 - u;
  return v * v * v * a + 3 * u * v * v * b + 3 * u * u * v * c + u * u * u * d;
}
