import { pourMask, cutMask, layOver, unpremultiply } from '../../core/raster/compose';
import { fillWith } from '../../core/raster/fill-with';
import { CoverageMask } from '../../core/raster/coverage-mask';
import { div255, makePixels, parseColour, type Pixels } from '../../core/raster/pixels';
import { random } from '../measures/strokes';

/** Source-over on premultiplied values in 0..1. W3C Compositing and Blending Level 1, "source over". */
const sourceOver = (s: number[], d: number[]) => s.map((v, i) => v + d[i] * (1 - s[3]));

function noise(seed: number): Pixels {
  const rnd = random(seed);
  const pixels = makePixels(0, 0, 16, 16);
  for (let i = 0; i < pixels.data.length; i += 4) {
    const a = Math.floor(rnd() * 256);
    for (let c = 0; c < 3; c++) pixels.data[i + c] = Math.floor(rnd() * (a + 1));
    pixels.data[i + 3] = a;
  }
  return pixels;
}

function mask(seed: number): CoverageMask {
  const rnd = random(seed);
  const m = new CoverageMask(16, 16);
  m.data.forEach((_, i) => (m.data[i] = Math.floor(rnd() * 256)));
  m.rowFrom.fill(0);
  m.rowTo.fill(16);
  m.top = 0;
  m.bottom = 16;
  return m;
}

const unit = (p: Pixels, i: number) => Array.from(p.data.subarray(i, i + 4), (v) => v / 255);

describe('compositing, against the formulas of W3C Compositing and Blending Level 1', () => {
  it('rounds products as round(x / 255), for every product of two bytes', () => {
    const wrong: [number, number][] = [];
    for (let a = 0; a < 256; a++)
      for (let b = 0; b < 256; b++) if (div255(a * b) !== Math.round((a * b) / 255)) wrong.push([a, b]);
    expect(wrong).toEqual([]);
  });

  it('lays a colour through a mask within one step of the formula', () => {
    const [under, m] = [noise(3), mask(4)];
    const covers = Array.from(m.data, (v) => v / 255);
    const found = { ...under, data: under.data.slice() };
    pourMask(found, m, [200, 30, 90]);
    for (let i = 0; i < 1024; i += 4) {
      const cover = covers[i / 4];
      const wanted = sourceOver(
        [200, 30, 90, 255].map((v) => (v / 255) * cover),
        unit(under, i),
      );
      unit(found, i).forEach((v, c) => expect(Math.abs(v - wanted[c])).toBeLessThanOrEqual(1.01 / 255));
    }
  });

  it('pours a mask out: it is clean afterwards, and on nothing it gives the colour itself', () => {
    const [found, m] = [makePixels(0, 0, 16, 16), mask(4)];
    const covers = m.data.slice();
    pourMask(found, m, [200, 30, 90]);
    expect(m.isClean && m.data.every((v) => v === 0)).toBe(true);
    const expected = Array.from(covers, (c) => [200, 30, 90, 255].map((v) => Math.round((v * c) / 255))).flat();
    expect(Array.from(found.data)).toEqual(expected);
  });

  it('lays a layer over another with group opacity within one step of the formula', () => {
    const [under, over] = [noise(5), noise(6)];
    const found = { ...under, data: under.data.slice() };
    layOver(found, over, 0.6);
    for (let i = 0; i < 1024; i += 4) {
      const wanted = sourceOver(
        unit(over, i).map((v) => v * 0.6),
        unit(under, i),
      );
      unit(found, i).forEach((v, c) => expect(Math.abs(v - wanted[c])).toBeLessThanOrEqual(1.6 / 255));
    }
  });

  it('cuts a mask by another: destination-out', () => {
    const [a, b] = [mask(7), mask(8)];
    const before = a.data.slice();
    cutMask(a, b);
    before.forEach((v, i) => expect(a.data[i]).toBe(Math.round((v * (255 - b.data[i])) / 255)));
  });

  it('takes alpha out of colour so that putting it back loses nothing', () => {
    const pixels = noise(9);
    const straight = pixels.data.slice();
    unpremultiply(straight);
    for (let i = 0; i < straight.length; i += 4)
      for (let c = 0; c < 3; c++)
        expect(Math.round((straight[i + c] * straight[i + 3]) / 255)).toBe(pixels.data[i + c]);
  });

  it('reads colours as CSS writes them and refuses others', () => {
    expect(parseColour('#17605C')).toEqual([0x17, 0x60, 0x5c]);
    expect(parseColour('#fa0')).toEqual([255, 170, 0]);
    expect(() => parseColour('teal')).toThrow(RangeError);
    const pixels = makePixels(0, 0, 1, 1);
    fillWith(pixels, [1, 2, 3]);
    expect([...pixels.data]).toEqual([1, 2, 3, 255]);
  });
});
