/**
 * A 2D affine matrix in the order of SVG and canvas: `x' = a x + c y + e`, `y' = b x + d y + f`.
 * Axes: x to the right, y down.
 */
export type Matrix = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

export const IDENTITY: Matrix = [1, 0, 0, 1, 0, 0];

/** Scales by `k` about the origin. */
export const scaling = (k: number): Matrix => [k, 0, 0, k, 0, 0];

/** The matrix that applies `first`, then `then`. */
export function compose(then: Matrix, first: Matrix): Matrix {
  const [a, b, c, d, e, f] = then;
  const [p, q, r, s, t, u] = first;
  return [a * p + c * q, b * p + d * q, a * r + c * s, b * r + d * s, a * t + c * u + e, b * t + d * u + f];
}

/**
 * The inverse of `m`.
 * @throws {RangeError} when `m` flattens the plane (determinant 0 or not finite).
 */
export function invert(m: Matrix): Matrix {
  const [a, b, c, d, e, f] = m;
  const det = a * d - b * c;
  if (!Number.isFinite(det) || det === 0) throw new RangeError(`matrix has no inverse: determinant ${det}`);
  return [d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det];
}

/** The image of the point (x, y) under `m`. */
export function apply(m: Matrix, x: number, y: number): [number, number] {
  return [m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5]];
}

/** The factor by which `m` scales lengths, for similarities; otherwise the root of its area factor. */
export function lengthScale(m: Matrix): number {
  return Math.sqrt(Math.abs(m[0] * m[3] - m[1] * m[2]));
}

export const isIdentity = (m: Matrix): boolean => m.every((v, i) => v === IDENTITY[i]);
