import '../../core/stroke/engine-1/provided';
import { grow } from '../../core/geometry/box';
import type { Matrix } from '../../core/geometry/matrix';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { copyInto, makePixels } from '../../core/raster/pixels';
import { TILE } from '../../core/raster/tiles';
import { FIRST_LAYER, newSettings, type Erasure, type Pour, type Stroke } from '../../core/sheet/entities';
import { erasing } from '../../core/sheet/erased-strokes';
import { drawingOf } from '../../core/sheet/ink-drawing';
import { finish } from '../../core/sheet/ink-work';
import { InkStore } from '../../core/sheet/ink-store';
import { SheetModel } from '../../core/sheet/sheet-model';
import { assign, putRows, type Change } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { SpineMaker } from '../../core/stroke/spine-maker';
import { handSamples, random } from '../measures/strokes';
import { openedInk, packedStrokes, strokeEntity } from '../measures/sheets';

const line = (y: number, dx = 0) => encodeSamples(handSamples((u) => [20 + dx + 200 * u, y], { ms: 300 }));
const RECT = { x0: 0, y0: 0, width: TILE, height: TILE };
const work = new RasterWorkspace(TILE, TILE);

/** A model and its store, followed change by change as the worker does. */
class Followed {
  readonly model = new SheetModel(newSettings(300), [FIRST_LAYER]);
  readonly ink: InkStore;

  /** @param opened strokes that it is opened with. */
  constructor(opened: readonly Stroke[] = [], parts: ReadonlyMap<string, Uint8Array> = new Map()) {
    this.model.strokes.open(packedStrokes(opened, parts));
    this.ink = openedInk(opened, [], parts);
  }

  put(id: string, bytes: Uint8Array, more: Partial<Stroke> = {}) {
    return this.follow([putRows('strokes', strokeEntity(id, more))], new Map([[id, bytes]]));
  }

  set<F extends keyof Stroke>(id: string, field: F, value: Stroke[F]) {
    return this.follow([assign('strokes', this.model.strokes.get(id)!, field, value)]);
  }

  follow(changes: Change[], parts: Map<string, Uint8Array> = new Map()) {
    return this.ink.follow(this.model.apply(changes), parts);
  }

  /** A store that was opened with the sheet as it stands: what a reload shows. */
  reopened(parts: Map<string, Uint8Array>): InkStore {
    return openedInk([...this.model.strokes.values()], [...this.model.erasures.values()], parts);
  }
}

const drawn = (ink: InkStore) => Buffer.from(ink.draw('lines', 0, RECT, work)!.data);

describe('the ink store', () => {
  it('shows the same whether it followed the steps or was opened with their result', () => {
    const parts = new Map([
      ['a', line(60)],
      ['b', line(90)],
      ['c', line(120)],
    ]);
    const sheet = new Followed([strokeEntity('a', { order: 'a1' })], parts);
    sheet.put('b', parts.get('b')!, { order: 'a2', colour: '#c2185b' });
    sheet.put('c', parts.get('c')!, { order: 'a3' });
    // Each undone and redone: the one that was there from the beginning is in the index, the others are not.
    for (const id of ['a', 'b']) {
      sheet.set(id, 'deleted', true);
      expect(drawn(sheet.ink).equals(drawn(sheet.reopened(parts)))).toBe(true);
      sheet.set(id, 'deleted', false);
    }
    sheet.set('c', 'matrix', [1, 0, 0, 1, 10, 30]);
    sheet.set('b', 'order', 'a0');
    sheet.set('a', 'colour', '#1f3a5f');
    expect(drawn(sheet.ink).equals(drawn(sheet.reopened(parts)))).toBe(true);
    expect(sheet.ink.find('lines', { x0: 0, y0: 0, x1: 300, y1: 300 }).map((r) => r.stroke.id)).toEqual([
      'b',
      'a',
      'c',
    ]);
  });

  it('draws a part of a severed stroke from the samples that it names, though that stroke has another shape by now', () => {
    const pour: Pour = { seeds: [[20, 20]], gapPx: 4, against: ['lines'] };
    const parts = new Map([
      ['a', line(60)],
      ['shape', line(120)],
    ]);
    const stands = { samples: 'a', of: 'a', from: 10, to: 40 };
    const part = putRows('strokes', strokeEntity('part', { stands }));
    const severed = (isReshaped: boolean) => {
      const sheet = new Followed();
      sheet.put('a', parts.get('a')!, { pour, deleted: true });
      if (isReshaped)
        sheet.follow([assign('strokes', sheet.model.strokes.get('a')!, 'pour', { ...pour, shape: 'shape' })], parts);
      expect(sheet.ink.lackingFor([part], new Map())).toEqual([]);
      sheet.follow([part]);
      return sheet;
    };
    expect(drawn(severed(true).ink).equals(drawn(severed(false).ink))).toBe(true);
    // Not here any more: it is asked for by that name, and until it comes it is owed.
    const opened = strokeEntity('a', { pour: { ...pour, shape: 'shape' }, deleted: true });
    const sheet = new Followed([opened], new Map([['a', parts.get('shape')!]]));
    expect(sheet.ink.lackingFor([part], new Map())).toEqual(['~a']);
    sheet.follow([part]);
    expect([...sheet.ink.owed]).toEqual([['part', 'a']]);
    sheet.ink.settle(new Map([['~a', parts.get('a')!]]));
    expect(sheet.ink.owed.size).toBe(0);
    expect(drawn(sheet.ink).equals(drawn(severed(false).ink))).toBe(true);
  });

  it('finds a moved stroke where it lies now, and not where it lay', () => {
    const sheet = new Followed([strokeEntity('a')], new Map([['a', line(60)]]));
    const before = sheet.ink.find('lines', { x0: 0, y0: 50, x1: 300, y1: 70 });
    expect(before).toHaveLength(1);
    const damage = sheet.set('a', 'matrix', [1, 0, 0, 1, 0, 500]);
    expect(sheet.ink.find('lines', { x0: 0, y0: 50, x1: 300, y1: 70 })).toEqual([]);
    expect(sheet.ink.find('lines', { x0: 0, y0: 550, x1: 300, y1: 570 })).toHaveLength(1);
    // What must be painted anew holds both places.
    expect(damage).toHaveLength(1);
    expect(damage[0].box.y0).toBeLessThan(60);
    expect(damage[0].box.y1).toBeGreaterThan(560);
  });

  it('tells an addition on top from any other change', () => {
    const sheet = new Followed();
    expect(sheet.put('a', line(60), { order: 'a1' })[0].added).toBe('a');
    expect(sheet.put('b', line(90), { order: 'a0' })[0].added).toBeUndefined();
    expect(sheet.put('c', line(120), { order: 'a2', deleted: true })[0].added).toBeUndefined();
    expect(sheet.set('a', 'deleted', true)[0].added).toBeUndefined();
  });

  it('rebuilds its index after 512 new strokes without losing or doubling any', () => {
    const sheet = new Followed();
    const bytes = line(60);
    for (let i = 0; i < 600; i++) sheet.put(`s${i}`, bytes, { order: `a${String(i).padStart(4, '0')}` });
    const found = sheet.ink.find('lines', { x0: 0, y0: 0, x1: 300, y1: 300 }).map((r) => r.stroke.id);
    expect(found).toEqual(Array.from({ length: 600 }, (_, i) => `s${i}`));
    sheet.set('s3', 'deleted', true);
    sheet.set('s3', 'deleted', false);
    expect(sheet.ink.find('lines', { x0: 0, y0: 0, x1: 300, y1: 300 })).toHaveLength(600);
  });

  it('erases from the strokes that were touched, wherever they move, and gives back what an undo restores', () => {
    const sheet = new Followed();
    const parts = new Map([
      ['a', line(60)],
      ['b', line(200)],
      ['e', encodeSamples(handSamples((u) => [120, 40 + 40 * u], { ms: 200 }))],
    ]);
    sheet.put('a', parts.get('a')!, { order: 'a1' });
    sheet.put('b', parts.get('b')!, { order: 'a2' });
    const whole = drawn(sheet.ink);
    const pen = makePen('fineliner', 14, 0, false, 1);
    const strokeIds = finish(erasing(sheet.ink, 'lines', parts.get('e')!, pen)).map((e) => e.id);
    expect(strokeIds).toEqual(['a']);
    const erasure: Erasure = { id: 'e', deleted: false, layerId: 'lines', pen, strokeIds, engine: 1 };
    sheet.follow([putRows('erasures', erasure)], new Map([['e', parts.get('e')!]]));
    const alpha = (data: Buffer, x: number, y: number) => data[4 * (y * TILE + x) + 3];
    const cut = drawn(sheet.ink);
    expect([alpha(whole, 120, 60), alpha(cut, 120, 60), alpha(cut, 60, 60)]).toEqual([255, 0, 255]);
    // A stroke that comes later is not cut; the stroke takes its gap along.
    sheet.set('a', 'matrix', [1, 0, 0, 1, 40, 20]);
    const moved = drawn(sheet.ink);
    expect([alpha(moved, 160, 80), alpha(moved, 120, 80)]).toEqual([0, 255]);
    expect(moved.equals(drawn(sheet.reopened(parts)))).toBe(true);
    sheet.set('a', 'matrix', [1, 0, 0, 1, 0, 0]);
    sheet.follow([assign('erasures', sheet.model.erasures.get('e')!, 'deleted', true)]);
    expect(drawn(sheet.ink).equals(whole)).toBe(true);
  });

  it('draws the same bytes in a tile as in any other rectangle of the level', () => {
    const sheet = new Followed();
    sheet.put('a', line(60));
    const tile = sheet.ink.draw('lines', 0, RECT, work)!;
    const part = sheet.ink.draw('lines', 0, { x0: 64, y0: 32, width: 64, height: 64 }, work)!;
    for (let y = 0; y < 64; y++)
      expect(part.data.slice(256 * y, 256 * (y + 1))).toEqual(
        tile.data.slice(4 * ((y + 32) * TILE + 64), 4 * ((y + 32) * TILE + 128)),
      );
  });

  it.each([-3, -1, 0, 1, 2])('draws the same tight around the ink as over all of a tile, at level %i', (level) => {
    const sheet = new Followed();
    const rnd = random(level + 10);
    for (let i = 0; i < 12; i++) {
      // Some lie over the tile's edges, some beyond them; one takes away.
      const size = i % 3 ? 1 : 0.5;
      sheet.put(`s${i}`, line(300 * rnd(), 300 * (rnd() - 0.5)), {
        order: `a${i}V`,
        pen: { ...makePen('dip', 1 + 20 * rnd(), 30, true, 1), ...(i === 9 ? { fades: true } : {}) },
        matrix: [size, 0, 0, size, 60 * rnd(), 60 * rnd()],
      });
      const rect = { x0: 0, y0: 0, width: 64, height: 64 };
      const whole = makePixels(0, 0, 64, 64);
      const all = sheet.ink.draw('lines', level, rect, work);
      if (all) copyInto(whole, all);
      const tight = finish(drawingOf(sheet.ink, 'lines', level, rect, work, 'exact', true));
      const laid = makePixels(0, 0, 64, 64);
      if (tight) copyInto(laid, tight);
      expect(Buffer.from(laid.data).equals(Buffer.from(whole.data))).toBe(true);
    }
  });

  it('keeps to the tolerance of each level: a box measured at one holds the ink of all', () => {
    const sheet = new Followed();
    sheet.put('a', line(60));
    const [record] = sheet.ink.ofLayer('lines');
    for (const level of [-4, -2, 0, 3]) {
      const { spine } = sheet.ink.drawable(record, level);
      const box = grow(record.box, 0.01);
      for (let i = 0; i < spine.count; i++) {
        expect(spine.data[3 * i]).toBeGreaterThan(box.x0);
        expect(spine.data[3 * i + 1]).toBeLessThan(box.y1);
      }
    }
  });

  it('leaves out what cannot be read, names it, and draws the rest', () => {
    const good = encodeSamples(handSamples((u) => [20 + 80 * u, 40], { ms: 200 }));
    const parts = new Map([
      ['bad', Uint8Array.of(1, 2, 3)],
      ['good', good],
    ]);
    const ink = openedInk(
      ['missing', 'bad', 'good'].map((id) => strokeEntity(id)),
      [],
      parts,
    );
    expect(ink.unreadable).toEqual(['bad', 'missing']);
    expect(ink.ofLayer('lines').map((r) => r.stroke.id)).toEqual(['good']);
    const more = [{ kind: 'insert' as const, table: 'strokes' as const, row: strokeEntity('worse') }];
    expect(ink.follow(more, new Map())).toEqual([]);
    expect(ink.unreadable).toEqual(['bad', 'missing', 'worse']);
  });

  it('knows a line on top of its own layer, whatever lies on others', () => {
    const ink = new InkStore();
    const bytes = encodeSamples(handSamples((u) => [20 + 80 * u, 40], { ms: 200 }));
    const put = (id: string, layerId: string, order: string) =>
      ink.follow(
        [{ kind: 'insert', table: 'strokes', row: strokeEntity(id, { layerId, order }) }],
        new Map([[id, bytes]]),
      )[0].added;
    expect([put('a', 'x', 'a5'), put('b', 'y', 'a1'), put('c', 'y', 'a2'), put('d', 'y', 'a1V')]).toEqual([
      'a',
      'b',
      'c',
      undefined,
    ]);
  });

  it('draws ink that was scaled up with its picture without facets, inside its box', () => {
    const samples = handSamples((u) => [50 + 30 * Math.cos(5 * u), 50 + 30 * Math.sin(5 * u)], {
      ms: 900,
      tremorPx: 0,
    });
    const bytes = encodeSamples(samples);
    const pen = makePen('fineliner', 6, 0, true, 1);
    const four: Matrix = [4, 0, 0, 4, 0, 0];
    const big = openedInk([strokeEntity('s', { pen, engine: 2, matrix: four })], [], new Map([['s', bytes]]));
    const [record] = big.ofLayer('lines');
    const { spine, box } = big.drawable(record, 0);
    // Every point of the fine curve, four times as large, lies on the coarse one.
    const fine = new SpineMaker().ofBytes(bytes, pen, 2, 0.001);
    let worst = 0;
    for (let i = 0; i < fine.count; i++) {
      const [x, y] = [4 * fine.data[3 * i], 4 * fine.data[3 * i + 1]];
      let near = Infinity;
      for (let k = 0; k + 1 < spine.count; k++) {
        const [x0, y0, , x1, y1] = spine.data.subarray(3 * k, 3 * k + 5);
        const sq = (x1 - x0) ** 2 + (y1 - y0) ** 2;
        const u = sq ? Math.min(1, Math.max(0, ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / sq)) : 0;
        near = Math.min(near, Math.hypot(x - x0 - u * (x1 - x0), y - y0 - u * (y1 - y0)));
      }
      worst = Math.max(worst, near);
      expect(x - 12 >= box.x0 && x + 12 <= box.x1 && y - 12 >= box.y0 && y + 12 <= box.y1).toBe(true);
    }
    expect(worst).toBeLessThan(0.1);
  });

  it('keeps the spines that the screen uses when a small picture or a file is drawn', () => {
    const sheet = new Followed();
    sheet.put('a', line(40));
    const [record] = sheet.ink.ofLayer('lines');
    const shown = sheet.ink.drawable(record, 1).spine;
    sheet.ink.draw('lines', -2, RECT, work, 'exact');
    const exact = sheet.ink.drawable(record, 0, 'exact').spine;
    expect(exact).not.toBe(shown);
    expect(sheet.ink.drawable(record, 1).spine).toBe(shown);
  });

  it('leaves out a stroke whose matrix flattens it, and one that is to be flattened where it was', () => {
    const parts = new Map([
      ['flat', line(40)],
      ['good', line(60)],
    ]);
    const ink = openedInk([strokeEntity('flat', { matrix: [1, 0, 1, 0, 0, 0] }), strokeEntity('good')], [], parts);
    expect(ink.unreadable).toEqual(['flat']);
    const before = drawn(ink);
    ink.follow(
      [{ kind: 'assign', table: 'strokes', id: 'good', field: 'matrix', value: [0, 0, 0, 0, 0, 0] }],
      new Map(),
    );
    expect(drawn(ink).equals(before)).toBe(true);
  });

  it('asks for the samples of what it is to draw, and for nothing else, and draws as if it had had them', () => {
    const parts = new Map([
      ['a', line(60)],
      ['b', line(90)],
      ['far', line(900)],
    ]);
    const strokes = ['a', 'b', 'far'].map((id, i) => strokeEntity(id, { order: `a${i}` }));
    const ink = openedInk(strokes, [], parts, []);
    expect(() => drawn(ink)).toThrow(/lacking/);
    const asking = ink.drawing('lines', 0, RECT, work);
    expect(asking.next()).toEqual({ done: false, value: ['a', 'b'] });
    ink.provide(['a', 'b'], parts);
    const { done, value } = asking.next();
    expect(done).toBe(true);
    const pixels = Buffer.from((value as { data: Uint8ClampedArray }).data);
    expect(pixels.equals(drawn(openedInk(strokes, [], parts)))).toBe(true);
    expect(ink.lackingIn('lines', 0, RECT)).toEqual([]);
    expect(ink.lackingIn('lines', 0, { ...RECT, y0: 800 })).toEqual(['far']);
  });

  it('leaves out what did not come though it was asked for, and names it', () => {
    const parts = new Map([
      ['a', line(60)],
      ['b', line(90)],
    ]);
    const strokes = [strokeEntity('a'), strokeEntity('b')];
    const ink = openedInk(strokes, [], parts, []);
    ink.provide(['a', 'b'], new Map([['b', parts.get('b')!]]));
    expect(ink.unreadable).toEqual(['a']);
    expect(drawn(ink).equals(drawn(openedInk([strokes[1]], [], parts)))).toBe(true);
  });

  it('forgets what was not used for long when it holds more than it may, and draws it all the same', () => {
    const parts = new Map(Array.from({ length: 40 }, (_, i) => [`s${i}`, line(20 + 5 * i)] as const));
    const strokes = [...parts.keys()].map((id, i) => strokeEntity(id, { order: `a${100 + i}` }));
    const small = new InkStore(10_000);
    small.open(packedStrokes(strokes, parts));
    const asked: string[] = [];
    const run = () => {
      const drawing = small.drawing('lines', 0, RECT, work);
      for (;;) {
        const { done, value } = drawing.next();
        if (done) return Buffer.from((value as { data: Uint8ClampedArray }).data);
        asked.push(...(value as string[]));
        small.provide(value as string[], parts);
      }
    };
    const all = openedInk(strokes, [], parts);
    // More is drawn at a time than is kept: what was just brought is used before it goes.
    expect(() => run()).not.toThrow();
    expect(asked).toHaveLength(40);
    expect(run()!.equals(drawn(all))).toBe(true);
  });

  it('changes a stroke whose samples are lacking, and asks for them when it gets another pen', () => {
    const parts = new Map([['a', line(60)]]);
    const ink = openedInk([strokeEntity('a')], [], parts, []);
    const model = new SheetModel(newSettings(300), [FIRST_LAYER]);
    model.strokes.open(packedStrokes([strokeEntity('a')], parts));
    ink.follow(model.apply([assign('strokes', strokeEntity('a'), 'matrix', [1, 0, 0, 1, 0, 40])]), new Map());
    const pen = makePen('dip', 30, 30, true, 1);
    const change = assign('strokes', strokeEntity('a'), 'pen', pen);
    expect(ink.lackingFor([change], new Map())).toEqual(['a']);
    ink.provide(['a'], parts);
    expect(ink.lackingFor([change], new Map())).toEqual([]);
    ink.follow(model.apply([change]), new Map());
    const now = strokeEntity('a', { pen, matrix: [1, 0, 0, 1, 0, 40] });
    expect(drawn(ink).equals(drawn(openedInk([now], [], parts)))).toBe(true);
    const [a, b] = [ink, openedInk([now], [], parts)].map((store) => store.ofLayer('lines')[0].box);
    for (const side of ['x0', 'y0', 'x1', 'y1'] as const) expect(a[side]).toBeCloseTo(b[side], 4);
  });

  it('finds what an eraser touches among strokes whose samples are lacking', () => {
    const parts = new Map([
      ['a', line(60)],
      ['b', line(200)],
      ['e', encodeSamples(handSamples((u) => [120, 40 + 40 * u], { ms: 200 }))],
    ]);
    const ink = openedInk([strokeEntity('a'), strokeEntity('b')], [], parts, []);
    const asking = erasing(ink, 'lines', parts.get('e')!, makePen('fineliner', 14, 0, false, 1));
    expect(asking.next().value).toEqual(['a']);
    ink.provide(['a'], parts);
    expect(finish(asking)).toEqual([{ id: 'a', left: [expect.anything(), expect.anything()] }]);
  });
});
