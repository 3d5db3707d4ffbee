import { createCanvas, Path2D } from '@napi-rs/canvas';
import { getStroke } from 'perfect-freehand';
import { overlaps } from '../core/geometry/box';
import { drawStroke, paperArea, RasterWorkspace, spineBox, type DrawableStroke } from '../core/raster/draw-stroke';
import { TILE } from '../core/raster/tiles';
import { makePixels } from '../core/raster/pixels';
import { outlineOf, OutlineWorkspace, type Outline } from '../core/stroke/outline';
import { encodeSamples } from '../core/stroke/pack-samples';
import { decodeSamples } from '../core/stroke/codec';
import { makePen } from '../core/stroke/pen';
import { PRESSURE_MAX, TICKS_PER_MS, type Samples } from '../core/stroke/samples';
import { Spine } from '../core/stroke/spine';
import { spineOf } from '../core/stroke/spine-maker';
import { difference, edgeError, exactUnion, nonzeroFill } from '../tests/measures/stroke-error';
import { HARD_SPINES, handPoints, handSamples, random, randomSpine } from '../tests/measures/strokes';
import { WetStroke } from '../ui/canvas/wet-stroke';
import { alternate, figure, median, type Figure } from './report';

const SIDE = 3000;
const ARC_TOLERANCE_PX = 0.1;

/** Smooth strokes of `n` points, 80 to 400 px long, 2 to 10 px wide. */
function smoothSpines(count: number, n: number): Spine[] {
  const rnd = random(7);
  return Array.from({ length: count }, () => {
    const spine = new Spine();
    const step = (80 + rnd() * 320) / n;
    const width = 2 + rnd() * 8;
    let [x, y, angle, bend] = [450 + rnd() * 2100, 450 + rnd() * 2100, rnd() * 6.283, 0];
    for (let i = 0; i < n; i++) {
      bend = bend * 0.98 + (rnd() - 0.5) * 0.02;
      angle += (bend * step) / 3;
      x += Math.cos(angle) * step;
      y += Math.sin(angle) * step;
      spine.push(x, y, (width / 2) * (0.4 + 0.6 * Math.sin((Math.PI * i) / n)));
    }
    return spine;
  });
}

function pathOf({ xy, ends }: Outline): Path2D {
  const path = new Path2D();
  let k = 0;
  for (const end of ends) {
    path.moveTo(xy[2 * k], xy[2 * k + 1]);
    for (k++; k < end; k++) path.lineTo(xy[2 * k], xy[2 * k + 1]);
    path.closePath();
  }
  return path;
}

/** Hand strokes as the app draws them, 80 to 400 px long, 2 to 10 px wide: samples, steadied and simplified. */
function handSpines(count: number): Spine[] {
  const rnd = random(7);
  return Array.from({ length: count }, (_, i) => {
    const [x, y, angle, length] = [450 + rnd() * 2100, 450 + rnd() * 2100, rnd() * 6.283, 80 + rnd() * 320];
    const [c, s, sway] = [Math.cos(angle), Math.sin(angle), rnd() * 40];
    const path = (u: number) => {
      const [along, beside] = [length * (u - 0.5), sway * Math.sin(u * 5)];
      return [x + c * along - s * beside, y + s * along + c * beside] as const;
    };
    return spineOf(
      handSamples(path, { ms: 900, hz: 90, seed: i + 1, tremorPx: 0.2 }),
      makePen('dip', 2 + rnd() * 8, 30, true, 1),
      0.1,
    );
  });
}

/** Strokes per second on 3000 x 3000 px, tile by tile as on the screen, and the edge error. */
export function coverage(): Figure[] {
  const spines = handSpines(2000);
  const strokes: DrawableStroke[] = spines.map((spine) => ({
    spine,
    box: spineBox(spine),
    colour: [0, 0, 0],
    holes: [],
  }));
  const work = new RasterWorkspace(TILE, TILE);
  const tiles = tilesOf(strokes);
  const context = createCanvas(SIDE, SIDE).getContext('2d');
  const outlining = new OutlineWorkspace();
  let outlines: Outline[] = [];
  let paths: Path2D[] = [];
  const [ours, outline, build, fill] = alternate(
    7,
    () => {
      for (const { pixels, touching } of tiles) for (const s of touching) drawStroke(pixels, s, 1, work);
    },
    () => (outlines = spines.map((s) => outlineOf(s, ARC_TOLERANCE_PX, outlining))),
    () => (paths = outlines.map(pathOf)),
    () => {
      for (const path of paths) context.fill(path);
      context.getImageData(0, 0, 1, 1);
    },
  );
  const theirs = outline + build + fill;
  const perSecond = (ms: number) => (spines.length / ms) * 1000;
  return [
    figure(
      'coverage, 2000 strokes on 3000 x 3000',
      perSecond(ours),
      'strokes/s',
      theirs / ours,
      '@napi-rs/canvas: outline + build + fill',
    ),
    figure('coverage: points a spine', spines.reduce((n, s) => n + s.count, 0) / spines.length, 'points'),
    figure('coverage: their outline', outline, 'ms'),
    figure('coverage: their path building', build, 'ms'),
    figure('coverage: their fill', fill, 'ms'),
    ...edgeErrors(),
  ];
}

/** The tiles of the page, each with the strokes that touch it, in order. */
function tilesOf(strokes: readonly DrawableStroke[]) {
  const side = Math.ceil(SIDE / TILE);
  return Array.from({ length: side * side }, (_, k) => {
    const pixels = makePixels((k % side) * TILE, Math.floor(k / side) * TILE, TILE, TILE);
    const area = paperArea(pixels, 1);
    return { pixels, touching: strokes.filter((s) => overlaps(s.box, area)) };
  });
}

function edgeErrors(): Figure[] {
  const found = [0.25, 0.35, 0.5, 0.7, 1, 1.4, 2, 3, 5, 8, 12, 20].map(edgeError);
  const mean = found.reduce((sum, e) => sum + e.mean, 0) / found.length;
  const largest = Math.max(...found.map((e) => e.largest));
  return [
    figure(
      'coverage: mean edge error, 0.25 to 20 px',
      mean,
      'of coverage',
      undefined,
      '8 x 8 supersampling, at most 0.02',
    ),
    figure('coverage: largest edge error', largest, 'of coverage', undefined, '8 x 8 supersampling, at most 0.10'),
  ];
}

/** Speed of outlining and whether any pixel is wrong. */
export function outline(): Figure[] {
  const spines = smoothSpines(400, 200);
  const outlining = new OutlineWorkspace();
  const points = spines.map((s) =>
    Array.from({ length: s.count }, (_, i) => [s.data[3 * i], s.data[3 * i + 1], s.data[3 * i + 2] / 4]),
  );
  const [ours, theirs] = alternate(
    9,
    () => spines.forEach((s) => outlineOf(s, ARC_TOLERANCE_PX, outlining)),
    () => points.forEach((p) => getStroke(p, { size: 8, thinning: 0.6, simulatePressure: false })),
  );
  const rect = { x0: 0, y0: 0, width: 64, height: 64 };
  const rnd = random(3);
  const tested = [
    ...Array.from({ length: 1000 }, () => randomSpine(rnd, 64, 5 + Math.floor(rnd() * 40), 1 + rnd() * 14)),
    ...Object.values(HARD_SPINES),
  ];
  const far = tested.reduce(
    (sum, s) => sum + difference(nonzeroFill(outlineOf(s, 0.05), rect), exactUnion(s, rect)).far,
    0,
  );
  return [
    figure('outline, 200 samples', (ours / spines.length) * 1000, 'us', theirs / ours, 'perfect-freehand'),
    figure(
      `outline: pixels off by more than 0.15 in ${tested.length} strokes`,
      far,
      'px',
      undefined,
      'exact union, 8 x 8; 0',
    ),
  ];
}

/** What four new samples cost late in a stroke, over what they cost early. */
export function wetInk(): Figure[] {
  const samples = handSamples((u) => [400 + 300 * Math.cos(u * 60), 400 + 300 * Math.sin(u * 47)], { ms: 5200 / 0.24 });
  const early: number[] = [];
  const late: number[] = [];
  for (let run = 0; run < 9; run++) {
    const stroke = new WetStroke(makePen('dip', 8, 35, true, 1), [0, 0, 0], 0, 1);
    const out = new Uint8ClampedArray(4 * 800 * 800);
    let n = 0;
    for (const point of handPoints(samples)) {
      stroke.add(point);
      const i = n++;
      if (i % 4 !== 3) continue;
      const began = performance.now();
      const box = stroke.frame({ x0: 0, y0: 0, x1: 800, y1: 800 });
      stroke.paint(box, out);
      const ms = performance.now() - began;
      if (run > 1 && i > 100 && i < 300) early.push(ms);
      if (run > 1 && i > 5000) late.push(ms);
    }
  }
  const [a, b] = [median(early), median(late)];
  return [figure('wet-ink: four samples at 5,000', b, 'ms', b / a, 'four samples at 100; at most 1.5')];
}

/** Bytes a sample, and reading them back. */
export function strokeBytes(): Figure[] {
  const path = (u: number) => [300 + 260 * u + 40 * Math.sin(u * 9), 200 + 90 * Math.cos(u * 7)] as const;
  const mouse = handSamples(path, { ms: 1600, hz: 125, tilt: false, pressure: () => 0.5 });
  mouse.pressure.fill(512);
  const pen = handSamples(path, { ms: 833, hz: 240 });
  const bytes = (s: Samples) => encodeSamples(s).length / s.count;
  const json = (s: Samples) => {
    const rows = Array.from({ length: s.count }, (_, i) => ({
      x: s.x[i] / 2 ** s.unitLog2,
      y: s.y[i] / 2 ** s.unitLog2,
      t: s.t[i] / TICKS_PER_MS,
      pressure: s.pressure[i] / PRESSURE_MAX,
      altitude: s.altitude[i],
      azimuth: s.azimuth[i],
    }));
    return JSON.stringify(rows).length / s.count;
  };
  const packed = encodeSamples(pen);
  const [ms] = alternate(3, () => {
    for (let i = 0; i < 10000; i++) decodeSamples(packed);
  });
  return [
    figure('stroke-bytes: mouse', bytes(mouse), 'bytes/sample', json(mouse) / bytes(mouse), 'JSON; at most 4 bytes'),
    figure('stroke-bytes: pen with tilt', bytes(pen), 'bytes/sample', json(pen) / bytes(pen), 'JSON; at most 7 bytes'),
    figure('stroke-bytes: decoding 10,000 strokes of 200 samples', ms, 'ms'),
  ];
}
