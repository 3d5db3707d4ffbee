/**
 * Thinning as the paper describes it, looking at all pixels in each half of a round: what quicker ways are compared with.
 * Written from the conditions (a) to (d), (c') and (d') of Zhang & Suen 1984, A fast parallel algorithm for thinning
 * digital patterns, Communications of the ACM 27(3).
 */
export function zhangSuen(mask: Uint8Array, width: number, height: number): Uint8Array {
  const out = mask.slice();
  const at = (x: number, y: number): number => (x < 0 || y < 0 || x >= width || y >= height ? 0 : out[y * width + x]);
  for (let changed = true; changed;) {
    changed = false;
    for (const half of [1, 2]) {
      const gone: number[] = [];
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          if (!out[y * width + x]) continue;
          const p = [[0, -1], [1, -1], [1, 0], [1, 1], [0, 1], [-1, 1], [-1, 0], [-1, -1]].map(([dx, dy]) => at(x + dx, y + dy)); // prettier-ignore
          const b = p.reduce((sum, v) => sum + v, 0);
          const a = p.filter((v, i) => v === 0 && p[(i + 1) % 8] === 1).length;
          const [p2, , p4, , p6, , p8] = p;
          const first = half === 1 ? p2 * p4 * p6 : p2 * p4 * p8;
          const second = half === 1 ? p4 * p6 * p8 : p2 * p6 * p8;
          if (b >= 2 && b <= 6 && a === 1 && first === 0 && second === 0) gone.push(y * width + x);
        }
      for (const i of gone) out[i] = 0;
      changed ||= gone.length > 0;
    }
  }
  return out;
}
