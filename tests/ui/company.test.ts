import 'fake-indexeddb/auto';
import { FIRST_LAYER, type Pour } from '../../core/sheet/entities';
import { finish } from '../../core/sheet/ink-work';
import { InkStore } from '../../core/sheet/ink-store';
import { paperChanges } from '../../core/sheet/paper-change';
import { assign, putRows } from '../../core/sheet/steps';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { packTile } from '../../core/raster/pack-tile';
import { makePixels } from '../../core/raster/pixels';
import { TILE_SIDE, tileRect } from '../../core/raster/tiles';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { setLayerOpacity } from '../../ui/session/stack-actions';
import type { SheetSession } from '../../ui/session/session';
import { Browser, BYTES, ink, opened, savedOn, setUpWorld, world } from '../measures/devices';
import { until } from '../measures/until';
import { PageWorker } from '../measures/page-worker';
import { inkedElsewhere, strokeEntity } from '../measures/sheets';
import { handSamples } from '../measures/strokes';

setUpWorld();

const PAPER = { widthPx: 400, heightPx: 300, ppi: 300 };
const crop = (session: SheetSession, x0: number) =>
  session.act(
    'Paper',
    paperChanges(session.model, PAPER, { box: { x0, y0: 0, x1: 400, y1: 300 }, scale: 1, ppi: 300 }),
  );
const serverMatrix = async (id: string) =>
  JSON.parse(world.store.db.prepare('SELECT matrix FROM strokes WHERE id = ?').pluck().get(id) as string) as number[];
const workerOf = (session: SheetSession) => session.client['worker'] as unknown as PageWorker;
const work = new RasterWorkspace(TILE_SIDE, TILE_SIDE);
const shownBy = async (session: SheetSession) =>
  Buffer.from((await workerOf(session).maker.pixels({ layerId: 'lines', level: 0, tx: 0, ty: 0 }))!.data);

describe('ink that is drawn while another device crops the paper at its left', () => {
  it('lands where it was drawn, whichever comes to the server first', async () => {
    const a = await opened(new Browser('tablet'));
    const b = await opened(new Browser('phone'));
    await ink(a.session, 'before');
    await savedOn(a.session);
    b.session.retryNow();
    await until(() => b.session.model.strokes.has('before'), 'both have the line');
    await crop(a.session, 60);
    await savedOn(a.session);
    // The phone does not know of it yet.
    await ink(b.session, 'drawn');
    await savedOn(b.session);
    expect([await serverMatrix('before'), await serverMatrix('drawn')]).toEqual([
      [1, 0, 0, 1, -60, 0],
      [1, 0, 0, 1, -60, 0],
    ]);
    await until(() => b.told.hasOtherPaper, 'the phone opens the sheet anew');
    const { session } = await opened(new Browser('phone'));
    expect(session.model.strokes.get('drawn')!.matrix).toEqual([1, 0, 0, 1, -60, 0]);
  });

  it('goes along when it comes to the server before, though whoever crops does not know it', async () => {
    const a = await opened(new Browser('tablet'));
    const b = await opened(new Browser('phone'));
    await ink(b.session, 'unseen');
    await savedOn(b.session);
    await crop(a.session, 60);
    await savedOn(a.session);
    expect(await serverMatrix('unseen')).toEqual([1, 0, 0, 1, -60, 0]);
    await until(() => a.session.model.strokes.get('unseen')?.matrix[4] === -60, 'the tablet shows it there');
  });

  it('waits while away, is shown at its place on the new paper, and lands there', async () => {
    const a = await opened(new Browser('tablet'));
    const phone = new Browser('phone');
    const b = await opened(phone);
    world.away = true;
    await ink(b.session, 'waiting');
    b.session.close();
    world.away = false;
    await crop(a.session, 60);
    await savedOn(a.session);
    // Opened anew with the step still waiting: the first requests come through, the sending does not.
    const through = globalThis.fetch;
    globalThis.fetch = ((path: string, init?: RequestInit) =>
      init?.method === 'POST' && /steps$/.test(path)
        ? Promise.reject(new TypeError('no'))
        : through(path, init)) as typeof fetch;
    const { session } = await opened(phone);
    expect(session.model.strokes.get('waiting')!.matrix).toEqual([1, 0, 0, 1, -60, 0]);
    globalThis.fetch = through;
    session.retryNow();
    await savedOn(session);
    expect(await serverMatrix('waiting')).toEqual([1, 0, 0, 1, -60, 0]);
  });

  it('is not moved under the nib: another paper waits until the hand rests, and so does what is previewed', async () => {
    const a = await opened(new Browser('tablet'));
    const b = await opened(new Browser('phone'));
    await ink(a.session, 'line');
    await savedOn(a.session);
    b.session.retryNow();
    await until(() => b.session.model.strokes.has('line'), 'both have the line');
    const rest = b.session.holdPaper();
    await crop(a.session, 60);
    await savedOn(a.session);
    b.session.retryNow();
    await until(() => b.session['hand']['waiting'].length > 0, 'the phone has heard of it');
    await ink(b.session, 'under the nib'.replace(/ /g, '-'));
    expect([b.session.model.settings.frame, b.told.hasOtherPaper]).toEqual([undefined, false]);
    const line = b.session.model.strokes.get('line')!;
    await b.session.preview([assign('strokes', line, 'matrix', [1, 0, 0, 1, 0, 40])]);
    rest();
    expect(b.told.hasOtherPaper).toBe(false);
    await b.session.act('Move', [assign('strokes', line, 'matrix', [1, 0, 0, 1, 0, 40])]);
    await until(() => b.told.hasOtherPaper, 'the hand rests');
    expect([await serverMatrix('under-the-nib'), await serverMatrix('line')]).toEqual([
      [1, 0, 0, 1, -60, 0],
      [1, 0, 0, 1, -60, 40],
    ]);
  });
});

describe('the shape of a pour', () => {
  const line = (y: number) => encodeSamples(handSamples((u) => [20 + 100 * u, y], { ms: 200 }));
  const POUR: Pour = { seeds: [[30, 40]], gapPx: 4, against: ['lines'] };
  const pour = (session: SheetSession) =>
    session.act('Pour', [putRows('strokes', strokeEntity('pour', { pour: POUR, tied: false }))], {
      parts: [['pour', line(40)]],
    });
  const reshape = (session: SheetSession, shape: string, y: number) =>
    session.act('Colour', [assign('strokes', session.model.strokes.get('pour')!, 'pour', { ...POUR, shape })], {
      parts: [[shape, line(y)]],
    });

  it('of a step before this visit is there when that is taken back while away', async () => {
    const tablet = new Browser('tablet');
    const first = await opened(tablet);
    await pour(first.session);
    await reshape(first.session, 'one', 90);
    await reshape(first.session, 'two', 140);
    await savedOn(first.session);
    first.session.close();
    const { session, told } = await opened(tablet);
    const { ink: store } = workerOf(session).maker;
    await shownBy(session);
    await until(() => store.hasShape('~one') && store.hasShape('~pour'), 'shapes are brought ahead');
    world.away = true;
    await session.undo();
    await session['tied'].shown;
    expect((await shownBy(session)).equals(drawnOf(line(90)))).toBe(true);
    await session.undo();
    await session['tied'].shown;
    expect((await shownBy(session)).equals(drawnOf(line(40)))).toBe(true);
    expect(told.notices).toEqual([]);
    world.away = false;
  });

  it('that cannot be had is owed: nothing is kept until it is there, and then it is shown', async () => {
    const tablet = new Browser('tablet');
    const first = await opened(tablet);
    await pour(first.session);
    await reshape(first.session, 'one', 90);
    await savedOn(first.session);
    first.session.close();
    const { session } = await opened(tablet);
    const { maker, sheet } = workerOf(session);
    await until(() => maker.ink.hasShape('~pour'), 'it has come ahead');
    await shownBy(session);
    maker.ink['shapes'].clear();
    world.away = true;
    await session.undo();
    await session['tied'].shown;
    expect([(await shownBy(session)).equals(drawnOf(line(90))), sheet.isTrue]).toEqual([true, false]);
    expect(await session.client.keep(3)).toBe(false);
    await expect(sheet.settle()).rejects.toThrow();
    world.away = false;
    const damage = await sheet.settle();
    expect([damage.length, sheet.isTrue, (await shownBy(session)).equals(drawnOf(line(40)))]).toEqual([1, true, true]);
  });

  it('is one on all devices after both have changed it', async () => {
    const a = await opened(new Browser('tablet'));
    const b = await opened(new Browser('phone'));
    await pour(a.session);
    await savedOn(a.session);
    b.session.retryNow();
    await until(() => b.session.model.strokes.has('pour'), 'both have it');
    world.away = true;
    await reshape(a.session, 'of-a', 90);
    await reshape(b.session, 'of-b', 140);
    await opens(b.session);
    world.away = false;
    a.session.retryNow();
    await savedOn(a.session);
    b.session.retryNow();
    await savedOn(b.session);
    for (const { session } of [a, b]) session.retryNow();
    await until(() => [a, b].every(({ session }) => session['seq'] === 4), 'both have all steps');
    const shapes = [a, b].map(({ session }) => session.model.strokes.get('pour')!.pour!.shape);
    await Promise.all([a, b].map(({ session }) => session['tied'].shown));
    expect(shapes[0]).toBe(shapes[1]);
    expect((await shownBy(a.session)).equals(await shownBy(b.session))).toBe(true);
    expect((await shownBy(a.session)).equals(drawnOf(line(shapes[0] === 'of-a' ? 90 : 140)))).toBe(true);
  });

  /** A second change of it, which leaves the shape as it was. */
  async function opens(session: SheetSession): Promise<void> {
    const now = session.model.strokes.get('pour')!;
    await session.act('Open', [assign('strokes', now, 'pour', { ...now.pour!, isOpen: true })]);
  }

  const drawnOf = (bytes: Uint8Array): Buffer => {
    const store = new InkStore();
    store.follow(
      [{ kind: 'insert', table: 'strokes', row: strokeEntity('pour', { pour: POUR }) }],
      new Map([['pour', bytes]]),
    );
    return Buffer.from(finish(store.drawing('lines', 0, tileRect({ tx: 0, ty: 0 }), work))!.data);
  };
});

describe('a tab that slept', () => {
  const many = (count: number) => {
    for (let from = 0; from < count; from += 500) {
      const steps = Array.from({ length: 500 }, (_, i) =>
        inkedElsewhere(strokeEntity(`k${from + i}`, { order: `a${String(from + i).padStart(5, '0')}V` })),
      );
      world.store.steps.append('sheet', steps, new Map(steps.map((_, i) => [`k${from + i}`, BYTES])), 0);
    }
  };

  it('takes in thousands of steps piece by piece, and ink can go on between', async () => {
    const { session } = await opened(new Browser('tablet'));
    many(4000);
    session.retryNow();
    let turns = 0;
    const other = setInterval(() => turns++, 0);
    await until(() => session.model.strokes.size > 0, 'it has begun');
    await ink(session, 'own');
    await until(() => session.model.strokes.size === 4001, 'all is there');
    clearInterval(other);
    expect(turns).toBeGreaterThan(3);
    await session['tied'].shown;
    expect(workerOf(session).maker.ink.size).toBe(4001);
    await savedOn(session);
  });
});

describe('a sheet that is left', () => {
  it('while there is more to take in does not go on asking', async () => {
    const { session } = await opened(new Browser('tablet'));
    const other = await opened(new Browser('phone'));
    await ink(other.session, 'theirs');
    await savedOn(other.session);
    session['latest'] = 5;
    session.close();
    let asked = 0;
    const catchUp = session['catchUpNow'].bind(session);
    session['catchUpNow'] = () => (++asked > 5 ? new Promise(() => {}) : catchUp());
    session.retryNow();
    await until(() => session['catchingUp'] === undefined, 'it has looked');
    expect(asked).toBeLessThan(2);
  });
});

describe('steps of earlier visits', () => {
  it('are named and taken back while away, beyond the nearest', async () => {
    const tablet = new Browser('tablet');
    const first = await opened(tablet);
    for (let n = 0; n < 150; n++)
      await setLayerOpacity(first.session, first.session.model.layers.get('lines')!, n / 200);
    await savedOn(first.session);
    first.session.close();
    const { session } = await opened(tablet);
    await until(() => session.stepNames('undo', 120).every((name) => name !== 'An earlier step'), 'they are named');
    world.away = true;
    for (let n = 0; n < 100; n++) await session.undo();
    expect(session.model.layers.get('lines')!.opacity).toBe(49 / 200);
    world.away = false;
    await savedOn(session);
  });
});

describe('a kept tile that is not what the steps give', () => {
  beforeAll(() => (PageWorker.fewestStrokes = 1));
  afterAll(() => (PageWorker.fewestStrokes = undefined));

  it('is found at an opening: all that is kept is let go of, counted, and made anew', async () => {
    const first = await opened(new Browser('tablet'));
    await ink(first.session, 'a');
    await savedOn(first.session);
    first.session.close();
    const { widthPx, heightPx } = PAPER;
    const wrong = packTile({
      ...makePixels(-4, -4, TILE_SIDE, TILE_SIDE),
      data: new Uint8ClampedArray(4 * TILE_SIDE ** 2).fill(9),
    });
    const keys = ['-1/0/0', '0/0/0', '0/1/0', '0/0/1', '0/1/1'].map((place) => `${FIRST_LAYER.id}/${place}`);
    world.store.lowTiles.put('sheet', { seq: 1, widthPx, heightPx }, new Map(keys.map((key) => [key, wrong])));
    const { session } = await opened(new Browser('phone'));
    expect(await session.keeping.keepTiles()).toBe(false);
    expect(world.store.lowTiles.dropsOf('sheet')).toBe(1);
    expect(world.store.lowTiles.of('sheet', 0, 1e6).body.tiles).toEqual([]);
    expect(await session.keeping.keepTiles()).toBe(true);
    const { tiles, blank } = world.store.lowTiles.of('sheet', 0, 1e6).body;
    expect([tiles.length, blank.length > 0]).toEqual([2, true]);
    // Right ones are looked at, and stay.
    const { session: again } = await opened(new Browser('desk'));
    expect(await again.keeping.keepTiles()).toBe(true);
    expect(world.store.lowTiles.dropsOf('sheet')).toBe(1);
  });
});
