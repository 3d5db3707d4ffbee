import { areaOf, isConvex, type Point, type Quad } from '../geometry/homography';
import { gradients, lumaOf, shrunk, smoothed, type GreyPicture } from './luma';
import type { Picture } from './warp';

/** Lines are looked for at about this size of the longer side, then fitted where the picture has all its pixels. */
const COARSE_PX = 260;
/** The part of the pixels that are taken for edges: the steepest. */
const EDGE_PART = 0.1;
/** Least slope of an edge, values per px: paper is not only noise. */
const LEAST_SLOPE = 1.2;
const ANGLES = 180;
const MOST_LINES = 28;
/** A page takes at least this part of the picture. */
const LEAST_AREA = 0.1;
/** Of a page's sides at least this part has to be seen, on average, and of each. */
const LEAST_SEEN = 0.55;
const LEAST_SIDE_SEEN = 0.3;

/** x cos + y sin = far, in coarse px. */
interface Line {
  cos: number;
  sin: number;
  far: number;
  votes: number;
}

/**
 * The corners of the page that a photograph shows, as parts of its width and height, from the upper left clockwise;
 * undefined where no four edges hold together.
 *
 * Edges vote for the lines that they lie on (by their own direction only); of those that stand out, four are taken
 * that enclose much and are seen along most of their length, with the paper on one side; then each side is fitted to
 * where the picture is steepest.
 * @see Duda & Hart 1972 (lines by votes); Ballard 1981 (votes by the edge's own direction)
 */
export function findPage(picture: Picture): Quad | undefined {
  const fine = lumaOf(picture);
  const by = Math.max(1, Math.round(Math.max(fine.width, fine.height) / COARSE_PX));
  const coarse = smoothed(shrunk(fine, by), 2);
  if (Math.min(coarse.width, coarse.height) < 24) return undefined;
  const edges = edgesOf(coarse);
  const quad = bestQuad(linesOf(edges), edges);
  if (!quad) return undefined;
  const fitted = fittedQuad(smoothed(fine), quad.map(([x, y]): Point => [x * by, y * by]) as unknown as Quad, by);
  return fitted.map(([x, y]): Point => [x / fine.width, y / fine.height]) as unknown as Quad;
}

interface Edges {
  width: number;
  height: number;
  gx: Float32Array;
  gy: Float32Array;
  slope: Float32Array;
  /** Slopes from here on are edges. */
  least: number;
}

function edgesOf(grey: GreyPicture): Edges {
  const { width, height } = grey;
  const { gx, gy } = gradients(grey);
  const slope = Float32Array.from(gx, (x, i) => Math.hypot(x, gy[i]));
  const sorted = Float32Array.from(slope).sort();
  const least = Math.max(LEAST_SLOPE, sorted[Math.floor(sorted.length * (1 - EDGE_PART))]);
  return { width, height, gx, gy, slope, least };
}

function linesOf({ width, height, gx, gy, slope, least }: Edges): Line[] {
  const reach = Math.ceil(Math.hypot(width, height));
  const span = 2 * reach + 1;
  const votes = new Float32Array(ANGLES * span);
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1, at = y * width + 1; x + 1 < width; x++, at++) {
      if (slope[at] < least) continue;
      const angle = (Math.atan2(gy[at], gx[at]) * 180) / Math.PI;
      // Strong edges count more, but a black frame does not outvote a pale one.
      const weight = Math.min(slope[at], 6 * least);
      for (let off = -2; off <= 2; off++) {
        const deg = (((Math.round(angle) + off) % 180) + 180) % 180;
        const [cos, sin] = unit(deg);
        votes[deg * span + Math.round(x * cos + y * sin) + reach] += weight * (3 - Math.abs(off));
      }
    }
  return peaks(votes, span, reach);
}

/** The lines with the most votes that are not nearly another one. */
function peaks(votes: Float32Array, span: number, reach: number): Line[] {
  const order = Array.from(votes.keys())
    .filter((k) => votes[k] > 0)
    .sort((a, b) => votes[b] - votes[a]);
  const lines: Line[] = [];
  for (const k of order) {
    const deg = Math.floor(k / span);
    const far = (k % span) - reach;
    const [cos, sin] = unit(deg);
    const isKnown = lines.some((line) => {
      const dot = line.cos * cos + line.sin * sin;
      return Math.abs(dot) > 0.993 && Math.abs(line.far - Math.sign(dot) * far) < 5;
    });
    if (!isKnown) lines.push({ cos, sin, far, votes: votes[k] });
    if (lines.length === MOST_LINES || votes[k] < 0.04 * votes[order[0]]) break;
  }
  return lines;
}

const unit = (deg: number): [cos: number, sin: number] => [
  Math.cos((deg * Math.PI) / 180),
  Math.sin((deg * Math.PI) / 180),
];

function meeting(a: Line, b: Line): Point | undefined {
  const det = a.cos * b.sin - a.sin * b.cos;
  if (Math.abs(det) < 0.2) return undefined;
  return [(a.far * b.sin - b.far * a.sin) / det, (a.cos * b.far - b.cos * a.far) / det];
}

/** Of all pairs of lines across and pairs of lines down the four that hold a page best. */
function bestQuad(lines: readonly Line[], edges: Edges): Quad | undefined {
  const { width, height } = edges;
  const down = pairsOf(lines.filter(({ cos, sin }) => Math.abs(cos) >= Math.abs(sin) * 0.8));
  const across = pairsOf(lines.filter(({ cos, sin }) => Math.abs(sin) >= Math.abs(cos) * 0.8));
  const seen = new Map<string, number>();
  let best: { quad: Quad; score: number } | undefined;
  for (const [a, b] of across)
    for (const [c, d] of down) {
      const corners = [meeting(a, c), meeting(a, d), meeting(b, d), meeting(b, c)];
      if (corners.some((corner) => !corner || !isNear(corner, width, height))) continue;
      const quad = around(corners as Point[]);
      const area = quad && areaOf(quad) / (width * height);
      if (!quad || !area || area < LEAST_AREA) continue;
      const sides = quad.map((p, n) => support(p, quad[(n + 1) % 4], edges, seen));
      const sum = sides.reduce((total, s) => total + Math.abs(s), 0) / 4;
      // The paper is on one side: brighter or darker than what it lies on, all around.
      const signed = Math.abs(sides.reduce((total, s) => total + s, 0)) / 4;
      if (sum < LEAST_SEEN || Math.min(...sides.map(Math.abs)) < LEAST_SIDE_SEEN || signed < 0.6 * sum) continue;
      const score = signed * Math.sqrt(area);
      if (!best || score > best.score) best = { quad, score };
    }
  return best?.quad;
}

const pairsOf = (lines: readonly Line[]): [Line, Line][] =>
  lines.flatMap((a, i) => lines.slice(i + 1).map((b): [Line, Line] => [a, b]));

const isNear = ([x, y]: Point, width: number, height: number): boolean =>
  x > -0.02 * width && x < 1.02 * width && y > -0.02 * height && y < 1.02 * height;

/** Corners from the upper left clockwise; undefined where they do not go around. */
function around(corners: readonly Point[]): Quad | undefined {
  const [mx, my] = [0, 1].map((k) => corners.reduce((sum, p) => sum + p[k], 0) / 4);
  const sorted = [...corners].sort((p, q) => Math.atan2(p[1] - my, p[0] - mx) - Math.atan2(q[1] - my, q[0] - mx));
  const first = sorted.reduce((best, p, i) => (p[0] + p[1] < sorted[best][0] + sorted[best][1] ? i : best), 0);
  const quad = sorted.map((_, i) => sorted[(i + first) % 4]) as unknown as Quad;
  return isConvex(quad) ? quad : undefined;
}

/** The part of a side along which there is an edge in its direction: more than 0 where it is brighter inside. */
function support(
  p: Point,
  q: Point,
  { width, height, gx, gy, slope, least }: Edges,
  seen: Map<string, number>,
): number {
  const key = [...p, ...q].map((v) => v.toFixed(1)).join();
  const known = seen.get(key);
  if (known !== undefined) return known;
  const length = Math.hypot(q[0] - p[0], q[1] - p[1]);
  // The normal inwards: corners go around clockwise, y down.
  const [nx, ny] = [-(q[1] - p[1]) / length, (q[0] - p[0]) / length];
  const steps = Math.max(8, Math.round(length / 2));
  let sum = 0;
  for (let n = 0; n < steps; n++) {
    const u = 0.04 + (0.92 * (n + 0.5)) / steps;
    let bestDot = 0;
    for (let off = -2; off <= 2; off++) {
      const x = Math.round(p[0] + u * (q[0] - p[0]) + off * nx);
      const y = Math.round(p[1] + u * (q[1] - p[1]) + off * ny);
      if (x < 1 || y < 1 || x + 1 >= width || y + 1 >= height) continue;
      const at = y * width + x;
      if (slope[at] < 0.6 * least) continue;
      const dot = (gx[at] * nx + gy[at] * ny) / slope[at];
      if (Math.abs(dot) > Math.abs(bestDot)) bestDot = dot;
    }
    if (Math.abs(bestDot) > 0.9) sum += Math.sign(bestDot);
  }
  seen.set(key, sum / steps);
  return sum / steps;
}

const SAMPLES = 80;

/** Each side moved to where the picture is steepest along it, at its full size; corners are where sides meet. */
function fittedQuad(grey: GreyPicture, quad: Quad, by: number): Quad {
  const lines = quad.map((p, n) => fittedLine(grey, p, quad[(n + 1) % 4], 2 * by + 2));
  return quad.map((p, n): Point => {
    const met = meeting(lines[(n + 3) % 4], lines[n]);
    // A side that was led astray does not take its corner with it.
    return met && Math.hypot(met[0] - p[0], met[1] - p[1]) < 6 * by + 6 ? met : p;
  }) as unknown as Quad;
}

/** A straight line through the steepest places near a side; those far off it are left out. */
function fittedLine(grey: GreyPicture, p: Point, q: Point, reach: number): Line {
  const length = Math.hypot(q[0] - p[0], q[1] - p[1]);
  const [nx, ny] = [-(q[1] - p[1]) / length, (q[0] - p[0]) / length];
  const found: { u: number; off: number; weight: number }[] = [];
  for (let n = 0; n < SAMPLES; n++) {
    const u = 0.05 + (0.9 * (n + 0.5)) / SAMPLES;
    const [x, y] = [p[0] + u * (q[0] - p[0]), p[1] + u * (q[1] - p[1])];
    const value = (off: number) => valueAt(grey, x + off * nx, y + off * ny);
    let [best, steepest] = [0, 0];
    for (let off = -reach; off <= reach; off += 0.5) {
      const rise = Math.abs(value(off + 1) - value(off - 1));
      if (rise > steepest) [best, steepest] = [off, rise];
    }
    if (steepest > 2) found.push({ u, off: best, weight: Math.min(steepest, 40) });
  }
  let [shift, slope] = [0, 0];
  for (let round = 0; round < 4; round++) {
    const spread = [reach, reach / 2, 2.5, 1.5][round];
    const near = found.filter(({ u, off }) => Math.abs(off - shift - slope * (u - 0.5)) <= spread);
    if (near.length < SAMPLES / 5) break;
    [shift, slope] = leastSquares(near);
  }
  const at = (u: number): Point => {
    const off = shift + slope * (u - 0.5);
    // Pixels are looked at by their centres.
    return [p[0] + u * (q[0] - p[0]) + off * nx + 0.5, p[1] + u * (q[1] - p[1]) + off * ny + 0.5];
  };
  const [a, b] = [at(0), at(1)];
  const far = Math.hypot(b[0] - a[0], b[1] - a[1]);
  const [cos, sin] = [-(b[1] - a[1]) / far, (b[0] - a[0]) / far];
  return { cos, sin, far: a[0] * cos + a[1] * sin, votes: 0 };
}

function leastSquares(points: readonly { u: number; off: number; weight: number }[]): [shift: number, slope: number] {
  let [w, wu, wo, wuu, wuo] = [0, 0, 0, 0, 0];
  for (const { u, off, weight } of points) {
    const v = u - 0.5;
    w += weight;
    wu += weight * v;
    wo += weight * off;
    wuu += weight * v * v;
    wuo += weight * v * off;
  }
  const det = w * wuu - wu * wu;
  if (Math.abs(det) < 1e-9) return [wo / w, 0];
  return [(wo * wuu - wuo * wu) / det, (w * wuo - wu * wo) / det];
}

function valueAt({ width, height, data }: GreyPicture, x: number, y: number): number {
  const cx = Math.min(width - 1.001, Math.max(0, x));
  const cy = Math.min(height - 1.001, Math.max(0, y));
  const [left, top] = [Math.floor(cx), Math.floor(cy)];
  const [fx, fy] = [cx - left, cy - top];
  const at = top * width + left;
  const right = left + 1 < width ? 1 : 0;
  const below = top + 1 < height ? width : 0;
  const upper = data[at] + fx * (data[at + right] - data[at]);
  const lower = data[at + below] + fx * (data[at + below + right] - data[at + below]);
  return upper + fy * (lower - upper);
}
