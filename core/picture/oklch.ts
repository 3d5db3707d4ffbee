import { hexOf, oklabOf, rgbOf, type Lab } from './oklab';

/** A colour by lightness 0 to 1, chroma 0 to about 0.37, and hue in degrees. @see CSS Color Module Level 4, 9.3 */
export interface Oklch {
  l: number;
  c: number;
  h: number;
}

/** As much chroma as any colour of a screen has. */
export const MOST_CHROMA = 0.33;
/** Less than this is grey: it has no hue. */
const GREY = 1e-3;
const HALVINGS = 18;

const channels = (hex: string): [number, number, number] => [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16)) as [number, number, number]; // prettier-ignore

/** @param hex `#rrggbb`. Of greys the hue is 0. */
export function oklchOf(hex: string): Oklch {
  const [l, a, b] = oklabOf(...channels(hex));
  const c = Math.hypot(a, b);
  return { l, c, h: c < GREY ? 0 : ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360 };
}

/**
 * `#rrggbb` of a colour; one that no screen shows keeps lightness and hue, and has as much chroma as there is.
 * @see CSS Color Module Level 4, 13.2, whose mapping lowers the chroma, too
 */
export function hexOfOklch({ l, c, h }: Oklch): string {
  const lab = (chroma: number): Lab => [
    l,
    chroma * Math.cos((h * Math.PI) / 180),
    chroma * Math.sin((h * Math.PI) / 180),
  ];
  if (isShown(lab(c))) return hexOf(rgbOf(lab(c)));
  let [low, high] = [0, c];
  for (let n = 0; n < HALVINGS; n++) {
    const middle = (low + high) / 2;
    if (isShown(lab(middle))) low = middle;
    else high = middle;
  }
  return hexOf(rgbOf(lab(low)));
}

/** Whether a screen shows a colour: cut to what it shows and read again, it is the same. */
function isShown(lab: Lab): boolean {
  const [l, a, b] = oklabOf(...rgbOf(lab));
  return Math.hypot(l - lab[0], a - lab[1], b - lab[2]) < 0.004;
}

/** Darker and lighter ones of a colour by even steps of lightness, the darkest first; the colour itself is in the middle. */
export function shadesOf(hex: string, toEachSide: number, step: number): string[] {
  const { l, c, h } = oklchOf(hex);
  return Array.from({ length: 2 * toEachSide + 1 }, (_, n) => {
    const by = (n - toEachSide) * step;
    return by === 0 ? hex : hexOfOklch({ l: Math.min(1, Math.max(0, l + by)), c, h });
  });
}

/** What was typed as a colour: `#rgb` or `#rrggbb`, with or without the sign, in any case. Undefined: it is none. */
export function typedColour(text: string): string | undefined {
  const digits = text.trim().replace(/^#/, '').toLowerCase();
  if (/^[0-9a-f]{6}$/.test(digits)) return `#${digits}`;
  if (/^[0-9a-f]{3}$/.test(digits)) return `#${[...digits].map((d) => d + d).join('')}`;
  return undefined;
}

/** Greys first, from dark to light, then by hue, and what is alike in that from dark to light. */
export function byHue(a: string, b: string): number {
  const [p, q] = [oklchOf(a), oklchOf(b)];
  const group = ({ c, h }: Oklch) => (c < LEAST_COLOURFUL ? -1 : Math.floor(h / HUES_DEG));
  return group(p) - group(q) || p.l - q.l || (a < b ? -1 : a > b ? 1 : 0);
}

const LEAST_COLOURFUL = 0.03;
const HUES_DEG = 30;
