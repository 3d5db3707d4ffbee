import { inflateSync } from 'node:zlib';
import { Resvg } from '@resvg/resvg-js';
import { decode } from 'fast-png';
import sharp from 'sharp';
import { PngWriter } from '../../core/formats/png';
import { sheetPng } from '../../core/formats/sheet-png';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { unpremultiply } from '../../core/raster/compose';
import { makePixels, type Pixels } from '../../core/raster/pixels';
import { TILE } from '../../core/raster/tiles';
import { assign, putRows } from '../../core/sheet/steps';
import { FIRST_LAYER } from '../../core/sheet/entities';
import { finish } from '../../core/sheet/ink-work';
import { makePen } from '../../core/stroke/pen';
import { platformDeflating } from '../../workers/platform-deflate';
import { waited } from '../measures/waited';
import { handSamples, random } from '../measures/strokes';
import { TestSheet } from '../measures/sheets';

const PAPER = { widthPx: 420, heightPx: 300, ppi: 300 };

function drawing(): TestSheet {
  const sheet = new TestSheet();
  sheet.ink1(handSamples((u) => [30 + 360 * u, 80 + 50 * Math.sin(u * 9)], { ms: 900 }));
  sheet.ink1(
    handSamples((u) => [60 + 60 * Math.cos(u * 20) * (1 - u), 200 + 60 * Math.sin(u * 20) * (1 - u)], { ms: 1200 }),
    makePen('dip', 14, 60, true, 1),
    '#1f3a5f',
  );
  for (let i = 0; i < 12; i++)
    sheet.ink1(
      handSamples((u) => [200 + i * 12 + 30 * u, 180 + 90 * u], { ms: 180, seed: i + 2 }),
      makePen('dip', 5, 10, true, 1),
    );
  sheet.ink1(
    handSamples((u) => [180 + 200 * u, 240 - 20 * u], { ms: 500 }),
    makePen('fineliner', 0.5, 0, true, 1),
  );
  sheet.ink1(handSamples((u) => [380 + 100 * u, 150 + 20 * u], { ms: 300 }));
  return sheet;
}

const bytesOf = (parts: Uint8Array[]) => Buffer.concat(parts);
const png = (s: TestSheet, level = 0, onPaper = false) =>
  bytesOf(finish(sheetPng(s.model, s.ink, PAPER, { level, onPaper })));

describe('PNG, against W3C PNG (third edition) through fast-png and sharp', () => {
  it('is read back with its size, its resolution and every pixel', async () => {
    const file = png(drawing());
    const read = decode(file);
    expect([read.width, read.height, read.channels, read.depth]).toEqual([420, 300, 4, 8]);
    // pHYs of 300 ppi is 11811 pixels per metre.
    expect(read.resolution).toEqual({ x: 11811, y: 11811, unit: 1 });
    const { data, info } = await sharp(file).raw().toBuffer({ resolveWithObject: true });
    expect(info.channels).toBe(4);
    expect(Buffer.from(read.data.buffer, read.data.byteOffset, read.data.byteLength).equals(data)).toBe(true);
    expect((await sharp(file).metadata()).density).toBe(300);
  });

  it('has its chunks in order, sRGB and pHYs before the pixels, CRCs right', () => {
    const file = png(drawing(), 0, true);
    const names: string[] = [];
    for (let at = 8; at < file.length; at += 12 + file.readUInt32BE(at))
      names.push(file.toString('latin1', at + 4, at + 8));
    expect(names.filter((n, i) => n !== names[i - 1])).toEqual(['IHDR', 'sRGB', 'pHYs', 'IDAT', 'IEND']);
    const damaged = Buffer.from(file);
    damaged[20] ^= 1;
    expect(() => decode(damaged)).toThrow();
    expect(() => decode(file)).not.toThrow();
  });

  it('at 2x has twice the pixels and twice the resolution', () => {
    const read = decode(png(drawing(), 1, true));
    expect([read.width, read.height, read.channels]).toEqual([840, 600, 3]);
    expect(read.resolution!.x).toBe(23622);
  });

  it('refuses rows that do not fit and an end that comes too early', () => {
    const w = new PngWriter({ width: 2, height: 2, channels: 4 });
    expect(() => w.write(new Uint8ClampedArray(12))).toThrow(RangeError);
    expect(() => finish(w.finish())).toThrow(/2 rows/);
    w.write(new Uint8ClampedArray(16));
    expect(() => w.write(new Uint8ClampedArray(8))).toThrow(RangeError);
    expect(() => new PngWriter({ width: 0, height: 2, channels: 4 })).toThrow(RangeError);
  });

  it('keeps every byte of pictures that repeat themselves, whatever the strips and what packs them (zlib of Node)', async () => {
    const rnd = random(5);
    for (let n = 0; n < 60; n++) {
      const [width, height] = [8 + Math.floor(rnd() * 90), 100 + Math.floor(rnd() * 500)];
      const pixels = new Uint8ClampedArray(4 * width * height);
      const density = [0.002, 0.01, 0.3][n % 3];
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++)
          if (n % 3 === 2 ? y % 40 === 0 && rnd() < density : rnd() < density)
            pixels.fill(1 + Math.floor(255 * rnd()), 4 * (y * width + x), 4 * (y * width + x) + 4);
      const writer = new PngWriter({ width, height, channels: 4 }, n % 2 ? platformDeflating() : undefined);
      for (let y = 0; y < height;) {
        const rows = Math.min(height - y, 1 + Math.floor(rnd() * 200));
        await writer.write(pixels.subarray(4 * y * width, 4 * (y + rows) * width));
        y += rows;
      }
      const file = bytesOf(await waited(writer.finish()));
      const packed: Buffer[] = [];
      for (let at = 8; at < file.length; at += 12 + file.readUInt32BE(at))
        if (file.toString('latin1', at + 4, at + 8) === 'IDAT')
          packed.push(file.subarray(at + 8, at + 8 + file.readUInt32BE(at)));
      expect(inflateSync(Buffer.concat(packed))).toHaveLength((4 * width + 1) * height);
      expect(Buffer.compare(Buffer.from(decode(file).data), Buffer.from(pixels))).toBe(0);
    }
  });

  it('is the same whether strips on which nothing lies are drawn or not (fast-png)', () => {
    // Twelve strips, of which the drawing leaves some alone: at the top, between lines and at the end.
    const paper = { widthPx: 3000, heightPx: 1040, ppi: 300 };
    const sheet = new TestSheet();
    for (const y of [230, 640])
      sheet.ink1(
        handSamples((u) => [100 + 2700 * u, y + 12 * Math.sin(9 * u)], { ms: 500 }),
        makePen('brush', 9, 30, true, 1),
      );
    for (const onPaper of [false, true]) {
      const rowsSeen: number[] = [];
      const whole = function* (layerId: string, rect: Omit<Pixels, 'data'>) {
        rowsSeen.push(rect.y0);
        // Always some pixels, be they empty.
        const { x0, y0, width, height } = rect;
        return (
          sheet.ink.draw(layerId, 0, rect, new RasterWorkspace(width, height)) ?? makePixels(x0, y0, width, height)
        );
      };
      const options = { level: 0, onPaper };
      const read = (...more: [pictures?: undefined, draw?: typeof whole]) =>
        Buffer.from(decode(bytesOf(finish(sheetPng(sheet.model, sheet.ink, paper, options, ...more)))).data);
      const skipped = read();
      expect(skipped.equals(read(undefined, whole))).toBe(true);
      expect(rowsSeen.length).toBeGreaterThan(8);
      expect(skipped.some((v) => v !== skipped[0])).toBe(true);
    }
  });

  it('is byte for byte what the level-0 tiles show', () => {
    const sheet = drawing();
    const read = decode(png(sheet));
    const work = new RasterWorkspace(TILE, TILE);
    for (let ty = 0; ty * TILE < 300; ty++)
      for (let tx = 0; tx * TILE < 420; tx++) {
        const tile = sheet.ink.draw('lines', 0, { x0: tx * TILE, y0: ty * TILE, width: TILE, height: TILE }, work);
        if (tile) unpremultiply(tile.data);
        for (let y = ty * TILE; y < Math.min(300, (ty + 1) * TILE); y++) {
          const width = Math.min(420, (tx + 1) * TILE) - tx * TILE;
          const mine =
            tile?.data.subarray(4 * (y - ty * TILE) * TILE, 4 * ((y - ty * TILE) * TILE + width)) ??
            new Uint8Array(4 * width);
          const theirs = read.data.subarray(4 * (y * 420 + tx * TILE), 4 * (y * 420 + tx * TILE + width));
          expect(Buffer.from(mine).equals(Buffer.from(theirs))).toBe(true);
        }
      }
  });
});

describe('SVG, drawn by @resvg/resvg-js against our own pixels', () => {
  const drawn = (s: TestSheet, onPaper = true) => {
    const svg = finish(sheetSvg(s.model, s.ink, PAPER, { onPaper, title: 'Tern & <Tide>' }));
    const image = new Resvg(svg, { fitTo: { mode: 'width', value: PAPER.widthPx } }).render();
    return { svg, pixels: image.pixels, width: image.width, height: image.height };
  };
  it('of some lines shows these, as they lie, and no more paper than they need', () => {
    const s = new TestSheet();
    const line = (y: number) => handSamples((u) => [40 + 300 * u, y + 12 * Math.sin(6 * u)], { ms: 400 });
    const pen = makePen('fineliner', 12, 30, true, 1);
    const ids = [60, 100, 140, 180].map((y) => s.ink1(line(y), pen));
    const svg = finish(sheetSvg(s.model, s.ink, PAPER, { onPaper: false, title: 'Two', only: [ids[1], ids[2]] }));
    expect(svg.match(/<path/g)).toHaveLength(2);
    const [x0, y0, width, height] = /viewBox="([^"]*)"/.exec(svg)![1].split(' ').map(Number);
    expect(width).toBeGreaterThan(300);
    expect(width).toBeLessThan(330);
    expect(height).toBeLessThan(90);
    expect(/width="([\d.]+)mm"/.exec(svg)![1]).toBe(String(Number(((width / PAPER.ppi) * 25.4).toFixed(4))));
    const { pixels } = new Resvg(svg, { fitTo: { mode: 'width', value: width } }).render();
    // The same as the whole sheet without the others.
    const whole = finish(sheetSvg(s.model, s.ink, PAPER, { onPaper: false, title: 'All' }));
    const all = new Resvg(whole, { fitTo: { mode: 'width', value: PAPER.widthPx } }).render().pixels;
    for (let y = 20; y < height - 20; y++)
      for (let x = 0; x < width; x++)
        expect(pixels[4 * (y * width + x) + 3]).toBe(all[4 * ((y + y0) * PAPER.widthPx + x + x0) + 3]);
  });

  const meanDifference = (s: TestSheet) => {
    const { pixels } = drawn(s);
    const ours = decode(png(s, 0, true)).data;
    let sum = 0;
    let edges = 0;
    let far = 0;
    for (let i = 0; i < pixels.length / 4; i++) {
      const d = Math.abs(pixels[4 * i] - ours[3 * i]);
      if (ours[3 * i] > 0 && ours[3 * i] < 255) edges++;
      sum += d;
      if (d > 0.25 * 255) far++;
    }
    return { perEdge: sum / edges / 255, far };
  };

  it('shows the same lines', () => {
    const { perEdge, far } = meanDifference(drawing());
    expect(perEdge).toBeLessThan(0.03);
    expect(far).toBe(0);
  });

  it('shows the same after erasing, and after a stroke was moved with what was erased from it', () => {
    const sheet = drawing();
    const touched = sheet.erase(
      handSamples((u) => [200 + 6 * u, 40 + 90 * u], { ms: 300 }),
      16,
    );
    expect(touched.length).toBeGreaterThan(0);
    expect(meanDifference(sheet).far).toBe(0);
    const stroke = sheet.model.strokes.get(touched[0])!;
    sheet.ink.follow(sheet.model.apply([assign('strokes', stroke, 'matrix', [0, 1, -1, 0, 300, -20])]), new Map());
    const { perEdge, far } = meanDifference(sheet);
    expect(perEdge).toBeLessThan(0.03);
    expect(far).toBe(0);
  });

  it.each([
    ['a figure eight', (u: number) => [200 + 120 * Math.sin(2 * Math.PI * u), 150 + 70 * Math.sin(4 * Math.PI * u)]],
    [
      'a line whose ends cross',
      (u: number) => [80 + 240 * Math.sin(3.6 * u - 0.25), 60 + 180 * u * (1.3 - u) + 30 * Math.cos(9 * u)],
    ],
  ] as const)('of what is filled leaves no slit where it crosses itself: %s', (_what, way) => {
    const cut = (isErased: boolean) => {
      const sheet = new TestSheet();
      const pen = { ...makePen('fineliner', 12, 0, false, 1), fill: 'with' as const };
      sheet.ink1(
        handSamples((u) => [...way(u)] as [number, number], { ms: 900, tremorPx: 0 }),
        pen,
      );
      if (isErased)
        sheet.erase(
          handSamples((u) => [380 + u, 280 * u], { ms: 90 }),
          4,
        );
      return sheet;
    };
    for (const sheet of [cut(false), cut(true)]) {
      expect(decode(png(sheet, 0, true)).data.filter((v) => v === 0).length).toBeGreaterThan(12000);
      expect(meanDifference(sheet).far).toBe(0);
    }
  });

  it('has a named group a layer, a size in mm, one filled path a stroke, and is clipped to the paper', () => {
    const sheet = drawing();
    const { svg } = drawn(sheet);
    expect(svg).toContain('width="35.56mm" height="25.4mm" viewBox="0 0 420 300"');
    expect(svg).toContain('<title>Lines</title>');
    expect(svg).toContain('<title>Tern &amp; &lt;Tide&gt;</title>');
    expect(svg.match(/<path /g)).toHaveLength(16);
    expect(svg).toContain('clip-path="url(#paper)"');
    expect(svg).not.toContain('stroke=');
  });

  it('leaves roughs and hidden layers out, as the PNG does', () => {
    const sheet = drawing();
    const rough = { ...FIRST_LAYER, id: 'rough', kind: 'rough' as const, name: 'First pass', order: 'a9' };
    sheet.model.apply([putRows('layers', rough)]);
    sheet.model.apply([assign('layers', sheet.model.layers.get('lines')!, 'visible', false)]);
    expect(drawn(sheet).svg).not.toContain('<path');
    expect(decode(png(sheet)).data.every((v) => v === 0)).toBe(true);
  });
});

describe('ink that changes', () => {
  it('is drawn the same whether it came step by step or was loaded', () => {
    const rnd = random(4);
    const sheet = new TestSheet();
    for (let i = 0; i < 60; i++) {
      const [x, y] = [rnd() * 380, rnd() * 260];
      sheet.ink1(
        handSamples((u) => [x + 60 * u, y + 30 * Math.sin(u * 4)], { ms: 200, seed: i + 1 }),
        undefined,
        i % 3 ? '#000000' : '#ffffff',
      );
    }
    const gone = sheet.model.strokes.get('s000010')!;
    sheet.ink.follow(sheet.model.apply([assign('strokes', gone, 'deleted', true)]), new Map());
    const first = png(sheet);
    sheet.ink.follow(
      sheet.model.apply([assign('strokes', { ...gone, deleted: true as boolean }, 'deleted', false)]),
      new Map(),
    );
    expect(png(sheet).equals(first)).toBe(false);
    sheet.ink.follow(sheet.model.apply([assign('strokes', gone, 'deleted', true)]), new Map());
    expect(png(sheet).equals(first)).toBe(true);
  });
});

describe('a stroke that was erased hundreds of times', () => {
  /** Clipper's cuts, the unit of work: so no clock is needed. */
  const cutsOf = (erasures: number) => {
    const sheet = new TestSheet();
    sheet.ink1(
      handSamples((u) => [20 + 360 * u, 100 + 20 * Math.sin(u * 9)], { ms: 900 }),
      makePen('fineliner', 30, 0, true, 1),
    );
    const rnd = random(erasures);
    for (let i = 0; i < erasures; i++) {
      const x = 30 + 340 * rnd();
      sheet.erase(
        handSamples((u) => [x + 6 * u, 80 + 40 * u], { ms: 60, tremorPx: 0 }),
        3,
      );
    }
    let steps = 0;
    const svg = sheetSvg(sheet.model, sheet.ink, PAPER, { onPaper: false, title: 'Cuts' });
    for (let next = svg.next(); ; next = svg.next()) {
      if (next.done) return { steps, svg: next.value, sheet };
      expect(next.value).toBeLessThanOrEqual(1);
      steps++;
    }
  };

  it('is cut in work that grows with the erasures, with breath between', () => {
    const [few, many] = [cutsOf(100), cutsOf(400)];
    expect(few.steps).toBeGreaterThan(2);
    expect(many.steps).toBeLessThan(5 * few.steps);
  });

  it('looks as on the screen', () => {
    const { svg, sheet } = cutsOf(60);
    // One read: every look at `pixels` copies them all.
    const { pixels } = new Resvg(svg, { fitTo: { mode: 'width', value: PAPER.widthPx } }).render();
    const own = makePixels(0, 0, PAPER.widthPx, PAPER.heightPx);
    const drawn = sheet.ink.draw('lines', 0, own, new RasterWorkspace(PAPER.widthPx, PAPER.heightPx))!;
    let off = 0;
    for (let i = 3; i < drawn.data.length; i += 4) if (Math.abs(drawn.data[i] - pixels[i]) > 110) off++;
    // Where two cuts leave slivers thinner than a pixel the two renderers may differ.
    expect(off / (drawn.data.length / 4)).toBeLessThan(0.0005);
  });
});
