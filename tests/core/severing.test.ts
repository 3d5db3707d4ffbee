import '../../core/stroke/engine-1/provided';
import { stroke as strokeShape } from '../../contract/entities';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import type { Stroke } from '../../core/sheet/entities';
import { finish } from '../../core/sheet/ink-work';
import { leftBy } from '../../core/sheet/severing';
import { Lineage } from '../../core/sheet/lineage';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { eraserPen } from '../../core/stroke/eraser';
import { makePen, type Pen } from '../../core/stroke/pen';
import type { Samples } from '../../core/stroke/samples';
import { spineFrom } from '../../core/stroke/spine';
import { SpineMaker, spineOf } from '../../core/stroke/spine-maker';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { Resvg } from '@resvg/resvg-js';
import { handSamples, random } from '../measures/strokes';
import { openedInk, strokeEntity, TestSheet } from '../measures/sheets';

const SIDE = 300;
const work = new RasterWorkspace(SIDE, SIDE);
const alphaOf = (sheet: TestSheet, rect = { x0: 0, y0: 0, width: SIDE, height: SIDE }): Uint8Array => {
  const pixels = sheet.ink.draw('lines', 0, rect, work);
  const alpha = new Uint8Array(rect.width * rect.height);
  if (pixels) for (let i = 0; i < alpha.length; i++) alpha[i] = pixels.data[4 * i + 3];
  return alpha;
};
const sum = (values: Uint8Array): number => values.reduce((all, v) => all + v, 0);
const largestDifference = (a: Uint8Array, b: Uint8Array): number =>
  a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i])), 0);

/** Areas of ink that hang together (eight neighbours), px each; found by flooding, largest first. */
function islands(alpha: Uint8Array, width = SIDE): number[] {
  const seen = new Uint8Array(alpha.length);
  const areas: number[] = [];
  for (let start = 0; start < alpha.length; start++) {
    if (seen[start] || alpha[start] < 64) continue;
    let area = 0;
    const todo = [start];
    seen[start] = 1;
    for (let at = todo.pop(); at !== undefined; at = todo.pop()) {
      area++;
      const x = at % width;
      for (const dy of [-1, 0, 1])
        for (const dx of [-1, 0, 1]) {
          const next = at + dy * width + dx;
          if (x + dx < 0 || x + dx >= width || next < 0 || next >= alpha.length) continue;
          if (seen[next] || alpha[next] < 64) continue;
          seen[next] = 1;
          todo.push(next);
        }
    }
    areas.push(area);
  }
  return areas.sort((a, b) => b - a);
}

const partsOn = (sheet: TestSheet): Stroke[] => [...sheet.model.strokes.values()].filter((s) => !s.deleted);
const fine = (sizePx: number): Pen => makePen('fineliner', sizePx, 0, false, 1);
const level = (y = 150): Samples => handSamples((u) => [30 + 240 * u, y], { ms: 600, tremorPx: 0 });
const across = (x: number): Samples => handSamples((u) => [x, 100 + 100 * u], { ms: 200, tremorPx: 0 });

const pressedEraser = (sizePx: number): Pen =>
  eraserPen({ kind: 'hard', sizePx, pressed: true, softness: 0, strength: 1 }, true, 1);

/** The same act with the erasure alone, which severs nothing: what severing must not change. */
function erasedWhole(samples: Samples, pen: Pen, engine: number, eraser: Samples, by: number | Pen): Uint8Array {
  const sheet = new TestSheet();
  const id = sheet.ink1(samples, pen);
  sheet.set(id, 'engine', engine);
  sheet.erase(eraser, by, false);
  return alphaOf(sheet);
}

describe('a stroke that an eraser cuts through', () => {
  it('gives way to its parts, which share its samples', () => {
    const sheet = new TestSheet();
    const id = sheet.ink1(level(), fine(12));
    const count = level().count;
    expect(sheet.erase(across(150), 20)).toEqual([id]);
    expect(sheet.model.strokes.get(id)!.deleted).toBe(true);
    const parts = partsOn(sheet).map((s) => s.stands!);
    expect(parts.map(({ samples, of }) => [samples, of])).toEqual([
      [id, id],
      [id, id],
    ]);
    const [left, right] = parts.sort((a, b) => a.from - b.from);
    // 240 px by 144 steps; the eraser is 20 px wide, and the ends reach 5 px under it.
    expect([left.from, right.to]).toEqual([0, count - 1]);
    expect(left.to * (240 / (count - 1)) + 30).toBeCloseTo(145, -0.3);
    expect(right.from * (240 / (count - 1)) + 30).toBeCloseTo(155, -0.3);
    expect(partsOn(sheet).every((s) => s.order === sheet.model.strokes.get(id)!.order)).toBe(true);
  });

  it('moves each part alone, with its end as the eraser left it', () => {
    const sheet = new TestSheet();
    sheet.ink1(level(), fine(12));
    sheet.erase(across(150), 20);
    const whole = alphaOf(sheet);
    const right = partsOn(sheet).find((s) => s.stands!.from > 0)!;
    sheet.set(right.id, 'matrix', [1, 0, 0, 1, 0, 60]);
    const moved = alphaOf(sheet);
    const row = (alpha: Uint8Array, y: number, from: number, to: number) => [
      ...alpha.subarray(y * SIDE + from, y * SIDE + to),
    ];
    for (let y = 140; y < 162; y++) {
      expect(row(moved, y, 0, 150)).toEqual(row(whole, y, 0, 150));
      expect(row(moved, y + 60, 150, SIDE)).toEqual(row(whole, y, 150, SIDE));
      expect(Math.max(...row(moved, y, 150, SIDE))).toBe(0);
      expect(Math.max(...row(moved, y + 60, 0, 150))).toBe(0);
    }
  });

  it('comes back to the last bit when the step is taken back', () => {
    const sheet = new TestSheet();
    sheet.ink1(level(), makePen('dip', 12, 30, true, 1));
    const before = alphaOf(sheet);
    sheet.erase(across(150), 20);
    expect(largestDifference(alphaOf(sheet), before)).toBe(255);
    sheet.undo();
    expect(largestDifference(alphaOf(sheet), before)).toBe(0);
    expect(partsOn(sheet)).toHaveLength(1);
  });

  it('is cut again and again: parts of parts, each erased by all that erased what it comes from', () => {
    const sheet = new TestSheet();
    const id = sheet.ink1(level(), fine(12));
    // A bite out of its upper half near the right end, then three cuts.
    sheet.erase(
      handSamples((u) => [238 + 4 * u, 144], { ms: 60, tremorPx: 0 }),
      8,
    );
    expect(partsOn(sheet)).toHaveLength(1);
    for (const x of [90, 150, 210]) sheet.erase(across(x), 14);
    const parts = partsOn(sheet).sort((a, b) => a.stands!.from - b.stands!.from);
    expect(parts).toHaveLength(4);
    expect(new Set(parts.map((p) => p.stands!.samples))).toEqual(new Set([id]));
    for (let i = 1; i < 4; i++) expect(parts[i].stands!.from).toBeGreaterThan(parts[i - 1].stands!.to - 1);
    const before = alphaOf(sheet);
    expect(before[144 * SIDE + 240]).toBe(0);
    sheet.set(parts[3].id, 'matrix', [1, 0, 0, 1, -200, 80]);
    const moved = alphaOf(sheet);
    // The bite goes along, and stays out of the others.
    expect([moved[224 * SIDE + 40], moved[232 * SIDE + 40], moved[144 * SIDE + 240]]).toEqual([0, 255, 0]);
    expect(islands(moved)).toHaveLength(4);
    // What a reload shows: the tombstones are there, and say who comes of whom.
    const reopened = openedInk([...sheet.model.strokes.values()], [...sheet.model.erasures.values()], sheet.samples);
    const again = reopened.draw('lines', 0, { x0: 0, y0: 0, width: SIDE, height: SIDE }, work)!;
    const shown = Uint8Array.from(moved, (_, i) => again.data[4 * i + 3]);
    expect(largestDifference(shown, moved)).toBe(0);
  });

  it('leaves a part as it is where a later eraser only grazes it', () => {
    const sheet = new TestSheet();
    sheet.ink1(level(), fine(16));
    sheet.erase(across(150), 20);
    const parts = partsOn(sheet).map((s) => s.id);
    for (const x of [60, 90, 220])
      sheet.erase(
        handSamples((u) => [x + 10 * u, 142], { ms: 100, tremorPx: 0 }),
        8,
      );
    expect(partsOn(sheet).map((s) => s.id)).toEqual(parts);
    // At its cut end as well, and there it can be shortened.
    sheet.erase(
      handSamples((u) => [128 + 8 * u, 142], { ms: 100, tremorPx: 0 }),
      8,
    );
    expect(partsOn(sheet).map((s) => s.id)).toEqual(parts);
    sheet.erase(across(134), 14);
    expect(partsOn(sheet)).toHaveLength(2);
    expect(partsOn(sheet).map((s) => s.id)).not.toEqual(parts);
    expect(islands(alphaOf(sheet))).toHaveLength(2);
  });

  it('loses an end, or is gone as a whole', () => {
    const sheet = new TestSheet();
    sheet.ink1(level(), fine(12));
    sheet.erase(
      handSamples((u) => [230 + 60 * u, 150], { ms: 200, tremorPx: 0 }),
      20,
    );
    expect(partsOn(sheet).map((s) => s.stands!.from)).toEqual([0]);
    sheet.erase(
      handSamples((u) => [10 + 280 * u, 150], { ms: 400, tremorPx: 0 }),
      20,
    );
    expect(partsOn(sheet)).toEqual([]);
    expect(sum(alphaOf(sheet))).toBe(0);
  });

  it('stays one where only a part of its width is taken, until the rest is taken as well', () => {
    const sheet = new TestSheet();
    const id = sheet.ink1(level(), fine(16));
    const along = (y: number) => handSamples((u) => [120 + 40 * u, y], { ms: 200, tremorPx: 0 });
    sheet.erase(along(144), 12);
    expect(partsOn(sheet).map((s) => s.id)).toEqual([id]);
    sheet.erase(along(156), 14);
    expect(partsOn(sheet)).toHaveLength(2);
    expect(islands(alphaOf(sheet))).toHaveLength(2);
  });

  it('keeps the cap of an end that the eraser has not reached', () => {
    const sheet = new TestSheet();
    sheet.ink1(level(), fine(40));
    // A thin cut within the last half disc of the line.
    sheet.erase(
      handSamples((u) => [268, 110 + 80 * u], { ms: 200, tremorPx: 0 }),
      4,
    );
    expect(islands(alphaOf(sheet)).length).toBe(2);
    expect(partsOn(sheet)).toHaveLength(2);
  });

  it('leaves ranges that the server takes, however far the hand went between two samples', () => {
    const line = {
      spine: spineFrom([
        [0, 0, 5],
        [10000, 0, 5],
      ]),
      samples: Float64Array.of(0, 1),
      last: 1,
    };
    // What is left at the end is less than a thousandth of the way.
    const cut = spineFrom([
      [9999.4, -20, 0.3],
      [9999.4, 20, 0.3],
    ]);
    const left = leftBy(line, { from: 0, to: 1 }, cut)!;
    expect(left).toHaveLength(2);
    for (const range of left)
      expect(strokeShape.safeParse(strokeEntity('part', { stands: { samples: 'a', of: 'a', ...range } })).success).toBe(
        true,
      );
  });

  it('may be a dot: gone if all of it is erased, else bitten', () => {
    const dot = handSamples(() => [150, 150], { ms: 0, tremorPx: 0 });
    const sheet = new TestSheet();
    const id = sheet.ink1(dot, fine(12));
    sheet.erase(across(158), 14);
    expect(partsOn(sheet).map((s) => s.id)).toEqual([id]);
    sheet.erase(across(150), 20);
    expect(partsOn(sheet)).toEqual([]);
  });

  it.each([
    ['even', 4711, (sizePx: number) => sizePx, 0],
    // Where one that tapers only just reaches across, the straight ends of two parts meet in a few pixels.
    ['pressed', 815, pressedEraser, 12],
  ])(
    'shows what the erasure alone would show, whatever the pen, the engine and the way: %s eraser',
    (_, seed, eraserOf, meeting) => {
      const rnd = random(seed);
      let severed = 0;
      for (let run = 0; run < 60; run++) {
        const [bend, wave, phase] = [rnd() * 120 - 60, 1 + rnd() * 3, rnd() * 6];
        const samples = handSamples((u) => [30 + 240 * u, 150 + bend * Math.sin(wave * Math.PI * u + phase)], {
          ms: 300 + 900 * rnd(),
          seed: 1 + run,
          tremorPx: rnd(),
        });
        const pen = makePen(run % 2 ? 'dip' : 'fineliner', 2 + 18 * rnd(), 100 * rnd(), rnd() < 0.5, 0.5 + 1.5 * rnd());
        const engine = 1 + (run % 3);
        const [x, y, turn] = [60 + 180 * rnd(), 150 + bend * (rnd() - 0.5), rnd() * Math.PI];
        const eraser = handSamples((u) => [x + 90 * (u - 0.5) * Math.cos(turn), y + 90 * (u - 0.5) * Math.sin(turn)], {
          ms: 200,
          seed: 100 + run,
        });
        const by = eraserOf(3 + 40 * rnd());
        const sheet = new TestSheet();
        const id = sheet.ink1(samples, pen);
        sheet.set(id, 'engine', engine);
        const before = sum(alphaOf(sheet));
        sheet.erase(eraser, by);
        if (sheet.model.strokes.get(id)!.deleted) severed++;
        for (const part of partsOn(sheet)) expect(strokeShape.safeParse(part).success).toBe(true);
        const [cut, whole] = [alphaOf(sheet), erasedWhole(samples, pen, engine, eraser, by)];
        // Two spines of one line may lie a tenth of a pixel apart.
        expect(cut.filter((v, i) => Math.abs(v - whole[i]) > 26).length).toBeLessThanOrEqual(meeting);
        expect(largestDifference(cut, whole)).toBeLessThanOrEqual(meeting ? 80 : 26);
        expect(Math.abs(sum(cut) - sum(whole))).toBeLessThanOrEqual(0.005 * before);
      }
      expect(severed).toBeGreaterThan(20);
    },
  );

  it.each([
    ['even', 99, (width: number) => width, (width: number) => 2 * width],
    // Its thin ends leave smaller ones standing.
    ['pressed', 7, (width: number) => pressedEraser(2 * width), () => 1],
  ])(
    'falls into as many parts as there are islands of ink, where the eraser is wider: %s',
    (_, seed, eraserOf, slivers) => {
      const rnd = random(seed);
      for (let run = 0; run < 40; run++) {
        const bend = rnd() * 80 - 40;
        const samples = handSamples((u) => [20 + 260 * u, 150 + bend * Math.sin(Math.PI * u)], {
          ms: 700,
          seed: 1 + run,
        });
        const width = 3 + 9 * rnd();
        const sheet = new TestSheet();
        sheet.ink1(samples, fine(width));
        const wave = 1 + Math.floor(rnd() * 4);
        const from = 40 + 60 * rnd();
        sheet.erase(
          handSamples((u) => [from + 140 * u, 150 + bend + 90 * Math.sin(wave * Math.PI * u + 0.5)], {
            ms: 500,
            seed: run + 7,
          }),
          eraserOf(width * (1.6 + rnd())),
        );
        // A few pixels that an eraser leaves in grazing are no parts.
        const largerThan = (px: number) => islands(alphaOf(sheet)).filter((area) => area > px).length;
        expect(partsOn(sheet).length).toBeGreaterThanOrEqual(largerThan(2 * width));
        expect(partsOn(sheet).length).toBeLessThanOrEqual(largerThan(slivers(width)));
      }
    },
  );

  it('is sent as SVG the way it looks', () => {
    const paper = { widthPx: SIDE, heightPx: SIDE, ppi: 300 };
    const sheet = new TestSheet();
    sheet.ink1(
      handSamples((u) => [30 + 240 * u, 150 + 60 * Math.sin(5 * u)], { ms: 700 }),
      makePen('dip', 22, 30, true, 1),
    );
    for (const x of [80, 150, 152, 220]) sheet.erase(across(x), 26);
    const parts = partsOn(sheet);
    expect(parts.length).toBeGreaterThan(2);
    sheet.set(parts[0].id, 'matrix', [0, 1, -1, 0, 280, 20]);
    const svg = finish(sheetSvg(sheet.model, sheet.ink, paper, { onPaper: false, title: 'Cut' }));
    const { pixels } = new Resvg(svg, { fitTo: { mode: 'width', value: SIDE } }).render();
    const ours = alphaOf(sheet);
    const theirs = Uint8Array.from(ours, (_, i) => pixels[4 * i + 3]);
    const edges = ours.filter((v) => v > 0 && v < 255).length;
    const differences = ours.reduce((all, v, i) => all + Math.abs(v - theirs[i]), 0);
    expect(differences / edges / 255).toBeLessThan(0.03);
    expect(largestDifference(ours, theirs)).toBeLessThan(0.25 * 255);
  });
});

describe('a part of a spine', () => {
  const samples = handSamples((u) => [40 + 200 * u, 100 + 50 * Math.sin(6 * u)], { ms: 800 });
  const bytes = encodeSamples(samples);

  it.each([1, 2, 3])('begins and ends where its samples say, and lies on the whole one: engine %d', (engine) => {
    const pen = makePen('dip', 10, 50, true, 1);
    const maker = new SpineMaker();
    const { spine, samples: at, last } = maker.measured(bytes, pen, engine, 0.01);
    expect([at[0], at[at.length - 1], at.length]).toEqual([0, samples.count - 1, spine.count]);
    expect(last).toBe(samples.count - 1);
    for (let i = 1; i < at.length; i++) expect(at[i]).toBeGreaterThan(at[i - 1]);
    const from = Math.floor(spine.count / 3);
    const to = Math.floor((2 * spine.count) / 3);
    const part = maker.ofBytes(bytes, pen, engine, 0.01, { from: at[from], to: at[to] });
    for (const [i, j] of [
      [0, from],
      [part.count - 1, to],
    ])
      for (const c of [0, 1, 2]) expect(part.data[3 * i + c]).toBeCloseTo(spine.data[3 * j + c], 6);
    expect([part.isCutStart, part.isCutEnd]).toEqual([true, true]);
    const whole = maker.ofBytes(bytes, pen, engine, 0.01, { from: 0, to: last });
    const plain = maker.ofBytes(bytes, pen, engine, 0.01);
    expect([whole.isCutStart, whole.isCutEnd]).toEqual([false, false]);
    expect([...whole.data.subarray(0, 3)]).toEqual([...plain.data.subarray(0, 3)]);
  });

  it('is empty where nothing of the stroke stands, and the whole where more is asked for than there is', () => {
    const pen = fine(8);
    const maker = new SpineMaker();
    expect(maker.ofBytes(bytes, pen, 3, 0.1, { from: 5000, to: 6000 }).count).toBe(0);
    const all = maker.ofBytes(bytes, pen, 3, 0.1, { from: 0, to: 5000 });
    const plain = spineOf(samples, pen, 0.1);
    expect([...all.data.subarray(3 * all.count - 3, 3 * all.count)]).toEqual([
      ...plain.data.subarray(3 * plain.count - 3, 3 * plain.count),
    ]);
    const dot = encodeSamples(handSamples(() => [50, 50], { ms: 0, tremorPx: 0 }));
    expect(maker.ofBytes(dot, pen, 3, 0.1, { from: 0, to: 9 })).toEqual(maker.ofBytes(dot, pen, 3, 0.1));
  });
});

describe('lineage', () => {
  it('knows what comes of what, and is not caught in a ring', () => {
    const lineage = new Lineage();
    lineage.add('b', 'a');
    lineage.add('c', 'a');
    lineage.add('d', 'b');
    lineage.add('d', 'c');
    expect([...lineage.upwards('d')]).toEqual(['d', 'b', 'a']);
    expect([...lineage.downwards('a')]).toEqual(['a', 'b', 'c', 'd']);
    expect([...lineage.upwards('x')]).toEqual(['x']);
    lineage.add('a', 'd');
    expect([...lineage.upwards('d')]).toEqual(['d', 'b', 'a']);
    expect([...lineage.downwards('d')]).toEqual(['d', 'a', 'b', 'c']);
  });
});
