/** Whole numbers as those >= 0 that small ones of either sign are small of. */
export const zigzag = (v: number): number => (v < 0 ? -2 * v - 1 : 2 * v);

/** Back. Without `%`: on doubles it is the slowest operation of the whole decoding. */
export const unzigzag = (v: number): number => {
  const half = Math.floor(v / 2);
  return v === 2 * half ? half : -half - 1;
};
