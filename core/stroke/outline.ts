import type { Spine } from './spine';

/**
 * Closed contours to be filled by the nonzero rule: `xy` holds `[x0, y0, x1, y1, ...]`,
 * `ends[k]` is the number of points up to the end of contour k. Positively oriented (clockwise on
 * a screen, y down).
 */
export interface Outline {
  xy: Float64Array;
  ends: number[];
}

/**
 * The outline of the union of a spine's round cones.
 *
 * Each segment contributes, on either side of its axis, the strip between the axis and the common
 * tangent of its two discs; each outer corner and each end contributes a sector. All of these turn
 * the same way, so where they overlap the winding number only grows and nothing cancels: no holes at
 * hairpins or in curls tighter than the nib. Sharp inner corners run through the centre. Where one disc
 * holds the next there is no common tangent and the contour is closed and begun anew.
 *
 * @param spine not modified. Empty gives no contours; a single point gives a circle.
 * @param tolerancePx how far a chord of an arc may lie inside it, > 0.
 * @param work scratch memory; give the same one again for many strokes.
 * @returns new arrays. Only + - x / and sqrt.
 */
export function outlineOf(spine: Spine, tolerancePx: number, work = new OutlineWorkspace()): Outline {
  const { data, count } = spine;
  const { path } = work;
  const side = work.sides(count);
  path.clear();
  for (let start = 0; start < count;) {
    let end = start;
    while (end + 1 < count && hasTangent(data, end)) end++;
    if (end > start) run(spine, start, end, tolerancePx, side, path);
    else if (!heldByNeighbour(data, start, count)) circle(data, start, tolerancePx, path);
    start = end + 1;
  }
  return path.outline();
}

/** Whether the discs i and i + 1 have common tangents, i.e. neither holds the other. */
function hasTangent(d: Float64Array, i: number): boolean {
  const a = 3 * i;
  const dx = d[a + 3] - d[a];
  const dy = d[a + 4] - d[a + 1];
  const dr = d[a + 5] - d[a + 2];
  return dx * dx + dy * dy > dr * dr;
}

/** A lone disc that the one before or after it holds adds nothing. */
function heldByNeighbour(d: Float64Array, i: number, count: number): boolean {
  const r = d[3 * i + 2];
  const before = i > 0 && d[3 * i - 1] >= r && !hasTangent(d, i - 1);
  const after = i + 1 < count && d[3 * i + 5] > r && !hasTangent(d, i);
  return before || after;
}

/**
 * What is kept of a segment, 9 values: the unit normals of its left and right tangent (x, y each), its
 * direction (x, y), cosine and sine of the angle between direction and normals, and the squared length of
 * the tangents.
 */
const SIDE = 9;

/** One contour around the points start..end, every neighbouring pair of which has tangents. */
function run(spine: Spine, start: number, end: number, tolerance: number, side: Float64Array, path: Contours): void {
  const d = spine.data;
  for (let i = start; i < end; i++) tangents(d, i, side, SIDE * (i - start));
  const last = SIDE * (end - start - 1);
  // Out along the left side, around the end, back along the right side, around the start.
  const isCutStart = spine.isCutStart && start === 0;
  if (isCutStart) across(d, start, side, 0, 1, path);
  else rim(d, start, side[0], side[1], path);
  for (let n = SIDE; n <= last; n += SIDE) joint(d, start + n / SIDE, side, n - SIDE, n, 1, tolerance, path);
  if (spine.isCutEnd && end === spine.count - 1) {
    across(d, end, side, last, 1, path);
    across(d, end, side, last, -1, path);
  } else {
    rim(d, end, side[last], side[last + 1], path);
    arc(d, end, side[last], side[last + 1], side[last + 2], side[last + 3], tolerance, path);
    rim(d, end, side[last + 2], side[last + 3], path);
  }
  for (let n = last; n > 0; n -= SIDE) joint(d, start + n / SIDE, side, n, n - SIDE, -1, tolerance, path);
  if (isCutStart) {
    across(d, start, side, 0, -1, path);
  } else {
    rim(d, start, side[2], side[3], path);
    arc(d, start, side[2], side[3], side[0], side[1], tolerance, path);
  }
  path.close();
}

/** Fills segment i's {@link SIDE} values at `at`. */
function tangents(d: Float64Array, i: number, out: Float64Array, at: number): void {
  const a = 3 * i;
  const dx = d[a + 3] - d[a];
  const dy = d[a + 4] - d[a + 1];
  const sq = dx * dx + dy * dy;
  const length = Math.sqrt(sq);
  const ux = dx / length;
  const uy = dy / length;
  const dr = d[a + 2] - d[a + 5];
  const tilt = dr / length;
  const rest = Math.sqrt(1 - tilt * tilt);
  out[at] = tilt * ux + rest * uy;
  out[at + 1] = tilt * uy - rest * ux;
  out[at + 2] = tilt * ux - rest * uy;
  out[at + 3] = tilt * uy + rest * ux;
  out[at + 4] = ux;
  out[at + 5] = uy;
  out[at + 6] = tilt;
  out[at + 7] = rest;
  out[at + 8] = sq - dr * dr;
}

/**
 * A number that grows with an angle from -180 to 180 degrees, given by its cosine and sine.
 * A normal turns by the bend of the path less the swing of the normal against the path, which can be
 * more than half a turn; comparing the two tells its sign without their sum.
 */
const ordered = (cos: number, sin: number): number => (sin >= 0 ? 1 - cos : cos - 1);

/** The bend of the path from segment m to n, seen from the left (1) or the right (-1). */
const bend = (s: Float64Array, m: number, n: number, hand: 1 | -1): number =>
  ordered(s[m + 4] * s[n + 4] + s[m + 5] * s[n + 5], hand * (s[m + 4] * s[n + 5] - s[m + 5] * s[n + 4]));

/** How far the normals swing against the path from segment m to n. */
const swing = (s: Float64Array, m: number, n: number): number =>
  ordered(s[m + 6] * s[n + 6] + s[m + 7] * s[n + 7], s[n + 7] * s[m + 6] - s[n + 6] * s[m + 7]);

/** Whether the left (1) or right (-1) side is on the outside of the turn from segment m to n. */
const turnsOut = (s: Float64Array, m: number, n: number, hand: 1 | -1): boolean => bend(s, m, n, hand) > swing(s, m, n);

/** The point of disc i in the direction n. */
function rim(d: Float64Array, i: number, nx: number, ny: number, path: Contours): void {
  const r = d[3 * i + 2];
  path.add(d[3 * i] + r * nx, d[3 * i + 1] + r * ny);
}

/** Where the left (1) or right (-1) tangent of the segment at `n` passes the centre of disc i: an end that was cut. */
function across(d: Float64Array, i: number, side: Float64Array, n: number, hand: 1 | -1, path: Contours): void {
  const reach = (hand * d[3 * i + 2]) / side[n + 7];
  path.add(d[3 * i] + reach * side[n + 5], d[3 * i + 1] - reach * side[n + 4]);
}

/**
 * From the tangent of the segment at `m` to that of the segment at `n` around point i, strictly inside a run;
 * `hand` 1: the left tangents, n after m on the path; -1: the right ones, on the way back, n before m.
 * On the inside of the turn, and outside where that is slight, one point: the tangents' meeting, `r (m + n) / (1 + m n)`
 * from the centre. Inside both strips end there; outside it lies `r (sqrt(2 / (1 + m n)) - 1)`, about
 * `r (1 - m n) / 4`, beyond the disc. Otherwise an arc on the outside, through the centre on the inside.
 */
function joint(
  d: Float64Array,
  i: number,
  side: Float64Array,
  m: number,
  n: number,
  hand: 1 | -1,
  tolerance: number,
  path: Contours,
): void {
  const k = hand === 1 ? 0 : 2;
  const mx = side[m + k];
  const my = side[m + k + 1];
  const nx = side[n + k];
  const ny = side[n + k + 1];
  const r = d[3 * i + 2];
  const dot = mx * nx + my * ny;
  // The tangents must meet within the first half of both: r tan(turn / 2) from where they touch the disc.
  const sqReach = 4 * r * r * (1 - dot);
  const meet = dot > 0 && sqReach <= side[m + 8] * (1 + dot) && sqReach <= side[n + 8] * (1 + dot);
  const isSlight = r * (1 - dot) < tolerance && dot > 0.8;
  const isOutside = !(meet && isSlight) && turnsOut(side, hand === 1 ? m : n, hand === 1 ? n : m, hand);
  if (meet && (isSlight || !isOutside)) {
    const out = r / (1 + dot);
    path.add(d[3 * i] + out * (mx + nx), d[3 * i + 1] + out * (my + ny));
    return;
  }
  rim(d, i, mx, my, path);
  if (isOutside) arc(d, i, mx, my, nx, ny, tolerance, path);
  else path.add(d[3 * i], d[3 * i + 1]);
  rim(d, i, nx, ny, path);
}

/** The points strictly between normals m and n on the circle i, turning positively. */
function arc(
  d: Float64Array,
  i: number,
  mx: number,
  my: number,
  nx: number,
  ny: number,
  tolerance: number,
  path: Contours,
): void {
  const r = d[3 * i + 2];
  if (r <= tolerance) return;
  // Sagitta of a chord over the angle 2h is r (1 - cos h); never coarser than a square.
  const cosHalf = Math.max(1 - tolerance / r, Math.SQRT1_2);
  const c = 2 * cosHalf * cosHalf - 1;
  const s = Math.sqrt(1 - c * c);
  const x = d[3 * i];
  const y = d[3 * i + 1];
  let px = mx;
  let py = my;
  let behind = px * ny - py * nx < 0;
  for (;;) {
    // Done when the rest of the turn is under a half and shorter than one step.
    if (!behind && px * nx + py * ny >= c) return;
    const qx = px * c - py * s;
    const qy = px * s + py * c;
    px = qx;
    py = qy;
    const now = px * ny - py * nx < 0;
    if (now && !behind) return;
    behind = now;
    path.add(x + r * px, y + r * py);
  }
}

function circle(d: Float64Array, i: number, tolerance: number, path: Contours): void {
  const r = d[3 * i + 2];
  if (r <= 0) return;
  path.add(d[3 * i] + r, d[3 * i + 1]);
  arc(d, i, 1, 0, -1, 0, tolerance, path);
  path.add(d[3 * i] - r, d[3 * i + 1]);
  arc(d, i, -1, 0, 1, 0, tolerance, path);
  path.close();
}

/** Scratch memory for outlining one stroke after the other; owned by the caller. */
export class OutlineWorkspace {
  readonly path = new Contours();
  private side = new Float64Array(SIDE * 64);

  /** Room for what is kept of each segment of a spine. */
  sides(points: number): Float64Array {
    if (this.side.length < SIDE * points) this.side = new Float64Array(2 * SIDE * points);
    return this.side;
  }
}

/** Growing contour storage. */
class Contours {
  private ends: number[] = [];
  private xy = new Float64Array(1024);
  private at = 0;

  clear(): void {
    this.at = 0;
    this.ends = [];
  }

  add(x: number, y: number): void {
    const { at } = this;
    if (at === this.xy.length) this.grow();
    this.xy[at] = x;
    this.xy[at + 1] = y;
    this.at = at + 2;
  }

  close(): void {
    this.ends.push(this.at / 2);
  }

  outline(): Outline {
    return { xy: this.xy.slice(0, this.at), ends: this.ends };
  }

  private grow(): void {
    const bigger = new Float64Array(2 * this.at);
    bigger.set(this.xy);
    this.xy = bigger;
  }
}
