import * as fc from 'fast-check';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { makePixels } from '../../core/raster/pixels';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { standingPart } from '../../core/stroke/cut-ends';
import { fittedPath } from '../../core/stroke/fitted-path';
import { encodePath } from '../../core/stroke/pack-path';
import { decodePath, leanBetween, type NodeLean, type StrokePath } from '../../core/stroke/path';
import { ENGINE, makePen, settingsOf, type Pen } from '../../core/stroke/pen';
import { movedPath, movedPen, nearestOnPath, untaperedPen, withNode } from '../../core/stroke/pulls';
import type { Samples } from '../../core/stroke/samples';
import { SpineMaker } from '../../core/stroke/spine-maker';
import { difference } from '../measures/stroke-error';
import { TestSheet } from '../measures/sheets';
import { handSamples } from '../measures/strokes';

const SIDE = 320;
const maker = new SpineMaker();
const work = new RasterWorkspace(SIDE, SIDE);

/** A wave that is drawn while the pen turns and lies down. */
function leaning(): Samples {
  const samples = handSamples((u) => [40 + 240 * u, 160 + 50 * Math.sin(6 * u)], { ms: 900, hz: 120 });
  for (let i = 0; i < samples.count; i++) {
    const u = i / samples.count;
    samples.altitude[i] = Math.round(60 - 36 * u);
    samples.azimuth[i] = Math.round(20 + 130 * u);
  }
  return samples;
}

const PENS: Record<string, Pen> = {
  'a marker that turns': makePen('marker', 22, 20, true, 1, { ...settingsOf('marker'), turns: true }),
  'a pencil that lies down': makePen('pencil', 9, 20, true, 1),
};

/** A line as its points make it. */
function asPoints(pen: Pen): { path: StrokePath; pen: Pen } {
  const { spine } = maker.measured(encodeSamples(leaning()), pen, ENGINE, 0.1);
  let widest = pen.sizePx;
  for (let at = 2; at < 3 * spine.count; at += 3) widest = Math.max(widest, 2 * spine.data[at]);
  return { path: fittedPath(spine, widest), pen: { ...untaperedPen(pen), sizePx: widest } };
}

const alphaOf = ({ ink }: TestSheet) => {
  const { data } = ink.draw('lines', 0, makePixels(0, 0, SIDE, SIDE), work)!;
  return Float64Array.from({ length: SIDE * SIDE }, (_, i) => data[4 * i + 3] / 255);
};

describe('the points of a line whose pen leaned', () => {
  it.each(Object.keys(PENS))('%s: leave it as it looks', (name) => {
    const [drawn, made] = [new TestSheet(), new TestSheet()];
    drawn.ink1(leaning(), PENS[name]);
    const { path, pen } = asPoints(PENS[name]);
    made.path(decodePath(encodePath(path)), pen);
    expect(path.nodes.length).toBeLessThan(24);
    const [before, after] = [alphaOf(drawn), alphaOf(made)];
    const sum = (v: Float64Array) => v.reduce((a, b) => a + b, 0);
    expect(Math.abs(sum(after) / sum(before) - 1)).toBeLessThan(0.02);
    const found = difference(before, after);
    // Half a px off is half of the coverage of an edge; grain falls on other pixels then.
    expect(found.mean).toBeLessThan(0.12);
    // With the direction of its first point all along it would be another line.
    const flat = new TestSheet();
    flat.path({ ...path, nodes: path.nodes.map((node) => ({ ...node, lean: path.nodes[0].lean })) }, pen);
    expect(difference(before, alphaOf(flat)).mean).toBeGreaterThan(2 * found.mean);
  });

  it('turn with the line, and one more of them changes nothing', () => {
    const { path, pen } = asPoints(PENS['a marker that turns']);
    const middle = path.nodes[Math.floor(path.nodes.length / 2)];
    const more = withNode(path, nearestOnPath(path, { x: middle.x + 9, y: middle.y }));
    const draw = (one: StrokePath, by: Pen) => {
      const sheet = new TestSheet();
      sheet.path(one, by);
      return alphaOf(sheet);
    };
    expect(difference(draw(path, pen), draw(more.path, pen)).mean).toBeLessThan(0.02);
    // A quarter about the middle of the page, and each pixel with it.
    const quarter = [0, 1, -1, 0, SIDE, 0] as const;
    const turned = draw(movedPath(path, quarter), movedPen(pen, quarter));
    const plain = draw(path, pen);
    const expected = Float64Array.from({ length: SIDE * SIDE }, (_, i) => {
      const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
      return plain[(SIDE - 1 - x) * SIDE + y];
    });
    expect(difference(turned, expected).mean).toBeLessThan(0.03);
    expect(movedPen(PENS['a marker that turns'], [1, 0, 0, 1, 5, 5]).nibDeg).toBe(
      PENS['a marker that turns'].nibDeg ?? 0,
    );
  });

  it('are those of what stands of a cut line', () => {
    const measured = maker.measured(encodeSamples(leaning()), PENS['a marker that turns'], ENGINE, 0.1);
    const part = standingPart(measured, { from: 20.5, to: 60 });
    const { nodes } = fittedPath(part, 22);
    const whole = fittedPath(measured.spine, 22).nodes;
    expect(nodes[0].lean!.nibDeg).toBeGreaterThan(whole[0].lean!.nibDeg + 5);
    expect(nodes[nodes.length - 1].lean!.nibDeg).toBeLessThan(whole[whole.length - 1].lean!.nibDeg - 5);
  });

  it('are read as they were written, lean and all; a nib turns the shorter way (property)', () => {
    const lean = fc.record({
      strength: fc.integer({ min: 0, max: 127 }).map((v) => v / 127),
      nibDeg: fc.integer({ min: 0, max: 359 }),
    });
    const node = fc.record({
      x: fc.integer({ min: -9000, max: 9000 }),
      y: fc.integer({ min: -9000, max: 9000 }),
      lean,
    });
    fc.assert(
      fc.property(fc.array(node, { minLength: 1, maxLength: 12 }), fc.boolean(), (nodes, closed) => {
        const path: StrokePath = {
          closed,
          nodes: nodes.map((one) => ({ ...one, kind: 'auto', inX: 0, inY: 0, outX: 1, outY: 0, width: 1 })),
        };
        expect(decodePath(encodePath(path))).toEqual(path);
        // One that nothing is said of lies as the one before.
        const bare = { ...path, nodes: path.nodes.map((one, i) => (i % 2 ? { ...one, lean: undefined } : one)) };
        decodePath(encodePath(bare)).nodes.forEach((one, i) => expect(one.lean).toEqual(nodes[i - (i % 2)].lean));
      }),
    );
    const [a, b]: NodeLean[] = [
      { strength: 0, nibDeg: 350 },
      { strength: 1, nibDeg: 20 },
    ];
    expect(leanBetween(a, b, 0.5)).toEqual({ strength: 0.5, nibDeg: 5 });
    expect(leanBetween(b, a, 0.5)!.nibDeg).toBe(5);
    const bytes = encodePath({
      closed: false,
      nodes: [{ x: 1, y: 1, kind: 'auto', inX: 0, inY: 0, outX: 0, outY: 0, width: 1 }],
    });
    bytes[1] = 8;
    expect(() => decodePath(bytes)).toThrow(RangeError);
  });
});
