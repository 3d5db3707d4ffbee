import type { CoverageMask } from './coverage-mask';
import { halfPlane, REACH, THIN_END } from './half-plane';

/** A circle leaves its tangent by 1 / (24 r) on average over a pixel. */
const BULGE = 1 / 24;
/** From this radius on, what is wholly covered is filled without evaluating distances. */
const FILLED_RADIUS = 2;

/**
 * Max-blends a disc's coverage into `mask`; its edge is taken as straight within a pixel, but for its bulge.
 * @param cx, cy, r grid px, r >= 0.
 * @param weight what the coverage is multiplied by, 0 to 1.
 */
export function addDisc(mask: CoverageMask, cx: number, cy: number, r: number, weight = 1): void {
  const { width, height, data, rowFrom, rowTo, x0, y0 } = mask;
  const outer = r + REACH;
  const inner = r > FILLED_RADIUS ? r - REACH - BULGE / r : 0;
  const rowA = Math.max(0, Math.ceil(cy - outer - 0.5) - y0);
  const rowB = Math.min(height - 1, Math.floor(cy + outer - 0.5) - y0);
  if (rowA > rowB) return;
  for (let j = rowA; j <= rowB; j++) {
    const h = y0 + j + 0.5 - cy;
    const chord = outer * outer - h * h;
    if (chord <= 0) continue;
    const half = Math.sqrt(chord);
    const begin = Math.max(0, Math.ceil(cx - half - 0.5) - x0);
    const end = Math.min(width - 1, Math.floor(cx + half - 0.5) - x0);
    if (begin > end) continue;
    if (begin < rowFrom[j]) rowFrom[j] = begin;
    if (end >= rowTo[j]) rowTo[j] = end + 1;
    let fullFrom = end + 1;
    let fullTo = end;
    if (inner * inner > h * h) {
      const within = Math.sqrt(inner * inner - h * h);
      const f = Math.max(begin, Math.ceil(cx - within - 0.5) - x0);
      const t = Math.min(end, Math.floor(cx + within - 0.5) - x0);
      if (f <= t) {
        fullFrom = f;
        fullTo = t;
      }
    }
    const row = j * width;
    for (let i = begin; i <= end; i++) {
      if (i === fullFrom) {
        data.fill(255, row + fullFrom, row + fullTo + 1);
        i = fullTo + 1;
        if (i > end) break;
      }
      const at = row + i;
      if (data[at] === 255) continue;
      const c = discCoverage(x0 + i + 0.5 - cx, h, r) * weight;
      if (c <= 0) continue;
      const value = c >= 1 ? 255 : (c * 255 + 0.5) | 0;
      if (value > data[at]) data[at] = value;
    }
  }
  if (rowA < mask.top) mask.top = rowA;
  if (rowB >= mask.bottom) mask.bottom = rowB + 1;
}

/**
 * Max-blends a lone dot. One thinner than a pixel is a line without length: what is left of it is its
 * area, pi r^2.
 */
export function addDot(mask: CoverageMask, cx: number, cy: number, r: number): void {
  addDisc(mask, cx, cy, r, r < 0.5 ? (Math.PI / 2) * r : 1);
}

/** Coverage of the pixel at (x, y) from the centre of a disc of radius r: as {@link halfPlane} along the ray. */
function discCoverage(x: number, y: number, r: number): number {
  const d = Math.sqrt(x * x + y * y);
  if (d === 0) return 2 * halfPlane(r, 1, 0) - 1;
  const nx = (x < 0 ? -x : x) / d;
  const ny = (y < 0 ? -y : y) / d;
  const a = nx > ny ? nx : ny;
  const b = nx > ny ? ny : nx;
  if (r >= REACH) return halfPlane(r - d - BULGE / r, a, b);
  const near = r < THIN_END ? r - d : r - d - BULGE / r;
  return halfPlane(near, a, b) + halfPlane(r + d, a, b) - 1;
}
