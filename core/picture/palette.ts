import { hexOf, labDistance, oklabOf, rgbOf, type Lab } from './oklab';
import type { Picture } from './warp';

export const FEWEST_COLOURS = 3;
export const MOST_COLOURS = 12;

/** Colours of a picture that are nearly one, with how many pixels have them. */
interface Shade {
  lab: Lab;
  weight: number;
}

/** Bits of a channel by which pixels are taken together first. */
const BITS = 5;
/** Two colours of a palette are at least so far apart. */
const LEAST_APART = 0.03;
/** What covers less of the picture, a part, is no colour of it. */
const LEAST_SHARE = 0.0005;
const MOST_ROUNDS = 24;

/**
 * The colours that a picture is made of, spread as the eye sees them: each new one is far from those before and covers
 * much; then each moves to the middle of what is nearest to it. By lightness, dark first; fewer where the picture has
 * fewer. Clear pixels do not count.
 * @returns `#rrggbb` each.
 * @see Lloyd 1982 (k-means); Arthur & Vassilvitskii 2007 (beginning far apart, here without chance)
 */
export function paletteOf(picture: Picture, count: number): string[] {
  const shades = shadesOf(picture);
  let centres = farApart(shades, count);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const moved = middlesOf(shades, centres);
    const most = Math.max(0, ...moved.map((lab, k) => labDistance(lab, centres[k])));
    centres = moved;
    if (most < 1e-4) break;
  }
  return distinct(centres)
    .sort((p, q) => p[0] - q[0])
    .map((lab) => hexOf(rgbOf(lab)));
}

function shadesOf({ data }: Picture): Shade[] {
  const bins = new Map<number, { r: number; g: number; b: number; n: number }>();
  const cut = 8 - BITS;
  let total = 0;
  for (let at = 0; at < data.length; at += 4) {
    if (data[at + 3] < 128) continue;
    const key = ((data[at] >> cut) << (2 * BITS)) | ((data[at + 1] >> cut) << BITS) | (data[at + 2] >> cut);
    const bin = bins.get(key) ?? { r: 0, g: 0, b: 0, n: 0 };
    bins.set(key, bin);
    bin.r += data[at];
    bin.g += data[at + 1];
    bin.b += data[at + 2];
    bin.n++;
    total++;
  }
  const all = [...bins.values()].map(({ r, g, b, n }) => ({ lab: oklabOf(r / n, g / n, b / n), weight: n / total }));
  const seen = all.filter(({ weight }) => weight >= LEAST_SHARE);
  return seen.length ? seen : all;
}

/** The heaviest shade, and then always the one that is far from those taken and covers much. */
function farApart(shades: readonly Shade[], count: number): Lab[] {
  if (shades.length === 0) return [];
  const heaviest = shades.reduce((best, shade) => (shade.weight > best.weight ? shade : best));
  const centres = [heaviest.lab];
  const distances = shades.map(({ lab }) => labDistance(lab, heaviest.lab));
  while (centres.length < count) {
    // By the fourth root of what it covers: a small patch of a colour of its own counts, a speck does not.
    const worth = (k: number) => distances[k] * shades[k].weight ** 0.25;
    const next = shades.reduce((best, _, k) => (worth(k) > worth(best) ? k : best), 0);
    if (distances[next] < LEAST_APART) break;
    centres.push(shades[next].lab);
    shades.forEach(({ lab }, k) => (distances[k] = Math.min(distances[k], labDistance(lab, shades[next].lab))));
  }
  return centres;
}

/** The middle of the shades nearest to each centre. */
function middlesOf(shades: readonly Shade[], centres: readonly Lab[]): Lab[] {
  const sums = centres.map(() => [0, 0, 0, 0]);
  for (const { lab, weight } of shades) {
    const nearest = centres.reduce(
      (best, c, k) => (labDistance(lab, c) < labDistance(lab, centres[best]) ? k : best),
      0,
    );
    const sum = sums[nearest];
    for (let i = 0; i < 3; i++) sum[i] += weight * lab[i];
    sum[3] += weight;
  }
  return sums.map(([l, a, b, weight], k) => (weight > 0 ? [l / weight, a / weight, b / weight] : centres[k]));
}

const distinct = (labs: readonly Lab[]): Lab[] =>
  labs.filter((lab, k) => labs.slice(0, k).every((other) => labDistance(lab, other) >= LEAST_APART / 2));
