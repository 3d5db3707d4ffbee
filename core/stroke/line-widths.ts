/** The ladder of line widths in mm, steps of the square root of 2. ISO 128-2 and ISO 9175-1. */
export const LINE_WIDTHS_MM = [0.13, 0.18, 0.25, 0.35, 0.5, 0.7, 1.0, 1.4, 2.0] as const;

const LARGEST_PX = 120;
/** Sizes that can be typed, px: finer and bolder than a slider goes. */
export const LEAST_TYPED_PX = 0.3;
export const MOST_TYPED_PX = 400;

/**
 * The nib size at a slider's position, 0 to 100: from 1 to 120 px, each position the same part larger than the one
 * before, as the eye sees widths. Tenths of a px below 10.
 */
export function sizeAtPosition(position: number): number {
  const px = LARGEST_PX ** (position / 100);
  return px < 10 ? Math.round(px * 10) / 10 : Math.round(px);
}

/** The position nearest to a size. */
export const positionOfSize = (px: number): number =>
  Math.min(100, Math.max(0, Math.round((100 * Math.log(px)) / Math.log(LARGEST_PX))));
