import type { ConeFrame } from './cone-frame';
import type { CoverageMask } from './coverage-mask';
import { REACH } from './half-plane';

/**
 * Max-blends the coverage of a cone's body, the part between its two tangent lines, into `mask`: the
 * pixels whose centres lie `from` to `to` along the axis. A pixel's coverage is H(left) + H(right) - 1, where
 * H is the covered part of a pixel by a straight edge (`halfPlane`): what one edge
 * covers, less what the other leaves out, which keeps the weight of lines thinner than a pixel.
 * The edges are straight, so each row is two ramps and, between them, a run that is wholly covered.
 *
 * @param cone with tangents. Not modified.
 * @param from, to grid px along the axis from the cone's first centre; beyond 0 and `length` the tangents
 *   go on straight.
 */
export function addBody(mask: CoverageMask, cone: ConeFrame, from: number, to: number): void {
  const { ax, ay, ra, ux, uy, sin, cos } = cone;
  const { width, height, data, rowFrom, rowTo, x0, y0 } = mask;

  // How far the two ends of the body reach up and down.
  const spreadA = Math.max(0, (ra + REACH - sin * from) / cos) * Math.abs(ux);
  const spreadB = Math.max(0, (ra + REACH - sin * to) / cos) * Math.abs(ux);
  const yA = ay + from * uy;
  const yB = ay + to * uy;
  const rowA = Math.max(0, Math.ceil(Math.min(yA - spreadA, yB - spreadB) - 0.5) - y0) | 0;
  const rowB = Math.min(height - 1, Math.floor(Math.max(yA + spreadA, yB + spreadB) - 0.5) - y0) | 0;
  if (rowA > rowB) return;

  // Unit normals of the tangents, pointing outwards.
  const lx = sin * ux - cos * uy;
  const ly = sin * uy + cos * ux;
  const rx = sin * ux + cos * uy;
  const ry = sin * uy - cos * ux;
  // The trapezoid profile of a pixel along each normal: constants of `halfPlane`.
  const lX = lx < 0 ? -lx : lx;
  const lY = ly < 0 ? -ly : ly;
  const rX = rx < 0 ? -rx : rx;
  const rY = ry < 0 ? -ry : ry;
  const lFar = (lX + lY) / 2;
  const rFar = (rX + rY) / 2;
  const lFlat = (lX > lY ? lX - lY : lY - lX) / 2;
  const rFlat = (rX > rY ? rX - rY : rY - rX) / 2;
  const lSlope = 1 / (lX > lY ? lX : lY);
  const rSlope = 1 / (rX > rY ? rX : rY);
  const lBend = 1 / (2 * lX * lY);
  const rBend = 1 / (2 * rX * rY);
  const perLx = 1 / lx;
  const perRx = 1 / rx;
  const perUx = 1 / ux;
  const first = ux > 0 ? from : to;
  const last = ux > 0 ? to : from;

  // The mask's first and last pixel centres, from the first centre of the cone.
  const leftmost = x0 + 0.5 - ax;
  const rightmost = leftmost + width - 1;

  let touchedA = height;
  let touchedB = -1;
  for (let j = rowA; j <= rowB; j++) {
    const h = y0 + j + 0.5 - ay;
    const hu = h * uy;
    // Distances to the edges are left - x lx and right - x rx, with x from the first centre.
    const left = ra - h * ly;
    const right = ra - h * ry;
    let lo = leftmost;
    let hi = rightmost;
    if (ux !== 0) {
      const x = (first - hu) * perUx;
      if (x > lo) lo = x;
      const z = (last - hu) * perUx;
      if (z < hi) hi = z;
    } else if (hu < from || hu > to) continue;
    let inLo = lo;
    let inHi = hi;
    if (lx > 0) {
      const x = (left + lFar) * perLx;
      if (x < hi) hi = x;
      const z = (left - lFar) * perLx;
      if (z < inHi) inHi = z;
    } else if (lx < 0) {
      const x = (left + lFar) * perLx;
      if (x > lo) lo = x;
      const z = (left - lFar) * perLx;
      if (z > inLo) inLo = z;
    } else if (left < lFar) {
      if (left <= -lFar) continue;
      inHi = leftmost - 1;
    }
    if (rx > 0) {
      const x = (right + rFar) * perRx;
      if (x < hi) hi = x;
      const z = (right - rFar) * perRx;
      if (z < inHi) inHi = z;
    } else if (rx < 0) {
      const x = (right + rFar) * perRx;
      if (x > lo) lo = x;
      const z = (right - rFar) * perRx;
      if (z > inLo) inLo = z;
    } else if (right < rFar) {
      if (right <= -rFar) continue;
      inHi = leftmost - 1;
    }
    if (lo > hi) continue;
    const begin = (Math.ceil(ax + lo - 0.5) - x0) | 0;
    const end = (Math.floor(ax + hi - 0.5) - x0) | 0;
    if (begin > end) continue;
    if (begin < rowFrom[j]) rowFrom[j] = begin;
    if (end >= rowTo[j]) rowTo[j] = end + 1;
    if (touchedA > j) touchedA = j;
    touchedB = j;

    let fullFrom = end + 1;
    let fullTo = end;
    if (inLo <= inHi) {
      const f = (Math.ceil(ax + inLo - 0.5) - x0) | 0;
      const t = (Math.floor(ax + inHi - 0.5) - x0) | 0;
      if (f <= t) {
        fullFrom = f;
        fullTo = t;
      }
    }
    const row = j * width;
    for (let i = begin; i <= end; i++) {
      if (i === fullFrom) {
        for (; i <= fullTo; i++) data[row + i] = 255;
        if (i > end) break;
      }
      const at = row + i;
      const was = data[at];
      if (was === 255) continue;
      const x = x0 + i + 0.5 - ax;
      const s = left - x * lx;
      const r = right - x * rx;
      let c = 0;
      // halfPlane(s) + halfPlane(r) - 1, with its constants taken out of the loop.
      if (s < lFar) {
        if (s <= -lFar) continue;
        const d = s < 0 ? -s : s;
        if (d <= lFlat) c = s * lSlope - 0.5;
        else {
          const t = lFar - d;
          c = s < 0 ? t * t * lBend - 1 : -t * t * lBend;
        }
      }
      if (r < rFar) {
        if (r <= -rFar) continue;
        const d = r < 0 ? -r : r;
        if (d <= rFlat) c += r * rSlope - 0.5;
        else {
          const t = rFar - d;
          c += r < 0 ? t * t * rBend - 1 : -t * t * rBend;
        }
      }
      const value = ((1 + c) * 255 + 0.5) | 0;
      if (value > was) data[at] = value;
    }
  }
  if (touchedA < mask.top) mask.top = touchedA;
  if (touchedB >= mask.bottom) mask.bottom = touchedB + 1;
}
