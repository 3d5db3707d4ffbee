/** Legs are straight when their two steps turn by less than 12 degrees: the cosine, from a table. */
const STRAIGHT_COS = 0.978;
/** A corner turns by 60 to 150 degrees: the cosines. */
const CORNER_COS = 0.5;
const HAIRPIN_COS = -0.866;
/** At an even speed the way round the corner is as long as a step; so much more is allowed. */
const LONGEST_WAY = 1.3;

/**
 * The corner that a fast hand made between two samples: where the straight legs before and after
 * would meet. Without it the chord between the two samples cuts it off.
 *
 * @param x, y knots; k - 2 to k lie before the corner, k + 1 to k + 3 after it. Not modified.
 * @param leastStep shorter steps cut off too little to matter, and may be noise.
 * @returns its place, or undefined when the line does not turn like that.
 */
export function straddledCorner(
  x: Float64Array,
  y: Float64Array,
  k: number,
  leastStep: number,
): [x: number, y: number] | undefined {
  const [ax, ay] = [x[k] - x[k - 1], y[k] - y[k - 1]];
  const [bx, by] = [x[k + 2] - x[k + 1], y[k + 2] - y[k + 1]];
  const a = Math.sqrt(ax * ax + ay * ay);
  const b = Math.sqrt(bx * bx + by * by);
  if (a < leastStep || b < leastStep) return undefined;
  const dot = ax * bx + ay * by;
  if (dot > CORNER_COS * a * b || dot < HAIRPIN_COS * a * b) return undefined;
  if (!isStraight(x, y, k - 2) || !isStraight(x, y, k + 1)) return undefined;
  const [mx, my] = [x[k + 1] - x[k], y[k + 1] - y[k]];
  // Where the legs meet: `alpha` steps on from k, `beta` steps back from k + 1.
  const cross = ax * by - ay * bx;
  const alpha = (mx * by - my * bx) / cross;
  const beta = (ax * my - ay * mx) / cross;
  if (!(alpha > 0 && beta > 0) || alpha * a + beta * b > LONGEST_WAY * Math.max(a, b)) return undefined;
  return [x[k] + alpha * ax, y[k] + alpha * ay];
}

/** A tip turns by more than 80 degrees: the cosine. */
const TIP_COS = 0.17;
/** Legs of a tip lead somewhere: so much of their way is straight on. */
const TIP_STRAIGHT = 0.9;

/**
 * Whether the line turns back between knots k and k + 1: the legs before and after may tremble, but each leads
 * somewhere, and they lead apart.
 *
 * @param x, y knots, as in {@link straddledCorner}. Not modified.
 */
export function isTip(x: Float64Array, y: Float64Array, k: number): boolean {
  const [ax, ay] = [x[k] - x[k - 2], y[k] - y[k - 2]];
  const [bx, by] = [x[k + 3] - x[k + 1], y[k + 3] - y[k + 1]];
  const a = Math.sqrt(ax * ax + ay * ay);
  const b = Math.sqrt(bx * bx + by * by);
  if (ax * bx + ay * by > TIP_COS * a * b) return false;
  return a > TIP_STRAIGHT * wayOf(x, y, k - 2) && b > TIP_STRAIGHT * wayOf(x, y, k + 1);
}

/** How long the way is from knot i to i + 2. */
function wayOf(x: Float64Array, y: Float64Array, i: number): number {
  const [px, py] = [x[i + 1] - x[i], y[i + 1] - y[i]];
  const [qx, qy] = [x[i + 2] - x[i + 1], y[i + 2] - y[i + 1]];
  return Math.sqrt(px * px + py * py) + Math.sqrt(qx * qx + qy * qy);
}

/** Whether knots i, i + 1 and i + 2 lie nearly in a line. */
function isStraight(x: Float64Array, y: Float64Array, i: number): boolean {
  const [px, py] = [x[i + 1] - x[i], y[i + 1] - y[i]];
  const [qx, qy] = [x[i + 2] - x[i + 1], y[i + 2] - y[i + 1]];
  const dot = px * qx + py * qy;
  return dot > 0 && dot * dot > STRAIGHT_COS * STRAIGHT_COS * (px * px + py * py) * (qx * qx + qy * qy);
}
