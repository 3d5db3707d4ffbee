import { wordsOf, type Pixels, type Rgb } from './pixels';

/** Fills the whole of `target` with an opaque colour. */
export function fillWith({ data }: Pixels, [r, g, b]: Rgb): void {
  wordsOf(data).fill(0xff000000 | (b << 16) | (g << 8) | r);
}
