import { createCanvas } from '@napi-rs/canvas';
import type { Picture } from '../../core/picture/warp';
import { flattened, type StrokePath } from '../../core/stroke/path';
import { emptySamples } from '../../core/stroke/samples';

/** A line of a known drawing: its middle, densely, and how wide it is, px. */
export interface KnownLine {
  points: (readonly [x: number, y: number])[];
  width: number;
}

/** A cubic curve as a known line, a place about every half pixel. */
export function cubicLine([ax, ay, bx, by, cx, cy, dx, dy]: readonly number[], width: number): KnownLine {
  const length = Math.hypot(bx - ax, by - ay) + Math.hypot(cx - bx, cy - by) + Math.hypot(dx - cx, dy - cy);
  const n = Math.max(8, Math.ceil(2 * length));
  const at = (a: number, b: number, c: number, d: number, t: number) =>
    (1 - t) ** 3 * a + 3 * t * (1 - t) ** 2 * b + 3 * t * t * (1 - t) * c + t ** 3 * d;
  return {
    width,
    points: Array.from({ length: n + 1 }, (_, i) => [at(ax, bx, cx, dx, i / n), at(ay, by, cy, dy, i / n)] as const),
  };
}

export const straightLine = (ax: number, ay: number, bx: number, by: number, width: number): KnownLine =>
  cubicLine([ax, ay, ax + (bx - ax) / 3, ay + (by - ay) / 3, bx - (bx - ax) / 3, by - (by - ay) / 3, bx, by], width);

/** Lines drawn by @napi-rs/canvas, black on white, with round ends. */
export function drawnLines(lines: readonly KnownLine[], width: number, height: number): Picture {
  const ctx = createCanvas(width, height).getContext('2d');
  ctx.fillStyle = '#fff';
  ctx.fillRect(0, 0, width, height);
  ctx.lineCap = ctx.lineJoin = 'round';
  for (const { points, width: w } of lines) {
    ctx.lineWidth = w;
    ctx.beginPath();
    points.forEach(([x, y]) => ctx.lineTo(x, y));
    ctx.stroke();
  }
  return { width, height, data: new Uint8ClampedArray(ctx.getImageData(0, 0, width, height).data) };
}

/** A place about every pixel of a path, with the width there. */
export function placesOf(path: StrokePath, sizePx: number): [x: number, y: number, width: number][] {
  const samples = flattened(path, emptySamples());
  const perPx = 2 ** samples.unitLog2;
  const out: [number, number, number][] = [];
  for (let i = 0; i < samples.count; i++) {
    const here = [samples.x[i] / perPx, samples.y[i] / perPx, (samples.pressure[i] / 1023) * sizePx] as [number, number, number]; // prettier-ignore
    const last = out[out.length - 1];
    const steps = last ? Math.max(1, Math.ceil(Math.hypot(here[0] - last[0], here[1] - last[1]))) : 1;
    for (let k = 1; k <= steps; k++)
      out.push(last ? (here.map((v, c) => last[c] + ((v - last[c]) * k) / steps) as typeof here) : here);
  }
  return out;
}

/** Places in cells of a grid, to find the nearest of many. */
class Near {
  private readonly cells = new Map<string, (readonly [number, number, number])[]>();
  constructor(places: Iterable<readonly [number, number, number]>) {
    for (const place of places) {
      const key = `${Math.floor(place[0] / 8)},${Math.floor(place[1] / 8)}`;
      const cell = this.cells.get(key);
      if (cell) cell.push(place);
      else this.cells.set(key, [place]);
    }
  }
  /** The nearest within 8 px, and how far it is. */
  find(x: number, y: number): { far: number; width: number } {
    let found = { far: 8, width: NaN };
    const [cx, cy] = [Math.floor(x / 8), Math.floor(y / 8)];
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (const [px, py, width] of this.cells.get(`${cx + i},${cy + j}`) ?? []) {
          const far = Math.hypot(px - x, py - y);
          if (far < found.far) found = { far, width };
        }
    return found;
  }
}

/** How well paths are what was drawn. */
export interface TraceError {
  /** From the paths to the lines, and back, px: in the mean, of 99 in 100, and at most. */
  there: { mean: number; most: number; worst: number };
  back: { mean: number; most: number; worst: number };
  /** Of the width, in the mean and of 95 in 100, px. */
  width: { mean: number; most: number };
}

export function traceError(
  strokes: readonly { path: StrokePath; sizePx: number }[],
  lines: readonly KnownLine[],
): TraceError {
  const known = lines.flatMap(({ points, width }) => points.map(([x, y]) => [x, y, width] as const));
  const found = strokes.flatMap(({ path, sizePx }) => placesOf(path, sizePx));
  const [toKnown, toFound] = [new Near(known), new Near(found)];
  const forth = found.map(([x, y, width]) => ({ ...toKnown.find(x, y), own: width }));
  const back = known.map(([x, y]) => toFound.find(x, y).far);
  return {
    there: spread(forth.map(({ far }) => far)),
    back: spread(back),
    width: (({ mean, values }) => ({ mean, most: values[Math.floor(0.95 * (values.length - 1))] }))(
      spread(forth.filter(({ width }) => width > 0).map(({ width, own }) => Math.abs(width - own))),
    ),
  };
}

function spread(all: number[]) {
  const values = [...all].sort((a, b) => a - b);
  return {
    mean: values.reduce((a, b) => a + b, 0) / Math.max(1, values.length),
    most: values[Math.floor(0.99 * (values.length - 1))] ?? 0,
    worst: values[values.length - 1] ?? 0,
    values,
  };
}
