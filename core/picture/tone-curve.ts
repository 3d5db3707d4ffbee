/** Points of a curve from what comes in to what goes out, 0 to 1 each, by rising x. */
export type CurvePoints = readonly (readonly [x: number, y: number])[];

/** As it came. */
export const STRAIGHT: CurvePoints = [
  [0, 0],
  [0.5, 0.5],
  [1, 1],
];

/** Points of a curve stand at least so far apart, 0 to 1. */
export const LEAST_APART = 0.01;

/**
 * The curve through points, cubic between them, as a function: where the points rise it rises, where they fall it falls, and
 * nowhere does it reach beyond them. Before the first and after the last point it is level.
 * @param points at least one, with rising x.
 * @see Fritsch & Carlson 1980, Monotone piecewise cubic interpolation
 */
export function monotoneCurve(points: CurvePoints): (x: number) => number {
  const n = points.length;
  if (n === 1) return () => points[0][1];
  const width = (k: number) => points[k + 1][0] - points[k][0];
  const slopes = Array.from({ length: n - 1 }, (_, k) => (points[k + 1][1] - points[k][1]) / width(k));
  const tangents = points.map((_, k) => {
    if (k === 0) return slopes[0];
    if (k === n - 1) return slopes[n - 2];
    return slopes[k - 1] * slopes[k] <= 0 ? 0 : (slopes[k - 1] + slopes[k]) / 2;
  });
  for (let k = 0; k < n - 1; k++) {
    if (slopes[k] === 0) {
      tangents[k] = tangents[k + 1] = 0;
      continue;
    }
    const a = tangents[k] / slopes[k];
    const b = tangents[k + 1] / slopes[k];
    const far = a * a + b * b;
    // Outside of the circle of radius 3 the cubic may turn back.
    if (far > 9) {
      const t = 3 / Math.sqrt(far);
      tangents[k] = t * a * slopes[k];
      tangents[k + 1] = t * b * slopes[k];
    }
  }
  return (x) => {
    if (x <= points[0][0]) return points[0][1];
    if (x >= points[n - 1][0]) return points[n - 1][1];
    let k = 0;
    while (k < n - 2 && x >= points[k + 1][0]) k++;
    const h = width(k);
    const t = (x - points[k][0]) / h;
    const u = 1 - t;
    return (
      u * u * (1 + 2 * t) * points[k][1] +
      t * t * (3 - 2 * t) * points[k + 1][1] +
      h * t * u * (u * tangents[k] - t * tangents[k + 1])
    );
  };
}

/** The curve that makes one tone a shadow and another one light (0 to 1 each), with a point between them to refine. */
export function curveThrough(shadow: number, light: number): CurvePoints {
  const dark = Math.min(shadow, light);
  const bright = Math.max(light, shadow, dark + 3 * LEAST_APART);
  const low = Math.min(dark, 1 - 3 * LEAST_APART);
  const high = Math.min(1, bright);
  return [
    [low, SHADOW],
    [(low + high) / 2, 0.5],
    [high, LIGHT],
  ];
}

/** What a tone that is touched for shadow, or for light, becomes. */
const SHADOW = 0.06;
const LIGHT = 0.94;
