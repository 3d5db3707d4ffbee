/** The ladder of line widths in mm, steps of the square root of 2. ISO 128-2 and ISO 9175-1. */
export const LINE_WIDTHS_MM = [0.13, 0.18, 0.25, 0.35, 0.5, 0.7, 1.0, 1.4, 2.0] as const;
