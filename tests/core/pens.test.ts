import { Resvg } from '@resvg/resvg-js';
import { pen as penShape } from '../../contract/entities';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { fadeMask, inkStrength } from '../../core/raster/compose';
import { CoverageMask } from '../../core/raster/coverage-mask';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { finish } from '../../core/sheet/ink-store';
import { LEAST_OPACITY, makePen, PEN_KINDS, settingsOf } from '../../core/stroke/pen';
import { spineOf } from '../../core/stroke/spine-maker';
import { handSamples } from '../measures/strokes';
import { TestSheet } from '../measures/sheets';

const SIDE = 300;
const RECT = { x0: 0, y0: 0, width: SIDE, height: SIDE };
const work = new RasterWorkspace(SIDE, SIDE);
const alphaAt = (sheet: TestSheet) => {
  const { data } = sheet.ink.draw('lines', 0, RECT, work)!;
  return (x: number, y: number) => data[4 * (y * SIDE + x) + 3];
};

describe('a pen', () => {
  it('has what it comes with, or what the artist has set', () => {
    expect(makePen('brush', 20, 30, true, 1)).toEqual({
      kind: 'brush',
      sizePx: 20,
      steady: 30,
      widthFrom: 'pressure',
      smallest: 0.03,
      taperInPx: 100,
      taperOutPx: 180,
      handScale: 1,
    });
    const own = { ...settingsOf('brush'), smallest: 0.5, taperIn: 0, opacity: 0.25 };
    expect(makePen('brush', 20, 30, false, 1, own)).toMatchObject({
      widthFrom: 'speed',
      smallest: 0.5,
      taperInPx: 0,
      opacity: 0.25,
    });
    // An even line is never thinner than its nib; a taper is a movement of the hand, at most 240 CSS px.
    expect(makePen('fineliner', 20, 0, true, 1, own).smallest).toBe(1);
    expect(makePen('brush', 200, 0, true, 2).taperOutPx).toBe(120);
    expect(makePen('dip', 20, 0, true, 1, { ...own, opacity: 0 }).opacity).toBe(LEAST_OPACITY);
  });

  it('passes the door of the server whatever its settings, and nothing beyond them does', () => {
    for (const kind of PEN_KINDS)
      for (const opacity of [0, 0.3, 1]) {
        const pen = makePen(kind, 8, 35, true, 1, { ...settingsOf(kind), opacity });
        expect(penShape.safeParse(pen).success).toBe(true);
      }
    const pen = makePen('dip', 8, 35, true, 1);
    for (const wrong of [{ opacity: 0 }, { opacity: 1.01 }, { opacity: NaN }, { kind: 'quill' }])
      expect(penShape.safeParse({ ...pen, ...wrong }).success).toBe(false);
  });

  it('goes from a hair to its belly with a brush, from light to firm', () => {
    const samples = handSamples((u) => [20 + 260 * u, 150], { ms: 900, tremorPx: 0, pressure: (u) => u });
    const settings = { ...settingsOf('brush'), taperIn: 0, taperOut: 0 };
    const { data, count } = spineOf(samples, makePen('brush', 40, 0, true, 1, settings), 0.05);
    const radii = Array.from({ length: count }, (_, i) => data[3 * i + 2]);
    expect(radii[0]).toBeLessThan(1);
    expect(radii[count - 1]).toBeGreaterThan(19);
    for (let i = 1; i < count; i++) expect(radii[i]).toBeGreaterThanOrEqual(radii[i - 1] - 0.3);
  });
});

describe('translucent ink', () => {
  const cross = handSamples(
    (u) =>
      u < 0.5
        ? [40 + 400 * u, 150]
        : u < 0.6
          ? [240, 150 - 1000 * (u - 0.5)]
          : [240 - 300 * (u - 0.6), 50 + 400 * (u - 0.6)],
    { ms: 1500, tremorPx: 0 },
  );
  const half = { ...settingsOf('fineliner'), opacity: 0.5 };
  const pen = makePen('fineliner', 12, 0, true, 1, half);

  it('does not darken where a stroke crosses itself, and builds up from stroke to stroke', () => {
    const sheet = new TestSheet();
    sheet.ink1(cross, pen);
    const once = alphaAt(sheet);
    // W3C Compositing Level 1, source-over: a + b (1 - a).
    expect([once(100, 150), once(240, 100)]).toEqual([128, 128]);
    const { data } = sheet.ink.draw('lines', 0, RECT, work)!;
    expect(Math.max(...data.filter((_, i) => i % 4 === 3))).toBe(128);
    sheet.ink1(
      handSamples((u) => [100, 60 + 160 * u], { ms: 300, tremorPx: 0 }),
      pen,
    );
    const twice = alphaAt(sheet);
    expect(Math.abs(twice(100, 150) - 255 * (0.5 + 0.5 * 0.5))).toBeLessThanOrEqual(1);
    expect([twice(100, 80), twice(60, 150)]).toEqual([128, 128]);
  });

  it('is erased wholly, and its parts stay as faint as it was', () => {
    const sheet = new TestSheet();
    sheet.ink1(
      handSamples((u) => [40 + 220 * u, 150], { ms: 400, tremorPx: 0 }),
      pen,
    );
    sheet.erase(
      handSamples((u) => [150, 100 + 100 * u], { ms: 200, tremorPx: 0 }),
      24,
    );
    const alpha = alphaAt(sheet);
    expect([alpha(80, 150), alpha(150, 150), alpha(220, 150)]).toEqual([128, 0, 128]);
    expect([...sheet.model.strokes.values()].filter((s) => !s.deleted).map((s) => s.pen.opacity)).toEqual([0.5, 0.5]);
  });

  it('is as strong in a sent SVG, drawn by @resvg/resvg-js', () => {
    const sheet = new TestSheet();
    sheet.ink1(cross, pen, '#1f3a5f');
    const paper = { widthPx: SIDE, heightPx: SIDE, ppi: 300 };
    const svg = finish(sheetSvg(sheet.model, sheet.ink, paper, { onPaper: false, title: 'Faint' }));
    const { pixels } = new Resvg(svg, { fitTo: { mode: 'width', value: SIDE } }).render();
    const alpha = alphaAt(sheet);
    for (const [x, y] of [
      [100, 150],
      [240, 100],
      [150, 20],
    ])
      expect(Math.abs(pixels[4 * (y * SIDE + x) + 3] - alpha(x, y))).toBeLessThanOrEqual(1);
  });

  it('weakens a mask by round(cover x strength / 255), and only where it is', () => {
    const mask = new CoverageMask(16, 2);
    mask.placeAt(0, 0);
    for (let x = 4; x < 12; x++) mask.data[x] = 255 - 20 * x;
    mask.rowFrom[0] = 4;
    mask.rowTo[0] = 12;
    mask.top = 0;
    mask.bottom = 1;
    const before = mask.data.slice();
    fadeMask(mask, inkStrength(0.3));
    expect(inkStrength(0.3)).toBe(77);
    mask.data.forEach((v, i) => expect(v).toBe(Math.round((before[i] * 77) / 255)));
    expect([inkStrength(), inkStrength(1), inkStrength(0.5)]).toEqual([255, 255, 128]);
  });
});
