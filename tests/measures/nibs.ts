import type { Spine } from '../../core/stroke/spine';
import { GRID, type Rect } from './stroke-error';

/**
 * Coverage 0..1 of what an oval nib sweeps over, by 8 x 8 points a pixel: the oval is put down every sixth of a px along the
 * line, turned as it is there. Slow, and by nothing that the renderer uses.
 */
export function exactNib(spine: Spine, rect: Rect): Float64Array {
  const { data, count, own, footprint } = spine;
  const hits = new Uint8Array(rect.width * GRID * rect.height * GRID);
  for (let i = 0; i < Math.max(1, count - 1); i++) {
    const a = 3 * i;
    const b = count > 1 ? a + 3 : a;
    const steps = Math.max(1, Math.ceil(6 * Math.hypot(data[b] - data[a], data[b + 1] - data[a + 1])));
    for (let n = 0; n <= steps; n++) {
      const at = (from: Float64Array, k: number) => from[a + k] + (n / steps) * (from[b + k] - from[a + k]);
      const [ex, ey] = own ? [at(own, 1), at(own, 2)] : [footprint!.ex, footprint!.ey];
      const length = Math.hypot(ex, ey);
      putOval(hits, rect, at(data, 0), at(data, 1), at(data, 2), footprint!.flat, ex / length, ey / length);
    }
  }
  const out = new Float64Array(rect.width * rect.height);
  const stride = rect.width * GRID;
  hits.forEach((hit, k) => {
    if (hit) out[Math.floor(k / stride / GRID) * rect.width + Math.floor((k % stride) / GRID)] += 1 / (GRID * GRID);
  });
  return out;
}

function putOval(
  hits: Uint8Array,
  { x0, y0, width, height }: Rect,
  x: number,
  y: number,
  r: number,
  flat: number,
  ex: number,
  ey: number,
): void {
  const first = (v: number) => Math.max(0, Math.floor((v - r) * GRID));
  for (let j = first(y - y0); j <= Math.min(height * GRID - 1, (y - y0 + r) * GRID); j++)
    for (let i = first(x - x0); i <= Math.min(width * GRID - 1, (x - x0 + r) * GRID); i++) {
      const px = x0 + (i + 0.5) / GRID - x;
      const py = y0 + (j + 0.5) / GRID - y;
      const along = px * ex + py * ey;
      const across = (py * ex - px * ey) / flat;
      if (along * along + across * across <= r * r) hits[j * width * GRID + i] = 1;
    }
}

/**
 * The ink, 0 to 1, of a round nib whose edge fades and whose strength changes along the line, at each pixel's middle: the
 * most that any of its discs leaves there, put down every sixth of a px, fading by a smooth step over `soft` of the
 * radius and a px. Slow, and by nothing that the renderer uses.
 */
export function exactFading(spine: Spine, rect: Rect): Float64Array {
  const { data, count, own, footprint } = spine;
  const { soft } = footprint!;
  const out = new Float64Array(rect.width * rect.height);
  for (let i = 0; i < Math.max(1, count - 1); i++) {
    const a = 3 * i;
    const b = count > 1 ? a + 3 : a;
    const steps = Math.max(1, Math.ceil(6 * Math.hypot(data[b] - data[a], data[b + 1] - data[a + 1])));
    for (let n = 0; n <= steps; n++) {
      const at = (from: Float64Array, k: number) => from[a + k] + (n / steps) * (from[b + k] - from[a + k]);
      const [x, y, r] = [at(data, 0), at(data, 1), at(data, 2)];
      const strength = own ? at(own, 0) : 1;
      out.forEach((was, k) => {
        const [px, py] = [rect.x0 + (k % rect.width) + 0.5, rect.y0 + Math.floor(k / rect.width) + 0.5];
        const f = Math.min(1, Math.max(0, (r - Math.hypot(px - x, py - y) + 0.5) / (soft * r + 1)));
        const ink = f * f * (3 - 2 * f) * strength * (r < 0.5 ? 2 * r : 1);
        if (ink > was) out[k] = ink;
      });
    }
  }
  return out;
}
