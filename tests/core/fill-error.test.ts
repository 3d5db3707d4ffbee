import { createCanvas } from '@napi-rs/canvas';
import { drawStroke, RasterWorkspace } from '../../core/raster/draw-stroke';
import { makePixels } from '../../core/raster/pixels';
import type { PathNode, StrokePath } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';
import { tracePath } from '../measures/canvas-path';
import { openCv } from '../measures/opencv';
import { PouredSheet } from '../measures/poured';
import { random } from '../measures/strokes';

// Drawings whose regions are known because a reference library (@napi-rs/canvas) draws them: their outlines as lines, and
// what these enclose. The same curves are inked and poured with our own.

const SIDE = 480;
const LINE_PX = 6;
const COLUMNS = 3;
/** Of 255: that much of the paper cannot be seen through colour and line. */
const UNSEEN = 12;

/** A closed line of smooth curves about a middle: no two are alike. */
function blob(cx: number, cy: number, rnd: () => number): StrokePath {
  const count = 5 + Math.floor(4 * rnd());
  const nodes = Array.from({ length: count }, (_, k): PathNode => {
    const a = (2 * Math.PI * k) / count;
    const r = 38 + 26 * rnd();
    // Handles along the circle, a third of the way to the next node.
    const [dx, dy] = [-Math.sin(a) * r * 0.35, Math.cos(a) * r * 0.35];
    const [x, y] = [cx + r * Math.cos(a), cy + r * Math.sin(a)];
    return { x, y, kind: 'smooth', inX: -dx, inY: -dy, outX: dx, outY: dy, width: 1 };
  });
  return { closed: true, nodes };
}

const middles = Array.from({ length: COLUMNS * COLUMNS }, (_, k): [number, number] => [
  80 + 160 * (k % COLUMNS),
  80 + 160 * Math.floor(k / COLUMNS),
]);

/** How much of each pixel the reference library covers, 0 to 255. */
function referenceCover(paths: readonly StrokePath[], how: 'filled' | 'lines', scale = 1): Uint8ClampedArray {
  const canvas = createCanvas(SIDE * scale, SIDE * scale);
  const context = canvas.getContext('2d');
  context.scale(scale, scale);
  context.lineWidth = LINE_PX;
  context.lineJoin = 'round';
  for (const path of paths) {
    tracePath(context, path);
    if (how === 'filled') context.fill();
    else context.stroke();
  }
  return context.getImageData(0, 0, SIDE * scale, SIDE * scale).data.filter((_, i) => i % 4 === 3);
}

/** A sheet with the same lines, each shape poured; and how much of each pixel its colour covers, 0 to 255. */
function poured(paths: readonly StrokePath[]) {
  const sheet = new PouredSheet(SIDE);
  for (const path of paths) sheet.path(path, makePen('fineliner', LINE_PX, 0, false, 1));
  for (const at of middles) expect(sheet.pour(at)).toBeDefined();
  const cover = (level: number) => {
    const side = Math.ceil(SIDE * 2 ** level);
    const pixels = makePixels(0, 0, side, side);
    const work = new RasterWorkspace(side, side);
    for (const record of sheet.ink.ofLayer('flats'))
      drawStroke(pixels, sheet.ink.drawable(record, level, 'exact'), 2 ** level, work);
    return pixels.data.filter((_, i) => i % 4 === 3);
  };
  return { sheet, cover };
}

const drawing = (seed: number): StrokePath[] => {
  const rnd = random(seed);
  return middles.map(([x, y]) => blob(x, y, rnd));
};

describe.each([3, 17, 40])('colour poured into regions that a reference library draws (drawing %i)', (seed) => {
  const paths = drawing(seed);
  const { cover } = poured(paths);

  it('covers each region and a hair of the line around it, and nothing beyond: no pixel is left, none is outside', () => {
    const ours = cover(0);
    const region = referenceCover(paths, 'filled');
    let [left, outside, off] = [0, 0, 0];
    for (let i = 0; i < ours.length; i++) {
      if (region[i] === 255 && ours[i] < 128) left++;
      // Colour goes on beyond the middle of the line by half a px.
      if (ours[i] > 5 && region[i] === 0 && ![-1, 1, -SIDE, SIDE, -SIDE - 1, -SIDE + 1, SIDE - 1, SIDE + 1].some((d) => region[i + d] > 0)) outside++; // prettier-ignore
      off += (ours[i] - region[i]) / 255;
    }
    expect([left, outside]).toEqual([0, 0]);
    // All borders together are some 3,300 px long, and half a px of them is colour, too.
    expect(off / 3300).toBeGreaterThan(0.3);
    expect(off / 3300).toBeLessThan(0.7);
  });

  it.each([-2, -1, 0, 1, 2, 3])('leaves no pixel between colour and line at level %i (0.25x to 8x)', (level) => {
    const scale = 2 ** level;
    const [ours, lines] = [cover(level), referenceCover(paths, 'lines', scale)];
    const region = referenceCover(paths, 'filled', scale);
    let fringe = 0;
    // What shines through colour and line inside the region, of 255.
    for (let i = 0; i < ours.length; i++)
      if (region[i] === 255 && ((255 - ours[i]) * (255 - lines[i])) / 255 > UNSEEN) fringe++;
    expect(fringe).toBe(0);
  });

  it('is what flooding the pixels finds (opencv-js), and goes on from there under the line, no farther than to its middle', async () => {
    const { cv } = await openCv();
    const ours = cover(0);
    const lines = referenceCover(paths, 'lines');
    const open = cv.matFromArray(SIDE, SIDE, cv.CV_8UC1, [...lines].map((v) => (v > 127 ? 255 : 0))); // prettier-ignore
    const mask = new cv.Mat();
    for (const [x, y] of middles) cv.floodFill(open, mask, new cv.Point(x, y), new cv.Scalar(100));
    expect(open.data.includes(0)).toBe(true);
    const bare = cv.matFromArray(SIDE, SIDE, cv.CV_8UC1, [...open.data].map((v) => (v === 100 ? 0 : 1))); // prettier-ignore
    const away = new cv.Mat();
    cv.distanceTransform(bare, away, cv.DIST_L2, cv.DIST_MASK_PRECISE);
    let missed = 0;
    let farthest = 0;
    for (let i = 0; i < ours.length; i++) {
      if (away.data32F[i] === 0 && ours[i] < 255) missed++;
      if (ours[i] > 127) farthest = Math.max(farthest, away.data32F[i]);
    }
    expect(missed).toBe(0);
    expect(farthest).toBeLessThan(LINE_PX / 2 + 1.5);
    for (const mat of [open, mask, bare, away]) mat.delete();
  });
});
