import { toLight } from './srgb';

/** CIE 1976 L*a*b*, D65. */
export type CieLab = readonly [l: number, a: number, b: number];

/** White of D65, as IEC 61966-2-1 has it. */
const WHITE = [0.9505, 1, 1.089] as const;

/** From sRGB, `#rrggbb`. @see IEC 61966-2-1; CIE 15:2004 */
export function cieLabOf(hex: string): CieLab {
  const [r, g, b] = [1, 3, 5].map((at) => toLight(parseInt(hex.slice(at, at + 2), 16) / 255));
  const xyz = [
    0.4124 * r + 0.3576 * g + 0.1805 * b,
    0.2126 * r + 0.7152 * g + 0.0722 * b,
    0.0193 * r + 0.1192 * g + 0.9505 * b,
  ];
  const [x, y, z] = xyz.map((v, i) => {
    const t = v / WHITE[i];
    return t > (6 / 29) ** 3 ? Math.cbrt(t) : (t * (29 / 6) ** 2) / 3 + 4 / 29;
  });
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

const RAD = Math.PI / 180;
const HIGH = 25 ** 7;

/**
 * How different two colours look: 1 is just seen side by side.
 * @see Sharma, Wu & Dalal (2005), "The CIEDE2000 color-difference formula: implementation notes", Color Research & Application 30(1)
 */
export function ciede2000([l1, a1, b1]: CieLab, [l2, a2, b2]: CieLab): number {
  const meanC = (Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2;
  const g = 0.5 * (1 - Math.sqrt(meanC ** 7 / (meanC ** 7 + HIGH)));
  const [p1, p2] = [(1 + g) * a1, (1 + g) * a2];
  const [c1, c2] = [Math.hypot(p1, b1), Math.hypot(p2, b2)];
  const hue = (b: number, a: number) => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) / RAD + 360) % 360);
  const [h1, h2] = [hue(b1, p1), hue(b2, p2)];
  const isGrey = c1 * c2 === 0;
  const turn = h2 - h1;
  const dh = isGrey ? 0 : turn > 180 ? turn - 360 : turn < -180 ? turn + 360 : turn;
  const dL = l2 - l1;
  const dC = c2 - c1;
  const dH = 2 * Math.sqrt(c1 * c2) * Math.sin((dh / 2) * RAD);
  const [l, c] = [(l1 + l2) / 2, (c1 + c2) / 2];
  const sum = h1 + h2;
  const h = isGrey ? sum : Math.abs(turn) <= 180 ? sum / 2 : sum < 360 ? (sum + 360) / 2 : (sum - 360) / 2;
  const t = 1 - 0.17 * Math.cos((h - 30) * RAD) + 0.24 * Math.cos(2 * h * RAD) + 0.32 * Math.cos((3 * h + 6) * RAD) - 0.2 * Math.cos((4 * h - 63) * RAD); // prettier-ignore
  const turned = 30 * Math.exp(-(((h - 275) / 25) ** 2));
  const rt = -Math.sin(2 * turned * RAD) * 2 * Math.sqrt(c ** 7 / (c ** 7 + HIGH));
  const sl = 1 + (0.015 * (l - 50) ** 2) / Math.sqrt(20 + (l - 50) ** 2);
  const sc = 1 + 0.045 * c;
  const sh = 1 + 0.015 * c * t;
  return Math.sqrt((dL / sl) ** 2 + (dC / sc) ** 2 + (dH / sh) ** 2 + rt * (dC / sc) * (dH / sh));
}

/** The colour of a list that looks the most like another, if it looks the same or nearly. @param most how different it may be. */
export function likestOf<T extends { colour: string }>(all: readonly T[], colour: string, most: number): T | undefined {
  const lab = cieLabOf(colour);
  let best: { one: T | undefined; off: number } = { one: undefined, off: most };
  for (const one of all) {
    const off = ciede2000(lab, cieLabOf(one.colour));
    if (off <= best.off) best = { one, off };
  }
  return best.one;
}
