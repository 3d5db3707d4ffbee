import * as fc from 'fast-check';
import { pen as penShape } from '../../contract/entities';
import { Loop } from '../../core/geometry/loop';
import { apply, compose, lengthScale } from '../../core/geometry/matrix';
import { turnAbout } from '../../core/geometry/turn-about';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { finish } from '../../core/sheet/ink-work';
import { ordersAbove, ordersBelow } from '../../core/sheet/orders';
import { pasted } from '../../core/sheet/pasted';
import { isTooLarge } from '../../core/sheet/step-size';
import type { Assign } from '../../core/sheet/steps';
import { copiesOf, linesIn, shapeOf } from '../../core/sheet/picking';
import { boxPath } from '../../core/stroke/forms';
import { makePen, PEN_KINDS, settingsOf } from '../../core/stroke/pen';
import { restyled, settingsFrom } from '../../core/stroke/restyle';
import { handSamples } from '../measures/strokes';
import { TestSheet } from '../measures/sheets';

const SIDE = 300;
const RECT = { x0: 0, y0: 0, width: SIDE, height: SIDE };
const work = new RasterWorkspace(SIDE, SIDE);
const pixels = (sheet: TestSheet) => Buffer.from(sheet.ink.draw('lines', 0, RECT, work)?.data ?? []);

const line = (x0: number, y0: number, x1: number, y1: number) =>
  handSamples((u) => [x0 + (x1 - x0) * u, y0 + (y1 - y0) * u], { ms: 400, tremorPx: 0 });
const even = makePen('fineliner', 6, 0, false, 1);
const loopOf = (...points: [number, number][]) => new Loop(points.flat());
const box = (x0: number, y0: number, x1: number, y1: number) => loopOf([x0, y0], [x1, y0], [x1, y1], [x0, y1]);

describe('a loop', () => {
  it('holds what a hand has gone around, twice too, and tells boxes that it crosses', () => {
    const twice = new Loop(
      Array.from({ length: 80 }, (_, i) => [100 + 50 * Math.cos(i / 6.2), 100 + 50 * Math.sin(i / 6.2)]).flat(),
    );
    expect([twice.holds(100, 100), twice.holds(160, 100)]).toEqual([true, false]);
    const square = box(10, 10, 90, 90);
    expect(square.crosses({ x0: 20, y0: 20, x1: 80, y1: 80 })).toBe(false);
    expect(square.crosses({ x0: 0, y0: 40, x1: 20, y1: 60 })).toBe(true);
    expect(square.crosses({ x0: 200, y0: 40, x1: 220, y1: 60 })).toBe(false);
    // An edge that passes through a box, with no corner in it.
    expect(loopOf([0, 50], [100, 50], [50, 200]).crosses({ x0: 40, y0: 40, x1: 60, y1: 60 })).toBe(true);
  });

  it('agrees with the angle that is swept, on random triangles', () => {
    const number = fc.double({ min: 0, max: 100, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(number, number), { minLength: 3, maxLength: 3 }),
        number,
        number,
        (corners, x, y) => {
          // A point is in a triangle if it lies on one side of all edges (textbook geometry).
          const sides = corners.map(([ax, ay], i) => {
            const [bx, by] = corners[(i + 1) % 3];
            return (bx - ax) * (y - ay) - (by - ay) * (x - ax);
          });
          if (sides.some((s) => Math.abs(s) < 1e-6)) return;
          expect(loopOf(...corners).holds(x, y)).toBe(sides.every((s) => s > 0) || sides.every((s) => s < 0));
        },
      ),
    );
  });
});

describe('lines in a loop', () => {
  it('are those that lie in it with more than half of their length', () => {
    const sheet = new TestSheet();
    const inside = sheet.ink1(line(60, 60, 120, 60), even);
    const mostly = sheet.ink1(line(60, 100, 180, 100), even);
    const hardly = sheet.ink1(line(120, 140, 280, 140), even);
    sheet.ink1(line(220, 40, 280, 40), even);
    const deleted = sheet.ink1(line(70, 80, 110, 80), even);
    sheet.set(deleted, 'deleted', true);
    const loop = box(40, 40, 150, 160);
    expect(finish(linesIn(sheet.ink, ['lines'], loop))).toEqual([inside, mostly]);
    expect(finish(linesIn(sheet.ink, ['lines'], box(100, 130, 290, 150)))).toEqual([hardly]);
    expect(finish(linesIn(sheet.ink, ['another'], loop))).toEqual([]);
    const shape = finish(shapeOf(sheet.ink, [mostly, inside], 0, 1));
    expect(shape.lines).toHaveLength(1);
    expect([shape.box.x0, shape.box.x1].map(Math.round)).toEqual([55, 185]);
    expect(shape.unpressed).toEqual([]);
  });
});

describe('copies', () => {
  const landing = (sheet: TestSheet, dx: number, isSameSheet = true) => {
    let n = 0;
    return {
      layerOf: () => 'lines',
      ordersOn: (_: string, count: number) => ordersAbove([sheet.model.strokes.topOrderOf('lines') ?? 'a0'], count),
      moved: [1, 0, 0, 1, dx, 0] as const,
      isSameSheet,
      newId: () => `copy${n++}`,
    };
  };
  const moved = (data: Buffer, dx: number) => {
    const out = Buffer.alloc(data.length);
    for (let y = 0; y < SIDE; y++) data.copy(out, 4 * (y * SIDE + dx), 4 * y * SIDE, 4 * ((y + 1) * SIDE - dx));
    return out;
  };

  it.each([true, false])('look as what they were made of, with all that erases it; severed: %s', (severs) => {
    const sheet = new TestSheet();
    sheet.ink1(line(20, 100, 110, 120), makePen('dip', 14, 0, true, 1));
    sheet.erase(line(60, 60, 60, 160), 16, severs);
    const alone = pixels(sheet);
    const ids = [...sheet.model.strokes.values()].filter((s) => !s.deleted).map((s) => s.id);
    const copies = finish(copiesOf(sheet.ink, ids));
    const made = pasted(copies, landing(sheet, 128));
    for (const id of ids) sheet.set(id, 'deleted', true);
    sheet.put(made.changes, made.parts);
    expect(pixels(sheet).equals(moved(alone, 128))).toBe(true);
    expect(made.ids).toHaveLength(ids.length);
    // What is erased of the copies is not erased of the others, and the other way round.
    sheet.undo();
    for (const id of ids) sheet.set(id, 'deleted', false);
    expect(pixels(sheet).equals(alone)).toBe(true);
  });

  it.each<[string, (sheet: TestSheet) => void]>([
    ['an even line', (sheet) => sheet.ink1(line(20, 100, 220, 100), even)],
    ['a line with tapers', (sheet) => sheet.ink1(line(20, 100, 220, 100), makePen('brush', 16, 40, true, 1))],
    [
      'a form',
      (sheet) => sheet.path(boxPath({ x: 30, y: 80 }, { x: 210, y: 130 }, false), makePen('dip', 12, 50, true, 1)),
    ],
  ])(
    'look the same on another sheet, and are lines of their own there, parts of severed ones too: %s',
    (_name, ink) => {
      const from = new TestSheet();
      ink(from);
      from.erase(line(120, 60, 120, 160), 16);
      const ids = [...from.model.strokes.values()].filter((s) => !s.deleted).map((s) => s.id);
      expect(ids.length).toBeGreaterThan(1);
      const to = new TestSheet();
      const made = pasted(finish(copiesOf(from.ink, ids)), landing(to, 0, false));
      to.put(made.changes, made.parts);
      for (const { id, stands } of to.model.strokes.values()) expect(stands).toMatchObject({ samples: id, of: id });
      expect(pixels(to).equals(pixels(from))).toBe(true);
    },
  );

  it('lie above all others, or below, in their order', () => {
    const above = ordersAbove(['a5', 'a1'], 3);
    expect([...above].sort()).toEqual(above);
    expect(above[0] > 'a5').toBe(true);
    const below = ordersBelow(['a5', 'a1'], 3);
    expect([...below].sort()).toEqual(below);
    expect(below[2] < 'a1').toBe(true);
    expect([ordersAbove([], 0), ordersBelow([], 1).length]).toEqual([[], 1]);
  });
});

describe('a line that is made anew', () => {
  const unit = fc.double({ min: 0, max: 1, noNaN: true });
  const settings = fc.record({
    smallest: unit,
    taperIn: fc.double({ min: 0, max: 16, noNaN: true }),
    taperOut: fc.double({ min: 0, max: 16, noNaN: true }),
    opacity: fc.double({ min: 0.05, max: 1, noNaN: true }),
    soft: unit,
    speed: unit,
    flat: fc.double({ min: 0.15, max: 1, noNaN: true }),
    turns: fc.boolean(),
  });

  it('has the pen that it had, where nothing was changed, and passes the door of the server whatever was', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...PEN_KINDS),
        settings,
        fc.double({ min: 0.5, max: 300, noNaN: true }),
        fc.boolean(),
        fc.constantFrom(...PEN_KINDS),
        fc.double({ min: 0.001, max: 1000, noNaN: true }),
        (kind, own, size, hasPressure, other, sizeFactor) => {
          const pen = makePen(kind, size, 30, hasPressure, 0.7, { ...settingsOf(kind), ...own });
          expect(restyled(pen, {}, hasPressure)).toEqual(pen);
          const changed = restyled(pen, { kind: other, sizeFactor, settings: { opacity: 0.5 } }, hasPressure);
          expect(penShape.safeParse(changed).success).toBe(true);
          expect(changed).toMatchObject({ kind: other, opacity: 0.5 });
        },
      ),
    );
  });

  it('changes only what is asked, and takes its width from what the hand gave', () => {
    const pen = makePen('brush', 20, 35, true, 1, { ...settingsOf('brush'), opacity: 0.4 });
    expect(restyled(pen, { steady: 80 }, true)).toEqual({ ...pen, steady: 80 });
    expect(restyled(pen, { sizeFactor: 2 }, true)).toMatchObject({ sizePx: 40, taperInPx: 200, opacity: 0.4 });
    expect(restyled(pen, { settings: { soft: 0.3 } }, true)).toEqual({ ...pen, soft: 0.3 });
    expect(restyled(pen, { sizeAddPx: 3 }, true).sizePx).toBe(23);
    // However much finer: a line stays one.
    expect(restyled(pen, { sizeAddPx: -300 }, true).sizePx).toBe(0.25);
    const plain = makePen('fineliner', 9, 20, true, 1);
    expect(restyled(plain, { kind: 'dip' }, true).widthFrom).toBe('pressure');
    expect(restyled(plain, { kind: 'dip' }, false).widthFrom).toBe('speed');
    expect(settingsFrom(makePen('wash', 9, 0, true, 1))).toEqual(settingsOf('wash'));
  });

  it('is to the bit what it was after an undo', () => {
    const sheet = new TestSheet();
    const pen = makePen('dip', 12, 35, true, 1);
    const id = sheet.ink1(line(40, 60, 260, 200), pen);
    const before = pixels(sheet);
    for (const kind of PEN_KINDS) {
      sheet.set(id, 'pen', restyled(pen, { kind, sizeFactor: 1.5 }, true));
      expect(pixels(sheet).equals(before)).toBe(false);
      sheet.undo();
      expect(pixels(sheet).equals(before)).toBe(true);
    }
  });
});

describe('a step of very many lines', () => {
  const pen = makePen('pencil', 9, 30, true, 1);
  const penOf = (count: number): Assign => ({
    op: 'set',
    table: 'strokes',
    field: 'pen',
    ids: Array.from({ length: count }, (_, i) => `stroke-with-an-id-${i}`),
    before: Array.from({ length: count }, () => pen),
    after: Array.from({ length: count }, () => restyled(pen, { sizeFactor: 2 }, true)),
  });

  it('is told to be too large before the server refuses it: its frame is at most 32 MB', () => {
    expect([isTooLarge([penOf(1000)]), isTooLarge([penOf(20000)]), isTooLarge([penOf(100000)])]).toEqual([
      false,
      false,
      true,
    ]);
    const bytes = new Uint8Array(20000);
    const parts = (count: number) => Array.from({ length: count }, (_, i): [string, Uint8Array] => [`p${i}`, bytes]);
    expect([isTooLarge([penOf(2000)], parts(1000)), isTooLarge([penOf(2000)], parts(1600))]).toEqual([false, true]);
  });
});

describe('a turn about a point', () => {
  it('leaves the point where it is, but for what it is moved by, and mirrors, scales and turns the rest', () => {
    const about = [120, 80] as const;
    const [x, y] = apply(turnAbout(about, { scale: 2, turnDeg: 90, dx: 5, dy: -3 }), ...about);
    expect([x, y].map((v) => Math.round(v * 1e9) / 1e9)).toEqual([125, 77]);
    const quarter = apply(turnAbout(about, { turnDeg: 90 }), 130, 80);
    expect(quarter.map((v) => Math.round(v * 1e9) / 1e9)).toEqual([120, 90]);
    const mirror = turnAbout(about, { mirrors: true });
    expect(apply(mirror, 130, 85)).toEqual([110, 85]);
    expect(apply(compose(mirror, mirror), 130, 85)).toEqual([130, 85]);
    expect(lengthScale(turnAbout(about, { scale: 3, turnDeg: 17, mirrors: true }))).toBeCloseTo(3, 12);
  });
});
