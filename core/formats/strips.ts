/** About 1 MB of pixels at a time. */
const STRIP_PX = 262144;

/** How many rows of a picture are drawn at a time, so that any size fits into the memory; at least one. */
export const stripHeight = (width: number, height: number): number =>
  Math.max(1, Math.min(height, Math.floor(STRIP_PX / width)));
