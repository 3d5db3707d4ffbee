import { readFileSync } from 'node:fs';
import fitCurve from 'fit-curve';
import sharp from 'sharp';
import { develop, DevelopMemo } from '../core/picture/develop';
import type { Recipe } from '../core/picture/recipe';
import { componentsOf } from '../core/picture/components';
import { makePicture, type Picture } from '../core/picture/warp';
import { coverageOf } from '../core/trace/coverage';
import { squaredDistances } from '../core/trace/distance';
import { thin } from '../core/trace/thinning';
import { simplified, traced, type Traced } from '../core/trace/trace';
import { cubicLine, drawnLines, traceError, type KnownLine } from '../tests/measures/traced-drawing';
import { random } from '../tests/measures/strokes';
import { zhangSuen } from '../tests/measures/zhang-suen';
import { alternate, figure, median, type Figure } from './report';

/** A drawing's worth of lines on 1000 x 1000 px: contours and hatching. */
function drawingLines(seed: number, dx = 0, dy = 0): KnownLine[] {
  const rnd = random(seed);
  const at = (v: number, by: number) => 20 + v * 960 + by;
  const contours = Array.from({ length: 12 }, () => {
    const [x, y] = [rnd(), rnd()];
    const near = (v: number) => Math.min(1, Math.max(0, v + (rnd() - 0.5) * 0.7));
    return cubicLine([at(x, dx), at(y, dy), ...[0, 1, 2].flatMap(() => [at(near(x), dx), at(near(y), dy)])], 2.5 + 4 * rnd()); // prettier-ignore
  });
  const hatching = Array.from({ length: 90 }, (_, i) => {
    const [x, y] = [at(0.1 + (0.8 * (i % 15)) / 15, dx), at(0.1 + (0.8 * Math.floor(i / 15)) / 6, dy)];
    return cubicLine([x, y, x + 6, y + 14, x + 14, y + 30, x + 24, y + 44], 1.6 + rnd());
  });
  return [...contours, ...hatching];
}

/** So many such drawings beside each other. */
function drawing(columns: number, rows: number): { picture: Picture; lines: KnownLine[] } {
  const lines = Array.from({ length: columns * rows }, (_, k) =>
    drawingLines(k + 1, 1000 * (k % columns), 1000 * Math.floor(k / columns)),
  ).flat();
  return { picture: drawnLines(lines, 1000 * columns, 1000 * rows), lines };
}

function run<T>(work: Generator<unknown, T>): T {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}

const lengthOf = ({ points }: KnownLine): number =>
  points.reduce((sum, [x, y], i) => (i ? sum + Math.hypot(x - points[i - 1][0], y - points[i - 1][1]) : 0), 0);

/** A drawing of 2000 x 2000 px from its pixels to strokes, part by part; and how that grows. */
export function tracing(): Figure[] {
  const figures: Figure[] = [];
  const { picture, lines } = drawing(2, 2);
  const { width, height } = picture;
  const coverage = coverageOf(picture);
  const mask = Uint8Array.from(coverage.data, (v) => (v >= 128 ? 1 : 0));
  const stride = width + 2;
  const padded = new Uint8Array(stride * (height + 2));
  for (let y = 0; y < height; y++) padded.set(mask.subarray(y * width, (y + 1) * width), (y + 1) * stride + 1);
  let found!: Traced;
  const times = alternate(
    3,
    () => void coverageOf(picture),
    () => void componentsOf(mask, width, height),
    () => void squaredDistances(mask, width, height),
    () => thin(padded.slice(), stride),
    () => void (found = run(traced(picture, { specksPx: 3 }))),
    () => void simplified(found, 1),
  );
  const parts = ['what is ink', 'what hangs together', 'distances', 'thinning', 'all up to lines', 'simplified'];
  parts.forEach((name, i) => figures.push(figure(`tracing: 2000 x 2000, ${name}`, times[i], 'ms')));
  figures.push(figure('tracing: 2000 x 2000 in all', times[4] + times[5], 'ms', undefined, 'at most 1000'));

  const naive = performance.now();
  const slow = zhangSuen(mask, width, height);
  const naiveMs = performance.now() - naive;
  const quick = padded.slice();
  thin(quick, stride);
  let unlike = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) if (slow[y * width + x] !== quick[(y + 1) * stride + x + 1]) unlike++;
  figures.push(
    figure(
      'tracing: thinning against looking at all pixels',
      times[3],
      'ms',
      naiveMs / times[3],
      'times quicker; at least 2.5',
    ),
    figure('tracing: pixels that are thinned otherwise', unlike, 'px', undefined, 'none'),
  );

  const raw = found.lines.map(({ data, count }) =>
    Array.from({ length: count }, (_, i) => [data[3 * i], data[3 * i + 1]] as [number, number]),
  );
  const [ours, theirs] = alternate(
    3,
    () => void simplified(found, 1),
    () => raw.forEach((points) => void fitCurve(points, 1)),
  );
  const { strokes, points, errorPx } = simplified(found, 1);
  const length = lines.reduce((sum, line) => sum + lengthOf(line), 0);
  const error = traceError(strokes, lines);
  figures.push(
    figure(
      'tracing: simplified, against fit-curve on the raw lines',
      ours,
      'ms',
      theirs / ours,
      'times quicker; at least 4',
    ),
    figure('tracing: points per 100 px of line', (100 * points) / length, ''),
    figure('tracing: largest error of a stroke', errorPx, 'px', undefined, '1 px asked for'),
    figure('tracing: from strokes to the drawn lines, in the mean', error.there.mean, 'px'),
    figure('tracing: from the drawn lines to strokes, in the mean', error.back.mean, 'px'),
    figure('tracing: strokes', strokes.length, '', strokes.length / lines.length, 'the lines that were drawn'),
    figure('tracing: junctions', found.junctions.length, ''),
  );

  let first = 0;
  for (const [mega, columns, rows] of [
    [1, 1, 1],
    [4, 2, 2],
    [12, 4, 3],
    [48, 8, 6],
  ] as const) {
    const { picture: larger } = drawing(columns, rows);
    const [time] = alternate(mega > 4 ? 1 : 3, () => void simplified(run(traced(larger, { specksPx: 3 })), 1));
    first ||= time;
    figures.push(figure(`tracing: ${mega} megapixels`, time, 'ms', time / first / mega, 'as many times 1 megapixel'));
  }
  return figures;
}

/** What this process holds (VmRSS), or held at most (VmHWM), MB. */
const memoryOf = (what: string): number =>
  Number(new RegExp(`${what}:\\s+(\\d+)`).exec(readFileSync('/proc/self/status', 'utf8'))?.[1] ?? 0) / 1024;

/** A page of paper with lines, in uneven light. */
function page(width: number, height: number): Picture {
  const picture = makePicture(width, height);
  const words = new Uint32Array(picture.data.buffer);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const light = 1 - 0.5 * ((x / width) * (y / height));
      const ink = x % 97 < 4 || y % 131 < 3 ? 70 : 232;
      const v = (ink * light + ((x * 7919 + y * 104729) % 13)) | 0;
      words[i] = (0xff000000 | (v * 0x010101)) >>> 0;
    }
  return picture;
}

/** A page lifted in full (grey, curve, light evened out, lines on nothing), against sharp dividing it by its own blur. */
export async function lifting(): Promise<Figure[]> {
  const figures: Figure[] = [];
  const recipe = [
    { id: 'e', on: true, kind: 'even', reach: 0.1 },
    { id: 'g', on: true, kind: 'grey' },
    { id: 'c', on: true, kind: 'curve', points: [[0, 0], [0.5, 0.55], [1, 1]] }, // prettier-ignore
    { id: 'l', on: true, kind: 'lift', paper: 0.9, line: 0.35, keep: 0.5, specks: 5 },
  ] as Recipe;
  let first = 0;
  for (const [mega, width, height] of [
    [1, 1152, 864],
    [4, 2304, 1728],
    [12, 4000, 3000],
    [48, 8000, 6000],
  ] as const) {
    const source = page(width, height);
    const copied = new Uint8ClampedArray(source.data.length);
    const lift = () => void run(develop({ width, height }, source, recipe, 1));
    const held = memoryOf('VmRSS');
    lift();
    const most = Math.max(0, memoryOf('VmHWM') - held);
    const [ours, copy] = alternate(mega > 12 ? 1 : 3, lift, () => copied.set(source.data));
    first ||= ours;
    figures.push(figure(`lifting: ${mega} megapixels`, ours, 'ms', ours / first / mega, 'as many times 1 megapixel'));
    if (mega !== 12) continue;
    figures.push(
      figure('lifting: 12 megapixels against copying', ours, 'ms', ours / copy, 'copying the pixels once'),
      figure(
        'lifting: 12 megapixels, memory at its peak with the picture itself',
        most + source.data.length / 1048576,
        'MB',
        most / (source.data.length / 1048576) + 1,
        "the picture's pixels; at most 4",
      ),
    );
    const raw = { raw: { width, height, channels: 4 as const } };
    const theirs: number[] = [];
    for (let n = 0; n < 4; n++) {
      const began = performance.now();
      const grey = await sharp(Buffer.from(source.data.buffer), raw).removeAlpha().greyscale().raw().toBuffer();
      const one = { raw: { width, height, channels: 1 as const } };
      const light = await sharp(grey, one).blur(30).negate().toColourspace('b-w').raw().toBuffer();
      await sharp(grey, one).composite([{ input: light, ...one, blend: 'colour-dodge' }]).linear(1.8, -40).negate().raw().toBuffer(); // prettier-ignore
      if (n) theirs.push(performance.now() - began);
    }
    figures.push(
      figure('lifting: 12 megapixels against sharp', ours, 'ms', ours / median(theirs), 'sharp, divided by its blur, on two threads; at most 3'), // prettier-ignore
    );
  }
  const [width, height] = [1170, 1560];
  const shown = page(width, height);
  const memo = new DevelopMemo();
  let keep = 0.4;
  const turned = () => recipe.map((step) => (step.kind === 'lift' ? { ...step, keep: (keep += 0.01) } : step));
  const [dial, whole] = alternate(
    7,
    () => void run(develop({ width, height }, shown, turned(), 1, memo)),
    () => void run(develop({ width, height }, shown, recipe, 1)),
  );
  figures.push(figure('lifting: what a phone shows, a dial moved', dial, 'ms', undefined, 'at most 50 ms'));
  figures.push(figure('lifting: the same, anew', whole, 'ms'));
  return figures;
}
