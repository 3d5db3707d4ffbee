import { Point, Segment } from '@flatten-js/core';
import * as fc from 'fast-check';
import { stroke as strokeShape, erasure as erasureShape } from '../../contract/entities';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { makePixels } from '../../core/raster/pixels';
import { crossings, selfCrossings } from '../../core/sheet/crossings';
import { finish } from '../../core/sheet/ink-work';
import { snippingChanges, snipsAlong, type Snip } from '../../core/sheet/snipping';
import { makePen, type Pen } from '../../core/stroke/pen';
import { spineFrom, type Spine } from '../../core/stroke/spine';
import { handSamples, random } from '../measures/strokes';
import { TestSheet } from '../measures/sheets';

const SIDE = 300;
const work = new RasterWorkspace(SIDE, SIDE);
const fine = (sizePx: number): Pen => makePen('fineliner', sizePx, 0, false, 1);
const straight = (x0: number, y0: number, x1: number, y1: number) =>
  handSamples((u) => [x0 + (x1 - x0) * u, y0 + (y1 - y0) * u], { ms: 500, tremorPx: 0 });
const alphaOf = ({ ink }: TestSheet): Uint8Array => {
  const pixels = ink.draw('lines', 0, makePixels(0, 0, SIDE, SIDE), work);
  return Uint8Array.from({ length: SIDE * SIDE }, (_, i) => pixels?.data[4 * i + 3] ?? 0);
};
const at = (alpha: Uint8Array, x: number, y: number): number => alpha[Math.round(y) * SIDE + Math.round(x)];
const standing = ({ model }: TestSheet) => [...model.strokes.values()].filter((s) => !s.deleted);

const look = (sheet: TestSheet, ...way: number[]): Snip[] =>
  finish(snipsAlong(sheet.ink, ['lines'], ['lines'], Float64Array.from(way), 6));

let ids = 0;
function snip(sheet: TestSheet, ...way: number[]): Snip[] {
  const snips = look(sheet, ...way);
  const { changes, parts } = snippingChanges(
    snips,
    (id) => sheet.model.strokes.get(id),
    () => `n${ids++}`,
  );
  for (const c of changes)
    if (c.op === 'put')
      for (const row of c.rows)
        expect((c.table === 'erasures' ? erasureShape : strokeShape).safeParse(row).error).toBeUndefined();
  sheet.put(changes, parts);
  return snips;
}

describe('crossings, against @flatten-js/core', () => {
  const segments = ({ data, count }: Spine) =>
    Array.from({ length: count - 1 }, (_, i) => {
      const at = 3 * i;
      return new Segment(new Point(data[at], data[at + 1]), new Point(data[at + 3], data[at + 4]));
    });
  const wander = (rnd: () => number, n: number) =>
    spineFrom(Array.from({ length: n }, () => [200 * rnd(), 200 * rnd(), 1] as const));

  it('of two lines are those of every pair of their pieces (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 2, max: 60 }), (seed, n) => {
        const rnd = random(seed);
        const [a, b] = [wander(rnd, n), wander(rnd, 2 + Math.floor(40 * rnd()))];
        const theirs = segments(a)
          .flatMap((s) => segments(b).flatMap((t) => s.intersect(t)))
          .map(({ x, y }) => [x, y]);
        const ours = crossings(a, b);
        expect(ours).toHaveLength(theirs.length);
        for (const { x, y, a: place } of ours) {
          expect(Math.min(...theirs.map(([tx, ty]) => Math.hypot(tx - x, ty - y)))).toBeLessThan(1e-6);
          const i = Math.floor(place);
          const u = place - i;
          expect(a.data[3 * i] + u * (a.data[3 * i + 3] - a.data[3 * i])).toBeCloseTo(x, 6);
        }
      }),
      { numRuns: 60, seed: 12 },
    );
  });

  it('of a line with itself are those of its pieces that are no neighbours', () => {
    const rnd = random(7);
    for (let run = 0; run < 40; run++) {
      const line = wander(rnd, 3 + Math.floor(40 * rnd()));
      const own = segments(line);
      let count = 0;
      for (let i = 0; i < own.length; i++)
        for (let j = i + 2; j < own.length; j++) count += own[i].intersect(own[j]).length;
      expect(selfCrossings(line)).toHaveLength(count);
    }
  });
});

describe('a snip', () => {
  /** A line across with two down through it, at x = 100 and 200. */
  function ladder(across = fine(6), down = fine(6)): { sheet: TestSheet; rung: string } {
    const sheet = new TestSheet();
    const rung = sheet.ink1(straight(30, 150, 270, 150), across);
    sheet.ink1(straight(100, 60, 100, 240), down);
    sheet.ink1(straight(200, 60, 200, 240), down);
    return { sheet, rung };
  }

  it('takes the part between two crossings, or a loose end, or all of a line that nothing crosses', () => {
    for (const [x, gone, stays, left] of [
      [150, [120, 150, 180], [60, 100, 200, 240], 2],
      [60, [40, 60, 90], [100, 150, 200, 240], 1],
      [250, [220, 260], [60, 100, 150, 200], 1],
    ] as const) {
      const { sheet, rung } = ladder();
      expect(snip(sheet, x, 152)).toMatchObject([{ id: rung }]);
      const alpha = alphaOf(sheet);
      for (const one of gone) expect(at(alpha, one, 150)).toBe(0);
      for (const one of stays) expect(at(alpha, one, 150)).toBe(255);
      expect(standing(sheet)).toHaveLength(2 + left);
    }
    const alone = new TestSheet();
    alone.ink1(straight(30, 150, 270, 150), fine(6));
    snip(alone, 90, 150);
    expect(standing(alone)).toEqual([]);
    expect(look(alone, 90, 150)).toEqual([]);
  });

  it('comes back to the last bit when it is taken back, and its parts are lines of their own', () => {
    const { sheet, rung } = ladder();
    const before = alphaOf(sheet);
    snip(sheet, 150, 150);
    const parts = standing(sheet).filter((s) => s.stands);
    expect(parts.map((s) => s.stands!.of)).toEqual([rung, rung]);
    sheet.set(parts[0].id, 'matrix', [1, 0, 0, 1, 0, 60]);
    expect(at(alphaOf(sheet), 60, 210)).toBe(255);
    expect(at(alphaOf(sheet), 60, 150)).toBe(0);
    for (const part of parts) sheet.set(part.id, 'deleted', true);
    sheet.set(rung, 'deleted', false);
    expect(Buffer.compare(alphaOf(sheet), before)).toBe(0);
  });

  it('takes several with one movement, each line once however often it is crossed', () => {
    const { sheet } = ladder();
    sheet.ink1(straight(30, 200, 270, 200), fine(6));
    const snips = snip(sheet, 150, 120, 152, 175, 150, 230);
    expect(snips).toHaveLength(2);
    const alpha = alphaOf(sheet);
    for (const y of [150, 200]) {
      expect(at(alpha, 150, y)).toBe(0);
      expect(at(alpha, 60, y)).toBe(255);
      expect(at(alpha, 240, y)).toBe(255);
    }
    // There and back over both sides of a crossing.
    const both = ladder();
    const [one] = snip(both.sheet, 150, 130, 150, 170, 230, 170, 230, 130);
    expect(one.removed).toHaveLength(1);
    expect(at(alphaOf(both.sheet), 150, 150)).toBe(0);
    expect(at(alphaOf(both.sheet), 230, 150)).toBe(0);
    expect(at(alphaOf(both.sheet), 60, 150)).toBe(255);
  });

  it('ends where another line ends at it, and looks through what is erased', () => {
    const sheet = new TestSheet();
    sheet.ink1(straight(30, 150, 270, 150), fine(10));
    // Ends on the line without reaching its middle.
    sheet.ink1(straight(100, 60, 100, 143), fine(6));
    const wall = sheet.ink1(straight(200, 60, 200, 240), fine(6));
    snip(sheet, 150, 150);
    expect(at(alphaOf(sheet), 150, 150)).toBe(0);
    expect(at(alphaOf(sheet), 60, 150)).toBe(255);
    expect(at(alphaOf(sheet), 240, 150)).toBe(255);
    const other = new TestSheet();
    other.ink1(straight(100, 60, 100, 240), fine(6));
    other.erase(straight(80, 150, 120, 150), 30);
    const line = other.ink1(straight(30, 150, 270, 150), fine(6));
    expect(look(other, 150, 150)).toMatchObject([{ id: line, left: [] }]);
    expect(wall).toBeDefined();
  });

  it('knows that a line which closes goes on beyond its ends', () => {
    const sheet = new TestSheet();
    const ring = (u: number) => [150 + 70 * Math.cos(2 * Math.PI * u), 150 + 70 * Math.sin(2 * Math.PI * u)] as const;
    sheet.ink1(handSamples(ring, { ms: 900, tremorPx: 0 }), fine(6));
    sheet.ink1(straight(150, 50, 150, 250), fine(6));
    snip(sheet, 218, 160);
    const alpha = alphaOf(sheet);
    for (const y of [130, 150, 170]) expect(at(alpha, 150 + Math.sqrt(4900 - (y - 150) ** 2), y)).toBe(0);
    expect(at(alpha, 80, 150)).toBe(255);
    // A line that crosses itself is bound by itself: its loop goes.
    const loop = new TestSheet();
    loop.ink1(
      handSamples((u) => [40 + 220 * u + 120 * Math.sin(2 * Math.PI * u), 150 - 80 * Math.sin(Math.PI * u)], {
        ms: 900,
        tremorPx: 0,
      }),
      fine(4),
    );
    const [own] = snip(loop, 150, 70);
    expect(own.removed).toHaveLength(1);
    expect(own.left).toHaveLength(2);
  });

  it.each([
    [90, 24, 3],
    [60, 24, 3],
    [40, 30, 2],
    [25, 16, 4],
    [140, 24, 3],
    [60, 6, 24],
  ])('ends cleanly along what it crosses: at %i degrees, %i px wide across %i', (deg, wide, narrow) => {
    for (const mirrored of [false, true]) {
      const sheet = new TestSheet();
      const angle = (deg * Math.PI) / 180;
      const [dx, dy] = [Math.cos(angle), Math.sin(angle)];
      const line = sheet.ink1(straight(20, 150, 280, 150), fine(wide));
      const [x0, x1] = [150 - 140 * dx, 150 + 140 * dx];
      const bound = mirrored
        ? straight(x1, 150 + 140 * dy, x0, 150 - 140 * dy)
        : straight(x0, 150 - 140 * dy, x1, 150 + 140 * dy);
      const other = sheet.ink1(bound, fine(narrow));
      const before = alphaOf(sheet);
      snip(sheet, 260, 150);
      sheet.set(other, 'deleted', true);
      const after = alphaOf(sheet);
      sheet.set(other, 'deleted', false);
      let [stuck, bitten] = [0, 0];
      for (let y = 0; y < SIDE; y++)
        for (let x = 0; x < SIDE; x++) {
          // Beyond the middle of what it crosses, by more than half of its width; or on the side that stays.
          const beyond = ((x + 0.5 - 150) * dy - (y + 0.5 - 150) * dx) * Math.sign(dy);
          const isKept = x < 130 || Math.abs(y + 0.5 - 150) <= wide / 2 - 1;
          if (beyond > narrow / 2 + 1 && after[y * SIDE + x] > 26) stuck++;
          if (beyond < -narrow / 2 - 1 && isKept && before[y * SIDE + x] - after[y * SIDE + x] > 26) bitten++;
        }
      expect([stuck, bitten]).toEqual([0, 0]);
      expect(sheet.model.strokes.get(line)!.deleted).toBe(true);
    }
  });

  it('takes what it shows and nothing else, whatever lines cross whichever (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const rnd = random(seed);
        const sheet = new TestSheet();
        const place = () => 30 + 240 * rnd();
        for (let i = 0; i < 6; i++) {
          const [ax, ay, bx, by, bend] = [place(), place(), place(), place(), 60 * (rnd() - 0.5)];
          const samples = handSamples((u) => [ax + (bx - ax) * u, ay + (by - ay) * u + bend * Math.sin(Math.PI * u)], {
            ms: 400,
            seed: 1 + i,
          });
          sheet.ink1(samples, makePen(i % 2 ? 'dip' : 'fineliner', 2 + 14 * rnd(), 30, true, 1));
        }
        const before = alphaOf(sheet);
        const snips = snip(sheet, place(), place(), place(), place());
        const after = alphaOf(sheet);
        let [gained, lost] = [0, 0];
        for (let y = 0; y < SIDE; y++)
          for (let x = 0; x < SIDE; x++) {
            const i = y * SIDE + x;
            if (after[i] > before[i] + 26) gained++;
            if (before[i] > after[i] + 26 && !snips.some((s) => s.removed.some((line) => lies(line, x, y)))) lost++;
          }
        expect(gained).toBe(0);
        expect(lost).toBeLessThanOrEqual(12 * snips.length);
        for (const s of standing(sheet)) if (s.stands) expect(s.stands.to).toBeGreaterThan(s.stands.from);
      }),
      { numRuns: 40, seed: 11 },
    );
  });
});

/** Whether a pixel lies on a line, or near its ends, where it may be cut at a slant. */
function lies(line: Float32Array, x: number, y: number): boolean {
  for (let i = 0; i + 3 < line.length; i += 3) {
    const [ax, ay, ar, bx, by, br] = line.subarray(i, i + 6);
    const sq = (bx - ax) ** 2 + (by - ay) ** 2;
    const u = sq ? Math.min(1, Math.max(0, ((x + 0.5 - ax) * (bx - ax) + (y + 0.5 - ay) * (by - ay)) / sq)) : 0;
    const d = Math.hypot(x + 0.5 - ax - u * (bx - ax), y + 0.5 - ay - u * (by - ay));
    const isEnd = i === 0 || i + 6 >= line.length;
    if (d <= (ar + u * (br - ar)) * (isEnd ? 6 : 1) + 1.5) return true;
  }
  return false;
}
