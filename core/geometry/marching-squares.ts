type Edge = 't' | 'r' | 'b' | 'l';
/**
 * Through which edges of a square of four pixels the outline passes, the ink at its left hand, by which of them are ink:
 * clockwise from the upper left, bits from the lowest.
 */
const PASSES: readonly (readonly (readonly [from: Edge, to: Edge])[])[] = [
  [],
  [['l', 't']],
  [['t', 'r']],
  [['l', 'r']],
  [['r', 'b']],
  [['l', 't'], ['r', 'b']],
  [['t', 'b']],
  [['l', 'b']],
  [['b', 'l']],
  [['b', 't']],
  [['t', 'r'], ['b', 'l']],
  [['b', 'r']],
  [['r', 'l']],
  [['r', 't']],
  [['t', 'l']],
  [],
]; // prettier-ignore

/**
 * The lines along which values pass a level, between the middles of pixels, to a part of a pixel; what is above the level lies
 * at their left hand. Beyond the grid all is 0.
 * @param near where to look: lines elsewhere are not found. All three row-major, of `width` x `height`.
 * @param level between two values, > 0.
 * @returns closed, places in px from the grid's corner.
 * @see Lorensen & Cline 1987, in the plane ("marching squares"). O(pixels).
 */
export function contoursOf(
  values: Uint8Array,
  near: Uint8Array,
  width: number,
  height: number,
  level: number,
): [number, number][][] {
  const valueAt = (x: number, y: number): number =>
    x < 0 || y < 0 || x >= width || y >= height ? 0 : values[y * width + x];
  // From an edge of the grid to the next that the outline crosses: edges are numbered by their pixel, 2 a pixel.
  const stride = width + 2;
  const next = new Map<number, number>();
  const places = new Map<number, [number, number]>();
  const crossing = (x: number, y: number, isDown: boolean, a: number, b: number): number => {
    const key = 2 * ((y + 1) * stride + x + 1) + (isDown ? 1 : 0);
    if (!places.has(key)) {
      const t = (level - a) / (b - a);
      places.set(key, isDown ? [x + 0.5, y + t + 0.5] : [x + t + 0.5, y + 0.5]);
    }
    return key;
  };
  for (let y = -1; y < height; y++)
    for (let x = -1; x < width; x++) {
      // Most of a page is neither a patch nor beside one.
      const at = y * width + x;
      const isIn = x >= 0 && y >= 0;
      if (!(isIn && near[at]) && !(x + 1 < width && y + 1 < height && near[at + width + 1])) continue;
      const [a, b, c, d] = [valueAt(x, y), valueAt(x + 1, y), valueAt(x + 1, y + 1), valueAt(x, y + 1)];
      const code = (a > level ? 1 : 0) | (b > level ? 2 : 0) | (c > level ? 4 : 0) | (d > level ? 8 : 0);
      if (code === 0 || code === 15) continue;
      const top = () => crossing(x, y, false, a, b);
      const right = () => crossing(x + 1, y, true, b, c);
      const bottom = () => crossing(x, y + 1, false, d, c);
      const left = () => crossing(x, y, true, a, d);
      const edges = { t: top, r: right, b: bottom, l: left };
      for (const [from, to] of PASSES[code]) next.set(edges[from](), edges[to]());
    }
  const outlines: [number, number][][] = [];
  for (const start of next.keys()) {
    if (!next.has(start)) continue;
    const outline: [number, number][] = [];
    for (let at: number | undefined = start; at !== undefined && next.has(at);) {
      outline.push(places.get(at)!);
      const to: number = next.get(at)!;
      next.delete(at);
      at = to;
    }
    if (outline.length > 2) outlines.push(outline);
  }
  return outlines;
}
