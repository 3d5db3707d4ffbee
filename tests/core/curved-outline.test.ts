import { createCanvas, Path2D } from '@napi-rs/canvas';
import { Resvg } from '@resvg/resvg-js';
import { Bezier } from 'bezier-js';
import * as fc from 'fast-check';
import { curvedOutline, CURVE_PX } from '../../core/formats/curved-outline';
import { polygonsOf, unitedOutline } from '../../core/formats/polygons';
import { pathData } from '../../core/formats/svg-path';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { makePixels } from '../../core/raster/pixels';
import { toleranceAt } from '../../core/sheet/ink-box';
import { finish } from '../../core/sheet/ink-work';
import { inkOutline } from '../../core/stroke/nib-outline';
import type { Outline } from '../../core/stroke/outline';
import { isFaded, makePen, PEN_KINDS, type Pen, type PenKind } from '../../core/stroke/pen';
import type { Spine } from '../../core/stroke/spine';
import { spineOf } from '../../core/stroke/spine-maker';
import { averagedAlpha } from '../measures/pictures';
import { difference, nonzeroFill } from '../measures/stroke-error';
import { TestSheet } from '../measures/sheets';
import { handSamples, HARD_SPINES } from '../measures/strokes';

/** As outlines are made for SVG. */
const outlineFor = (spine: Spine): Outline => inkOutline(spine, 0.02);
const samplesOf = (k: number) =>
  handSamples((u) => [60 + 300 * u, 200 + 80 * Math.sin(k + 7 * u) + 10 * k * u], {
    ms: 900,
    hz: 90,
    seed: k + 1,
    tremorPx: 0.2,
  });
const handSpine = (pen: Pen, k: number): Spine => spineOf(samplesOf(k), pen, toleranceAt(2));

/** Segments of the contours that curves are made of. */
function segmentsOf({ xy, ends }: Outline): number[][] {
  let from = 0;
  return ends.flatMap((end) => {
    const count = end - from;
    const first = from;
    from = end;
    if (count < 3) return [];
    return Array.from({ length: count }, (_, n) => {
      const [i, j] = [first + n, first + ((n + 1) % count)];
      return [xy[2 * i], xy[2 * i + 1], xy[2 * j], xy[2 * j + 1]];
    });
  });
}

function gapTo([ax, ay, bx, by]: number[], x: number, y: number): number {
  const [dx, dy] = [bx - ax, by - ay];
  const sq = dx * dx + dy * dy;
  const u = sq > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / sq)) : 0;
  return Math.hypot(x - ax - u * dx, y - ay - u * dy);
}

/** From a place to a curve: bezier-js looks for the nearest point in steps, so that what it finds is sought on around it. */
function distanceTo(bezier: Bezier, x: number, y: number): number {
  const far = (t: number) => {
    const at = bezier.get(Math.min(1, Math.max(0, t)));
    return Math.hypot(at.x - x, at.y - y);
  };
  const found = bezier.project({ x, y });
  let [from, to] = [found.t! - 0.02, found.t! + 0.02];
  for (let n = 0; n < 60; n++) {
    const [a, b] = [from + (to - from) / 3, to - (to - from) / 3];
    if (far(a) < far(b)) to = b;
    else from = a;
  }
  return Math.min(found.d!, far((from + to) / 2));
}

/** How far curves lie from an outline at most, and its points from the curves (bezier-js). */
function apart(outline: Outline): { curves: number; points: number; count: number } {
  const segments = segmentsOf(outline);
  const beziers: Bezier[] = [];
  for (const { x, y, pieces } of curvedOutline(outline)) {
    let [px, py] = [x, y];
    for (const { x: qx, y: qy, curve } of pieces) {
      const third = (a: number, b: number, u: number) => a + (b - a) * u;
      const straight = [1 / 3, 2 / 3].flatMap((u) => [third(px, qx, u), third(py, qy, u)]);
      beziers.push(new Bezier(curve ?? [px, py, ...straight, qx, qy]));
      [px, py] = [qx, qy];
    }
    expect(Math.hypot(px - x, py - y)).toBeLessThan(1e-9);
  }
  let [curves, points] = [0, 0];
  for (const bezier of beziers)
    for (let n = 0; n <= 8; n++) {
      const { x, y } = bezier.get(n / 8);
      curves = Math.max(curves, Math.min(...segments.map((s) => gapTo(s, x, y))));
    }
  for (const [x, y] of segments) {
    const near = beziers.filter((b) => {
      const { x: bx, y: by } = b.bbox();
      return x > bx.min - 1 && x < bx.max + 1 && y > by.min - 1 && y < by.max + 1;
    });
    points = Math.max(points, Math.min(...near.map((b) => distanceTo(b, x, y))));
  }
  return { curves, points, count: beziers.length };
}

const SIDE = 420;
/** Reference renderers draw so many times as fine and are averaged: at 1 they have few steps between empty and full. */
const FINE = 4;

const solid = PEN_KINDS.filter((kind) => !isFaded(makePen(kind, 12, 30, true, 1)));

describe('outlines as cubic curves', () => {
  it.each(solid)('%s: at most 0.05 px off, both ways (bezier-js)', (kind: PenKind) => {
    for (const [k, size] of [3, 9, 30].entries()) {
      const { curves, points } = apart(outlineFor(handSpine(makePen(kind, size, 30, true, 1), k)));
      expect(curves).toBeLessThanOrEqual(CURVE_PX);
      expect(points).toBeLessThanOrEqual(CURVE_PX);
    }
  });

  it.each(Object.keys(HARD_SPINES))('%s: no more', (name) => {
    const { curves, points } = apart(outlineFor(HARD_SPINES[name]));
    expect(curves).toBeLessThanOrEqual(CURVE_PX);
    expect(points).toBeLessThanOrEqual(CURVE_PX);
  });

  it('have at most a third of the points, and take at most 60 % of the bytes of straight pieces', () => {
    const short = (v: number) => String(Math.round(v * 100) / 100);
    let [points, curves, before, after] = [0, 0, 0, 0];
    for (const kind of solid)
      for (const [k, size] of [3, 9, 20].entries()) {
        const outline = outlineFor(handSpine(makePen(kind, size, 30, true, 1), k));
        points += outline.xy.length / 2;
        curves += curvedOutline(outline).reduce((sum, c) => sum + c.pieces.length, 0);
        before += segmentsOf(outline).reduce((sum, [x, y]) => sum + `L${short(x)} ${short(y)}`.length, 0);
        after += pathData(outline).length;
      }
    expect(curves / points).toBeLessThan(1 / 3);
    expect(after / before).toBeLessThan(0.6);
  });

  it('leave corners where they are, and what is straight straight', () => {
    const box = { xy: Float64Array.of(10, 20, 110.25, 20, 110.25, 80, 10, 80), ends: [4] };
    expect(pathData(box)).toBe('M10 20h100.25v60h-100.25z');
    const two = { xy: Float64Array.of(0, 0, 3, 0.5, 1, 4, 9, 9, 9.5, 9, 9, 9.75), ends: [3, 6] };
    expect(pathData(two)).toBe('M0 0l3 .5-2 3.5zm9 9h.5l-.5 .75z');
    // One place, or two, enclose nothing.
    expect(pathData({ xy: Float64Array.of(1, 1, 1, 1, 1, 1, 2, 2, 3, 3), ends: [3, 5] })).toBe('');
  });

  it('are read from their text as they were written, by another program (@napi-rs/canvas)', () => {
    const outline = outlineFor(handSpine(makePen('brush', 22, 30, true, 1), 2));
    const ctx = createCanvas(FINE * SIDE, FINE * SIDE).getContext('2d');
    ctx.scale(FINE, FINE);
    ctx.fill(new Path2D(pathData(outline)));
    const { data } = ctx.getImageData(0, 0, FINE * SIDE, FINE * SIDE);
    const exact = nonzeroFill(outline, { x0: 0, y0: 0, width: SIDE, height: SIDE });
    const found = difference(averagedAlpha(data, SIDE, FINE), exact);
    expect(found.mean).toBeLessThan(0.03);
    expect(found.far).toBe(0);
  });

  it('whatever the contour: it closes, no place is lost, nothing is NaN', () => {
    const place = fc.integer({ min: 0, max: 400 }).map((v) => v / 4);
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place), { minLength: 3, maxLength: 24 }), (points) => {
        const outline = { xy: Float64Array.from(points.flat()), ends: [points.length] };
        const distinct = new Set(points.map(String)).size;
        fc.pre(distinct >= 3);
        const { curves, points: off } = apart(outline);
        expect(curves).toBeLessThanOrEqual(CURVE_PX);
        expect(off).toBeLessThanOrEqual(CURVE_PX);
        expect(pathData(outline)).not.toMatch(/NaN|Infinity|e/);
      }),
      // Once found: a point whose curve comes nearest between two of the steps of bezier-js.
      { numRuns: 150, examples: [[[[46.25, 1.25], [45.5, 65.25], [45, 98.75], [0, 0]]]] }, // prettier-ignore
    );
  });
});

describe('united outlines', () => {
  it('of a nib that turns cover the same, with a twentieth of the text', () => {
    const outline = outlineFor(handSpine({ ...makePen('marker', 14, 30, true, 1), turns: true }, 1));
    const united = unitedOutline(polygonsOf(outline));
    const rect = { x0: 40, y0: 100, width: 360, height: 240 };
    const found = difference(nonzeroFill(united, rect), nonzeroFill(outline, rect));
    expect(found.mean).toBeLessThan(0.005);
    expect(found.far).toBe(0);
    expect(pathData(united).length).toBeLessThan(pathData(outline).length / 5);
    expect(outline.ends.length).toBeGreaterThan(50);
    expect(united.ends.length).toBeLessThan(12);
  });

  it('keep holes', () => {
    const ring = (r: number) =>
      Array.from({ length: 5 }, (_, n): [number, number] => [
        50 + r * Math.cos(n * 1.2566),
        50 + r * Math.sin(n * 1.2566),
      ]);
    // Five bars around a hole.
    const bars = Array.from({ length: 5 }, (_, n) => [
      ring(40)[n],
      ring(40)[(n + 1) % 5],
      ring(25)[(n + 1) % 5],
      ring(25)[n],
    ]);
    const united = unitedOutline(polygonsOf({ xy: Float64Array.from(bars.flat(2)), ends: [4, 8, 12, 16, 20] }));
    expect(united.ends).toHaveLength(2);
    const filled = nonzeroFill(united, { x0: 0, y0: 0, width: 100, height: 100 });
    expect([filled[50 * 100 + 50], filled[50 * 100 + 80]]).toEqual([0, 1]);
    expect(unitedOutline([])).toEqual({ xy: new Float64Array(0), ends: [] });
  });
});

describe('what is sent as SVG', () => {
  it.each(solid)('%s: drawn by the reference renderer (resvg) it is our own pixels', (kind: PenKind) => {
    const sheet = new TestSheet();
    for (let k = 0; k < 3; k++) sheet.ink1(samplesOf(k), makePen(kind, 4 + 8 * k, 30, true, 1));
    const svg = finish(
      sheetSvg(sheet.model, sheet.ink, { widthPx: SIDE, heightPx: SIDE, ppi: 300 }, { onPaper: false, title: 'Lines' }),
    );
    const { pixels } = new Resvg(svg, { fitTo: { mode: 'width', value: FINE * SIDE } }).render();
    const theirs = averagedAlpha(pixels, SIDE, FINE);
    const { data } = sheet.ink.draw('lines', 0, makePixels(0, 0, SIDE, SIDE), new RasterWorkspace(SIDE, SIDE))!;
    const ours = Float64Array.from({ length: SIDE * SIDE }, (_, i) => data[4 * i + 3] / 255);
    const found = difference(theirs, ours);
    expect(found.mean).toBeLessThanOrEqual(0.02);
    // A pixel of a small round end, where two edges of ours pass through it.
    expect(found.far).toBeLessThanOrEqual(kind === 'fineliner' ? 1 : 0);
  });
});
