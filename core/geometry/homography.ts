/** A projective map of the plane, row by row: (x, y) to ((a x + b y + c) / (g x + h y + i), (d x + e y + f) / (...)). */
export type Homography = readonly [
  a: number, b: number, c: number, d: number, e: number, f: number, g: number, h: number, i: number,
]; // prettier-ignore

export type Point = readonly [x: number, y: number];
/** Corners in order around: those of a picture from its upper left, clockwise as it is seen. */
export type Quad = readonly [Point, Point, Point, Point];

export const NO_CHANGE: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/**
 * From a rectangle with its corner at the origin to a quad.
 * @throws {RangeError} three of the corners lie on one line: nothing maps there.
 * @see Heckbert 1989, Fundamentals of Texture Mapping and Image Warping, 2.2.3
 */
export function ontoQuad(width: number, height: number, [p, q, r, s]: Quad): Homography {
  const [dx1, dy1] = [q[0] - r[0], q[1] - r[1]];
  const [dx2, dy2] = [s[0] - r[0], s[1] - r[1]];
  const [sx, sy] = [p[0] - q[0] + r[0] - s[0], p[1] - q[1] + r[1] - s[1]];
  const det = dx1 * dy2 - dx2 * dy1;
  const size = Math.max(dx1 * dx1 + dy1 * dy1, dx2 * dx2 + dy2 * dy2);
  if (!(Math.abs(det) > size * 1e-9)) throw new RangeError('three corners lie on one line');
  const g = (sx * dy2 - dx2 * sy) / det;
  const h = (dx1 * sy - sx * dy1) / det;
  return [
    (q[0] - p[0] + g * q[0]) / width,
    (s[0] - p[0] + h * s[0]) / height,
    p[0],
    (q[1] - p[1] + g * q[1]) / width,
    (s[1] - p[1] + h * s[1]) / height,
    p[1],
    g / width,
    h / height,
    1,
  ];
}

/** First `first`, then `then`. */
export function composeMaps(then: Homography, first: Homography): Homography {
  const out: number[] = [];
  for (let row = 0; row < 3; row++)
    for (let col = 0; col < 3; col++)
      out.push(then[3 * row] * first[col] + then[3 * row + 1] * first[3 + col] + then[3 * row + 2] * first[6 + col]);
  return out as unknown as Homography;
}

/** @throws {RangeError} it flattens the plane. */
export function invertMap([a, b, c, d, e, f, g, h, i]: Homography): Homography {
  const [A, B, C] = [e * i - f * h, f * g - d * i, d * h - e * g];
  const det = a * A + b * B + c * C;
  if (!(Math.abs(det) > 0)) throw new RangeError('a map that flattens has no inverse');
  return [A, c * h - b * i, b * f - c * e, B, a * i - c * g, c * d - a * f, C, b * g - a * h, a * e - b * d].map(
    (v) => v / det,
  ) as unknown as Homography;
}

export function applyMap([a, b, c, d, e, f, g, h, i]: Homography, x: number, y: number): [number, number] {
  const w = g * x + h * y + i;
  return [(a * x + b * y + c) / w, (d * x + e * y + f) / w];
}

/** By how much areas grow at a place. */
export function areaScale(m: Homography, x: number, y: number): number {
  const [a, b, c, d, e, f, g, h, i] = m;
  const w = g * x + h * y + i;
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  return Math.abs(det / (w * w * w));
}

/** The area that points enclose in their order, by its sign the way around. */
export const signedArea = (points: readonly Point[]): number =>
  points.reduce((sum, [x, y], i) => {
    const [nx, ny] = points[(i + 1) % points.length];
    return sum + x * ny - nx * y;
  }, 0) / 2;

/** The area that a quad encloses. */
export const areaOf = (quad: Quad): number => Math.abs(signedArea(quad));

/** Whether corners go around the way a picture's do, without a dent. */
export function isConvex(quad: Quad): boolean {
  return quad.every((p, n) => {
    const q = quad[(n + 1) % 4];
    const r = quad[(n + 2) % 4];
    return (q[0] - p[0]) * (r[1] - q[1]) - (q[1] - p[1]) * (r[0] - q[0]) > 0;
  });
}
