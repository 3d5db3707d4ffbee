import { Resvg } from '@resvg/resvg-js';
import * as fc from 'fast-check';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { addInk } from '../../core/raster/add-ink';
import { CoverageMask } from '../../core/raster/coverage-mask';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { Grain } from '../../core/raster/grain';
import { directionOf, footprintOf } from '../../core/stroke/footprint';
import { makePen, PEN_KINDS, settingsOf, type PenKind, type PenSettings } from '../../core/stroke/pen';
import type { Samples } from '../../core/stroke/samples';
import { SpineBuilder } from '../../core/stroke/spine-builder';
import { spineOf } from '../../core/stroke/spine-maker';
import { spineFrom, type Spine } from '../../core/stroke/spine';
import { finish } from '../../core/sheet/ink-work';
import { exactFading, exactNib } from '../measures/nibs';
import { difference, ourCoverage } from '../measures/stroke-error';
import { HARD_SPINES, handPoints, handSamples, random } from '../measures/strokes';
import { TestSheet } from '../measures/sheets';

const RECT = { x0: 0, y0: 0, width: 64, height: 64 };
const SIDE = 300;
const PAGE = { x0: 0, y0: 0, width: SIDE, height: SIDE };
const work = new RasterWorkspace(SIDE, SIDE);

const penOf = (kind: PenKind, size: number, own: Partial<PenSettings> = {}) =>
  makePen(kind, size, 20, true, 1, { ...settingsOf(kind), ...own });

/** Samples held as a pen lies, by the part of the way. */
function held(samples: Samples, lean: (u: number) => readonly [altitude: number, azimuth: number]): Samples {
  for (let i = 0; i < samples.count; i++) [samples.altitude[i], samples.azimuth[i]] = lean(i / (samples.count - 1));
  return samples;
}

const straight = (x0: number, y0: number, x1: number, y1: number, pressure = () => 0.9) =>
  handSamples((u) => [x0 + (x1 - x0) * u, y0 + (y1 - y0) * u], { ms: 500, tremorPx: 0, pressure, tilt: false });

/** Ink along a line of pixels through the middle of a stroke: how wide it is. */
function widthAcross(spine: Spine, x: number, y: number, dx: number, dy: number): number {
  const mask = new CoverageMask(SIDE, SIDE);
  addInk(mask, spine, 1);
  let sum = 0;
  for (let t = -60; t <= 60; t += 0.25)
    sum += mask.data[Math.floor(y + t * dy) * SIDE + Math.floor(x + t * dx)] / 255 / 4;
  return sum;
}

describe('a flat nib, against the oval put down at every sixth of a px', () => {
  it.each([
    [0.2, false],
    [0.2, true],
    [0.5, false],
    [0.5, true],
  ])('covers what it sweeps over: thickness %f, turning %s', (flat, turns) => {
    const rnd = random(4);
    const found = Array.from({ length: 6 }, (_, i) => {
      const angle = rnd() * 6.28;
      const [c, s, sway] = [Math.cos(angle), Math.sin(angle), rnd() * 20];
      const path = (u: number) => {
        const [along, aside] = [44 * (u - 0.5), sway * (Math.sin(u * 5) - 0.5)];
        return [32 + c * along - s * aside, 32 + s * along + c * aside] as const;
      };
      const samples = held(handSamples(path, { ms: 400, seed: i + 1, tremorPx: 0.2 }), (u) => [50, Math.round(90 * u)]);
      const nibDeg = Math.floor(rnd() * 180);
      const spine = spineOf(samples, penOf('marker', 4 + rnd() * 10, { flat, nibDeg, turns }), 0.1);
      return difference(ourCoverage(spine, RECT), exactNib(spine, RECT));
    });
    expect(found.reduce((sum, d) => sum + d.mean, 0) / found.length).toBeLessThanOrEqual(turns ? 0.035 : 0.025);
    // A thin nib's tips, and edges that meet within a pixel: some pixels a stroke.
    expect(found.reduce((sum, d) => sum + d.far, 0) / found.length).toBeLessThanOrEqual(turns ? 5 : 2);
  });

  it.each(Object.entries(HARD_SPINES))('has no hole and nothing extra: %s', (_name, { data, count }) => {
    const spine = spineFrom(Array.from({ length: count }, (_, i) => [data[3 * i], data[3 * i + 1], data[3 * i + 2]]));
    spine.footprint = footprintOf(penOf('marker', 8, { flat: 0.5, nibDeg: 150 }));
    const found = ourCoverage(spine, RECT);
    const exact = exactNib(spine, RECT);
    // Two edges that meet within a pixel cover a half of it each.
    const holes = exact.filter((e, i) => e === 1 && found[i] < 0.45);
    const extras = exact.filter((e, i) => e === 0 && found[i] > 0.2);
    expect([holes.length, extras.length]).toEqual([0, 0]);
  });

  it.each([
    ['a long way', [0, 24]],
    ['points closer than a pixel at both ends', [0, 0.3, 0.6, 0.9, 12, 23.1, 23.4, 23.7, 24]],
    ['a dot', [0]],
  ])('ends in the tips of its oval: %s', (_, ways) => {
    for (const flat of [0.2, 0.4])
      for (const nibDeg of [0, 20, 45, 110]) {
        // Along the thin side too, where the tip is all that ends the line.
        const [ux, uy] = directionOf(nibDeg + 15);
        const spine = spineFrom(ways.map((way) => [20.3 + way * ux, 20.6 + way * uy, 5]));
        spine.footprint = footprintOf(penOf('marker', 10, { flat, nibDeg }));
        expect(difference(ourCoverage(spine, RECT), exactNib(spine, RECT)).largest).toBeLessThanOrEqual(0.15);
      }
  });

  it('is as wide as its oval is across the way', () => {
    for (const deg of [0, 30, 45, 90, 135]) {
      const [ux, uy] = directionOf(deg);
      const spine = spineOf(
        straight(150 - 90 * ux, 150 - 90 * uy, 150 + 90 * ux, 150 + 90 * uy),
        penOf('marker', 30, { flat: 0.3, nibDeg: 0 }),
        0.1,
      );
      // The width of an ellipse across a direction: 2 sqrt(a^2 n_x^2 + b^2 n_y^2), n its normal (textbook geometry).
      const expected = 30 * Math.hypot(uy, 0.3 * ux);
      expect(Math.abs(widthAcross(spine, 150.3, 150.3, -uy, ux) - expected)).toBeLessThanOrEqual(0.6);
    }
  });

  it('turns across a tilted pen, and keeps its angle where the pen stands upright', () => {
    const across = (lean: readonly [number, number]) => {
      const samples = held(straight(40, 150, 260, 150), () => lean);
      const spine = spineOf(samples, penOf('marker', 30, { flat: 0.2, nibDeg: 0, turns: true }), 0.1);
      return widthAcross(spine, 150.3, 150.3, 0, 1);
    };
    expect(across([45, 90])).toBeCloseTo(6, 0);
    expect(across([45, 0])).toBeCloseTo(30, 0);
    expect(across([90, 0])).toBeCloseTo(6, 0);
  });

  it('goes with its stroke when that is turned', () => {
    const sheet = new TestSheet();
    const id = sheet.ink1(straight(60, 150, 240, 150), penOf('marker', 30, { flat: 0.2, nibDeg: 0 }));
    const dark = () => sheet.ink.draw('lines', 0, PAGE, work)!.data.filter((v, i) => i % 4 === 3 && v === 255).length;
    const before = dark();
    // A quarter turn about the middle.
    sheet.set(id, 'matrix', [0, 1, -1, 0, 300, 0]);
    expect(Math.abs(dark() - before) / before).toBeLessThan(0.05);
  });
});

describe('nibs that fade, against the most that any of their discs leaves', () => {
  const PENS = [
    ['wash', penOf('wash', 8, { soft: 0.5 })],
    ['pencil, its grain left out', penOf('pencil', 8, { grain: 0.001, soft: 0.3 })],
  ] as const;
  const found = PENS.flatMap(([name, pen]) =>
    Object.entries(HARD_SPINES).map(([hard, spine]) => [name, hard, pen, spine] as const),
  );
  it.each(found)('%s: %s', (_name, _hard, pen, { data, count }) => {
    const spine = spineFrom(Array.from({ length: count }, (_, i) => [data[3 * i], data[3 * i + 1], data[3 * i + 2]]));
    spine.footprint = { ...footprintOf(pen)!, grain: 0 };
    const own = new Float64Array(3 * count);
    for (let i = 0; i < count; i++) own.set([0.6 + (0.4 * i) / count, 1, 0], 3 * i);
    spine.own = own;
    const ours = ourCoverage(spine, RECT);
    const exact = exactFading(spine, RECT);
    const off = exact.map((e, i) => Math.abs(e - ours[i]));
    const inked = exact.filter((e) => e > 0).length;
    expect(off.reduce((sum, d) => sum + d, 0) / inked).toBeLessThanOrEqual(0.035);
    expect(Math.max(...off)).toBeLessThanOrEqual(0.14);
  });
});

describe('a soft edge', () => {
  const wash = penOf('wash', 60, { soft: 0.5, opacity: 1, smallest: 1 });

  it('fades from half of the radius outwards, by a smooth step', () => {
    const spine = spineOf(straight(40, 150, 260, 150), wash, 0.1);
    const mask = new CoverageMask(SIDE, SIDE);
    addInk(mask, spine, 1);
    for (let d = 0; d < 34; d++) {
      const f = Math.min(1, Math.max(0, (30 - d) / 15));
      expect(Math.abs(mask.data[(150 + d) * SIDE + 150] / 255 - f * f * (3 - 2 * f))).toBeLessThanOrEqual(0.06);
    }
  });

  it('does not darken where its stroke crosses itself, and builds up from stroke to stroke', () => {
    const sheet = new TestSheet();
    const pen = penOf('wash', 40, { opacity: 0.4 });
    sheet.ink1(
      handSamples((u) => [150 + 90 * Math.sin(u * 12.6), 150 + 90 * Math.sin(u * 6.3)], { ms: 1500, tremorPx: 0 }),
      pen,
    );
    const most = () => Math.max(...sheet.ink.draw('lines', 0, PAGE, work)!.data.filter((_, i) => i % 4 === 3));
    expect(most()).toBe(102);
    sheet.ink1(straight(40, 150, 260, 150), pen);
    // W3C Compositing Level 1, source-over: a + b (1 - a).
    expect(Math.abs(most() - 255 * (0.4 + 0.4 * 0.6))).toBeLessThanOrEqual(1);
  });
});

describe('a pencil', () => {
  it('is wider and paler where it lies down', () => {
    const inkOf = (altitude: number) => {
      const samples = held(straight(40, 150, 260, 150), () => [altitude, 45]);
      const spine = spineOf(samples, penOf('pencil', 12, { taperIn: 0, taperOut: 0 }), 0.1);
      const middle = spine.count >> 1;
      return { r: spine.data[3 * middle + 2], strength: spine.own![3 * middle] };
    };
    const [upright, lying, flat] = [inkOf(90), inkOf(40), inkOf(15)];
    expect(lying.r).toBeGreaterThan(1.5 * upright.r);
    expect(flat.r).toBeGreaterThan(lying.r);
    expect(lying.strength).toBeLessThan(upright.strength);
    expect(flat.strength).toBeLessThan(lying.strength);
  });

  it('is as dark as it is pressed', () => {
    const strength = (pressure: number) => {
      const spine = spineOf(
        straight(40, 150, 260, 150, () => pressure),
        penOf('pencil', 12),
        0.1,
      );
      return spine.own![3 * (spine.count >> 1)];
    };
    expect(strength(0.9)).toBeCloseTo(1, 1);
    expect(strength(0.5)).toBeLessThan(0.8);
    expect(strength(0.1)).toBeLessThan(0.5);
  });
});

describe("the paper's grain", () => {
  const area = (scale: number, ink: number, side: number, x0 = 0, y0 = 0) => {
    const grain = new Grain(scale, 1);
    const out = new Float64Array(side * side);
    for (let y = 0; y < side; y++) {
      const row = grain.row(y0 + y);
      for (let x = 0; x < side; x++) out[y * side + x] = row(ink, x0 + x) / 255;
    }
    return out;
  };
  const mean = (values: Float64Array) => values.reduce((sum, v) => sum + v, 0) / values.length;

  it('leaves ink as dark on average as it was, at every scale, and full ink and none as they are', () => {
    for (const scale of [4, 1, 0.5, 0.25, 1 / 64])
      for (const ink of [30, 80, 128, 200, 240])
        expect(Math.abs(mean(area(scale, ink, 256)) - ink / 255)).toBeLessThanOrEqual(0.05);
    for (const scale of [4, 1, 0.25]) {
      expect(Math.min(...area(scale, 255, 64))).toBe(1);
      expect(Math.max(...area(scale, 0, 64))).toBe(0);
    }
  });

  it('lies on the paper: what four px show is what one px of half the scale shows', () => {
    for (const [fine, coarse] of [
      [1, 0.5],
      [0.5, 0.25],
      [2, 1],
    ]) {
      const side = 128;
      const large = area(fine, 140, 2 * side, 2 * 40, 2 * 24);
      const small = area(coarse, 140, side, 40, 24);
      const averaged = small.map((_, i) => {
        const at = 2 * (Math.floor(i / side) * 2 * side + (i % side));
        return (large[at] + large[at + 1] + large[at + 2 * side] + large[at + 2 * side + 1]) / 4;
      });
      expect(correlation(averaged, small)).toBeGreaterThan(0.9);
      expect(mean(averaged.map((v, i) => Math.abs(v - small[i])))).toBeLessThanOrEqual(0.1);
    }
  });

  it('is the same wherever a mask begins, left of the paper and after its period', () => {
    const whole = area(1, 120, 96, -32, -32);
    const part = area(1, 120, 32, 0, 0);
    part.forEach((v, i) => expect(v).toBe(whole[(32 + Math.floor(i / 32)) * 96 + 32 + (i % 32)]));
    expect(area(1, 120, 32, 512, 1024)).toEqual(part);
  });

  function correlation(a: Float64Array, b: Float64Array): number {
    const [ma, mb] = [mean(a), mean(b)];
    let [ab, aa, bb] = [0, 0, 0];
    a.forEach((v, i) => {
      ab += (v - ma) * (b[i] - mb);
      aa += (v - ma) ** 2;
      bb += (b[i] - mb) ** 2;
    });
    return ab / Math.sqrt(aa * bb);
  }
});

describe('every pen', () => {
  const wave = held(
    handSamples((u) => [30 + 240 * u, 150 + 70 * Math.sin(u * 9)], { ms: 900 }),
    (u) => [30 + 40 * u, Math.round(300 * u)],
  );
  const pens = PEN_KINDS.map((kind) => [kind, penOf(kind, 16, { turns: kind === 'marker' })] as const);

  it.each(pens)('covers the same, to the bit, in pieces as whole: %s', (_kind, pen) => {
    const spine = spineOf(wave, pen, 0.1);
    const whole = new CoverageMask(SIDE, SIDE);
    addInk(whole, spine, 1);
    for (const [x0, y0, w, h] of [
      [0, 0, 100, 300],
      [100, 0, 77, 141],
      [100, 141, 200, 159],
      [177, 0, 123, 141],
    ]) {
      const piece = new CoverageMask(w, h);
      piece.placeAt(x0, y0);
      addInk(piece, spine, 1);
      for (let y = 0; y < h; y++)
        expect(
          Buffer.from(piece.data.subarray(y * w, (y + 1) * w)).equals(
            Buffer.from(whole.data.subarray((y0 + y) * SIDE + x0, (y0 + y) * SIDE + x0 + w)),
          ),
        ).toBe(true);
    }
  });

  it.each(pens)('never changes what has settled, and ends as its tail said: %s', (_kind, pen) => {
    const builder = new SpineBuilder(pen, 0.1);
    let before: [number, Float64Array, Float64Array | undefined] = [0, new Float64Array(), undefined];
    for (const p of handPoints(wave)) {
      builder.push(p.x, p.y, p.tMs, p.pressure, p.altitudeDeg, p.azimuthDeg);
      builder.settle();
      const { data, own, count } = builder.spine;
      const [known, places, ownBefore] = before;
      expect(data.subarray(0, 3 * known)).toEqual(places.subarray(0, 3 * known));
      if (own && ownBefore) expect(own.subarray(0, 3 * known)).toEqual(ownBefore.subarray(0, 3 * known));
      before = [count, data.slice(), own?.slice()];
    }
    const done = spineOf(wave, pen, 0.1);
    for (let i = 0; i < builder.spine.count; i++)
      for (let k = 0; k < 3; k++) {
        expect(done.data[3 * i + k]).toBe(builder.spine.data[3 * i + k]);
        if (done.own) expect(done.own[3 * i + k]).toBe(builder.spine.own![3 * i + k]);
      }
  });

  it('stays within its box, is never NaN and never empty, whatever hand and settings', () => {
    const unit = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.constantFrom(...PEN_KINDS),
        fc.record({ soft: unit, grain: unit, flat: unit, smallest: unit, speed: unit, turns: fc.boolean() }),
        fc.record({
          tapersBy: fc.constantFrom('size' as const, 'length' as const),
          taperInPart: unit,
          taperOutPart: unit,
        }),
        fc.array(
          fc.tuple(
            fc.integer({ min: 20, max: 280 }),
            fc.integer({ min: 20, max: 280 }),
            unit,
            fc.integer({ min: 0, max: 90 }),
            fc.integer({ min: 0, max: 359 }),
          ),
          { minLength: 1, maxLength: 12 },
        ),
        (kind, own, tapers, points) => {
          const builder = new SpineBuilder(penOf(kind, 12, { ...own, ...tapers }), 0.1);
          points.forEach(([x, y, p, altitude, azimuth], i) => builder.push(x, y, 8 * i, p, altitude, azimuth));
          const tail = spineFrom([]);
          builder.tail(tail);
          expect(tail.count).toBeGreaterThan(0);
          const values = [...tail.data.subarray(0, 3 * tail.count), ...(tail.own?.subarray(0, 3 * tail.count) ?? [])];
          expect(values.every(Number.isFinite)).toBe(true);
          const mask = new CoverageMask(SIDE, SIDE);
          addInk(mask, tail, 1);
          for (let j = mask.top; j < mask.bottom; j++) {
            const row = mask.data.subarray(j * SIDE, (j + 1) * SIDE);
            expect(row.findIndex((v) => v > 0)).toBeGreaterThanOrEqual(
              Math.min(
                mask.rowFrom[j],
                row.findIndex((v) => v > 0),
              ),
            );
            expect(row.subarray(Math.max(0, mask.rowTo[j])).some((v) => v > 0)).toBe(false);
          }
        },
      ),
      { numRuns: 150 },
    );
  });

  it.each(pens)('is in an SVG, drawn by @resvg/resvg-js, what it is on the screen: %s', (kind, pen) => {
    const sheet = new TestSheet();
    sheet.ink1(wave, pen);
    sheet.ink1(straight(40, 60, 260, 90), pen, '#1f3a5f');
    sheet.erase(straight(150, 20, 150, 280), 12);
    const paper = { widthPx: SIDE, heightPx: SIDE, ppi: 300 };
    const svg = finish(sheetSvg(sheet.model, sheet.ink, paper, { onPaper: false, title: 'Pens' }));
    expect(svg.includes('<image')).toBe(pen.soft !== undefined);
    const { pixels } = new Resvg(svg, { fitTo: { mode: 'width', value: SIDE } }).render();
    const ours = sheet.ink.draw('lines', 0, PAGE, work)!.data;
    const alpha = (data: ArrayLike<number>) =>
      Float64Array.from({ length: SIDE * SIDE }, (_, i) => data[4 * i + 3] / 255);
    const found = difference(alpha(pixels), alpha(ours));
    expect(found.mean).toBeLessThanOrEqual(0.035);
    expect(found.far).toBeLessThanOrEqual(kind === 'marker' ? 16 : 4);
  });
});

describe('tapers by the length of the line', () => {
  const radii = (length: number, own: Partial<PenSettings>) => {
    const pen = penOf('fineliner', 10, { tapersBy: 'length', ...own });
    const { data, count } = spineOf(straight(10, 10, 10 + length, 10), pen, 0.02);
    return (part: number) => {
      const x = 10 + part * length;
      let i = 0;
      while (i + 2 < count && data[3 * i + 3] < x) i++;
      const u = (x - data[3 * i]) / (data[3 * i + 3] - data[3 * i]);
      return data[3 * i + 2] + u * (data[3 * i + 5] - data[3 * i + 2]);
    };
  };

  it('go from thin to full over that part of any line, at the start only, at the end only, or both', () => {
    for (const length of [120, 240, 600]) {
      const start = radii(length, { taperInPart: 0.5 });
      expect(start(0.25)).toBeCloseTo(5 * 0.75, 1);
      expect([start(0.55), start(1)].map((r) => Math.round(10 * r))).toEqual([50, 50]);
      const end = radii(length, { taperOutPart: 0.25 });
      expect(end(0.875)).toBeCloseTo(5 * 0.75, 1);
      expect(end(0.1)).toBeCloseTo(5, 2);
    }
  });

  it('are parts of a thousand CSS px of a longer one, so that its beginning settles', () => {
    const long = radii(4000, { taperInPart: 0.5 });
    expect(long(250 / 4000)).toBeCloseTo(5 * 0.75, 1);
    expect(long(520 / 4000)).toBeCloseTo(5, 2);
    const builder = new SpineBuilder(
      penOf('fineliner', 10, { tapersBy: 'length', taperInPart: 0.5, taperOutPart: 0.1 }),
      0.1,
    );
    for (const p of handPoints(straight(0, 0, 4000, 0))) builder.push(p.x, p.y, p.tMs, p.pressure);
    builder.settle();
    expect(builder.spine.data[3 * (builder.spine.count - 1)]).toBeGreaterThan(3000);
  });
});

describe("speed's say", () => {
  const middle = (pxPerMs: number, own: Partial<PenSettings>, hasPressure: boolean) => {
    const samples = handSamples((u) => [20 + 260 * u, 100], { ms: 260 / pxPerMs, tremorPx: 0, pressure: () => 0.9 });
    const settings = { ...settingsOf('dip'), taperIn: 0, taperOut: 0, smallest: 0, ...own };
    const { data, count } = spineOf(samples, makePen('dip', 10, 0, hasPressure, 1, settings), 0.05);
    return 2 * data[3 * (count >> 1) + 2];
  };

  it('thins a fast line beside pressure, as far as it is asked', () => {
    expect(middle(0.6, {}, true)).toBeCloseTo(10, 0);
    expect(middle(0.6, { speed: 0.5 }, true)).toBeCloseTo(5, 1);
    expect(middle(0.6, { speed: 1 }, true)).toBeCloseTo(0, 1);
    expect(middle(0.05, { speed: 1 }, true)).toBeCloseTo(10, 0);
  });

  it('is all there is without pressure, and can be less', () => {
    expect(middle(0.6, {}, false)).toBeCloseTo(0, 1);
    expect(middle(0.6, { handSpeed: 0.3 }, false)).toBeCloseTo(7, 1);
    expect(middle(0.6, { handSpeed: 0 }, false)).toBeCloseTo(10, 1);
  });
});
