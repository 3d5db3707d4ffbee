import type { NibCone } from './nib-cone';

/** A pixel is cut into so many slices across a flat nib; each is measured exactly along its length. */
const SLICES = 8;

/** From `lo` to `hi` along a slice: what the slices met so far. */
let lo = 0;
let hi = 0;

/**
 * The part of a unit pixel that a cone of a flat nib covers, 0 to 1: the convex hull of its two ovals. The tip of an
 * oval bends within a pixel, so that no straight edge stands for it; the cone is convex, so that a slice meets it in one
 * piece. Thin ovals are sliced across.
 * @param px, py the pixel's centre in the grid.
 * @param cone with or without a body. Not modified.
 */
export function flatEndCover(cone: NibCone, px: number, py: number): number {
  const { xx, xy, yx, yy, ra, rb } = cone;
  const x = px - cone.ax;
  const y = py - cone.ay;
  const upright = Math.abs(yy) > Math.abs(yx);
  // Along a slice and across the slices, in the plane where the nib is round.
  const [vx, vy, wx, wy] = upright ? [xy, yy, xx, yx] : [xx, yx, xy, yy];
  const [middle, across] = upright ? [y, x] : [x, y];
  const dx = cone.bx - cone.ax;
  const dy = cone.by - cone.ay;
  const bx = xx * dx + xy * dy;
  const by = yx * dx + yy * dy;
  let sum = 0;
  for (let k = 0; k < SLICES; k++) {
    const at = across + (k + 0.5) / SLICES - 0.5;
    const ox = at * wx;
    const oy = at * wy;
    lo = Infinity;
    hi = -Infinity;
    meetDisc(ox, oy, vx, vy, ra);
    meetDisc(ox - bx, oy - by, vx, vy, rb);
    if (cone.hasBody) {
      meetEdge(cone, 1, ox, oy, vx, vy);
      meetEdge(cone, -1, ox, oy, vx, vy);
    }
    const from = lo > middle - 0.5 ? lo : middle - 0.5;
    const to = hi < middle + 0.5 ? hi : middle + 0.5;
    if (to > from) sum += to - from;
  }
  return sum / SLICES;
}

/** Where the line o + s v meets a disc about the origin. */
function meetDisc(ox: number, oy: number, vx: number, vy: number, r: number): void {
  const a = vx * vx + vy * vy;
  const b = ox * vx + oy * vy;
  const chord = b * b - a * (ox * ox + oy * oy - r * r);
  if (chord <= 0) return;
  const half = Math.sqrt(chord) / a;
  reach(-b / a - half);
  reach(-b / a + half);
}

/** Where the line o + s v meets the straight edge on one side of a cone. */
function meetEdge(cone: NibCone, hand: 1 | -1, ox: number, oy: number, vx: number, vy: number): void {
  const { ux, uy, sin, tangent, ra } = cone;
  const cos = hand * cone.cos;
  const nx = sin * ux - cos * uy;
  const ny = sin * uy + cos * ux;
  const slope = nx * vx + ny * vy;
  if (slope === 0) return;
  const s = (ra - nx * ox - ny * oy) / slope;
  // Along the tangent: at right angles to the normal.
  const along = hand * (ny * (ox + s * vx) - nx * (oy + s * vy));
  if (along >= 0 && along <= tangent) reach(s);
}

function reach(s: number): void {
  if (s < lo) lo = s;
  if (s > hi) hi = s;
}
