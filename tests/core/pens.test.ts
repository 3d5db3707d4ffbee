import { Resvg } from '@resvg/resvg-js';
import * as fc from 'fast-check';
import { pen as penShape } from '../../contract/entities';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { fadeMask, inkStrength } from '../../core/raster/compose';
import { CoverageMask } from '../../core/raster/coverage-mask';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { finish } from '../../core/sheet/ink-work';
import { LEAST_OPACITY, makePen, PEN_KINDS, settingsOf } from '../../core/stroke/pen';
import {
  EVEN_PRESSURE,
  LEAST_MIDDLE,
  LEAST_SPAN,
  openingAt,
  type PressureCurve,
} from '../../core/stroke/pressure-curve';
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
    for (const wrong of [
      { press: { light: 0.5, firm: 0.5, middle: 0.5 } },
      { press: { light: 0, firm: 1 } },
      { opacity: 0 },
      { opacity: 1.01 },
      { opacity: NaN },
      { kind: 'quill' },
    ])
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

describe('the pressure curve', () => {
  const curves = fc
    .record({
      light: fc.double({ min: 0, max: 0.8, noNaN: true }),
      span: fc.double({ min: LEAST_SPAN, max: 1, noNaN: true }),
      middle: fc.double({ min: LEAST_MIDDLE, max: 1 - LEAST_MIDDLE, noNaN: true }),
    })
    .map(({ light, span, middle }) => ({ light, firm: Math.min(1, light + span), middle }));

  it('goes through its three points, never falls and never leaves its range', () => {
    fc.assert(
      fc.property(curves, (curve) => {
        const { light, firm, middle } = curve;
        expect([openingAt(light, curve), openingAt(firm, curve)]).toEqual([0, 1]);
        expect(openingAt((light + firm) / 2, curve)).toBeCloseTo(middle, 9);
        let before = 0;
        for (let i = 0; i <= 200; i++) {
          const now = openingAt(i / 200, curve);
          expect(now).toBeGreaterThanOrEqual(before - 1e-12);
          expect(now).toBeLessThanOrEqual(1);
          before = now;
        }
      }),
    );
  });

  it('has no corner in its middle, and keeps to the slopes that Fritsch and Carlson allow: at most three chords', () => {
    fc.assert(
      fc.property(curves, (curve) => {
        const { light, firm, middle } = curve;
        const at = (u: number) => openingAt(light + u * (firm - light), curve);
        const slope = (u: number) => (at(u + 1e-5) - at(u - 1e-5)) / 2e-5;
        expect(slope(0.5 - 1e-4)).toBeCloseTo(slope(0.5 + 1e-4), 1);
        const steepest = Math.max(...Array.from({ length: 99 }, (_, i) => slope((i + 1) / 100)));
        expect(steepest).toBeLessThanOrEqual(3 * Math.max(2 * middle, 2 * (1 - middle)));
      }),
    );
  });

  it('is even for a pen as it comes, and is then left out of the stroke', () => {
    for (let p = 0; p <= 1; p += 0.01)
      expect(openingAt(p, EVEN_PRESSURE)).toBe(Math.min(1, Math.max(0, (p - 0.1) / (0.9 - 0.1))));
    expect(openingAt(NaN, EVEN_PRESSURE)).toBe(0);
    expect(makePen('dip', 8, 0, true, 1)).not.toHaveProperty('press');
    const press = { light: 0.3, firm: 0.6, middle: 0.2 };
    expect(makePen('dip', 8, 0, true, 1, { ...settingsOf('dip'), press })).toMatchObject({ press });
    expect(makePen('fineliner', 8, 0, true, 1, { ...settingsOf('fineliner'), press })).not.toHaveProperty('press');
  });

  it('makes the width of the line, wet and set', () => {
    const samples = handSamples((u) => [20 + 260 * u, 150], { ms: 900, tremorPx: 0, pressure: () => 0.45 });
    const settings = { ...settingsOf('dip'), smallest: 0, taperIn: 0, taperOut: 0 };
    const widthWith = (press: PressureCurve) => {
      const { data, count } = spineOf(samples, makePen('dip', 40, 0, true, 1, { ...settings, press }), 0.05);
      return 2 * data[3 * (count >> 1) + 2];
    };
    expect(widthWith({ light: 0.5, firm: 0.9, middle: 0.5 })).toBe(0);
    expect(widthWith({ light: 0, firm: 0.4, middle: 0.5 })).toBe(40);
    // Half way between light and firm: the middle says how wide.
    expect(widthWith({ light: 0, firm: 0.9, middle: 0.25 })).toBeCloseTo(10, 0);
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
