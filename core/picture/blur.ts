import { makePicture, type Picture } from './warp';

/** Weights of a Gaussian bell out to three deviations, from the middle on; they add up to 1 over both sides. */
export function bell(sigma: number): Float32Array {
  const reach = Math.max(1, Math.ceil(3 * sigma));
  const weights = Float32Array.from({ length: reach + 1 }, (_, k) => Math.exp(-(k * k) / (2 * sigma * sigma)));
  const sum = weights.reduce((total, w, k) => total + (k ? 2 * w : w), 0);
  return weights.map((w) => w / sum);
}

/** Less than this changes no value. */
const LEAST_SIGMA = 0.2;
const STRIP = 64;

/**
 * A picture blurred by a Gaussian bell, across and then down; the edge is repeated. Colours weigh as much as they cover.
 * @param sigma its deviation, px.
 * @returns yields the part that is done, 0 to 1.
 */
export function* blurred(picture: Picture, sigma: number): Generator<number, Picture> {
  if (sigma < LEAST_SIGMA) return picture;
  const weights = bell(sigma);
  const across = makePicture(picture.width, picture.height);
  const down = makePicture(picture.width, picture.height);
  const { height } = picture;
  for (let row = 0; row < height; row += STRIP) {
    blurAcross(picture, across, weights, row, Math.min(height, row + STRIP));
    yield row / height / 2;
  }
  for (let row = 0; row < height; row += STRIP) {
    blurDown(across, down, weights, row, Math.min(height, row + STRIP));
    yield 0.5 + row / height / 2;
  }
  return down;
}

function blurAcross({ width, data }: Picture, target: Picture, weights: Float32Array, from: number, to: number): void {
  const reach = weights.length - 1;
  // A row with its edges repeated, multiplied by alpha.
  const line = new Float32Array(4 * (width + 2 * reach));
  for (let y = from; y < to; y++) {
    const row = 4 * y * width;
    for (let x = -reach, k = 0; x < width + reach; x++, k += 4) {
      const at = row + 4 * (x < 0 ? 0 : x >= width ? width - 1 : x);
      const alpha = data[at + 3];
      line[k] = data[at] * alpha;
      line[k + 1] = data[at + 1] * alpha;
      line[k + 2] = data[at + 2] * alpha;
      line[k + 3] = alpha;
    }
    for (let x = 0; x < width; x++) {
      const middle = 4 * (x + reach);
      let [r, g, b, a] = [0, 0, 0, 0];
      for (let k = -reach; k <= reach; k++) {
        const w = weights[k < 0 ? -k : k];
        const at = middle + 4 * k;
        r += w * line[at];
        g += w * line[at + 1];
        b += w * line[at + 2];
        a += w * line[at + 3];
      }
      put(target.data, row + 4 * x, r, g, b, a);
    }
  }
}

function blurDown(
  { width, height, data }: Picture,
  target: Picture,
  weights: Float32Array,
  from: number,
  to: number,
): void {
  const reach = weights.length - 1;
  const sums = new Float32Array(4 * width);
  for (let y = from; y < to; y++) {
    sums.fill(0);
    for (let k = -reach; k <= reach; k++) {
      const w = weights[k < 0 ? -k : k];
      const near = y + k < 0 ? 0 : y + k >= height ? height - 1 : y + k;
      for (let x = 0, at = 4 * near * width; x < 4 * width; x += 4, at += 4) {
        const alpha = w * data[at + 3];
        sums[x] += data[at] * alpha;
        sums[x + 1] += data[at + 1] * alpha;
        sums[x + 2] += data[at + 2] * alpha;
        sums[x + 3] += alpha;
      }
    }
    const row = 4 * y * width;
    for (let x = 0; x < 4 * width; x += 4) put(target.data, row + x, sums[x], sums[x + 1], sums[x + 2], sums[x + 3]);
  }
}

function put(data: Uint8ClampedArray, at: number, r: number, g: number, b: number, alpha: number): void {
  if (alpha < 0.5) return;
  // Such an array rounds by itself.
  data[at] = r / alpha;
  data[at + 1] = g / alpha;
  data[at + 2] = b / alpha;
  data[at + 3] = alpha;
}
