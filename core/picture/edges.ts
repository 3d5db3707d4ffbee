import { lumaOf, slopeAcross, slopeDown, type GreyPicture } from './luma';
import { blurredGrey } from './blur';
import { makePicture, type Picture } from './warp';

/** Where a picture has edges: which pixels, how strong, and how far beside their middle, along the slope. */
export interface Edges {
  width: number;
  height: number;
  /** 1 where an edge passes. */
  mask: Uint8Array;
  /** Steepness, values per px. */
  strength: Float32Array;
  /** From the pixel's middle to where the slope is steepest, px, across and down. */
  offX: Float32Array;
  offY: Float32Array;
}

/**
 * The edges of a grey picture: pixels where the slope is steepest along its own direction and steeper than `high`, and
 * such as are steeper than `low` and hang together with them.
 * @param low, @param high slopes, values (0 to 255) per px.
 * @see Canny 1986, A computational approach to edge detection
 */
export function cannyEdges(grey: GreyPicture, low: number, high: number): Edges {
  const { width, height } = grey;
  const strength = steepness(grey);
  const edges: Edges = {
    width,
    height,
    mask: new Uint8Array(width * height),
    strength,
    offX: new Float32Array(width * height),
    offY: new Float32Array(width * height),
  };
  keepSteepest(edges, grey.data, low);
  hangTogether(edges, high);
  return edges;
}

/**
 * How steep a picture is at each pixel, values per px; nothing on the outermost ones. Three pixels over each other are
 * weighed once for the three places that look at them.
 * @see Sobel & Feldman 1968
 */
function steepness({ width, height, data }: GreyPicture): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 1; y + 1 < height; y++) {
    const row = y * width;
    // Of the columns to the left and in the middle: what they weigh, and how they slope.
    let sumA = 0;
    let sumB = 0;
    let fallA = 0;
    let fallB = 0;
    for (let x = 0; x < width; x++) {
      const at = row + x;
      const above = data[at - width];
      const below = data[at + width];
      const sum = above + 2 * data[at] + below;
      const fall = below - above;
      if (x > 1) {
        const across = sum - sumA;
        const down = fallA + 2 * fallB + fall;
        out[at - 1] = Math.sqrt(across * across + down * down) / 8;
      }
      sumA = sumB;
      sumB = sum;
      fallA = fallB;
      fallB = fall;
    }
  }
  return out;
}

/** Marks with 2 what may be an edge: steeper than both neighbours along the slope, between pixels. */
function keepSteepest({ width, height, mask, strength, offX, offY }: Edges, data: Float32Array, low: number): void {
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1, at = y * width + 1; x + 1 < width; x++, at++) {
      const m = strength[at];
      if (m <= low) continue;
      const [gx, gy] = [slopeAcross(data, at, width), slopeDown(data, at, width)];
      const [ax, ay] = [Math.abs(gx), Math.abs(gy)];
      const flat = ax >= ay;
      const t = flat ? ay / ax : ax / ay;
      const down = gx * gy >= 0 ? 1 : -1;
      // One step along the longer side of the slope, and one to the corner.
      const straight = flat ? 1 : width;
      const corner = flat ? 1 + down * width : width + down;
      const after = (1 - t) * strength[at + straight] + t * strength[at + corner];
      const before = (1 - t) * strength[at - straight] + t * strength[at - corner];
      if (!(m > before && m >= after)) continue;
      mask[at] = 2;
      // The top of a parabola through the three.
      const bend = before - 2 * m + after;
      const top = bend < 0 ? Math.max(-0.5, Math.min(0.5, (before - after) / (2 * bend))) : 0;
      offX[at] = flat ? top : top * t * down;
      offY[at] = flat ? top * t * down : top;
    }
}

/** Leaves of what is marked what is steep enough, or hangs together with that. */
function hangTogether({ width, mask, strength }: Edges, high: number): void {
  const around = [-width - 1, -width, -width + 1, -1, 1, width - 1, width, width + 1];
  const stack: number[] = [];
  for (let at = 0; at < mask.length; at++) {
    if (mask[at] !== 2 || strength[at] <= high) continue;
    mask[at] = 1;
    stack.push(at);
    while (stack.length) {
      const i = stack.pop()!;
      for (const step of around) {
        const j = i + step;
        if (mask[j] !== 2) continue;
        mask[j] = 1;
        stack.push(j);
      }
    }
  }
  for (let at = 0; at < mask.length; at++) if (mask[at] === 2) mask[at] = 0;
}

/** How an edge is told from texture, by one dial: slopes, values per px of a picture that was blurred. */
export function edgeSlopes(sensitivity: number): { low: number; high: number } {
  const high = 40 * (1 - sensitivity) ** 2 + 1.2;
  return { low: 0.4 * high, high };
}

/** Of less than this a blur does not keep noise out of the edges, px. */
const LEAST_SIGMA_PX = 0.8;
/** Half the width of a drawn edge, px. */
const REACH_PX = 1.3;

/**
 * A faint map of a picture's edges, drawn dark on white, over the picture or instead of it.
 * @param sigma how far things are smoothed first, px. @param sensitivity 0 to 1: more finds fainter edges.
 * @param amount 1: the map alone; less: the picture shows through.
 * @returns yields the part that is done.
 */
export function* edgeMap(
  picture: Picture,
  sigma: number,
  sensitivity: number,
  amount: number,
): Generator<number, Picture> {
  const { width, height, data } = picture;
  const work = blurredGrey(lumaOf(picture), Math.max(LEAST_SIGMA_PX, sigma));
  let step = work.next();
  for (; !step.done; step = work.next()) yield 0.6 * step.value;
  const { low, high } = edgeSlopes(sensitivity);
  const edges = cannyEdges(step.value, low, high);
  yield 0.9;
  const cover = coverOf(edges, high);
  const out = makePicture(width, height);
  for (let i = 0, at = 0; i < cover.length; i++, at += 4) {
    const white = 255 * amount * (1 - cover[i]);
    const rest = (1 - amount) * (1 - cover[i]);
    for (let c = 0; c < 3; c++) out.data[at + c] = rest * data[at + c] + white;
    out.data[at + 3] = data[at + 3];
  }
  return out;
}

/** How much of each pixel the drawn edges cover, 0 to 1: soft beside their true places, faint where they are. */
function coverOf({ width, height, mask, strength, offX, offY }: Edges, high: number): Float32Array {
  const cover = new Float32Array(width * height);
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1, at = y * width + 1; x + 1 < width; x++, at++) {
      if (!mask[at]) continue;
      const ink = Math.min(1, 0.45 + (0.25 * strength[at]) / high);
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const far = Math.hypot(dx - offX[at], dy - offY[at]);
          const i = at + dy * width + dx;
          cover[i] = Math.max(cover[i], ink * Math.max(0, Math.min(1, REACH_PX - far)));
        }
    }
  return cover;
}
