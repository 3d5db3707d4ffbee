import { createCanvas } from '@napi-rs/canvas';
import { Resvg } from '@resvg/resvg-js';
import * as fc from 'fast-check';
import { stroke as strokeSchema } from '../../contract/entities';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { fadeUnder, pourMask } from '../../core/raster/compose';
import { CoverageMask } from '../../core/raster/coverage-mask';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { makePixels } from '../../core/raster/pixels';
import { erasing } from '../../core/sheet/erased-strokes';
import { finish } from '../../core/sheet/ink-work';
import { linesNear } from '../../core/sheet/lines-near';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { eraserPen, type Eraser } from '../../core/stroke/eraser';
import { makePen } from '../../core/stroke/pen';
import { restyled } from '../../core/stroke/restyle';
import { TestSheet } from '../measures/sheets';
import { handSamples, random } from '../measures/strokes';

const SIZE = 240;
const PAPER = { widthPx: SIZE, heightPx: SIZE, ppi: 300 };
const work = new RasterWorkspace(SIZE, SIZE);
const SOFT: Eraser = { kind: 'soft', sizePx: 40, pressed: false, softness: 0.7, strength: 0.5 };
const soft = (more: Partial<Eraser> = {}) => eraserPen({ ...SOFT, ...more }, true, 1);

const across = (y: number) => handSamples((u) => [20 + 200 * u, y + 6 * Math.sin(5 * u)], { ms: 500 });
const down = (x: number) => handSamples((u) => [x, 20 + 200 * u], { ms: 500 });
const drawn = ({ ink }: TestSheet) => Buffer.from(ink.draw('lines', 0, makePixels(0, 0, SIZE, SIZE), work)!.data);
const darkness = (pixels: Buffer) => pixels.reduce((sum, v, i) => (i % 4 === 3 ? sum + v / 255 : sum), 0);

describe('fading, against destination-out', () => {
  it('is that of W3C Compositing and Blending Level 1, to one step of 255', () => {
    const rnd = random(3);
    const target = makePixels(0, 0, 64, 64);
    for (let i = 0; i < target.data.length; i += 4) {
      const a = Math.floor(rnd() * 256);
      for (let c = 0; c < 3; c++) target.data[i + c] = Math.floor(rnd() * (a + 1));
      target.data[i + 3] = a;
    }
    const before = target.data.slice();
    const mask = new CoverageMask(64, 64);
    mask.data.forEach((_, i) => (mask.data[i] = Math.floor(rnd() * 256)));
    mask.rowFrom.fill(0);
    mask.rowTo.fill(64);
    mask.bottom = 64;
    mask.top = 0;
    const cover = mask.data.slice();
    fadeUnder(target, mask);
    // co = cb x (1 - as)
    const off = target.data.reduce((worst, v, i) => {
      const expected = before[i] * (1 - cover[i >> 2] / 255);
      return Math.max(worst, Math.abs(v - expected));
    }, 0);
    expect(off).toBeLessThanOrEqual(0.5);
    expect(mask.isClean).toBe(true);
    expect(mask.data.every((v) => v === 0)).toBe(true);
  });

  it('leaves what a canvas leaves (@napi-rs/canvas, destination-out)', () => {
    const canvas = createCanvas(64, 64);
    const ctx = canvas.getContext('2d');
    ctx.fillStyle = '#1f3a5f';
    ctx.fillRect(0, 0, 64, 40);
    ctx.globalCompositeOperation = 'destination-out';
    ctx.fillStyle = 'rgba(0,0,0,0.4)';
    ctx.fillRect(10, 10, 40, 50);
    const target = makePixels(0, 0, 64, 64);
    const rectangle = (x0: number, y0: number, x1: number, y1: number, cover: number) => {
      const mask = new CoverageMask(64, 64);
      for (let y = y0; y < y1; y++) {
        mask.data.fill(cover, 64 * y + x0, 64 * y + x1);
        [mask.rowFrom[y], mask.rowTo[y]] = [x0, x1];
      }
      [mask.top, mask.bottom] = [y0, y1];
      return mask;
    };
    pourMask(target, rectangle(0, 0, 64, 40, 255), [0x1f, 0x3a, 0x5f]);
    fadeUnder(target, rectangle(10, 10, 50, 60, 102));
    const theirs = ctx.getImageData(0, 0, 64, 64).data;
    let off = 0;
    for (let i = 3; i < theirs.length; i += 4) off = Math.max(off, Math.abs(theirs[i] - target.data[i]));
    expect(off).toBeLessThanOrEqual(1);
  });
});

describe('a soft eraser', () => {
  it('fades what lies below it in its layer, and nothing that is drawn later', () => {
    const sheet = new TestSheet();
    sheet.ink1(across(80));
    const before = drawn(sheet);
    const fade = sheet.ink1(down(120), soft());
    const faded = drawn(sheet);
    expect(darkness(faded)).toBeLessThan(0.98 * darkness(before));
    // In its middle it takes as much as it is strong.
    const [x, y] = [120, 80];
    const at = 4 * (SIZE * y + x) + 3;
    expect(faded[at] / before[at]).toBeCloseTo(0.5, 1);
    sheet.ink1(across(160));
    const other = new TestSheet();
    other.ink1(across(160));
    expect(darkness(drawn(sheet)) - darkness(faded)).toBeCloseTo(darkness(drawn(other)), 6);
    sheet.set(fade, 'deleted', true);
    sheet.set(fade, 'deleted', false);
    sheet.set(fade, 'matrix', [1, 0, 0, 1, 400, 0]);
    const away = new TestSheet();
    away.ink1(across(80));
    away.ink1(across(160));
    expect(Buffer.compare(drawn(sheet), drawn(away))).toBe(0);
  });

  it('is not there to be touched, met, or erased itself, and no restyling makes ink of it', () => {
    const sheet = new TestSheet();
    const line = sheet.ink1(across(80));
    sheet.ink1(down(120), soft());
    const near = finish(linesNear(sheet.ink, 'lines', 120, 180, 10));
    expect(near).toEqual([]);
    expect(sheet.erase(down(120), 30)).toEqual([line]);
    expect(restyled(soft(), { kind: 'brush', sizePx: 90, settings: { soft: 0 } }, true)).toEqual(soft());
  });

  it('severs nothing, and touches only lines that it crosses', () => {
    const sheet = new TestSheet();
    const line = sheet.ink1(across(80));
    sheet.ink1(handSamples((u) => [20 + 20 * u, 220], { ms: 200 }));
    const bytes = encodeSamples(down(120));
    expect(finish(erasing(sheet.ink, 'lines', bytes, soft({ strength: 1 })))).toEqual([{ id: line }]);
    expect(finish(erasing(sheet.ink, 'lines', bytes, soft({ kind: 'hard' })))[0].left).toHaveLength(2);
  });

  it('gives the same pixels in pieces as in one, and back again after an undo, to the bit (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const rnd = random(seed);
        const sheet = new TestSheet();
        for (let i = 0; i < 5; i++) sheet.ink1(across(30 + 180 * rnd()), makePen('dip', 4 + 20 * rnd(), 20, true, 1));
        const before = drawn(sheet);
        const fade = sheet.ink1(
          down(40 + 160 * rnd()),
          soft({ sizePx: 10 + 60 * rnd(), softness: rnd(), strength: 0.05 + 0.95 * rnd(), pressed: rnd() < 0.5 }),
        );
        const whole = drawn(sheet);
        const half = SIZE / 2;
        for (const x0 of [0, half])
          for (const y0 of [0, half]) {
            const piece = sheet.ink.draw('lines', 0, makePixels(x0, y0, half, half), work)?.data;
            for (let y = 0; y < half; y++) {
              const from = 4 * (SIZE * (y0 + y) + x0);
              const own = piece ? Buffer.from(piece.buffer, 4 * half * y, 4 * half) : Buffer.alloc(4 * half);
              expect(Buffer.compare(whole.subarray(from, from + 4 * half), own)).toBe(0);
            }
          }
        sheet.set(fade, 'deleted', true);
        expect(Buffer.compare(drawn(sheet), before)).toBe(0);
      }),
      { numRuns: 12, seed: 13 },
    );
  });

  it('is a mask in SVG, drawn by resvg as we draw it: mean 0.02 of coverage, and no further off than without it', () => {
    const sheet = new TestSheet();
    for (const y of [60, 100, 140]) sheet.ink1(across(y), makePen('fineliner', 24, 20, true, 1), '#1f3a5f');
    const offBy = () => {
      const svg = finish(sheetSvg(sheet.model, sheet.ink, PAPER, { onPaper: false, title: 'Soft' }));
      const { pixels } = new Resvg(svg, { fitTo: { mode: 'width', value: SIZE } }).render();
      const own = drawn(sheet);
      let [sum, largest, count] = [0, 0, 0];
      for (let i = 3; i < own.length; i += 4) {
        const off = Math.abs(own[i] - pixels[i]) / 255;
        if (own[i] || pixels[i]) [sum, count] = [sum + off, count + 1];
        largest = Math.max(largest, off);
      }
      return { mean: sum / count, largest, masks: svg.match(/<mask /g)?.length ?? 0 };
    };
    const without = offBy();
    expect(without.masks).toBe(0);
    sheet.ink1(down(80), soft());
    sheet.ink1(down(170), soft({ sizePx: 26, strength: 1, pressed: true }));
    sheet.ink1(across(180), makePen('fineliner', 12, 0, true, 1));
    sheet.ink1(down(120), soft({ softness: 0 }));
    const faded = offBy();
    // Those that follow each other are one mask.
    expect(faded.masks).toBe(2);
    expect(faded.mean).toBeLessThan(0.02);
    expect(faded.largest).toBeLessThanOrEqual(without.largest + 0.005);
  });

  it('is a pen that a sheet may hold', () => {
    for (const kind of ['hard', 'soft'] as const)
      for (const pressed of [true, false])
        for (const hasPressure of [true, false]) {
          const pen = eraserPen({ ...SOFT, kind, pressed, strength: 0.001 }, hasPressure, 0.5);
          const stroke = {
            id: 'a',
            deleted: false,
            layerId: 'lines',
            order: 'a1',
            colour: '#000000',
            pen,
            matrix: [1, 0, 0, 1, 0, 0],
            engine: 3,
          };
          expect(strokeSchema.safeParse(stroke).error).toBeUndefined();
          expect(pen.widthFrom).toBe(pressed && hasPressure ? 'pressure' : 'even');
        }
  });
});
