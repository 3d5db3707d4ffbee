import type { ConeFrame } from './cone-frame';
import type { CoverageMask } from './coverage-mask';
import { rampAt, RAMPS, RAMP_STEPS, REACH } from './half-plane';

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
  // Beyond these distances an edge does not cross a pixel: half the pixel's width along the normal.
  const lFar = ((lx < 0 ? -lx : lx) + (ly < 0 ? -ly : ly)) / 2;
  const rFar = ((rx < 0 ? -rx : rx) + (ry < 0 ? -ry : ry)) / 2;
  const lRamp = rampAt(lx, ly);
  const rRamp = rampAt(rx, ry);
  // The edges that bound a row below and above in x, where there is one of each.
  const ordered = lx * rx < 0;
  const loX = lx < 0 ? lx : rx;
  const loY = lx < 0 ? ly : ry;
  const hiX = lx < 0 ? rx : lx;
  const hiY = lx < 0 ? ry : ly;
  const loRamp = lx < 0 ? lRamp : rRamp;
  const hiRamp = lx < 0 ? rRamp : lRamp;
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
    if (fullFrom <= fullTo && ordered) {
      // On either side of the full run only one edge counts.
      const lower = ra - h * loY;
      for (let i = begin; i < fullFrom; i++) {
        const value = RAMPS[loRamp + (((lower - (x0 + i + 0.5 - ax) * loX + REACH) * RAMP_STEPS) | 0)];
        if (value > data[row + i]) data[row + i] = value;
      }
      // Runs are short: a call to fill them costs more than their bytes.
      for (let i = fullFrom; i <= fullTo; i++) data[row + i] = 255;
      const upper = ra - h * hiY;
      for (let i = fullTo + 1; i <= end; i++) {
        const value = RAMPS[hiRamp + (((upper - (x0 + i + 0.5 - ax) * hiX + REACH) * RAMP_STEPS) | 0)];
        if (value > data[row + i]) data[row + i] = value;
      }
      continue;
    }
    for (let i = begin; i <= end; i++) {
      const at = row + i;
      const was = data[at];
      if (was === 255) continue;
      const x = x0 + i + 0.5 - ax;
      const s = left - x * lx;
      const r = right - x * rx;
      if (s <= -lFar || r <= -rFar) continue;
      let value = 255;
      if (s < lFar) value = RAMPS[lRamp + (((s + REACH) * RAMP_STEPS) | 0)];
      if (r < rFar) value += RAMPS[rRamp + (((r + REACH) * RAMP_STEPS) | 0)] - 255;
      if (value > was) data[at] = value;
    }
  }
  if (touchedA < mask.top) mask.top = touchedA;
  if (touchedB >= mask.bottom) mask.bottom = touchedB + 1;
}
