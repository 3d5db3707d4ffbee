import type { ConeFrame } from './cone-frame';
import type { CoverageMask } from './coverage-mask';
import { halfPlane, REACH } from './half-plane';

const QUARTER_PI = Math.PI / 4;
/** The end's part of a line: this far along it, px, a pixel no longer feels the end. */
export const END_LENGTH = 0.5;

/**
 * Max-blends the end of a line thinner than a pixel: the line's own coverage times the part of the pixel that it
 * reaches into. A round end is as long as pi / 4 of its radius.
 *
 * @param cone the line's first cone (`atStart`) or last one; has a body.
 * @param limit how far along from the end pixels belong to the end, px.
 * @param reachesOn how far the line goes on behind the end before it ends there too, px; Infinity if it does not.
 */
export function addThinEnd(
  mask: CoverageMask,
  cone: ConeFrame,
  atStart: boolean,
  limit: number,
  reachesOn: number,
): void {
  const { width, height, data, rowFrom, rowTo, x0, y0 } = mask;
  const turn = atStart ? 1 : -1;
  const ux = turn * cone.ux;
  const uy = turn * cone.uy;
  const sin = turn * cone.sin;
  const { cos } = cone;
  const r = atStart ? cone.ra : cone.rb;
  const cx = atStart ? cone.ax : cone.bx;
  const cy = atStart ? cone.ay : cone.by;
  const a = Math.max(Math.abs(ux), Math.abs(uy));
  const b = Math.min(Math.abs(ux), Math.abs(uy));
  const size = r + END_LENGTH + 2 * REACH;
  const rowA = Math.max(0, Math.ceil(cy - size - 0.5) - y0);
  const rowB = Math.min(height - 1, Math.floor(cy + size - 0.5) - y0);
  const begin = Math.max(0, Math.ceil(cx - size - 0.5) - x0);
  const end = Math.min(width - 1, Math.floor(cx + size - 0.5) - x0);
  if (rowA > rowB || begin > end) return;
  for (let j = rowA; j <= rowB; j++) {
    const y = y0 + j + 0.5 - cy;
    if (begin < rowFrom[j]) rowFrom[j] = begin;
    if (end >= rowTo[j]) rowTo[j] = end + 1;
    for (let i = begin, at = j * width + begin; i <= end; i++, at++) {
      const x = x0 + i + 0.5 - cx;
      const along = x * ux + y * uy;
      if (along >= limit) continue;
      const side = x * uy - y * ux;
      const across = side < 0 ? -side : side;
      const radius = r - sin * (along > 0 ? along : 0);
      const line = halfPlane(radius - cos * across, a, b) + halfPlane(radius + cos * across, a, b) - 1;
      const c = line * part(END_LENGTH + along + QUARTER_PI * r) * part(END_LENGTH + reachesOn - along);
      const value = (c * 255 + 0.5) | 0;
      if (value > data[at]) data[at] = value;
    }
  }
  if (rowA < mask.top) mask.top = rowA;
  if (rowB >= mask.bottom) mask.bottom = rowB + 1;
}

const part = (v: number): number => (v <= 0 ? 0 : v >= 1 ? 1 : v);
