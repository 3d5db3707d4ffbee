// How far the values of a picture's recipe may go: what controls can set, what is kept of tones, and what the server takes.

/** Exposure, stops to each side. */
export const MOST_STOPS = 5;
/** Deviation of a blur, px of the original. */
export const MOST_BLUR_PX = 60;
/** Deviation of what edges are looked for in, px of the original. */
export const MOST_EDGE_PX = 200;
/** Diameter of specks that are dropped, px of the original. */
export const MOST_SPECKS_PX = 200;

/** Specks of a page that is shot as large as this are a pixel or two. */
const SPECK_PART = 1 / 700;
const DIAL_PART = 1 / 60;
const LEAST_DIAL_PX = 20;

/** The specks that are dropped at first. @param longestPx of the picture's sides. */
export const firstSpecks = (longestPx: number): number => Math.min(MOST_SPECKS_PX, Math.round(longestPx * SPECK_PART));

/** The largest specks that a picture's dial drops. @param longestPx of the picture's sides. */
export const mostSpecks = (longestPx: number): number =>
  Math.min(MOST_SPECKS_PX, Math.max(LEAST_DIAL_PX, Math.round(longestPx * DIAL_PART)));
