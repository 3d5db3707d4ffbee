import { blurredGrey } from '../picture/blur';
import { cannyEdges, edgeSlopes, type Edges } from '../picture/edges';
import { lumaOf } from '../picture/luma';
import type { Picture } from '../picture/warp';

/** Edges of a picture as lines, one point a pixel, each where the picture is steepest. */
export interface EdgeChains {
  /** `[x, y, ...]`, px of the picture, of pixels' middles. */
  points: Float32Array<ArrayBuffer>;
  /** Where each chain's points begin, and after the last one their number. */
  starts: Int32Array<ArrayBuffer>;
}

/** Shorter chains are texture, px. */
const LEAST_LENGTH_PX = 12;
/** A picture is blurred by this before its edges are looked for, px. */
const SIGMA_PX = 1.4;

/**
 * The lines along which a picture changes.
 * @param sensitivity 0 to 1: more finds fainter edges.
 * @returns yields the part that is done.
 * @see Canny 1986, A computational approach to edge detection
 */
export function* edgeChains(picture: Picture, sensitivity: number): Generator<number, EdgeChains> {
  const work = blurredGrey(lumaOf(picture), SIGMA_PX);
  let step = work.next();
  for (; !step.done; step = work.next()) yield 0.6 * step.value;
  const { low, high } = edgeSlopes(sensitivity);
  const edges = cannyEdges(step.value, low, high);
  yield 0.9;
  return chainsOf(edges);
}

/** Follows the pixels of edges from one to the next: from loose ends first, then around what has none. */
function chainsOf({ width, height, mask, offX, offY }: Edges): EdgeChains {
  const left = mask.slice();
  // Straight neighbours before those at corners: a chain takes no short cuts.
  const around = [1, width, -1, -width, width + 1, width - 1, -width - 1, -width + 1];
  const neighbours = (at: number) => around.reduce((sum, step) => sum + (left[at + step] ? 1 : 0), 0);
  const points: number[] = [];
  const starts: number[] = [];
  const follow = (first: number) => {
    const begins = points.length;
    for (let at = first; at >= 0;) {
      left[at] = 0;
      const y = Math.floor(at / width);
      points.push(at - y * width + 0.5 + offX[at], y + 0.5 + offY[at]);
      const next = around.find((step) => left[at + step]);
      at = next === undefined ? -1 : at + next;
    }
    if ((points.length - begins) / 2 < LEAST_LENGTH_PX) points.length = begins;
    else starts.push(begins / 2);
  };
  // The rim has none: every neighbour is within the picture.
  const marked: number[] = [];
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1, at = y * width + 1; x + 1 < width; x++, at++) if (left[at]) marked.push(at);
  for (const fromEnds of [true, false])
    for (const at of marked) if (left[at] && (!fromEnds || neighbours(at) <= 1)) follow(at);
  return { points: Float32Array.from(points), starts: Int32Array.from([...starts, points.length / 2]) };
}
