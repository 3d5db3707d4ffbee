import type { GreyPicture } from './luma';
import { makePicture, type Picture } from './warp';

/** Weights of a Gaussian bell out to three deviations, from the middle on; they add up to 1 over both sides. */
export function bell(sigma: number): Float32Array {
  const reach = Math.max(1, Math.ceil(3 * sigma));
  const weights = Float32Array.from({ length: reach + 1 }, (_, k) => Math.exp(-(k * k) / (2 * sigma * sigma)));
  const sum = weights.reduce((total, w, k) => total + (k ? 2 * w : w), 0);
  return weights.map((w) => w / sum);
}

/** Boxes laid over each other, so many times, are nearly a bell. */
const BOXES = 3;
/** From this deviation on, px: of smaller boxes the corners would be seen. */
const LEAST_BOX_SIGMA = 1.6;
/** So far reaches the widest bell below. */
const MOST_REACH = 5;

/**
 * A box whose `BOXES`-fold blur has a deviation: as far as `reach` with full weight, and one pixel further with a part.
 * @see Gwosdek, Grewenig, Bruhn & Weickert 2011, Theoretical foundations of Gaussian convolution by extended box filtering
 */
export function boxOf(sigma: number): { reach: number; inner: number; outer: number } {
  const variance = (sigma * sigma) / BOXES;
  const reach = Math.floor((Math.sqrt(12 * variance + 1) - 1) / 2);
  const part = ((2 * reach + 1) * (reach * (reach + 1) - 3 * variance)) / (6 * (variance - (reach + 1) ** 2));
  const sum = 2 * part + 2 * reach + 1;
  return { reach, inner: 1 / sum, outer: part / sum };
}

/** Less than this changes no value. */
const LEAST_SIGMA = 0.2;
const STRIP = 64;

/**
 * A picture blurred by a Gaussian bell, across and then down; the edge is repeated. Colours weigh as much as they cover.
 * One channel after the other, and of a grey picture one for all three.
 * @param sigma its deviation, px.
 * @returns yields the part that is done, 0 to 1.
 */
export function* blurred(picture: Picture, sigma: number): Generator<number, Picture> {
  if (sigma < LEAST_SIGMA) return picture;
  const { width, height } = picture;
  const { isOpaque, isGrey } = kindOf(picture);
  const target = makePicture(width, height);
  const plane = new Float32Array(width * height);
  // What covers, 0 to 255, not rounded: colours are divided by it.
  let alpha: Float32Array | undefined;
  // Alpha first: the other channels are divided by it.
  const channels = isOpaque ? (isGrey ? [0] : [0, 1, 2]) : [3, 0, 1, 2];
  for (const [n, channel] of channels.entries()) {
    take(picture, channel, isOpaque, plane);
    const work = blurPlane(plane, width, height, sigma);
    for (let step = work.next(); !step.done; step = work.next()) yield (n + step.value) / channels.length;
    if (channel === 3) alpha = plane.slice();
    put(plane, target, channel, alpha);
  }
  if (isOpaque) for (let at = 3; at < target.data.length; at += 4) target.data[at] = 255;
  if (isOpaque && isGrey)
    for (let at = 0; at < target.data.length; at += 4) target.data[at + 1] = target.data[at + 2] = target.data[at];
  return target;
}

/** The same of one plane, in place. @returns yields the part that is done. */
function* blurPlane(plane: Float32Array, width: number, height: number, sigma: number): Generator<number, void> {
  if (sigma >= LEAST_BOX_SIGMA) {
    const box = boxOf(sigma);
    for (let row = 0; row < height; row += STRIP) {
      boxesAcross(plane, width, box, row, Math.min(height, row + STRIP));
      yield (0.5 * row) / height;
    }
    // Above and below the edge is repeated, as far as all boxes reach.
    const far = BOXES * (box.reach + 1);
    let [from, to]: Float32Array[] = [tall(plane, width, height, far), new Float32Array(width * (height + 2 * far))];
    for (let pass = 0; pass < BOXES; pass++) {
      boxDown(from, to, width, height + 2 * far, box);
      [from, to] = [to, from];
      yield 0.5 + (pass + 1) / BOXES / 2;
    }
    plane.set(from.subarray(far * width, (far + height) * width));
  } else {
    const weights = weightsOf(sigma);
    const across = new Float32Array(width * height);
    for (let row = 0; row < height; row += STRIP) {
      blurAcross(plane, across, width, weights, row, Math.min(height, row + STRIP));
      yield (0.5 * row) / height;
    }
    for (let row = 0; row < height; row += STRIP) {
      blurDown(across, plane, width, height, weights, row, Math.min(height, row + STRIP));
      yield 0.5 + (0.5 * row) / height;
    }
  }
}

/** The same of a grey picture, in place: its data are the result's. @returns yields the part that is done. */
export function* blurredGrey(grey: GreyPicture, sigma: number): Generator<number, GreyPicture> {
  if (sigma >= LEAST_SIGMA) yield* blurPlane(grey.data, grey.width, grey.height, sigma);
  return grey;
}

function kindOf({ data }: Picture): { isOpaque: boolean; isGrey: boolean } {
  let [isOpaque, isGrey] = [true, true];
  for (let at = 0; at < data.length && (isOpaque || isGrey); at += 4) {
    if (data[at + 3] !== 255) isOpaque = false;
    if (data[at] !== data[at + 1] || data[at] !== data[at + 2]) isGrey = false;
  }
  return { isOpaque, isGrey };
}

/** One channel; colours multiplied by alpha. */
function take({ data }: Picture, channel: number, isOpaque: boolean, plane: Float32Array): void {
  if (isOpaque || channel === 3) for (let i = 0, at = channel; i < plane.length; i++, at += 4) plane[i] = data[at];
  else for (let i = 0, at = 0; i < plane.length; i++, at += 4) plane[i] = (data[at + channel] * data[at + 3]) / 255;
}

function put(plane: Float32Array, { data }: Picture, channel: number, alpha: Float32Array | undefined): void {
  // Such an array rounds by itself.
  if (!alpha || channel === 3) for (let i = 0, at = channel; i < plane.length; i++, at += 4) data[at] = plane[i];
  else
    for (let i = 0, at = channel; i < plane.length; i++, at += 4)
      data[at] = alpha[i] > 0.5 ? (plane[i] * 255) / alpha[i] : 0;
}

/**
 * What a bell weighs out to {@link MOST_REACH}: its places are written out below, which takes less time than a loop over
 * them for each pixel.
 */
type Weights = readonly [number, number, number, number, number, number];

function weightsOf(sigma: number): Weights {
  const own = bell(sigma);
  return [own[0], own[1], own[2] ?? 0, own[3] ?? 0, own[4] ?? 0, own[5] ?? 0];
}

function blurAcross(
  plane: Float32Array,
  target: Float32Array,
  width: number,
  [w0, w1, w2, w3, w4, w5]: Weights,
  from: number,
  to: number,
): void {
  // A row with its edges repeated.
  const line = new Float32Array(width + 2 * MOST_REACH);
  for (let y = from; y < to; y++) {
    const row = y * width;
    line.fill(plane[row], 0, MOST_REACH);
    line.set(plane.subarray(row, row + width), MOST_REACH);
    line.fill(plane[row + width - 1], MOST_REACH + width);
    for (let x = 0; x < width; x++)
      target[row + x] =
        w0 * line[x + 5] +
        w1 * (line[x + 4] + line[x + 6]) +
        w2 * (line[x + 3] + line[x + 7]) +
        w3 * (line[x + 2] + line[x + 8]) +
        w4 * (line[x + 1] + line[x + 9]) +
        w5 * (line[x] + line[x + 10]);
  }
}

function blurDown(
  plane: Float32Array,
  target: Float32Array,
  width: number,
  height: number,
  [w0, w1, w2, w3, w4, w5]: Weights,
  from: number,
  to: number,
): void {
  for (let y = from; y < to; y++) {
    const rowAt = (k: number) => plane.subarray(clamped(y + k, height) * width, (clamped(y + k, height) + 1) * width);
    const own = rowAt(0);
    const [a1, a2, a3, a4, a5] = [rowAt(-1), rowAt(-2), rowAt(-3), rowAt(-4), rowAt(-5)];
    const [b1, b2, b3, b4, b5] = [rowAt(1), rowAt(2), rowAt(3), rowAt(4), rowAt(5)];
    for (let x = 0, at = y * width; x < width; x++, at++)
      target[at] =
        w0 * own[x] +
        w1 * (a1[x] + b1[x]) +
        w2 * (a2[x] + b2[x]) +
        w3 * (a3[x] + b3[x]) +
        w4 * (a4[x] + b4[x]) +
        w5 * (a5[x] + b5[x]);
  }
}

const clamped = (y: number, height: number): number => Math.min(height - 1, Math.max(0, y));

type Box = ReturnType<typeof boxOf>;

/** Rows under boxes one after the other, in place; each pixel costs the same however far a box reaches. */
function boxesAcross(plane: Float32Array, width: number, { reach, inner, outer }: Box, from: number, to: number): void {
  const pad = reach + 1;
  const far = BOXES * pad;
  const length = width + 2 * far;
  let [line, next] = [new Float32Array(length), new Float32Array(length)];
  for (let y = from; y < to; y++) {
    const row = plane.subarray(y * width, (y + 1) * width);
    line.fill(row[0], 0, far);
    line.set(row, far);
    line.fill(row[width - 1], far + width);
    for (let pass = 1; pass <= BOXES; pass++) {
      const [first, last] = [pass * pad, length - pass * pad];
      let sum = 0;
      for (let k = first - reach; k <= first + reach; k++) sum += line[k];
      for (let x = first; x < last; x++) {
        next[x] = inner * sum + outer * (line[x - pad] + line[x + pad]);
        sum += line[x + pad] - line[x - reach];
      }
      [line, next] = [next, line];
    }
    row.set(line.subarray(far, far + width));
  }
}

/** A plane with its first and last row repeated so often. */
function tall(plane: Float32Array, width: number, height: number, far: number): Float32Array {
  const out = new Float32Array(width * (height + 2 * far));
  out.set(plane, far * width);
  for (let k = 0; k < far; k++) {
    out.set(plane.subarray(0, width), k * width);
    out.set(plane.subarray((height - 1) * width), (far + height + k) * width);
  }
  return out;
}

/** Columns under one box, row by row, with a sum a column. */
function boxDown(
  plane: Float32Array,
  target: Float32Array,
  width: number,
  height: number,
  { reach, inner, outer }: Box,
): void {
  const rowAt = (y: number) => clamped(y, height) * width;
  const sums = new Float64Array(width);
  for (let y = -reach; y <= reach; y++) for (let x = 0, at = rowAt(y); x < width; x++, at++) sums[x] += plane[at];
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const [above, below] = [rowAt(y - reach - 1), rowAt(y + reach + 1)];
    const leaves = rowAt(y - reach);
    for (let x = 0; x < width; x++) {
      target[row + x] = inner * sums[x] + outer * (plane[above + x] + plane[below + x]);
      sums[x] += plane[below + x] - plane[leaves + x];
    }
  }
}
