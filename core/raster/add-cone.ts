import type { CoverageMask } from './coverage-mask';

/**
 * Max-blends the coverage of one round cone (the convex hull of two discs) into `mask`.
 *
 * Coverage of a pixel is `min(1/2 - s, 2 r)` clamped to 0..1, where s is the signed distance of its
 * centre to the cone's edge (negative inside) and r the radius abreast of it: the first term is a
 * one-pixel ramp across the edge, the second keeps the weight of lines thinner than a pixel.
 * Pixels that are wholly inside are filled without evaluating distances.
 *
 * @param ax, ay, ra, bx, by, rb the two discs, grid px, radii >= 0, finite (not checked).
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
): void {
  const dx = bx - ax;
  const dy = by - ay;
  const sq = dx * dx + dy * dy;
  const dr = ra - rb;
  if (sq <= dr * dr || sq === 0) {
    if (dr >= 0) addDisc(mask, ax, ay, ra);
    else addDisc(mask, bx, by, rb);
    return;
  }
  const { width, height, data, rowFrom, rowTo, x0, y0 } = mask;

  // Rows and columns that the shape, grown by half a pixel, can touch.
  const ga = ra + 0.5;
  const gb = rb + 0.5;
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
  const thin = ra < 0.5 || rb < 0.5;

  // Touching points' directions on both sides; the hull's straight edges run between them.
  const lx = sin * ux - cos * uy;
  const ly = sin * uy + cos * ux;
  const rx = sin * ux + cos * uy;
  const ry = sin * uy - cos * ux;

  const outLy0 = ay + ga * ly;
  const outLy1 = by + gb * ly;
  const outRy0 = ay + ga * ry;
  const outRy1 = by + gb * ry;
  const outLx0 = ax + ga * lx;
  const outRx0 = ax + ga * rx;
  const outLSlope = (bx + gb * lx - outLx0) / (outLy1 - outLy0);
  const outRSlope = (bx + gb * rx - outRx0) / (outRy1 - outRy0);

  // The same for the part that is certainly covered: the cone shrunk by half a pixel.
  const ia = ra - 0.5;
  const ib = rb - 0.5;
  const hasInner = ia > 0 && ib > 0;
  const inLy0 = ay + ia * ly;
  const inLy1 = by + ib * ly;
  const inRy0 = ay + ia * ry;
  const inRy1 = by + ib * ry;
  const inLx0 = ax + ia * lx;
  const inRx0 = ax + ia * rx;
  const inLSlope = (bx + ib * lx - inLx0) / (inLy1 - inLy0);
  const inRSlope = (bx + ib * rx - inRx0) / (inRy1 - inRy0);

  for (let j = rowA; j <= rowB; j++) {
    const y = y0 + j + 0.5;
    const ha = y - ay;
    const hb = y - by;

    let lo = Infinity;
    let hi = -Infinity;
    let chord = ga * ga - ha * ha;
    if (chord > 0) {
      chord = Math.sqrt(chord);
      lo = ax - chord;
      hi = ax + chord;
    }
    chord = gb * gb - hb * hb;
    if (chord > 0) {
      chord = Math.sqrt(chord);
      if (bx - chord < lo) lo = bx - chord;
      if (bx + chord > hi) hi = bx + chord;
    }
    if (outLy0 < outLy1 ? y >= outLy0 && y <= outLy1 : y >= outLy1 && y <= outLy0 && outLy0 !== outLy1) {
      const x = outLx0 + (y - outLy0) * outLSlope;
      if (x < lo) lo = x;
      if (x > hi) hi = x;
    }
    if (outRy0 < outRy1 ? y >= outRy0 && y <= outRy1 : y >= outRy1 && y <= outRy0 && outRy0 !== outRy1) {
      const x = outRx0 + (y - outRy0) * outRSlope;
      if (x < lo) lo = x;
      if (x > hi) hi = x;
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
      chord = ia * ia - ha * ha;
      if (chord > 0) {
        chord = Math.sqrt(chord);
        lo = ax - chord;
        hi = ax + chord;
      }
      chord = ib * ib - hb * hb;
      if (chord > 0) {
        chord = Math.sqrt(chord);
        if (bx - chord < lo) lo = bx - chord;
        if (bx + chord > hi) hi = bx + chord;
      }
      if (inLy0 < inLy1 ? y >= inLy0 && y <= inLy1 : y >= inLy1 && y <= inLy0 && inLy0 !== inLy1) {
        const x = inLx0 + (y - inLy0) * inLSlope;
        if (x < lo) lo = x;
        if (x > hi) hi = x;
      }
      if (inRy0 < inRy1 ? y >= inRy0 && y <= inRy1 : y >= inRy1 && y <= inRy0 && inRy0 !== inRy1) {
        const x = inRx0 + (y - inRy0) * inRSlope;
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
    for (let i = from; i <= to; i++) {
      if (i === inFrom) {
        data.fill(255, row + inFrom, row + inTo + 1);
        i = inTo;
        continue;
      }
      const at = row + i;
      if (data[at] === 255) continue;
      const px = x0 + i + 0.5 - ax;
      const along = px * ux + ha * uy;
      let across = px * uy - ha * ux;
      if (across < 0) across = -across;
      const k = cos * along - sin * across;
      let c: number;
      if (k <= 0) c = 0.5 + ra - Math.sqrt(px * px + ha * ha);
      else if (k >= span) c = 0.5 + rb - Math.sqrt((px - dx) * (px - dx) + hb * hb);
      else c = 0.5 + ra - cos * across - sin * along;
      if (thin) {
        const u = along <= 0 ? 0 : along >= length ? 1 : along / length;
        const limit = 2 * (ra - u * dr);
        if (c > limit) c = limit;
      }
      if (c <= 0) continue;
      const value = c >= 1 ? 255 : (c * 255 + 0.5) | 0;
      if (value > data[at]) data[at] = value;
    }
  }
  if (rowA < mask.top) mask.top = rowA;
  if (rowB >= mask.bottom) mask.bottom = rowB + 1;
}

/** Max-blends a disc's coverage into `mask`; the same formula as {@link addCone}. */
export function addDisc(mask: CoverageMask, cx: number, cy: number, r: number): void {
  const { width, height, data, rowFrom, rowTo, x0, y0 } = mask;
  const g = r + 0.5;
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
      const c = Math.min(0.5 + r - Math.sqrt(px * px + h * h), 2 * r);
      if (c <= 0) continue;
      const value = c >= 1 ? 255 : (c * 255 + 0.5) | 0;
      if (value > data[at]) data[at] = value;
    }
  }
  if (rowA < mask.top) mask.top = rowA;
  if (rowB >= mask.bottom) mask.bottom = rowB + 1;
}
