import { isConvex, type Point, type Quad } from '../geometry/homography';
import type { Size } from '../geometry/view';

/** An upright frame on a picture that is turned under it, px of the picture; `turnDeg`: the frame against the picture. */
export interface CropFrame {
  cx: number;
  cy: number;
  width: number;
  height: number;
  turnDeg: number;
}

/** A crop is never smaller than this, px a side. */
export const LEAST_CROP_PX = 8;

/** The corners of a frame, px of the picture. */
export function frameCorners({ cx, cy, width, height, turnDeg }: CropFrame): Quad {
  const angle = (turnDeg * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const at = (u: number, v: number): Point => [
    cx + c * u * width - s * v * height,
    cy + s * u * width + c * v * height,
  ];
  return [at(-0.5, -0.5), at(0.5, -0.5), at(0.5, 0.5), at(-0.5, 0.5)];
}

/** The frame that corners are, if they are one: a rectangle, not mirrored. */
export function frameOf(corners: Quad): CropFrame | undefined {
  const [p, q, r, s] = corners;
  const width = Math.hypot(q[0] - p[0], q[1] - p[1]);
  const height = Math.hypot(s[0] - p[0], s[1] - p[1]);
  const off = Math.max(
    Math.hypot(p[0] + r[0] - q[0] - s[0], p[1] + r[1] - q[1] - s[1]),
    Math.abs(((q[0] - p[0]) * (s[0] - p[0]) + (q[1] - p[1]) * (s[1] - p[1])) / Math.max(width, height, 1)),
  );
  if (off > 0.01 * Math.min(width, height) || !isConvex(corners)) return undefined;
  const turnDeg = (Math.atan2(q[1] - p[1], q[0] - p[0]) * 180) / Math.PI;
  return { cx: (p[0] + r[0]) / 2, cy: (p[1] + r[1]) / 2, width, height, turnDeg };
}

/** The largest frame of a shape (width over height) and turn, about a place, that holds nothing beyond the picture. */
export function largestFrame({ width, height }: Size, ratio: number, turnDeg: number, [cx, cy]: Point): CropFrame {
  const angle = (turnDeg * Math.PI) / 180;
  const [c, s] = [Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))];
  // Half the frame's height h reaches h (ratio c + s) across and h (ratio s + c) down.
  const halfX = Math.min(cx, width - cx);
  const halfY = Math.min(cy, height - cy);
  const half = Math.min(halfX / (ratio * c + s), halfY / (ratio * s + c));
  return { cx, cy, width: 2 * half * ratio, height: 2 * half, turnDeg };
}

/** Whether a frame holds nothing beyond the picture, to within rounding. */
export const isInside = (frame: CropFrame, { width, height }: Size): boolean =>
  frameCorners(frame).every(
    ([x, y]) => x >= -1e-6 * width && x <= width * (1 + 1e-6) && y >= -1e-6 * height && y <= height * (1 + 1e-6),
  );

/** The frame, no smaller than can be held, made smaller about its middle until it holds nothing beyond the picture. */
export function heldFrame(frame: CropFrame, picture: Size): CropFrame {
  const width = Math.max(LEAST_CROP_PX, frame.width);
  const height = Math.max(LEAST_CROP_PX, frame.height);
  const cx = Math.min(picture.width - LEAST_CROP_PX, Math.max(LEAST_CROP_PX, frame.cx));
  const cy = Math.min(picture.height - LEAST_CROP_PX, Math.max(LEAST_CROP_PX, frame.cy));
  const own = { ...frame, cx, cy, width, height };
  if (isInside(own, picture)) return own;
  const largest = largestFrame(picture, width / height, frame.turnDeg, [cx, cy]);
  return largest.width < width ? largest : own;
}

/**
 * Width over height of the rectangle that a quad shows in perspective, by a camera whose middle is the picture's and whose
 * pixels are square; by the quad's own sides where the view is nearly straight on.
 * @param corners px of the picture.
 * @see Zhang & He 2007, Whiteboard scanning and image enhancement, section 3
 */
export function shapeOfPage(corners: Quad, picture: Size): number {
  const sides = (a: number, b: number) => Math.hypot(corners[a][0] - corners[b][0], corners[a][1] - corners[b][1]);
  const seen = (sides(0, 1) + sides(3, 2)) / (sides(0, 3) + sides(1, 2));
  const m = corners.map(([x, y]) => [x - picture.width / 2, y - picture.height / 2, 1] as const);
  // Zhang and He number the corners row by row.
  const [m1, m2, m4, m3] = m;
  const k2 = dot(cross(m1, m4), m3) / dot(cross(m2, m4), m3);
  const k3 = dot(cross(m1, m4), m2) / dot(cross(m3, m4), m2);
  const n2 = [k2 * m2[0] - m1[0], k2 * m2[1] - m1[1], k2 - 1];
  const n3 = [k3 * m3[0] - m1[0], k3 * m3[1] - m1[1], k3 - 1];
  const depth = n2[2] * n3[2];
  if (Math.abs(depth) < 1e-4) return seen;
  const f2 = -(n2[0] * n3[0] + n2[1] * n3[1]) / depth;
  const longest = Math.max(picture.width, picture.height);
  // No lens of a phone or a camera is so wide or so long.
  if (!(f2 > (0.4 * longest) ** 2 && f2 < (12 * longest) ** 2)) return seen;
  const length = ([x, y, z]: readonly number[]) => Math.sqrt((x * x + y * y) / f2 + z * z);
  const found = length(n2) / length(n3);
  // Four points that no camera shows so of a page: a slip of the hand.
  return found < LARGEST_STRETCH * seen && found * LARGEST_STRETCH > seen ? found : seen;
}

/** Perspective makes a page longer or wider than its sides by no more than this. */
const LARGEST_STRETCH = 1.6;

type Triple = readonly [number, number, number];
const cross = ([a, b, c]: Triple, [d, e, f]: Triple): Triple => [b * f - c * e, c * d - a * f, a * e - b * d];
const dot = ([a, b, c]: Triple, [d, e, f]: Triple): number => a * d + b * e + c * f;

/** The size of a page that is squared up: as many pixels as its longer sides have, in a shape. */
export function pageSize(corners: Quad, ratio: number): Size {
  const sides = (a: number, b: number) => Math.hypot(corners[a][0] - corners[b][0], corners[a][1] - corners[b][1]);
  const width = Math.max(sides(0, 1), sides(3, 2));
  const height = Math.max(sides(0, 3), sides(1, 2));
  const k = Math.sqrt((width * height) / ratio);
  const scale = Math.max(LEAST_CROP_PX / k, LEAST_CROP_PX / (k * ratio), 1);
  return { width: Math.round(k * ratio * scale), height: Math.round(k * scale) };
}

/** By how many degrees a picture has to be turned so that a line along it is level or upright, whichever is nearer; -45 to 45. */
export function levelling([x0, y0]: Point, [x1, y1]: Point): number {
  const angle = (Math.atan2(y1 - y0, x1 - x0) * 180) / Math.PI;
  return angle - 90 * Math.round(angle / 90);
}
