import { stroke as strokeShape } from '../../contract/entities';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { makePixels } from '../../core/raster/pixels';
import { finish } from '../../core/sheet/ink-work';
import { mendAlong, type Mended } from '../../core/sheet/mending';
import { replacementChanges } from '../../core/sheet/replacing';
import { snippingChanges, snipsAlong } from '../../core/sheet/snipping';
import { decodeSamples } from '../../core/stroke/codec';
import { boxPath } from '../../core/stroke/forms';
import { decodePath } from '../../core/stroke/path';
import { makePen, type Pen } from '../../core/stroke/pen';
import { smoothed, straightPath } from '../../core/stroke/pulls';
import { handSamples, random } from '../measures/strokes';
import { TestSheet } from '../measures/sheets';

const SIDE = 320;
const REACH = 8;
const work = new RasterWorkspace(SIDE, SIDE);
const dip = (sizePx = 9): Pen => makePen('dip', sizePx, 20, true, 1);
const alphaOf = ({ ink }: TestSheet): Uint8Array => {
  const pixels = ink.draw('lines', 0, makePixels(0, 0, SIDE, SIDE), work);
  return Uint8Array.from({ length: SIDE * SIDE }, (_, i) => pixels?.data[4 * i + 3] ?? 0);
};
const at = (alpha: Uint8Array, x: number, y: number): number => alpha[Math.round(y) * SIDE + Math.round(x)];
const standing = ({ model }: TestSheet) => [...model.strokes.values()].filter((s) => !s.deleted);
/** How far two pictures are apart at most, where it counts. */
const furthestApart = (a: Uint8Array, b: Uint8Array, counts: (x: number) => boolean): number =>
  a.reduce((most, v, i) => (counts(i % SIDE) ? Math.max(most, Math.abs(v - b[i])) : most), 0);
/** A line across, a little shaky. */
const across = (y = 160, x0 = 30, x1 = 290) => handSamples((u) => [x0 + (x1 - x0) * u, y], { ms: 700, seed: 3 });
/** A way from (x0, y0) to (x1, y1) that swings out by `by`. */
const swing = (x0: number, y0: number, x1: number, y1: number, by: number, n = 24): number[] =>
  Array.from({ length: n + 1 }, (_, i) => {
    const u = i / n;
    return [x0 + (x1 - x0) * u, y0 + (y1 - y0) * u + by * Math.sin(Math.PI * u) ** 2];
  }).flat();

let ids = 0;
function mend(sheet: TestSheet, way: number[]): Mended | undefined {
  const mended = finish(mendAlong(sheet.ink, ['lines'], Float64Array.from(way), REACH));
  if (!mended) return undefined;
  const { changes, parts } = replacementChanges(sheet.model.strokes.get(mended.id)!, mended, () => `m${ids++}`);
  sheet.put(changes, parts);
  for (const s of standing(sheet)) expect(strokeShape.safeParse(s).error).toBeUndefined();
  return mended;
}

/** The sharpest turn of a line between its pieces, degrees. */
function sharpest(way: Float32Array): number {
  let most = 0;
  for (let i = 3; i + 3 < way.length; i += 3) {
    const [ax, ay] = [way[i] - way[i - 3], way[i + 1] - way[i - 2]];
    const [bx, by] = [way[i + 3] - way[i], way[i + 4] - way[i + 1]];
    const turn = Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
    if (Math.hypot(ax, ay) > 0.05 && Math.hypot(bx, by) > 0.05) most = Math.max(most, Math.abs(turn));
  }
  return (most * 180) / Math.PI;
}

/** Snips what lies to the right of a thin line across the one at y = 160. */
function snipRightEnd(sheet: TestSheet): void {
  sheet.ink1(
    handSamples((u) => [230, 100 + 120 * u], { ms: 300, tremorPx: 0 }),
    makePen('fineliner', 2, 0, true, 1),
  );
  const snips = finish(snipsAlong(sheet.ink, ['lines'], ['lines'], Float64Array.of(270, 160), 4));
  const { changes, parts } = snippingChanges(
    snips,
    (id) => sheet.model.strokes.get(id),
    () => `p${ids++}`,
  );
  sheet.put(changes, parts);
}

describe('mending', () => {
  it.each([false, true])('takes the new way and keeps all else as it was; drawn backwards: %s', (backwards) => {
    const sheet = new TestSheet();
    const line = sheet.ink1(across(), dip());
    const before = alphaOf(sheet);
    const way = swing(110, 162, 210, 158, 40);
    const drawn = backwards ? way.map((_, i) => way[way.length - 2 - i + 2 * (i % 2)]) : way;
    const mended = mend(sheet, drawn)!;
    expect(mended.id).toBe(line);
    const after = alphaOf(sheet);
    expect(at(before, 160, 160)).toBe(255);
    expect(at(after, 160, 160)).toBe(0);
    expect(at(after, 160, 200)).toBeGreaterThan(200);
    expect(furthestApart(before, after, (x) => x < 95 || x >= 225)).toBeLessThanOrEqual(26);
    expect(standing(sheet)).toMatchObject([{ order: sheet.model.strokes.get(line)!.order, pen: dip() }]);
  });

  it('joins smoothly, however the way meets the line, and as wide as the line was', () => {
    const rnd = random(5);
    for (let run = 0; run < 40; run++) {
      const sheet = new TestSheet();
      const pen = makePen(run % 2 ? 'dip' : 'fineliner', 4 + 8 * rnd(), 20, true, 1);
      sheet.ink1(across(), pen);
      const [offA, offB] = [8 * (rnd() - 0.5), 8 * (rnd() - 0.5)];
      const { way } = mend(sheet, swing(100, 160 + offA, 220, 160 + offB, 60 * (rnd() - 0.5), 30))!;
      // A circle as tight as 12 px in pieces of a fifth of a mm turns by so much from piece to piece.
      expect(sharpest(way)).toBeLessThan(25);
      const widest = Math.max(...way.filter((_, i) => i % 3 === 2));
      expect(widest).toBeLessThanOrEqual(pen.sizePx / 2 + 1e-6);
      expect(Math.min(...way.filter((_, i) => i % 3 === 2))).toBeGreaterThan(0.5 * widest);
    }
  });

  it('ends or begins a line anew where the way only leaves it, or only comes to it, on whichever side', () => {
    for (const [way, gone, stays, fresh] of [
      // Leaves it towards its end.
      [swing(200, 160, 270, 220, 0), [270, 160], [100, 160], [250, 203]],
      // Leaves it against its direction: its beginning is made anew.
      [swing(120, 160, 60, 90, 0), [60, 160], [250, 160], [80, 113]],
      // Comes to it along its direction.
      [swing(60, 90, 120, 160, 0), [60, 160], [250, 160], [80, 113]],
      // Comes to it from beyond its end.
      [swing(270, 220, 200, 160, 0), [270, 160], [100, 160], [250, 203]],
    ] as const) {
      const sheet = new TestSheet();
      sheet.ink1(across(), makePen('fineliner', 9, 20, true, 1));
      mend(sheet, [...way]);
      const after = alphaOf(sheet);
      expect(at(after, gone[0], gone[1])).toBe(0);
      expect(at(after, stays[0], stays[1])).toBe(255);
      expect(Math.max(...[-3, 0, 3].map((d) => at(after, fresh[0], fresh[1] + d)))).toBeGreaterThan(200);
      expect(standing(sheet)).toHaveLength(1);
    }
  });

  it('makes a line longer from its end, pressed as it was for the most part', () => {
    const sheet = new TestSheet();
    sheet.ink1(across(160, 30, 150), dip());
    const { way } = mend(sheet, swing(150, 160, 280, 170, 0))!;
    const middle = way.filter((_, i) => i % 3 === 2).slice(way.length / 9, (2 * way.length) / 9);
    expect(Math.min(...middle)).toBeGreaterThan(2);
    expect(at(alphaOf(sheet), 250, 168)).toBeGreaterThan(200);
  });

  it('lies where the line was moved to, and goes along with it', () => {
    const turned = [0.8, 0.6, -0.6, 0.8, 120, -70] as const;
    const sheet = new TestSheet();
    sheet.ink1(across(100, 30, 230), dip(), '#000000', turned);
    const place = (x: number, y: number) => [0.8 * x - 0.6 * y + 120, 0.6 * x + 0.8 * y - 70];
    const own = swing(90, 100, 170, 100, 30);
    mend(sheet, Array.from({ length: own.length / 2 }, (_, i) => place(own[2 * i], own[2 * i + 1])).flat());
    const [x, y] = place(130, 130);
    expect(at(alphaOf(sheet), x, y)).toBeGreaterThan(200);
    expect(standing(sheet)[0].matrix).toEqual(turned);
  });

  it('keeps what is erased of what it keeps, and is not erased where it goes anew', () => {
    const sheet = new TestSheet();
    sheet.ink1(across(), makePen('fineliner', 14, 20, true, 1));
    // One bites into what stays, one into what is replaced.
    sheet.erase(
      handSamples((u) => [70 + u, 152], { ms: 50 }),
      8,
    );
    sheet.erase(
      handSamples((u) => [155 + u, 152], { ms: 50 }),
      8,
    );
    const before = alphaOf(sheet);
    expect([at(before, 70, 154), at(before, 155, 154)]).toEqual([0, 0]);
    mend(sheet, swing(120, 160, 200, 160, -3));
    const after = alphaOf(sheet);
    expect(at(after, 70, 154)).toBe(0);
    expect(at(after, 155, 154)).toBe(255);
  });

  it('mends parts: their cut ends stay cut where they are kept', () => {
    const sheet = new TestSheet();
    sheet.ink1(across(), makePen('fineliner', 16, 20, true, 1));
    snipRightEnd(sheet);
    const before = alphaOf(sheet);
    expect(at(before, 234, 160)).toBe(0);
    const mended = mend(sheet, swing(90, 160, 170, 160, 30))!;
    expect(mended.stands).toBeDefined();
    const after = alphaOf(sheet);
    expect(furthestApart(before, after, (x) => x >= 200)).toBeLessThanOrEqual(26);
    // Drawn on beyond the cut, the end is one of its own again.
    const longer = mend(sheet, swing(210, 160, 300, 190, 0))!;
    expect(longer.stands).toBeUndefined();
    expect(at(alphaOf(sheet), 290, 186)).toBeGreaterThan(200);
  });

  it('takes the line that both ends are at, and does nothing where there is none', () => {
    const sheet = new TestSheet();
    sheet.ink1(across(150), dip());
    const both = sheet.ink1(across(160), dip());
    sheet.ink1(across(168, 200, 290), dip());
    expect(mend(sheet, swing(100, 161, 230, 162, 50))!.id).toBe(both);
    expect(mend(sheet, swing(30, 20, 90, 30, 4))).toBeUndefined();
    expect(mend(sheet, [100, 160])).toBeUndefined();
  });

  it('gives samples whose time never stands still nor runs backwards, whatever the old ones said', () => {
    const still = across();
    still.t = still.t.map(() => 0);
    for (const samples of [across(), still]) {
      const sheet = new TestSheet();
      sheet.ink1(samples, makePen('dip', 9, 20, false, 1));
      const { bytes } = mend(sheet, swing(100, 160, 220, 160, 30))!;
      const { t, count, x } = decodeSamples(bytes);
      for (let i = 1; i < count; i++) expect(t[i]).toBeGreaterThanOrEqual(t[i - 1]);
      expect(x.slice(0, count).every(Number.isFinite)).toBe(true);
    }
  });

  it('comes back to the last bit when it is taken back', () => {
    const sheet = new TestSheet();
    const line = sheet.ink1(across(), dip());
    const before = alphaOf(sheet);
    mend(sheet, swing(110, 162, 210, 158, 40));
    for (const s of standing(sheet)) sheet.set(s.id, 'deleted', true);
    sheet.set(line, 'deleted', false);
    expect(Buffer.compare(alphaOf(sheet), before)).toBe(0);
  });

  it.each([
    ['not', 0],
    ['over its first node', 1],
  ])('of a path that closes keeps it one, and all that the way does not replace; %s', (_, isAcross) => {
    const sheet = new TestSheet();
    const box = boxPath({ x: 60, y: 60 }, { x: 260, y: 260 }, false);
    // Its first node is its upper left corner, or one in the middle of its lower side.
    if (isAcross) box.nodes.unshift(box.nodes.pop()!);
    sheet.path(box, makePen('dip', 10, 60, true, 1));
    const before = alphaOf(sheet);
    const way = isAcross ? swing(60, 200, 130, 260, 0) : swing(120, 260, 200, 260, -40);
    mend(sheet, way);
    const after = alphaOf(sheet);
    const line = standing(sheet)[0];
    const path = decodePath(sheet.samples.get(line.id)!);
    expect(path.closed).toBe(true);
    if (isAcross) {
      // The corner is cut off; the other three are as sharp as they were.
      expect([at(before, 60, 260), at(after, 60, 260)]).toEqual([255, 0]);
      expect(Math.max(...[-4, 0, 4].map((d) => at(after, 95 + d, 230)))).toBe(255);
      expect(furthestApart(before, after, (x) => x >= 140)).toBeLessThanOrEqual(26);
    } else {
      expect([at(before, 160, 260), at(after, 160, 260)]).toEqual([255, 0]);
      expect(at(after, 160, 220)).toBe(255);
      expect(furthestApart(before, after, (x) => x < 108 || x >= 212)).toBeLessThanOrEqual(26);
    }
    const corners = path.nodes.filter((n) => n.kind === 'corner').map(({ x, y }) => `${x},${y}`);
    expect(corners).toEqual(expect.arrayContaining(['60,60', '260,60', '260,260', ...(isAcross ? [] : ['60,260'])]));
    for (const { width } of path.nodes) expect(width).toBeGreaterThan(0.95);
  });

  it('of a path that was cut keeps the cut end where it was', () => {
    const sheet = new TestSheet();
    sheet.path(smoothed(straightPath({ x: 30, y: 160 }, { x: 290, y: 160 })), makePen('fineliner', 16, 0, false, 1));
    snipRightEnd(sheet);
    const before = alphaOf(sheet);
    expect(mend(sheet, swing(90, 160, 170, 160, 30))!.stands).toBeDefined();
    const after = alphaOf(sheet);
    expect(furthestApart(before, after, (x) => x >= 190 || x < 70)).toBeLessThanOrEqual(26);
    expect([at(before, 130, 160), at(after, 130, 160)]).toEqual([255, 0]);
  });

  it('of a ring that was drawn by hand goes over where its ends meet, where the way does', () => {
    const ring = (u: number) => [160 + 90 * Math.cos(6.283 * u), 160 + 90 * Math.sin(6.283 * u)] as const;
    const sheet = new TestSheet();
    sheet.ink1(handSamples(ring, { ms: 1200, tremorPx: 0 }), makePen('fineliner', 8, 20, true, 1));
    const before = alphaOf(sheet);
    // Out to the right of where it began, upwards.
    const way = Array.from({ length: 31 }, (_, i) => {
      const angle = 0.6 - (1.2 * i) / 30;
      const r = 90 + 40 * Math.sin((Math.PI * i) / 30) ** 2;
      return [160 + r * Math.cos(angle), 160 + r * Math.sin(angle)];
    }).flat();
    for (const drawn of [way, way.map((_, i) => way[way.length - 2 - i + 2 * (i % 2)])]) {
      const own = new TestSheet();
      own.ink1(handSamples(ring, { ms: 1200, tremorPx: 0 }), makePen('fineliner', 8, 20, true, 1));
      mend(own, drawn);
      const after = alphaOf(own);
      expect([at(before, 250, 160), at(after, 250, 160), at(after, 290, 160)]).toEqual([255, 0, 255]);
      expect(furthestApart(before, after, (x) => x < 225)).toBeLessThanOrEqual(26);
      expect(standing(own)).toHaveLength(1);
    }
  });
});
