import { Resvg } from '@resvg/resvg-js';
import * as fc from 'fast-check';
import { stroke as strokeShape } from '../../contract/entities';
import { InkLines } from '../../core/areas/ink-lines';
import { AreaFinder } from '../../core/fill/area-finder';
import { pourTarget } from '../../core/fill/pouring';
import { Inside, type Place } from '../../core/fill/shape-inside';
import { ringOf } from '../../core/fill/covered';
import { drawStroke, RasterWorkspace } from '../../core/raster/draw-stroke';
import type { Matrix } from '../../core/geometry/matrix';
import { makePixels } from '../../core/raster/pixels';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { finish } from '../../core/sheet/ink-work';
import { putRows } from '../../core/sheet/steps';
import { encodePath } from '../../core/stroke/pack-path';
import { decodePath, plainNode } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';
import { polyline, PouredSheet } from '../measures/poured';
import { strokeEntity } from '../measures/sheets';
import { random } from '../measures/strokes';

const SIDE = 400;
const work = new RasterWorkspace(SIDE, SIDE);
const pen = (sizePx: number) => makePen('fineliner', sizePx, 0, false, 1);
const box = (x0: number, y0: number, x1: number, y1: number) => polyline(true, x0, y0, x1, y0, x1, y1, x0, y1);

const pixelsOf = ({ ink }: PouredSheet, layerId = 'flats'): Uint8ClampedArray =>
  ink.draw(layerId, 0, makePixels(0, 0, SIDE, SIDE), work)?.data ?? new Uint8ClampedArray(4 * SIDE * SIDE);
const alphaAt = (data: Uint8ClampedArray, x: number, y: number): number => data[4 * (y * SIDE + x) + 3];
const isSame = (a: Uint8ClampedArray, b: Uint8ClampedArray): boolean =>
  Buffer.from(a.buffer).equals(Buffer.from(b.buffer));
const sizeOf = (data: Uint8ClampedArray): number => {
  let sum = 0;
  for (let i = 3; i < data.length; i += 4) sum += data[i] / 255;
  return sum;
};
const everything = { layerId: 'lines', box: { x0: 0, y0: 0, x1: SIDE, y1: SIDE } };

let made = 0;
/** Does what following says, as the page does: each shape has an id of its own. */
function follow(sheet: PouredSheet): string[] {
  const kinds: string[] = [];
  for (const one of sheet.follow(everything)) {
    kinds.push(one.kind);
    if (one.kind === 'joined') sheet.set(one.id, 'deleted', true);
    else if (one.kind === 'part') {
      const like = sheet.model.strokes.get(one.like)!;
      const id = `${one.like}-${made++}`;
      const { shape: _, isOpen: __, ...pour } = like.pour!;
      sheet.put([putRows('strokes', { ...like, id, pour: { ...pour, seeds: [one.seed] } })], [[id, one.bytes]]);
    } else {
      const { pour, ...stroke } = sheet.model.strokes.get(one.id)!;
      const { isOpen: _, ...rest } = pour!;
      const after = one.kind === 'open' ? { ...rest, isOpen: true as const } : { ...rest, seeds: [one.seed], shape: `shape${made++}` }; // prettier-ignore
      expect(strokeShape.safeParse({ ...stroke, pour: after }).error).toBeUndefined();
      sheet.put(
        [{ op: 'set', table: 'strokes', field: 'pour', ids: [one.id], before: [pour], after: [after] }],
        'bytes' in one && 'shape' in after ? [[after.shape!, one.bytes]] : [],
      );
    }
  }
  return kinds;
}

describe('a pour', () => {
  it('fills a shape to the middle of its lines, and no farther', () => {
    const sheet = new PouredSheet(SIDE);
    sheet.path(box(60, 80, 260, 200), pen(8));
    const id = sheet.pour([100, 100])!;
    const data = pixelsOf(sheet);
    // Half a px beyond the middle all around: two colours that share a line overlap.
    expect(sizeOf(data)).toBeCloseTo(201 * 121, -2);
    expect(alphaAt(data, 61, 81)).toBe(255);
    expect(alphaAt(data, 57, 100)).toBe(0);
    expect(strokeShape.safeParse(sheet.model.strokes.get(id)).error).toBeUndefined();
  });

  it('goes around what lies in the shape, and that is a shape of its own', () => {
    const sheet = new PouredSheet(SIDE);
    sheet.path(box(40, 40, 340, 340), pen(4));
    sheet.path(box(140, 140, 200, 200), pen(4));
    sheet.path(box(220, 80, 300, 120), pen(4));
    sheet.pour([60, 60]);
    const data = pixelsOf(sheet);
    expect(sizeOf(data)).toBeCloseTo(301 * 301 - 59 * 59 - 79 * 39, -2);
    expect([alphaAt(data, 170, 170), alphaAt(data, 260, 100), alphaAt(data, 210, 130)]).toEqual([0, 0, 255]);
    // The way to a hole has no width.
    for (let x = 42; x < 138; x++) expect(alphaAt(data, x, 140)).toBe(255);
    sheet.pour([170, 170], '#102030');
    expect(alphaAt(pixelsOf(sheet), 170, 170)).toBe(255);
  });

  it('around everything goes to the paper’s edge and beyond', () => {
    const sheet = new PouredSheet(SIDE);
    sheet.path(box(100, 100, 300, 300), pen(4));
    expect(sheet.target(20, 20)).toMatchObject({ reachesEdge: true });
    expect(sheet.target(200, 200)).toMatchObject({ reachesEdge: false });
    sheet.pour([20, 20]);
    const data = pixelsOf(sheet);
    expect([alphaAt(data, 0, 0), alphaAt(data, SIDE - 1, SIDE - 1), alphaAt(data, 200, 200)]).toEqual([255, 255, 0]);
  });

  it('taken back leaves every pixel as it was; poured twice it changes nothing (property)', () => {
    const place = fc.tuple(fc.integer({ min: 16, max: 6384 }), fc.integer({ min: 16, max: 6384 }));
    fc.assert(
      fc.property(
        fc.array(fc.array(place, { minLength: 2, maxLength: 8 }), { minLength: 1, maxLength: 6 }),
        place,
        (lines, [px, py]) => {
          const sheet = new PouredSheet(SIDE);
          for (const nodes of lines) sheet.path(polyline(false, ...nodes.flat().map((v) => v / 16)), pen(3));
          sheet.pour([390, 390], '#204060');
          const before = pixelsOf(sheet);
          const at: Place = [px / 16, py / 16];
          const id = sheet.pour(at);
          if (id === undefined) return;
          const after = pixelsOf(sheet);
          expect(sheet.pour(at)).toBe(id);
          expect(isSame(pixelsOf(sheet), after)).toBe(true);
          // The second pour did nothing.
          sheet.undo();
          expect(isSame(pixelsOf(sheet), before)).toBe(true);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('never leaks out of a closed line, whatever its points (property)', () => {
    const place = fc.tuple(fc.integer({ min: 160, max: 6240 }), fc.integer({ min: 160, max: 6240 }));
    fc.assert(
      fc.property(
        fc.array(place, { minLength: 3, maxLength: 24 }),
        fc.array(place, { minLength: 8, maxLength: 8 }),
        (corners, probes) => {
          const sheet = new PouredSheet(SIDE, 0);
          const xy = corners.flat().map((v) => v / 16);
          sheet.path(polyline(true, ...xy), pen(2));
          const inside = new Inside([Float64Array.from(xy)]);
          for (const [px, py] of probes) {
            const [x, y] = [px / 16, py / 16];
            // Not on the line itself, within what its straight pieces may be off by.
            const isWithin = [-0.2, 0, 0.2].every((dx) => [-0.2, 0, 0.2].every((dy) => inside.holds(x + dx, y + dy)));
            if (isWithin) expect(sheet.target(x, y)?.reachesEdge).toBe(false);
          }
        },
      ),
      { numRuns: 100 },
    );
  });

  it('copies of lines that lie on each other close what one of them does', () => {
    const sheet = new PouredSheet(SIDE);
    for (let k = 0; k < 3; k++) sheet.path(box(60, 80, 260, 200), pen(6));
    sheet.path(box(260, 80, 360, 200), pen(6));
    sheet.pour([100, 100]);
    sheet.pour([300, 100], '#204060');
    expect(sizeOf(pixelsOf(sheet))).toBeCloseTo(301 * 121, -2);
    expect(sheet.target(20, 20)).toMatchObject({ reachesEdge: true });
  });

  it('found by lines that were followed through edits is what it is when all is looked at anew (property)', () => {
    const place = fc.tuple(fc.integer({ min: 10, max: SIDE - 10 }), fc.integer({ min: 10, max: SIDE - 10 }));
    const edit = fc.record({ what: fc.nat(3), which: fc.nat(), from: place, to: place, left: fc.boolean() });
    let shapes = 0;
    fc.assert(
      fc.property(
        fc.array(edit, { minLength: 2, maxLength: 10 }),
        fc.array(place, { maxLength: 4 }),
        (edits, places) => {
          const sheet = new PouredSheet(SIDE);
          const ids = [box(60, 60, 200, 180), box(200, 60, 330, 180), box(90, 220, 300, 330)].map((one) =>
            sheet.path(one, pen(4)),
          );
          for (const { what, which, from, to, left } of edits) {
            const id = ids[which % ids.length];
            if (what === 0) ids.push(sheet.path(polyline(false, ...from, ...to), pen(3)));
            else if (what === 1) sheet.set(id, 'deleted', !sheet.model.strokes.get(id)!.deleted);
            else sheet.set(id, 'matrix', [1, 0, 0, 1, (to[0] - from[0]) / 8, (to[1] - from[1]) / 8]);
            // What was begun, and left off for something else, is gone on with.
            if (left) pourTarget(sheet.ink, sheet.finder, sheet.paper, sheet.bounds, 'flats', from).next();
            for (const at of places) {
              const anew = new AreaFinder(new InkLines());
              const should = finish(pourTarget(sheet.ink, anew, sheet.paper, sheet.bounds, 'flats', at));
              const is = sheet.target(...at);
              expect(is && Buffer.from(is.shape.bytes).toString('hex')).toBe(
                should && Buffer.from(should.shape.bytes).toString('hex'),
              );
              expect(is?.reachesEdge).toBe(should?.reachesEdge);
              shapes += is ? 1 : 0;
            }
          }
        },
      ),
      { numRuns: 60 },
    );
    expect(shapes).toBeGreaterThan(100);
  });

  it('on a shape that has colour changes that, whoever poured it', () => {
    const sheet = new PouredSheet(SIDE);
    sheet.path(box(60, 80, 260, 200), pen(4));
    const id = sheet.pour([100, 100])!;
    expect(sheet.target(200, 150)?.pouredId).toBe(id);
    sheet.path(polyline(false, 160, 70, 160, 210), pen(4));
    // Only a half of it: a shape that nobody has poured.
    expect(sheet.target(200, 150)?.pouredId).toBeUndefined();
  });

  it('of shapes like it finds those of about its size that have no colour', () => {
    const sheet = new PouredSheet(SIDE);
    for (let k = 0; k < 12; k++) sheet.path(box(20 + 60 * (k % 6), 20 + 60 * Math.floor(k / 6), 60 + 60 * (k % 6), 60 + 60 * Math.floor(k / 6)), pen(3)); // prettier-ignore
    sheet.path(box(20, 160, 320, 380), pen(3));
    sheet.pour([100, 40]);
    const alike = sheet.alike(40, 40);
    expect(alike).toHaveLength(11);
    expect(alike[0].box.x0).toBeCloseTo(20, 1);
    expect(alike.every(({ shape }) => decodePath(shape.bytes).nodes.length >= 4)).toBe(true);
  });
});

describe('shapes within a loop', () => {
  it('are those that lie mostly in it: what it cuts into is not meant, nor what is around', () => {
    const sheet = new PouredSheet(SIDE);
    for (let k = 0; k < 4; k++) sheet.path(box(20 + 90 * k, 100, 80 + 90 * k, 160), pen(3));
    // Around the first two, and a little of the third.
    const within = sheet.within(5, 85, 225, 90, 230, 180, 8, 175);
    expect(within.map(({ box: { x0 } }) => Math.round(x0)).sort((a, b) => a - b)).toEqual([20, 110]);
    expect(sheet.within(300, 200, 380, 200, 340, 380)).toEqual([]);
    const id = sheet.pour([50, 130]);
    expect(sheet.within(5, 85, 90, 90, 95, 180, 8, 175).map(({ pouredId }) => pouredId)).toEqual([id]);
  });
});

describe('share poured right', () => {
  it('is at least 99 of 100 where the gap is at most g, and nothing of it is poured where it is wider', () => {
    const shape = (gap: number) => {
      const sheet = new PouredSheet(SIDE, 12);
      // A known circle with a known gap between the edges of its line's round ends.
      const [r, from] = [120, (gap + 4) / 2 / 120];
      const nodes = Array.from({ length: 181 }, (_, k) => {
        const a = from + ((2 * Math.PI - 2 * from) * k) / 180;
        return plainNode(200 + r * Math.cos(a), 200 + r * Math.sin(a), 'corner');
      });
      sheet.path({ closed: false, nodes }, pen(4));
      return sheet;
    };
    for (const gap of [0, 1, 3, 6, 9, 11.8]) {
      const sheet = shape(gap);
      sheet.pour([200, 200]);
      const data = pixelsOf(sheet);
      let [right, wrong, missing] = [0, 0, 0];
      for (let y = 0; y < SIDE; y++)
        for (let x = 0; x < SIDE; x++) {
          const far = Math.hypot(x + 0.5 - 200, y + 0.5 - 200) - 120;
          const isPoured = alphaAt(data, x, y) > 127;
          if (isPoured && far < 1) right++;
          else if (isPoured) wrong++;
          // Beyond the gap's own chord nothing is wanted.
          else if (far < -1 && !(x > 300 && Math.abs(y - 200) < 14)) missing++;
        }
      expect(right / (right + wrong + missing)).toBeGreaterThan(0.99);
      expect(sheet.target(200, 200)?.reachesEdge).toBe(false);
    }
    for (const gap of [13, 16, 20]) expect(shape(gap).target(200, 200)?.reachesEdge).toBe(true);
  });
});

describe('a tied pour', () => {
  const ready = () => {
    const sheet = new PouredSheet(SIDE);
    const right = sheet.path(polyline(false, 250, 50, 250, 350), pen(4));
    sheet.path(polyline(false, 251, 51, 50, 51, 50, 349, 251, 349), pen(4));
    const id = sheet.pour([100, 100])!;
    return { sheet, right, id };
  };

  it('follows a line that is moved, and one that is moved back, to the pixel', () => {
    const { sheet, right } = ready();
    const before = pixelsOf(sheet);
    expect(sizeOf(before)).toBeCloseTo(201 * 299, -2);
    sheet.path(polyline(false, 249, 51, 320, 51), pen(4));
    sheet.path(polyline(false, 249, 349, 320, 349), pen(4));
    sheet.set(right, 'matrix', [1, 0, 0, 1, 60, 0]);
    expect(follow(sheet)).toEqual(['shape']);
    expect(sizeOf(pixelsOf(sheet))).toBeCloseTo(261 * 299, -2);
    sheet.set(right, 'matrix', [1, 0, 0, 1, 0, 0]);
    expect(follow(sheet)).toEqual(['shape']);
    const after = pixelsOf(sheet);
    expect(sizeOf(after)).toBeCloseTo(201 * 299, -2);
  });

  it('whose line is erased says that it is open, stays as it was, and is closed again with its line', () => {
    const { sheet, right, id } = ready();
    const before = pixelsOf(sheet);
    sheet.set(right, 'deleted', true);
    const [opened] = sheet.follow(everything);
    expect(opened).toEqual({ kind: 'open', id });
    // Its shape stays: nothing has to be fetched for that.
    const { pour } = sheet.model.strokes.get(id)!;
    const change = { op: 'set' as const, table: 'strokes' as const, field: 'pour', ids: [id], before: [pour], after: [{ ...pour, isOpen: true }] }; // prettier-ignore
    expect(sheet.ink.lackingFor([change], new Map())).toEqual([]);
    const other = { ...change, after: [{ ...pour, shape: 'elsewhere' }] };
    expect(sheet.ink.lackingFor([other], new Map())).toEqual(['~elsewhere']);
    expect(sheet.ink.lackingFor([other], new Map([['elsewhere', new Uint8Array(1)]]))).toEqual([]);
    expect(follow(sheet)).toEqual(['open']);
    expect(sheet.model.strokes.get(id)?.pour?.isOpen).toBe(true);
    expect(follow(sheet)).toEqual([]);
    expect(isSame(pixelsOf(sheet), before)).toBe(true);
    sheet.set(right, 'deleted', false);
    expect(follow(sheet)).toEqual(['shape']);
    expect(sheet.model.strokes.get(id)?.pour?.isOpen).toBeUndefined();
    expect(sizeOf(pixelsOf(sheet))).toBeCloseTo(sizeOf(before), -2);
  });

  it('that a line parts keeps its colour on both sides, and is one again without it', () => {
    const { sheet } = ready();
    const before = pixelsOf(sheet);
    const parting = sheet.path(polyline(false, 140, 40, 160, 360), pen(3));
    expect(follow(sheet).sort()).toEqual(['part', 'shape']);
    expect(sizeOf(pixelsOf(sheet))).toBeCloseTo(sizeOf(before), -2);
    expect(follow(sheet)).toEqual([]);
    sheet.set(parting, 'deleted', true);
    expect(follow(sheet)).toEqual(['joined', 'shape']);
    expect(sizeOf(pixelsOf(sheet))).toBeCloseTo(sizeOf(before), -2);
  });

  it('does not run into a neighbour of another colour', () => {
    const { sheet, right } = ready();
    sheet.path(polyline(false, 249, 51, 390, 51, 390, 349, 249, 349), pen(4));
    sheet.pour([320, 200], '#204060');
    const before = pixelsOf(sheet);
    sheet.set(right, 'deleted', true);
    expect(follow(sheet)).toEqual(['open', 'open']);
    expect(isSame(pixelsOf(sheet), before)).toBe(true);
  });

  it('that is not tied stays as it is', () => {
    const { sheet, right, id } = ready();
    sheet.set(id, 'tied', false);
    sheet.set(right, 'matrix', [1, 0, 0, 1, -40, 0]);
    expect(follow(sheet)).toEqual([]);
  });

  it('moved with its lines follows them there', () => {
    const { sheet, right, id } = ready();
    for (const { id: one } of [...sheet.model.strokes.values()]) sheet.set(one, 'matrix', [1, 0, 0, 1, 30, 10]);
    expect(follow(sheet)).toEqual([]);
    sheet.set(right, 'matrix', [1, 0, 0, 1, 20, 10]);
    expect(follow(sheet)).toEqual(['shape']);
    expect(sizeOf(pixelsOf(sheet))).toBeCloseTo(191 * 299, -2);
    expect(new Inside([ringOf(sheet.ink.drawable(sheet.ink.standing([id])[0], 0, 'exact').spine)]).holds(90, 70)).toBe(true); // prettier-ignore
  });
});

describe('small shapes without colour', () => {
  it('are those beside colour, as far as they can be seen, with the colour beside them', () => {
    const sheet = new PouredSheet(SIDE);
    sheet.path(box(40, 40, 340, 340), pen(4));
    // One that is small, one that lies under its own line, one that is no longer small.
    sheet.path(box(60, 60, 74, 74), pen(3));
    sheet.path(box(100, 60, 103, 63), pen(4));
    sheet.path(box(140, 60, 240, 200), pen(3));
    expect(sheet.unfilled()).toEqual([]);
    const id = sheet.pour([300, 300]);
    const found = sheet.unfilled();
    expect(found).toHaveLength(1);
    expect(found[0].besideId).toBe(id);
    expect(Math.hypot(found[0].x - 67, found[0].y - 67)).toBeLessThan(8);
    sheet.pour([67, 67], '#ffffff');
    // White is a colour.
    expect(sheet.unfilled()).toEqual([]);
  });
});

/** The most that shines through of a loud ground at a level, of 255, within a square that a line parts. */
function shining(sheet: PouredSheet, level: number, layers: readonly string[]): number {
  const scale = 2 ** level;
  const side = Math.round(120 * Math.max(1, scale));
  const rect = makePixels(Math.round(200 * scale - side / 2), Math.round(200 * scale - side / 2), side, side);
  for (let i = 0; i < rect.data.length; i += 4) rect.data.set([0, 255, 0, 255], i);
  const tools = new RasterWorkspace(side, side);
  for (const layerId of layers)
    for (const record of sheet.ink.ofLayer(layerId))
      drawStroke(rect, sheet.ink.drawable(record, level, 'exact'), scale, tools);
  let most = 0;
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const within = [rect.x0 + x, rect.y0 + y].every((v) => v / scale > 44 && (v + 1) / scale < 355);
      if (within) most = Math.max(most, rect.data[4 * (y * side + x) + 1]);
    }
  return most;
}

/** Two shapes, poured, that share a wavering line. @param matrix of the pours. */
function parted(linePx: number, matrix?: Matrix): PouredSheet {
  const sheet = new PouredSheet(SIDE);
  const rnd = random(4);
  const nodes = Array.from({ length: 12 }, (_, k): [number, number] => [200 + 40 * (rnd() - 0.5), 40 + 29 * k]);
  sheet.path(polyline(true, 40, 40, 360, 40, 360, 359, 40, 359), pen(6));
  sheet.path({ closed: false, nodes: nodes.map(([x, y]) => plainNode(x, y, 'auto')) }, pen(linePx));
  const pours = [sheet.pour([80, 200], '#c00000')!, sheet.pour([330, 200], '#0000c0')!];
  if (matrix) for (const id of pours) sheet.set(id, 'matrix', [...matrix]);
  return sheet;
}

describe('colour under lines', () => {
  const levels = [-4, -3, -2, -1, 0, 1, 2, 3];

  it.each(levels)('leaves no pixel between two colours and their line at level %i (1/16 to 8x)', (level) => {
    expect(shining(parted(5), level, ['flats', 'lines'])).toBeLessThanOrEqual(8);
  });

  it.each(levels)('leaves none where the line is hidden, or thinner than a pixel, at level %i', (level) => {
    expect(shining(parted(5), level, ['flats'])).toBeLessThanOrEqual(3);
    expect(shining(parted(1), level, ['flats', 'lines'])).toBeLessThanOrEqual(3);
  });

  it.each([0, 1])('leaves none where it was made smaller, at level %i', (level) => {
    const smaller: Matrix = [0.5, 0, 0, 0.5, 100, 100];
    expect(shining(parted(5, smaller), level, ['flats'])).toBeLessThanOrEqual(3);
  });
});

describe('colour as SVG, drawn by a reference library (resvg)', () => {
  /** @param linePx of the line between both. @param loud the ground. */
  const flatsOf = (linePx: number, loud = '#00ff00') => {
    const sheet = parted(linePx);
    const svg = finish(sheetSvg(sheet.model, sheet.ink, sheet.paper, { onPaper: false, title: 'Flats' }));
    const onLoud = svg.replace('<g clip-path', `<rect width="400" height="400" fill="${loud}"/><g clip-path`);
    return { svg: onLoud, bare: onLoud.replace(/<path fill="#000000"[^>]*>/g, '') };
  };
  const drawn = (svg: string, width: number) =>
    new Resvg(svg, { fitTo: { mode: 'width', value: width } }).render().pixels;
  /** The most of the ground that is seen well within both shapes, of 255. */
  const shines = (svg: string, width: number) => {
    const pixels = drawn(svg, width);
    let most = 0;
    for (let y = Math.ceil(width / 8); y < (7 * width) / 8; y++)
      for (let x = Math.ceil(width / 8); x < (7 * width) / 8; x++)
        most = Math.max(most, pixels[4 * (y * width + x) + 1]);
    return most;
  };

  it('is two curves that overlap under a line that is all but nothing', () => {
    const { bare } = flatsOf(0.2);
    expect(bare.match(/<path fill="#(c00000|0000c0)" d="[^"]*c/g)).toHaveLength(2);
    expect(shines(bare, 1200)).toBeLessThan(8);
  });

  it.each([100, 200, 400, 1200])(
    'overlaps as wide as the line hides, so that made smaller nothing shines (%i px wide)',
    (width) => {
      expect(shines(flatsOf(6).bare, width)).toBeLessThan(8);
    },
  );

  it.each([1, 2, 4, 6])('does not come out on the other side of a line %i px wide', (linePx) => {
    const sheet = new PouredSheet(SIDE);
    const nodes = [
      [200, 60],
      [330, 190],
      [210, 340],
      [70, 210],
    ].map(([x, y]) => plainNode(x, y, 'auto'));
    sheet.path({ closed: true, nodes }, pen(linePx));
    sheet.pour([200, 200], '#c00000');
    const svg = finish(sheetSvg(sheet.model, sheet.ink, sheet.paper, { onPaper: true, title: 'Flat' }));
    const lines = drawn(svg.replace(/<path fill="#c00000"[^>]*>/g, ''), 1600);
    const both = drawn(svg, 1600);
    const at = (x: number, y: number) => 4 * (y * 1600 + x);
    let out = 0;
    // From each side inwards, up to the line.
    for (let y = 0; y < 1600; y++)
      for (const step of [1, -1])
        for (let x = step > 0 ? 0 : 1599; x >= 0 && x < 1600 && lines[at(x, y)] > 200; x += step)
          out = Math.max(out, lines[at(x, y) + 1] - both[at(x, y) + 1]);
    expect(out).toBeLessThan(80);
  });
});

it('paths of pours are read again as they were written', () => {
  const sheet = new PouredSheet(SIDE);
  sheet.path(box(60, 80, 260, 200), pen(8));
  const { bytes } = sheet.target(100, 100)!.shape;
  expect(encodePath(decodePath(bytes))).toEqual(bytes);
  expect(strokeEntity('x').pour).toBeUndefined();
});
