import { makePicture, type Picture } from './warp';

/** A picture made smaller by a whole number, each way: means of squares; colours weigh as much as they cover. */
export function averaged({ width, height, data }: Picture, by: number): Picture {
  const out = makePicture(Math.max(1, Math.floor(width / by)), Math.max(1, Math.floor(height / by)));
  const [across, down] = [Math.min(by, width), Math.min(by, height)];
  for (let y = 0, at = 0; y < out.height; y++)
    for (let x = 0; x < out.width; x++, at += 4) {
      let [r, g, b, alpha] = [0, 0, 0, 0];
      for (let dy = 0; dy < down; dy++)
        for (let dx = 0, from = 4 * ((y * by + dy) * width + x * by); dx < across; dx++, from += 4) {
          const a = data[from + 3];
          r += a * data[from];
          g += a * data[from + 1];
          b += a * data[from + 2];
          alpha += a;
        }
      if (!alpha) continue;
      // Such an array rounds by itself.
      out.data[at] = r / alpha;
      out.data[at + 1] = g / alpha;
      out.data[at + 2] = b / alpha;
      out.data[at + 3] = alpha / (across * down);
    }
  return out;
}
