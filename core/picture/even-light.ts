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
const LOOKS = 12;
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
    plane = extreme(plane, columns, rows, cells, Math.max);
    plane = extreme(plane, columns, rows, cells, Math.min);
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

/** The least or the largest within a square around each cell, across and then down. */
function extreme(
  plane: Plane,
  columns: number,
  rows: number,
  reach: number,
  of: (a: number, b: number) => number,
): Plane {
  const pass = (from: Plane, along: number, across: number, step: number, stride: number): Plane => {
    const to = new Float32Array(from.length);
    for (let j = 0; j < across; j++)
      for (let i = 0; i < along; i++) {
        let found = from[j * stride + i * step];
        for (let k = Math.max(0, i - reach); k <= Math.min(along - 1, i + reach); k++)
          found = of(found, from[j * stride + k * step]);
        to[j * stride + i * step] = found;
      }
    return to;
  };
  return pass(pass(plane, columns, rows, 1, columns), rows, columns, columns, 1);
}

/** Means of three by three, a few times: the closing leaves steps. At the edge it goes on as it came. */
function softened(plane: Plane, columns: number, rows: number): Plane {
  let now = plane;
  for (let n = 0; n < 4; n++) {
    const next = new Float32Array(now.length);
    // Beyond the edge a slope goes on: repeated, it would make the light level there.
    const at = (x: number, y: number): number => {
      const cx = Math.min(columns - 1, Math.max(0, x));
      const cy = Math.min(rows - 1, Math.max(0, y));
      const here = now[cy * columns + cx];
      if (cx === x && cy === y) return here;
      const [ix, iy] = [Math.min(columns - 1, Math.max(0, 2 * cx - x)), Math.min(rows - 1, Math.max(0, 2 * cy - y))];
      return 2 * here - now[iy * columns + ix];
    };
    for (let y = 0; y < rows; y++)
      for (let x = 0; x < columns; x++) {
        let sum = 0;
        for (let dy = -1; dy <= 1; dy++) for (let dx = -1; dx <= 1; dx++) sum += at(x + dx, y + dy);
        next[y * columns + x] = sum / 9;
      }
    now = next;
  }
  return now;
}

/** Rows `from` to `to` in the light of the whole, made even, in place: paper becomes white, and alpha stays. */
export function evenRows({ width, height, data }: Picture, light: Light, from: number, to: number): void {
  const { columns, rows, values } = light;
  const across = new Float32Array(3 * columns);
  for (let y = from; y < to; y++) {
    const v = Math.min(rows - 1, Math.max(0, ((y + 0.5) * rows) / height - 0.5));
    const top = Math.min(Math.floor(v), Math.max(0, rows - 2));
    const below = Math.min(top + 1, rows - 1);
    const fy = v - top;
    for (let i = 0; i < 3 * columns; i++) {
      const lit = (1 - fy) * values[3 * top * columns + i] + fy * values[3 * below * columns + i];
      across[i] = WHITE / Math.max(LEAST_LIGHT, lit);
    }
    for (let x = 0, at = 4 * y * width; x < width; x++, at += 4) {
      const u = Math.min(columns - 1, Math.max(0, ((x + 0.5) * columns) / width - 0.5));
      const left = Math.min(u | 0, Math.max(0, columns - 2));
      const fx = columns > 1 ? u - left : 0;
      const p = 3 * left;
      const q = columns > 1 ? p + 3 : p;
      // Such an array rounds by itself.
      data[at] *= across[p] + fx * (across[q] - across[p]);
      data[at + 1] *= across[p + 1] + fx * (across[q + 1] - across[p + 1]);
      data[at + 2] *= across[p + 2] + fx * (across[q + 2] - across[p + 2]);
    }
  }
}
