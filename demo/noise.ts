/** From one value to another, and edges that are soft. */
export const mix = (a: number, b: number, t: number) => a + (b - a) * t;
export const clamp = (v: number) => Math.min(1, Math.max(0, v));
export const smooth = (v: number) => {
  const u = clamp(v);
  return u * u * (3 - 2 * u);
};

function hash(i: number, j: number, seed: number): number {
  let h = Math.imul(i, 374761393) ^ Math.imul(j, 668265263) ^ Math.imul(seed, 974634541);
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 2147483648 - 1;
}

/** Smooth lattice noise, -1 to 1. */
export function noise(x: number, y: number, seed: number): number {
  const xi = Math.floor(x);
  const yi = Math.floor(y);
  const u = smooth(x - xi);
  const v = smooth(y - yi);
  return mix(
    mix(hash(xi, yi, seed), hash(xi + 1, yi, seed), u),
    mix(hash(xi, yi + 1, seed), hash(xi + 1, yi + 1, seed), u),
    v,
  );
}

/** Several octaves of noise. */
export function cloud(x: number, y: number, seed: number, octaves = 5): number {
  let sum = 0;
  for (let o = 0, a = 0.5; o < octaves; o++, a /= 2) sum += a * noise(x * 2 ** o, y * 2 ** o, seed + o);
  return sum;
}
