import type { CoverageMask } from './coverage-mask';

/** Cones no wider than this (radius, px) are evaluated all over; measured: it pays up to about here. */
const SLIM = 6;
/** Direction's x from which on the ends bound a row more tightly than the box does. */
const LEVEL = 0.2;
/** Half a pixel's diagonal, rounded up: no edge further away than this crosses the pixel. */
const REACH = 0.7072;
/** A circle leaves its tangent by 1 / (24 r) on average over a pixel. */
const BULGE = 1 / 24;
const QUARTER_PI = 0.785398163;
/** Ends thinner than this radius fade; measured: there the two forms err least (bench coverage). */
const THIN_END = 0.65;

/**
 * The covered part of a unit pixel whose centre lies `s` inside a straight edge (negative: outside).
 * Exact: the integral of the pixel's profile along the edge's normal, a trapezoid of half widths
 * (a - b) / 2 and (a + b) / 2.
 * @param a, b the larger and the smaller of the normal's |x| and |y|.
 */
function halfPlane(s: number, a: number, b: number): number {
  const far = (a + b) / 2;
  const d = s < 0 ? -s : s;
  if (d >= far) return s < 0 ? 0 : 1;
  if (2 * d <= a - b) return 0.5 + s / a;
  const t = far - d;
  const rest = (t * t) / (2 * a * b);
  return s < 0 ? rest : 1 - rest;
}

/**
 * Max-blends the coverage of one round cone (the convex hull of two discs) into `mask`.
 *
 * A pixel's coverage is H(r - d) + H(r + d) - 1, where d is the distance of its centre to the axis,
 * measured along the tangents' normal, r the radius abreast of it, and H the covered part of a pixel
 * by a straight edge of that direction ({@link halfPlane}): the near edge, less what the far edge
 * leaves out, which keeps the weight of lines thinner than a pixel. Around the discs the edge is
 * taken as straight. Pixels that are wholly inside are filled without evaluating distances.
 *
 * @param ax, ay, ra, bx, by, rb the two discs, grid px, radii >= 0, finite (not checked).
 * @param begins the stroke begins with this cone. Otherwise the disc at a belongs to the cone before,
 *   and is left out here: only what lies beyond it is evaluated.
 * @param ends the stroke ends with this cone. Where an end is thinner than a pixel, what lies beyond it
 *   fades with the part of the pixel that the line reaches into; between cones nothing may fade.
 * @see the distance to an uneven capsule: tangent lines tilted by asin((ra - rb) / d) from the axis.
 *   Edge error against 8 x 8 supersampling: see bench/coverage.
 */
export function addCone(
  mask: CoverageMask,
  ax: number,
  ay: number,
  ra: number,
  bx: number,
  by: number,
  rb: number,
  begins = true,
  ends = true,
): void {
  const dx = bx - ax;
  const dy = by - ay;
  const sq = dx * dx + dy * dy;
  const dr = ra - rb;
  if (sq <= dr * dr || sq === 0) {
    if (dr < 0) addDisc(mask, bx, by, rb);
    else if (begins) addDisc(mask, ax, ay, ra);
    return;
  }
  const { width, height, data, rowFrom, rowTo, x0, y0 } = mask;

  // Rows and columns that the shape, grown by an edge's reach, can touch.
  const ga = ra + REACH;
  const gb = rb + REACH;
  const rowA = Math.max(0, Math.ceil(Math.min(ay - ga, by - gb) - 0.5 - y0));
  const rowB = Math.min(height - 1, Math.floor(Math.max(ay + ga, by + gb) - 0.5 - y0));
  if (rowA > rowB) return;
  if (Math.max(ax + ga, bx + gb) < x0 || Math.min(ax - ga, bx - gb) > x0 + width) return;

  const length = Math.sqrt(sq);
  const ux = dx / length;
  const uy = dy / length;
  const sin = dr / length;
  const cos = Math.sqrt(1 - sin * sin);
  const span = cos * length;
  const thin = ra < REACH || rb < REACH;

  // Normals of the tangents on both sides, and the larger and the smaller part of each.
  const lx = sin * ux - cos * uy;
  const ly = sin * uy + cos * ux;
  const rx = sin * ux + cos * uy;
  const ry = sin * uy - cos * ux;
  const lA = Math.max(Math.abs(lx), Math.abs(ly));
  const lB = Math.min(Math.abs(lx), Math.abs(ly));
  const rA = Math.max(Math.abs(rx), Math.abs(ry));
  const rB = Math.min(Math.abs(rx), Math.abs(ry));

  // A slim cone's rows are bounded by the strip around its axis: a few pixels too many cost less than
  // finding the fewest.
  const widest = ga > gb ? ga : gb;
  const slim = widest < SLIM;
  const steep = dy !== 0;
  const lean = dx / dy;
  const stripX = Math.abs((widest * length) / dy);
  // Along the axis: from the disc at a, or from where the cone before ends, to beyond the disc at b.
  const alongFrom = begins ? -ga : (-Math.abs(sin) * widest) / cos;
  const alongTo = length + gb;
  const level = ux > LEVEL || ux < -LEVEL;
  const left = Math.min(ax - ga, bx - gb);
  const right = Math.max(ax + ga, bx + gb);

  // The hull's straight edges, grown: left and right tangent, and the chord between their ends at a.
  const lx0 = ax + ga * lx;
  const ly0 = ay + ga * ly;
  const ly1 = by + gb * ly;
  const rx0 = ax + ga * rx;
  const ry0 = ay + ga * ry;
  const ry1 = by + gb * ry;
  const lSlope = (bx + gb * lx - lx0) / (ly1 - ly0);
  const rSlope = (bx + gb * rx - rx0) / (ry1 - ry0);
  const cSlope = (rx0 - lx0) / (ry0 - ly0);

  // The same for what is certainly covered: the cone shrunk by as much.
  const ia = ra - REACH;
  const ib = rb - REACH;
  const hasInner = !slim && ia > 2 && ib > 2;
  const ilx0 = ax + ia * lx;
  const ily0 = ay + ia * ly;
  const ily1 = by + ib * ly;
  const irx0 = ax + ia * rx;
  const iry0 = ay + ia * ry;
  const iry1 = by + ib * ry;
  const ilSlope = (bx + ib * lx - ilx0) / (ily1 - ily0);
  const irSlope = (bx + ib * rx - irx0) / (iry1 - iry0);
  const icSlope = (irx0 - ilx0) / (iry0 - ily0);

  for (let j = rowA; j <= rowB; j++) {
    const y = y0 + j + 0.5;
    const ha = y - ay;
    const hb = y - by;

    let lo = Infinity;
    let hi = -Infinity;
    if (slim) {
      // The strip around the axis, within the box.
      const x = steep ? ax + ha * lean : 0;
      lo = steep && x - stripX > left ? x - stripX : left;
      hi = steep && x + stripX < right ? x + stripX : right;
      if (level) {
        const start = ax + ((ux > 0 ? alongFrom : alongTo) - ha * uy) / ux;
        const stop = ax + ((ux > 0 ? alongTo : alongFrom) - ha * uy) / ux;
        if (start > lo) lo = start;
        if (stop < hi) hi = stop;
      }
    } else {
      // Where the row crosses the hull: it is convex, so the outermost crossings bound it.
      let chord = gb * gb - hb * hb;
      if (chord > 0) {
        chord = Math.sqrt(chord);
        lo = bx - chord;
        hi = bx + chord;
      }
      chord = begins ? ga * ga - ha * ha : 0;
      if (chord > 0) {
        chord = Math.sqrt(chord);
        if (ax - chord < lo) lo = ax - chord;
        if (ax + chord > hi) hi = ax + chord;
      }
      if (y >= ly0 !== y >= ly1) {
        const x = lx0 + (y - ly0) * lSlope;
        if (x < lo) lo = x;
        if (x > hi) hi = x;
      }
      if (y >= ry0 !== y >= ry1) {
        const x = rx0 + (y - ry0) * rSlope;
        if (x < lo) lo = x;
        if (x > hi) hi = x;
      }
      if (y >= ly0 !== y >= ry0) {
        const x = lx0 + (y - ly0) * cSlope;
        if (x < lo) lo = x;
        if (x > hi) hi = x;
      }
    }
    let from = Math.ceil(lo - 0.5 - x0);
    let to = Math.floor(hi - 0.5 - x0);
    if (from < 0) from = 0;
    if (to >= width) to = width - 1;
    if (from > to) continue;

    let inFrom = to + 1;
    let inTo = to;
    if (hasInner) {
      lo = Infinity;
      hi = -Infinity;
      let chord = ib * ib - hb * hb;
      if (chord > 0) {
        chord = Math.sqrt(chord);
        lo = bx - chord;
        hi = bx + chord;
      }
      chord = begins ? ia * ia - ha * ha : 0;
      if (chord > 0) {
        chord = Math.sqrt(chord);
        if (ax - chord < lo) lo = ax - chord;
        if (ax + chord > hi) hi = ax + chord;
      }
      if (y >= ily0 !== y >= ily1) {
        const x = ilx0 + (y - ily0) * ilSlope;
        if (x < lo) lo = x;
        if (x > hi) hi = x;
      }
      if (y >= iry0 !== y >= iry1) {
        const x = irx0 + (y - iry0) * irSlope;
        if (x < lo) lo = x;
        if (x > hi) hi = x;
      }
      if (y >= ily0 !== y >= iry0) {
        const x = ilx0 + (y - ily0) * icSlope;
        if (x < lo) lo = x;
        if (x > hi) hi = x;
      }
      if (lo <= hi) {
        const f = Math.max(from, Math.ceil(lo - 0.5 - x0));
        const t = Math.min(to, Math.floor(hi - 0.5 - x0));
        if (f <= t) {
          inFrom = f;
          inTo = t;
        }
      }
    }

    if (from < rowFrom[j]) rowFrom[j] = from;
    if (to >= rowTo[j]) rowTo[j] = to + 1;
    const row = j * width;
    const hx = ha * ux;
    const hy = ha * uy;
    for (let i = from; i <= to; i++) {
      if (i === inFrom) {
        for (let at = row + inFrom; at <= row + inTo; at++) data[at] = 255;
        i = inTo;
        continue;
      }
      const at = row + i;
      if (data[at] === 255) continue;
      const px = x0 + i + 0.5 - ax;
      const along = px * ux + hy;
      const side = px * uy - hx;
      const across = side < 0 ? -side : side;
      const k = cos * along - sin * across;
      let c: number;
      if (k <= 0) {
        if (!begins) continue;
        c = roundCoverage(px, ha, ra);
      } else if (k >= span) {
        c = roundCoverage(px - dx, hb, rb);
      } else {
        const a = side < 0 ? lA : rA;
        const b = side < 0 ? lB : rB;
        const inside = ra - cos * across - sin * along;
        c = halfPlane(inside, a, b);
        // Through the axis the far edge lies 2 across cos further.
        if (thin) c += halfPlane(inside + 2 * cos * across, a, b) - 1;
      }
      if (thin) {
        if (begins && ra < THIN_END && along < 0.5) c = thinEnd(across, along, ra, lA, lB);
        if (ends && rb < THIN_END && length - along < 0.5) c = thinEnd(across, length - along, rb, lA, lB);
      }
      if (c <= 0) continue;
      const value = c >= 1 ? 255 : (c * 255 + 0.5) | 0;
      if (value > data[at]) data[at] = value;
    }
  }
  if (rowA < mask.top) mask.top = rowA;
  if (rowB >= mask.bottom) mask.bottom = rowB + 1;
}

/** Coverage around a disc of radius r, at (x, y) from its centre; its edge taken as straight but for its bulge. */
function roundCoverage(x: number, y: number, r: number): number {
  const d = Math.sqrt(x * x + y * y);
  if (d === 0) return halfPlane(r, 1, 0) + halfPlane(r, 1, 0) - 1;
  const nx = Math.abs(x) / d;
  const ny = Math.abs(y) / d;
  const a = nx > ny ? nx : ny;
  const b = nx > ny ? ny : nx;
  const c = halfPlane(r < THIN_END ? r - d : r - d - BULGE / r, a, b);
  return r < REACH ? c + halfPlane(r + d, a, b) - 1 : c;
}

/**
 * Coverage `along` px before the end of a thin line, `across` px beside its axis: the line's own, times
 * the part of the pixel that it reaches into. A round end is as long as pi / 4 of its radius.
 */
function thinEnd(across: number, along: number, r: number, a: number, b: number): number {
  const reach = 0.5 + along + QUARTER_PI * r;
  if (reach <= 0) return 0;
  const line = halfPlane(r - across, a, b) + halfPlane(r + across, a, b) - 1;
  return reach < 1 ? line * reach : line;
}

/** Max-blends a disc's coverage into `mask`; the same formula as {@link addCone}. */
export function addDisc(mask: CoverageMask, cx: number, cy: number, r: number): void {
  const { width, height, data, rowFrom, rowTo, x0, y0 } = mask;
  const g = r + REACH;
  // A dot thinner than a pixel is a line without length: what is left of it is its area, pi r^2.
  const weight = r < 0.5 ? 2 * QUARTER_PI * r : 1;
  const rowA = Math.max(0, Math.ceil(cy - g - 0.5 - y0));
  const rowB = Math.min(height - 1, Math.floor(cy + g - 0.5 - y0));
  if (rowA > rowB) return;
  for (let j = rowA; j <= rowB; j++) {
    const h = y0 + j + 0.5 - cy;
    const chord = g * g - h * h;
    if (chord <= 0) continue;
    const half = Math.sqrt(chord);
    const from = Math.max(0, Math.ceil(cx - half - 0.5 - x0));
    const to = Math.min(width - 1, Math.floor(cx + half - 0.5 - x0));
    if (from > to) continue;
    if (from < rowFrom[j]) rowFrom[j] = from;
    if (to >= rowTo[j]) rowTo[j] = to + 1;
    for (let i = from, at = j * width + from; i <= to; i++, at++) {
      if (data[at] === 255) continue;
      const px = x0 + i + 0.5 - cx;
      const c = roundCoverage(px, h, r) * weight;
      if (c <= 0) continue;
      const value = c >= 1 ? 255 : (c * 255 + 0.5) | 0;
      if (value > data[at]) data[at] = value;
    }
  }
  if (rowA < mask.top) mask.top = rowA;
  if (rowB >= mask.bottom) mask.bottom = rowB + 1;
}
