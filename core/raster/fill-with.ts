import type { Pixels, Rgb } from './pixels';

/** Fills the whole of `target` with an opaque colour. */
export function fillWith(target: Pixels, [r, g, b]: Rgb): void {
  for (let at = 0; at < target.data.length; at += 4) {
    target.data[at] = r;
    target.data[at + 1] = g;
    target.data[at + 2] = b;
    target.data[at + 3] = 255;
  }
}
