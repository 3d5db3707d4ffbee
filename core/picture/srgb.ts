// The sRGB curve. @see IEC 61966-2-1

/** From a coded value to light, 0 to 1 each. */
export const toLight = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);

/** From light to a coded value, 0 to 1 each. */
export const fromLight = (v: number): number => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
