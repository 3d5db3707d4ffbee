import type { Picture } from './warp';

/** The light of a page, as it falls on its paper: coarse, three channels. */
interface Light {
  columns: number;
  rows: number;
  /** Values 0 to 255, three a cell, row-major. */
  values: Float32Array;
}

/** Cells along the longer side. */
const CELLS = 96;
/** Of a cell so many pixels are looked at, each way. */
const LOOKS = 8;
/** Paper is lighter than what is drawn on it: the value that this part of a cell's pixels does not reach. */
const PAPER_QUANTILE = 0.75;
/** What paper becomes. */
const WHITE = 250;
/** What is darker than this was lit by nothing: it is not made lighter by more than this asks for. */
const LEAST_LIGHT = 24;

/**
 * The light on a page: in each cell the paper's value, dark patches narrower than `reach` filled from around them
 * (a closing), and then smoothed.
 * @param reach a part of the longer side. @see Gonzalez & Woods, Digital Image Processing, 9.6 (shading correction by morphology)
 */
export function lightOf(picture: Picture, reach: number): Light {
  const { width, height } = picture;
  const longest = Math.max(width, height);
  const columns = Math.max(1, Math.min(width, Math.round((CELLS * width) / longest)));
  const rows = Math.max(1, Math.min(height, Math.round((CELLS * height) / longest)));
  const light: Light = { columns, rows, values: new Float32Array(3 * columns * rows) };
  measure(picture, light);
  const cells = Math.max(1, Math.round((reach * CELLS) / 2));
  for (let c = 0; c < 3; c++) {
    let plane = Float32Array.from({ length: columns * rows }, (_, i) => light.values[3 * i + c]);
    plane = extreme(plane, columns, rows, cells, 1);
    plane = extreme(plane, columns, rows, cells, -1);
    plane = softened(plane, columns, rows);
    plane.forEach((v, i) => (light.values[3 * i + c] = v));
  }
  return light;
}

function measure({ width, height, data }: Picture, { columns, rows, values }: Light): void {
  const seen = [new Uint32Array(256), new Uint32Array(256), new Uint32Array(256)];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const [x0, x1] = [(width * column) / columns, (width * (column + 1)) / columns];
      const [y0, y1] = [(height * row) / rows, (height * (row + 1)) / rows];
      for (const counts of seen) counts.fill(0);
      for (let v = 0; v < LOOKS; v++)
        for (let u = 0; u < LOOKS; u++) {
          const x = Math.floor(x0 + ((u + 0.5) * (x1 - x0)) / LOOKS);
          const y = Math.floor(y0 + ((v + 0.5) * (y1 - y0)) / LOOKS);
          const at = 4 * (y * width + x);
          for (let c = 0; c < 3; c++) seen[c][data[at + c]]++;
        }
      for (let c = 0; c < 3; c++)
        values[3 * (row * columns + column) + c] = quantileOf(seen[c], PAPER_QUANTILE * LOOKS * LOOKS);
    }
}

function quantileOf(counts: Uint32Array, below: number): number {
  let sum = 0;
  for (let v = 0; v < 256; v++) if ((sum += counts[v]) > below) return v;
  return 255;
}

type Plane = Float32Array<ArrayBuffer>;

/** The largest within a square around each cell (`sign` 1), or the least (-1), across and then down. */
function extreme(plane: Plane, columns: number, rows: number, reach: number, sign: 1 | -1): Plane {
  const pass = (from: Plane, along: number, across: number, step: number, stride: number): Plane => {
    const to = new Float32Array(from.length);
    for (let j = 0; j < across; j++)
      for (let i = 0; i < along; i++) {
        const row = j * stride;
        let found = sign * from[row + i * step];
        for (let k = Math.max(0, i - reach), end = Math.min(along - 1, i + reach); k <= end; k++) {
          const value = sign * from[row + k * step];
          if (value > found) found = value;
        }
        to[row + i * step] = sign * found;
      }
    return to;
  };
  return pass(pass(plane, columns, rows, 1, columns), rows, columns, columns, 1);
}

/** Means of three by three, a few times: the closing leaves steps. Beyond the edge a slope goes on: repeated, it would be level there. */
function softened(plane: Plane, columns: number, rows: number): Plane {
  const pass = (from: Plane, along: number, across: number, step: number, stride: number): Plane => {
    const to = new Float32Array(from.length);
    for (let j = 0; j < across; j++)
      for (let i = 0; i < along; i++) {
        const at = j * stride + i * step;
        // What lies beyond adds up with its mirror image to twice the edge.
        const isEdge = i === 0 || i === along - 1;
        to[at] = isEdge ? from[at] : (from[at - step] + from[at] + from[at + step]) / 3;
      }
    return to;
  };
  let now = plane;
  for (let n = 0; n < SOFTENED; n++) now = pass(pass(now, columns, rows, 1, columns), rows, columns, columns, 1);
  return now;
}

const SOFTENED = 4;

/** Rows `from` to `to` in the light of the whole, made even, in place: paper becomes white, and alpha stays. */
export function evenRows({ width, height, data }: Picture, light: Light, from: number, to: number): void {
  const { columns, rows, values } = light;
  const across = new Float32Array(3 * columns);
  const words = new Uint32Array(data.buffer, data.byteOffset, width * height);
  const perPx = columns / width;
  const lastPair = Math.max(0, columns - 2);
  for (let y = from; y < to; y++) {
    const v = Math.min(rows - 1, Math.max(0, ((y + 0.5) * rows) / height - 0.5));
    const top = Math.min(Math.floor(v), Math.max(0, rows - 2));
    const below = Math.min(top + 1, rows - 1);
    const fy = v - top;
    for (let i = 0; i < 3 * columns; i++) {
      const lit = (1 - fy) * values[3 * top * columns + i] + fy * values[3 * below * columns + i];
      across[i] = WHITE / Math.max(LEAST_LIGHT, lit);
    }
    for (let x = 0, at = y * width; x < width; x++, at++) {
      const u = Math.min(columns - 1, Math.max(0, (x + 0.5) * perPx - 0.5));
      const left = Math.min(u | 0, lastPair);
      const fx = u - left;
      const p = 3 * left;
      const q = columns > 1 ? p + 3 : p;
      const word = words[at];
      const r = (word & 255) * (across[p] + fx * (across[q] - across[p])) + 0.5;
      const g = ((word >>> 8) & 255) * (across[p + 1] + fx * (across[q + 1] - across[p + 1])) + 0.5;
      const b = ((word >>> 16) & 255) * (across[p + 2] + fx * (across[q + 2] - across[p + 2])) + 0.5;
      words[at] = (word & 0xff000000) | ((b < 255 ? b : 255) << 16) | ((g < 255 ? g : 255) << 8) | (r < 255 ? r : 255);
    }
  }
}
