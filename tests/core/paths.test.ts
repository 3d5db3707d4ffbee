import { createCanvas } from '@napi-rs/canvas';
import { Resvg } from '@resvg/resvg-js';
import { Bezier } from 'bezier-js';
import * as fc from 'fast-check';
import { pen as penShape } from '../../contract/entities';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { addFill } from '../../core/raster/add-fill';
import { addInk } from '../../core/raster/add-ink';
import { pourMask } from '../../core/raster/compose';
import { CoverageMask } from '../../core/raster/coverage-mask';
import { drawStroke, RasterWorkspace } from '../../core/raster/draw-stroke';
import { makePixels } from '../../core/raster/pixels';
import { finish } from '../../core/sheet/ink-work';
import { linesNear } from '../../core/sheet/lines-near';
import { snipsAlong } from '../../core/sheet/snipping';
import { decodeSamples, MAX_SAMPLES } from '../../core/stroke/codec';
import { boxPath, ovalPath } from '../../core/stroke/forms';
import { encodePath } from '../../core/stroke/pack-path';
import { decodePath, flattened, isPath, type PathNode, type StrokePath } from '../../core/stroke/path';
import { ENGINE, makePen, type Fill, type Pen } from '../../core/stroke/pen';
import { restyled } from '../../core/stroke/restyle';
import { emptySamples } from '../../core/stroke/samples';
import { spineFrom, type Spine } from '../../core/stroke/spine';
import { SpineMaker } from '../../core/stroke/spine-maker';
import { nonzeroFill } from '../measures/stroke-error';
import { handSamples, random } from '../measures/strokes';
import { TestSheet } from '../measures/sheets';

const SIDE = 300;
const work = new RasterWorkspace(SIDE, SIDE);
const fine = (sizePx: number, fill?: Fill): Pen => ({
  ...makePen('fineliner', sizePx, 0, false, 1),
  ...(fill ? { fill } : {}),
});
const alphaOf = ({ ink }: TestSheet): Uint8Array => {
  const pixels = ink.draw('lines', 0, makePixels(0, 0, SIDE, SIDE), work);
  return Uint8Array.from({ length: SIDE * SIDE }, (_, i) => pixels?.data[4 * i + 3] ?? 0);
};
const at = (alpha: Uint8Array, x: number, y: number): number => alpha[Math.round(y) * SIDE + Math.round(x)];
const spineOf = (path: StrokePath, pen: Pen, tolerance = 0.1): Spine =>
  new SpineMaker().ofBytes(encodePath(path), pen, ENGINE, tolerance);

/** A path of nodes and handles by chance. */
function wander(rnd: () => number, n: number, closed = false): StrokePath {
  const kinds = ['corner', 'smooth', 'auto'] as const;
  const nodes = Array.from({ length: n }, (): PathNode => ({
    x: 300 * rnd(),
    y: 300 * rnd(),
    kind: kinds[Math.floor(3 * rnd())],
    inX: 80 * (rnd() - 0.5),
    inY: 80 * (rnd() - 0.5),
    outX: 80 * (rnd() - 0.5),
    outY: 80 * (rnd() - 0.5),
    width: rnd(),
  }));
  return { closed, nodes };
}

/** From a place to the nearest of straight pieces between others. */
function distanceTo(places: readonly { x: number; y: number }[], x: number, y: number): number {
  let least = Infinity;
  for (let i = 0; i + 1 < places.length; i++) {
    const [a, b] = [places[i], places[i + 1]];
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const sq = dx * dx + dy * dy;
    const u = sq ? Math.min(1, Math.max(0, ((x - a.x) * dx + (y - a.y) * dy) / sq)) : 0;
    least = Math.min(least, Math.hypot(x - a.x - u * dx, y - a.y - u * dy));
  }
  return least;
}

describe('packed paths', () => {
  it('come back to 1/64 px, and are no samples (property)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1e6 }),
        fc.integer({ min: 1, max: 40 }),
        fc.boolean(),
        (seed, n, closed) => {
          const path = wander(random(seed), n, closed);
          const bytes = encodePath(path);
          expect(isPath(bytes)).toBe(true);
          const read = decodePath(bytes);
          expect([read.closed, read.nodes.map((one) => one.kind)]).toEqual([closed, path.nodes.map((one) => one.kind)]);
          read.nodes.forEach((one, i) => {
            for (const name of ['x', 'y', 'inX', 'inY', 'outX', 'outY'] as const)
              expect(Math.abs(one[name] - path.nodes[i][name])).toBeLessThanOrEqual(1 / 128 + 1e-9);
            expect(Math.abs(one.width - path.nodes[i].width)).toBeLessThan(1 / 1023);
          });
          // What was read is what is written again.
          expect(encodePath(read)).toEqual(bytes);
        },
      ),
      { numRuns: 60, seed: 1 },
    );
  });

  it('that are none throw what spoilt samples throw, whatever the bytes (property)', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => {
        try {
          decodeSamples(Uint8Array.of(2, ...bytes));
        } catch (error) {
          expect(error).toBeInstanceOf(RangeError);
        }
      }),
      { numRuns: 300, seed: 2 },
    );
    expect(() => encodePath({ closed: false, nodes: [] })).toThrow(RangeError);
    // However many nodes, and however far apart, they are no more samples than a stroke may have; none lies beyond every paper.
    const far = wander(random(4), 4096);
    far.nodes.forEach((one, i) => (one.x = i % 2 ? 9e5 : 0));
    expect(decodeSamples(encodePath(far)).count).toBeLessThanOrEqual(MAX_SAMPLES);
    far.nodes[7].x = 2e7;
    expect(() => decodeSamples(encodePath(far))).toThrow(RangeError);
  });
});

describe('the way of a path', () => {
  it('lies within the tolerance of its cubic curves (bezier-js)', () => {
    for (let seed = 1; seed <= 25; seed++) {
      const path = decodePath(encodePath(wander(random(seed), 5, seed % 2 === 0)));
      const curves = path.nodes.flatMap((a, i) => {
        const b = path.nodes[i + 1] ?? (path.closed ? path.nodes[0] : undefined);
        return b ? [new Bezier(a.x, a.y, a.x + a.outX, a.y + a.outY, b.x + b.inX, b.y + b.inY, b.x, b.y)] : [];
      });
      const { data, count } = spineOf(path, fine(4));
      // Its own nearest places are worked out too roughly: close chords of its curves are not.
      const chords = curves.map((curve) => Array.from({ length: 401 }, (_, n) => curve.get(n / 400)));
      const near = (x: number, y: number) => Math.min(...chords.map((places) => distanceTo(places, x, y)));
      for (let i = 0; i + 1 < count; i++) {
        const a = 3 * i;
        expect(near(data[a], data[a + 1])).toBeLessThan(0.1);
        // Between two points the spine may leave it by its tolerance.
        expect(near((data[a] + data[a + 3]) / 2, (data[a + 1] + data[a + 4]) / 2)).toBeLessThan(0.15);
      }
    }
  });

  it('is as wide as its nodes say, and tapers as the pen does where it has ends', () => {
    const nodes = [60, 240].map((x, i): PathNode => ({
      ...{ x, y: 150, kind: 'corner', inX: 0, inY: 0, outX: 0, outY: 0 },
      width: i ? 1 : 0.5,
    }));
    const { data, count } = spineOf({ closed: false, nodes }, fine(20));
    expect([data[2], data[3 * count - 1]]).toEqual([expect.closeTo(5, 1), expect.closeTo(10, 1)]);
    const tapered = spineOf({ closed: false, nodes }, makePen('brush', 20, 60, true, 1));
    expect(tapered.data[2]).toBeLessThan(0.5);
    expect(tapered.data[3 * tapered.count - 1]).toBeLessThan(0.5);
    // A closed one has none.
    const ring = spineOf(ovalPath({ x: 50, y: 50 }, { x: 250, y: 250 }, false), makePen('brush', 20, 60, true, 1));
    expect(Math.min(...ring.data.subarray(0, 3 * ring.count).filter((_, i) => i % 3 === 2))).toBeCloseTo(10, 1);
  });
});

describe('forms', () => {
  it('an oval is one to 0.03 % of its radius, a box has its corners, and even ones have even sides', () => {
    const [rx, ry] = [120, 70];
    const samples = flattened(ovalPath({ x: 20, y: 40 }, { x: 20 + 2 * rx, y: 40 + 2 * ry }, false), emptySamples());
    for (let i = 0; i < samples.count; i++) {
      const [dx, dy] = [(samples.x[i] / 64 - 20 - rx) / rx, (samples.y[i] / 64 - 40 - ry) / ry];
      expect(Math.abs(Math.hypot(dx, dy) - 1)).toBeLessThan(0.0003 + 1 / 64 / ry);
    }
    expect(boxPath({ x: 10, y: 20 }, { x: 90, y: 50 }, false).nodes.map(({ x, y }) => [x, y])).toEqual([
      [10, 20],
      [90, 20],
      [90, 50],
      [10, 50],
    ]);
    const even = boxPath({ x: 100, y: 100 }, { x: 20, y: 130 }, true).nodes;
    expect([even[2].x, even[2].y]).toEqual([20, 180]);
  });

  it('a box of a line is sharp inside, round outside, whole at its corners', () => {
    const sheet = new TestSheet();
    sheet.path(boxPath({ x: 50, y: 60 }, { x: 250, y: 240 }, false), fine(10));
    const alpha = alphaOf(sheet);
    for (const [x, y] of [
      [50, 60],
      [250, 60],
      [250, 240],
      [50, 240],
      [150, 60],
    ])
      expect(at(alpha, x, y)).toBe(255);
    expect(at(alpha, 56, 66)).toBe(0);
    expect(at(alpha, 150, 150)).toBe(0);
    expect(at(alpha, 45, 55)).toBeLessThan(60);
  });
});

describe('fills', () => {
  const coverage = (spine: Spine, size: number): Float64Array => {
    const mask = new CoverageMask(size, size);
    mask.placeAt(0, 0);
    addFill(mask, spine, 1);
    return Float64Array.from(mask.data, (v) => v / 255);
  };

  it('cover what a nonzero fill covers: mean 0.01, largest 0.1 (8 x 8 supersampling, and @napi-rs/canvas)', () => {
    const size = 64;
    for (let seed = 1; seed <= 20; seed++) {
      const rnd = random(seed);
      const places = Array.from({ length: 3 + Math.floor(6 * rnd()) }, () => [64 * rnd(), 64 * rnd(), 1] as const);
      const spine = spineFrom(places);
      const ours = coverage(spine, size);
      const xy = Float64Array.from(places.flatMap(([x, y]) => [x, y]));
      const exact = nonzeroFill({ xy, ends: [places.length] }, { x0: 0, y0: 0, width: size, height: size });
      const ctx = createCanvas(size, size).getContext('2d');
      places.forEach(([x, y], i) => (i ? ctx.lineTo(x, y) : ctx.moveTo(x, y)));
      ctx.fill('nonzero');
      const theirs = ctx.getImageData(0, 0, size, size).data;
      let [sum, largest, sumOfTheirs] = [0, 0, 0];
      for (let i = 0; i < ours.length; i++) {
        sum += Math.abs(ours[i] - exact[i]);
        largest = Math.max(largest, Math.abs(ours[i] - exact[i]));
        sumOfTheirs += Math.abs(ours[i] - theirs[4 * i + 3] / 255);
      }
      expect(sum / ours.length).toBeLessThan(0.01);
      expect(sumOfTheirs / ours.length).toBeLessThan(0.01);
      // Where edges cross within a pixel 8 x 8 samples tell little.
      expect(largest).toBeLessThan(0.13);
    }
  });

  it('are the same in pieces as in one, to the bit', () => {
    const rnd = random(3);
    const spine = spineFrom(Array.from({ length: 30 }, () => [120 * rnd() - 10, 120 * rnd() - 10, 1] as const));
    const whole = new CoverageMask(100, 100);
    whole.placeAt(0, 0);
    addFill(whole, spine, 1);
    for (const [x0, y0] of [
      [0, 0],
      [37, 0],
      [13, 50],
      [50, 37],
    ]) {
      const piece = new CoverageMask(50, 50);
      piece.placeAt(x0, y0);
      addFill(piece, spine, 1);
      for (let y = 0; y < 50; y++)
        for (let x = 0; x < 50; x++)
          if (piece.data[50 * y + x] !== whole.data[100 * (y0 + y) + x0 + x])
            throw new Error(`${x},${y} of the piece at ${x0},${y0}`);
    }
  });

  it('drawn run by run are what their masks are, to the bit, on whatever lies there (property)', () => {
    const place = fc.tuple(fc.integer({ min: -30, max: 100 }), fc.integer({ min: -30, max: 100 }));
    fc.assert(
      fc.property(
        fc.array(place, { minLength: 3, maxLength: 9 }),
        fc.constantFrom('with', 'alone'),
        fc.nat(),
        (places, fill, seed) => {
          // prettier-ignore
          const spine = spineFrom(places.map(([x, y]) => [x + 0.37, y + 0.61, 0.5] as const));
          spine.fill = fill as 'with' | 'alone';
          const rnd = random(seed);
          const under = makePixels(5, 3, 60, 50);
          // Whole and half covered pixels, and empty ones.
          for (let at = 0; at < under.data.length; at += 4) under.data.set([[0, 0, 0, 0], [40, 90, 20, 120], [9, 200, 30, 255]][Math.floor(3 * rnd())], at); // prettier-ignore
          const byMask = { ...under, data: under.data.slice() };
          const mask = new CoverageMask(60, 50);
          mask.placeAt(5, 3);
          addInk(mask, spine, 1);
          pourMask(byMask, mask, [200, 30, 90]);
          const work = new RasterWorkspace(60, 50);
          drawStroke(under, { spine, box: { x0: -40, y0: -40, x1: 120, y1: 120 }, colour: [200, 30, 90], holes: [] }, 1, work); // prettier-ignore
          expect(under.data.every((v, i) => v === byMask.data[i])).toBe(true);
          expect(work.mask.isClean && work.mask.data.every((v) => v === 0)).toBe(true);
        },
      ),
      { numRuns: 150 },
    );
  });

  it('of a hand stroke join its ends straight; with or without the line; and a restyling takes them away again', () => {
    const sheet = new TestSheet();
    const arc = handSamples((u) => [60 + 180 * u, 220 - 140 * Math.sin(Math.PI * u)], { ms: 600, tremorPx: 0 });
    const id = sheet.ink1(arc, fine(12, 'with'));
    const both = alphaOf(sheet);
    expect([at(both, 150, 150), at(both, 150, 215), at(both, 150, 230), at(both, 150, 76)]).toEqual([255, 255, 0, 255]);
    sheet.set(id, 'pen', fine(12, 'alone'));
    const alone = alphaOf(sheet);
    expect([at(alone, 150, 150), at(alone, 150, 76)]).toEqual([255, 0]);
    sheet.set(id, 'pen', restyled(fine(12, 'with'), { fill: 'none' }, true));
    expect([at(alphaOf(sheet), 150, 150), at(alphaOf(sheet), 150, 80)]).toEqual([0, 255]);
    expect(restyled(fine(12, 'with'), { sizePx: 5 }, true).fill).toBe('with');
    expect(penShape.safeParse(fine(12, 'with')).success).toBe(true);
  });

  it('are one piece when an eraser cuts them, are touched in their middle, and cannot be snipped', () => {
    const sheet = new TestSheet();
    const id = sheet.path(ovalPath({ x: 50, y: 50 }, { x: 250, y: 250 }, false), fine(8, 'with'));
    const before = alphaOf(sheet);
    expect(finish(linesNear(sheet.ink, 'lines', 150, 150, 3))).toMatchObject([{ id, gap: 0 }]);
    expect(finish(linesNear(sheet.ink, 'lines', 10, 10, 3))).toEqual([]);
    expect(finish(snipsAlong(sheet.ink, ['lines'], ['lines'], Float64Array.of(150, 150), 5))).toEqual([]);
    sheet.erase(
      handSamples((u) => [150, 20 + 260 * u], { ms: 400 }),
      20,
    );
    const cut = alphaOf(sheet);
    expect([at(cut, 150, 150), at(cut, 100, 150), at(cut, 200, 150)]).toEqual([0, 255, 255]);
    expect([...sheet.model.strokes.values()].filter((s) => !s.deleted)).toHaveLength(1);
    sheet.undo();
    expect(Buffer.compare(alphaOf(sheet), before)).toBe(0);
  });

  it.each(['with', 'alone'] as const)('are sent as SVG the way they look: %s the line', (fill) => {
    const sheet = new TestSheet();
    sheet.path(ovalPath({ x: 30, y: 30 }, { x: 200, y: 120 }, false), fine(8, fill));
    // Counter-clockwise, too.
    sheet.path(boxPath({ x: 280, y: 150 }, { x: 180, y: 280 }, false), makePen('marker', 14, 0, false, 1));
    sheet.path(boxPath({ x: 160, y: 150 }, { x: 40, y: 280 }, false), fine(14, fill));
    sheet.erase(
      handSamples((u) => [20 + 180 * u, 200 + 40 * u], { ms: 300 }),
      16,
    );
    const svg = finish(
      sheetSvg(sheet.model, sheet.ink, { widthPx: SIDE, heightPx: SIDE, ppi: 300 }, { onPaper: false, title: 'Fills' }),
    );
    const { pixels } = new Resvg(svg, { fitTo: { mode: 'width', value: SIDE } }).render();
    const own = alphaOf(sheet);
    let [sum, count, far] = [0, 0, 0];
    for (let i = 0; i < own.length; i++) {
      const off = Math.abs(own[i] - pixels[4 * i + 3]) / 255;
      if (own[i] || pixels[4 * i + 3]) [sum, count] = [sum + off, count + 1];
      if (off > 0.35) far++;
    }
    expect(sum / count).toBeLessThan(0.02);
    // Where two cuts leave slivers thinner than a pixel the two renderers may differ.
    expect(far).toBeLessThanOrEqual(4);
  });
});
