import { fromLight, toLight } from './srgb';

/** A colour by how it is seen: lightness 0 to 1, from green to red, from blue to yellow. */
export type Lab = readonly [l: number, a: number, b: number];

/** From sRGB, 0 to 255 a channel. @see CSS Color Module Level 4, 9.2 and its sample code */
export function oklabOf(r255: number, g255: number, b255: number): Lab {
  const [r, g, b] = [toLight(r255 / 255), toLight(g255 / 255), toLight(b255 / 255)];
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

/** To sRGB, 0 to 255 a channel, rounded; what no screen shows is cut off. */
export function rgbOf([lightness, a, b]: Lab): [number, number, number] {
  const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3;
  const coded = (v: number) => Math.round(255 * fromLight(Math.min(1, Math.max(0, v))));
  return [
    coded(4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s),
    coded(-1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s),
    coded(-0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s),
  ];
}

/** How far two colours are apart: 0.02 is just seen side by side. */
export const labDistance = (p: Lab, q: Lab): number => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);

export const hexOf = (rgb: readonly number[]): string => `#${rgb.map((v) => v.toString(16).padStart(2, '0')).join('')}`;
