import type { CoverageMask } from './coverage-mask';

/** The grain repeats after so many paper px, a power of two. */
const SIDE = 512;
const MASK = SIDE - 1;
/** Half the width in px of the boxes that smooth noise to teeth, and to the waves that are taken out of it again. */
const TOOTH_PX = 1;
const WAVE_PX = 6;
/** How sharply ink ends at the height that it reaches, at the paper's own scale. */
const EDGE = 0.55;

/**
 * The paper's teeth at one scale: mean heights 0 to 255 within px of `2 ** down` paper px, ({@link SIDE} >> `down`) squared,
 * and over which range the heights within one of them lie, 0 to 255: there ink ends softly.
 */
interface Teeth {
  heights: Uint8Array;
  down: number;
  edge: number;
  /** How high ink 0 to 255 reaches, so that as much of the paper is covered. */
  reach: Float64Array;
}

const scales: Teeth[] = [];

/** The teeth for pixels of `2 ** down` paper px, made when they are first wanted. */
function teethAt(down: number): Teeth {
  scales[0] ??= teethOf(paperTeeth(), 0, Math.round(255 * EDGE));
  while (scales.length <= down) scales.push(coarser(scales[scales.length - 1]));
  return scales[down];
}

function teethOf(heights: Uint8Array, down: number, edge: number): Teeth {
  return { heights, down, edge, reach: reachOf(heights, edge) };
}

/** How much of a tooth is covered by ink that reaches to `reach`, 0 to 255. */
function covered(reach: number, height: number, edge: number): number {
  const cover = ((reach - height) * 255) / edge + 127.5;
  return cover <= 0 ? 0 : cover >= 255 ? 255 : cover;
}

/** The inverse of the mean of what is covered, by how high ink reaches: from half an edge below the teeth to half one above. */
function reachOf(heights: Uint8Array, edge: number): Float64Array {
  const many = new Float64Array(256);
  for (const v of heights) many[v] += 1 / heights.length;
  const mean = (reach: number) =>
    many.reduce((sum, part, height) => (part > 0 ? sum + part * covered(reach, height, edge) : sum), 0);
  const least = -128;
  const means = Float64Array.from({ length: 512 }, (_, i) => mean(least + i));
  let high = 1;
  return Float64Array.from({ length: 256 }, (_, ink) => {
    if (ink === 255) return least + means.length;
    while (means[high] < ink) high++;
    const step = means[high] - means[high - 1];
    return least + high - 1 + (step > 0 ? (ink - means[high - 1]) / step : 0);
  });
}

/**
 * Noise between two wavelengths, its values spread evenly. Whole numbers only, so that all devices have the same paper.
 */
function paperTeeth(): Uint8Array {
  const noise = new Int32Array(SIDE * SIDE);
  // Marsaglia (2003), "Xorshift RNGs", J. Stat. Softw. 8(14): 13, 17, 5.
  let s = 0x2545f491;
  for (let i = 0; i < noise.length; i++) {
    s ^= s << 13;
    s ^= s >>> 17;
    s ^= s << 5;
    noise[i] = s >>> 22;
  }
  const fine = blurred(noise, TOOTH_PX);
  const coarse = blurred(blurred(fine, WAVE_PX), WAVE_PX);
  const fineArea = (2 * TOOTH_PX + 1) ** 2;
  const coarseArea = (2 * WAVE_PX + 1) ** 4;
  const scale = 64;
  const heights = fine.map(
    (v, i) => Math.floor((v * scale) / fineArea) - Math.floor((coarse[i] * scale) / fineArea / coarseArea),
  );
  return evenly(heights);
}

/** Sums over a square of 2 `half` + 1 px, around the edges: whole numbers, exact. */
function blurred(values: ArrayLike<number>, half: number): Float64Array {
  const rows = new Float64Array(SIDE * SIDE);
  const out = new Float64Array(SIDE * SIDE);
  for (let n = 0; n < SIDE; n++) sumAlong(values, rows, n * SIDE, 1, half);
  for (let n = 0; n < SIDE; n++) sumAlong(rows, out, n, SIDE, half);
  return out;
}

/** Sums of 2 `half` + 1 neighbours each, of {@link SIDE} values from `first` on, `step` apart, the last next to the first. */
function sumAlong(values: ArrayLike<number>, out: Float64Array, first: number, step: number, half: number): void {
  const at = (n: number) => first + step * (n & MASK);
  let sum = 0;
  for (let n = -half; n <= half; n++) sum += values[at(n)];
  for (let n = 0; n < SIDE; n++) {
    out[at(n)] = sum;
    sum += values[at(n + half + 1)] - values[at(n - half)];
  }
}

/** Values by their rank, from where the soft edge begins to where it ends. */
function evenly(values: ArrayLike<number>): Uint8Array {
  let [least, most] = [Infinity, -Infinity];
  for (let i = 0; i < values.length; i++) {
    least = Math.min(least, values[i]);
    most = Math.max(most, values[i]);
  }
  const upTo = new Uint32Array(most - least + 2);
  for (let i = 0; i < values.length; i++) upTo[values[i] - least + 1]++;
  for (let v = 1; v < upTo.length; v++) upTo[v] += upTo[v - 1];
  return Uint8Array.from({ length: values.length }, (_, i) => {
    const v = values[i] - least;
    const rank = (upTo[v] + upTo[v + 1]) / (2 * values.length);
    return Math.round(255 * (EDGE / 2 + (1 - EDGE) * rank));
  });
}

/** The mean heights of four px each. The less these still differ, the more of the paper lies within one of them. */
function coarser({ heights, down }: Teeth): Teeth {
  const from = SIDE >> down;
  const side = from >> 1;
  const half = Uint8Array.from({ length: side * side }, (_, i) => {
    const at = 2 * (Math.floor(i / side) * from + (i % side));
    return (heights[at] + heights[at + 1] + heights[at + from] + heights[at + from + 1] + 2) >> 2;
  });
  const left = spread(half) / spread(scales[0].heights);
  return teethOf(half, down + 1, Math.round(255 * (1 - (1 - EDGE) * left)));
}

/** Standard deviation. */
function spread(values: Uint8Array): number {
  let [sum, squares] = [0, 0];
  for (const v of values) {
    sum += v;
    squares += v * v;
  }
  const mean = sum / values.length;
  return Math.sqrt(squares / values.length - mean * mean);
}

/** Paper this much coarser shows no grain any more: each px has the same teeth. */
const MOST_DOWN = 6;

/** What reads the heights of one row of the grid, as {@link Teeth.heights}. */
type Heights = (gridX: number) => number;

/** Rows of the grid as they lie on the paper: its own px, or within them. */
function heightsOfRow({ heights, down }: Teeth, gridY: number, scale: number): Heights {
  const mask = (SIDE >> down) - 1;
  const side = mask + 1;
  if (scale <= 1) {
    const row = (gridY & mask) * side;
    return (x) => heights[row + (x & mask)];
  }
  const y = (gridY + 0.5) / scale - 0.5;
  const top = Math.floor(y);
  const v = y - top;
  const above = (top & mask) * side;
  const below = ((top + 1) & mask) * side;
  return (gridX) => {
    const x = (gridX + 0.5) / scale - 0.5;
    const left = Math.floor(x);
    const u = x - left;
    const a = left & mask;
    const b = (left + 1) & mask;
    const upper = heights[above + a] + u * (heights[above + b] - heights[above + a]);
    const lower = heights[below + a] + u * (heights[below + b] - heights[below + a]);
    return (upper + v * (lower - upper) + 0.5) | 0;
  };
}

/** The last table of each scale: the amount that it is for, and its values. */
const tables: { amount: number; left: Uint8Array }[] = [];

function tableOf({ down, edge, reach }: Teeth, amount: number): Uint8Array {
  if (tables[down]?.amount === amount) return tables[down].left;
  const left = new Uint8Array(65536);
  for (let ink = 0; ink < 256; ink++)
    for (let height = 0; height < 256; height++)
      left[(ink << 8) | height] = ink + (covered(reach[ink], height, edge) - ink) * amount + 0.5;
  tables[down] = { amount, left };
  return left;
}

/** The paper's grain at one scale, as it shows through ink. */
export class Grain {
  private readonly teeth: Teeth;
  /** What is left of ink over teeth of a height: 256 values an ink. */
  private readonly left: Uint8Array;

  /** @param scale grid px per paper px, a power of two. @param amount how much of it shows, 0 to 1. */
  constructor(
    private readonly scale: number,
    amount: number,
  ) {
    let down = 0;
    while (down < MOST_DOWN && scale * 2 ** down < 1) down++;
    this.teeth = teethAt(down);
    this.left = tableOf(this.teeth, amount);
  }

  /** What is left of ink 0 to 255 in a row of the grid, by x. */
  row(gridY: number): (ink: number, gridX: number) => number {
    const { left } = this;
    const heightAt = heightsOfRow(this.teeth, gridY, this.scale);
    return (ink, gridX) => left[(ink << 8) | heightAt(gridX)];
  }
}

/**
 * Lets the paper's grain show through ink: where its teeth stand higher than the ink is strong, there is none. The grain lies
 * on the paper, whatever moves there and however closely one looks; on average ink is as dark as it was without.
 * @param scale grid px per paper px, a power of two.
 * @param amount how much of it shows, 0 to 1.
 */
export function grainMask(mask: CoverageMask, scale: number, amount: number): void {
  const { data, rowFrom, rowTo, width, x0, y0 } = mask;
  const grain = new Grain(scale, amount);
  for (let j = mask.top; j < mask.bottom; j++) {
    const at = j * width;
    const grained = grain.row(y0 + j);
    for (let i = rowFrom[j]; i < rowTo[j]; i++) if (data[at + i] > 0) data[at + i] = grained(data[at + i], x0 + i);
  }
}
