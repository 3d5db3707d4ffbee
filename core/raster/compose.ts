import type { CoverageMask } from './coverage-mask';
import { div255, type Pixels, type Rgb } from './pixels';

/**
 * Lays a colour over `target` where `mask` covers it (source-over); both share the grid.
 * Works on whole pixels as little-endian words (alpha highest), as on every platform that we run on.
 * @see W3C Compositing and Blending Level 1, source-over on premultiplied values.
 */
export function blendMask(target: Pixels, mask: CoverageMask, [r, g, b]: Rgb): void {
  const { width } = target;
  const { data } = mask;
  const words = new Uint32Array(target.data.buffer, target.data.byteOffset, target.data.length / 4);
  const full = (0xff000000 | (b << 16) | (g << 8) | r) >>> 0;
  const dx = mask.x0 - target.x0;
  const dy = mask.y0 - target.y0;
  const top = Math.max(mask.top, -dy);
  const bottom = Math.min(mask.bottom, target.height - dy);
  for (let j = top; j < bottom; j++) {
    const from = Math.max(mask.rowFrom[j], -dx);
    const to = Math.min(mask.rowTo[j], width - dx);
    let m = j * mask.width + from;
    let at = (j + dy) * width + from + dx;
    for (let i = from; i < to; i++, m++, at++) {
      const cover = data[m];
      if (cover === 0) continue;
      if (cover === 255) {
        words[at] = full;
        continue;
      }
      const under = words[at];
      const keep = 255 - cover;
      words[at] =
        (((cover + div255((under >>> 24) * keep)) << 24) |
          ((div255(b * cover) + div255(((under >>> 16) & 255) * keep)) << 16) |
          ((div255(g * cover) + div255(((under >>> 8) & 255) * keep)) << 8) |
          (div255(r * cover) + div255((under & 255) * keep))) >>>
        0;
    }
  }
}

/** Takes from `mask` what `hole` covers (destination-out). Same size and origin. */
export function cutMask(mask: CoverageMask, hole: CoverageMask): void {
  const top = Math.max(mask.top, hole.top);
  const bottom = Math.min(mask.bottom, hole.bottom);
  for (let j = top; j < bottom; j++) {
    const row = j * mask.width;
    const to = Math.min(mask.rowTo[j], hole.rowTo[j]);
    for (let i = Math.max(mask.rowFrom[j], hole.rowFrom[j]); i < to; i++)
      mask.data[row + i] = div255(mask.data[row + i] * (255 - hole.data[row + i]));
  }
}

/**
 * Lays `source` over `target` (source-over, group opacity 0 to 1) where they overlap.
 * @see W3C Compositing and Blending Level 1.
 */
export function layOver(target: Pixels, source: Pixels, opacity: number): void {
  const o = Math.round(opacity * 255);
  const x0 = Math.max(target.x0, source.x0);
  const x1 = Math.min(target.x0 + target.width, source.x0 + source.width);
  const y0 = Math.max(target.y0, source.y0);
  const y1 = Math.min(target.y0 + target.height, source.y0 + source.height);
  for (let y = y0; y < y1; y++) {
    let s = 4 * ((y - source.y0) * source.width + x0 - source.x0);
    let t = 4 * ((y - target.y0) * target.width + x0 - target.x0);
    for (let x = x0; x < x1; x++, s += 4, t += 4) {
      const alpha = div255(source.data[s + 3] * o);
      if (alpha === 0) continue;
      for (let c = 0; c < 3; c++)
        target.data[t + c] = div255(source.data[s + c] * o) + div255(target.data[t + c] * (255 - alpha));
      target.data[t + 3] = alpha + div255(target.data[t + 3] * (255 - alpha));
    }
  }
}

/** Fills the whole of `target` with an opaque colour. */
export function fillWith(target: Pixels, [r, g, b]: Rgb): void {
  for (let at = 0; at < target.data.length; at += 4) {
    target.data[at] = r;
    target.data[at + 1] = g;
    target.data[at + 2] = b;
    target.data[at + 3] = 255;
  }
}

/** Colour as files and `ImageData` want it: not multiplied by alpha. Modifies `data` in place. */
export function unpremultiply(data: Uint8ClampedArray): void {
  for (let at = 0; at < data.length; at += 4) {
    const alpha = data[at + 3];
    if (alpha === 0 || alpha === 255) continue;
    for (let c = 0; c < 3; c++) data[at + c] = Math.round((data[at + c] * 255) / alpha);
  }
}
