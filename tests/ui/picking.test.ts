import 'fake-indexeddb/auto';
import type { Pour } from '../../core/sheet/entities';
import { assign, putRows } from '../../core/sheet/steps';
import { encodePath } from '../../core/stroke/pack-path';
import { plainNode } from '../../core/stroke/path';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { Picking, sizeOnPaper } from '../../ui/session/picking';
import type { SheetSession } from '../../ui/session/session';
import { actsOn } from '../measures/layer-acts';
import { setLocked, setVisible } from '../../ui/session/stack-actions';
import { Browser, inkOnServer, opened, savedOn, setUpWorld, world } from '../measures/devices';
import { until } from '../measures/until';
import { strokeEntity } from '../measures/sheets';
import { handSamples } from '../measures/strokes';

setUpWorld();

const NAMES = ['a', 'b', 'c'];

/** A session with three level lines, a at y = 60, b at 120, c at 180, from x = 50 to 250. */
async function ready(device = 'tablet') {
  const { session, told } = await opened(new Browser(device));
  for (const [i, id] of NAMES.entries()) {
    const samples = handSamples((u) => [50 + 200 * u, 60 + 60 * i], { ms: 300, tremorPx: 0 });
    const stroke = strokeEntity(id, {
      order: `a${i + 1}`,
      pen: makePen('fineliner', 6 + 2 * i, 0, false, 1),
      colour: i === 2 ? '#c2185b' : '#000000',
    });
    await session.act('Ink line', [putRows('strokes', stroke)], { parts: [[id, encodeSamples(samples)]] });
  }
  await savedOn(session);
  const picking = new Picking(session, (text) => told.notices.push(text));
  return { session, told, picking };
}

const ids = (picking: Picking) => picking.strokes.map((s) => s.id);
const loop = (x0: number, y0: number, x1: number, y1: number) => Float64Array.of(x0, y0, x1, y0, x1, y1, x0, y1);
const shape = (picking: Picking) => until(() => picking.shown !== undefined, 'it is told where they lie');
/** What each line holds, on the page, on the server and in the worker's answers. */
const onPage = (session: SheetSession) =>
  [...session.model.strokes.values()].map(({ id, matrix, pen, order, colour, deleted, layerId }) => ({
    ...{ id, matrix, pen, order, colour, deleted, layerId },
  }));

describe('picking', () => {
  it('takes the line that is touched, more with each when it adds, and lets go beside all', async () => {
    const { picking } = await ready();
    await picking.pickAt(100, 66, 8, false);
    expect(ids(picking)).toEqual(['a']);
    await picking.pickAt(100, 118, 8, true);
    expect(ids(picking)).toEqual(['a', 'b']);
    await picking.pickAt(100, 62, 8, true);
    expect(ids(picking)).toEqual(['b']);
    await picking.pickAt(100, 90, 8, false);
    expect(picking.count).toBe(0);
  });

  it('takes what lies in a loop, all of a layer, of a colour, or thinner than', async () => {
    const { picking } = await ready();
    await picking.pickIn(loop(30, 40, 280, 140), false);
    expect(ids(picking)).toEqual(['a', 'b']);
    await picking.pickIn(loop(30, 160, 280, 200), true);
    expect(ids(picking)).toEqual(NAMES);
    picking.pickAll((s) => s.colour === '#c2185b');
    expect(ids(picking)).toEqual(['c']);
    picking.pickAll((s) => s.pen.sizePx < 9);
    expect(ids(picking)).toEqual(['a', 'b']);
    picking.drawLoop({ x: 0, y: 0 });
    await picking.closeLoop(false);
    expect(ids(picking)).toEqual(['a', 'b']);
  });

  it('of lines and colour takes what a loop is to take; what is made anew leaves pours as they are, but alone', async () => {
    const { session, picking } = await ready();
    const pour: Pour = { seeds: [[150, 90]], gapPx: 4, against: ['lines'] };
    const nodes = (
      [
        [100, 70],
        [200, 70],
        [200, 110],
        [100, 110],
      ] as const
    ).map(([x, y]) => plainNode(x, y, 'corner'));
    const poured = strokeEntity('p', {
      order: 'a0',
      colour: '#cc8833',
      pour,
      tied: false,
      pen: { ...makePen('fineliner', 1, 0, false, 1), fill: 'with' },
    });
    await session.act('Pour', [putRows('strokes', poured)], { parts: [['p', encodePath({ closed: true, nodes })]] });
    const around = loop(30, 40, 280, 140);
    await picking.pickIn(around, false, 'lines');
    expect([ids(picking), picking.words]).toEqual([['a', 'b'], '2 lines']);
    await picking.pickIn(around, false, 'colour');
    expect([ids(picking), picking.words]).toEqual([['p'], '1 pour']);
    await picking.restyle({ sizePx: 3 }, 'Size');
    expect(session.model.strokes.get('p')!.pen.sizePx).toBe(3);
    await picking.pickIn(around, false);
    expect([ids(picking).sort(), picking.words]).toEqual([['a', 'b', 'p'], '2 lines and 1 pour']);
    await shape(picking);
    await picking.restyle({ sizePx: 21, kind: 'pencil' }, 'Size');
    await picking.recolour('#123456');
    const now = ['a', 'b', 'p'].map((id) => session.model.strokes.get(id)!);
    expect(now.map(({ pen, colour }) => [pen.kind, pen.sizePx, colour])).toEqual([
      ['pencil', 21, '#123456'],
      ['pencil', 21, '#123456'],
      ['fineliner', 3, '#cc8833'],
    ]);
  });

  it('sizes are those on the paper, whatever a line was scaled by', async () => {
    const { session, picking } = await ready();
    const of = (id: string) => session.model.strokes.get(id)!;
    await session.act('Scale', [assign('strokes', of('a'), 'matrix', [2, 0, 0, 2, 0, 0])]);
    expect([sizeOnPaper(of('a')), sizeOnPaper(of('b'))]).toEqual([12, 8]);
    picking.pickAll((s) => sizeOnPaper(s) < 11);
    expect(ids(picking)).toEqual(['b', 'c']);
    picking.pickAll(() => true);
    await picking.restyle({ sizePx: 5 }, 'Size');
    expect(['a', 'b', 'c'].map((id) => [sizeOnPaper(of(id)), of(id).pen.sizePx])).toEqual([
      [5, 2.5],
      [5, 5],
      [5, 5],
    ]);
    await picking.restyle({ sizeAddPx: 1 }, 'Bolder');
    expect(['a', 'b'].map((id) => sizeOnPaper(of(id)))).toEqual([6, 6]);
  });

  it('knows of every even line, however many are picked, whether it was drawn without pressure', async () => {
    const { session, picking } = await ready();
    const flat = { ...handSamples((u) => [50 + 200 * u, 40], { ms: 100 }) };
    flat.pressure = flat.pressure.map(() => 0.5);
    const bytes = encodeSamples(flat);
    const many = Array.from({ length: 450 }, (_, n) =>
      strokeEntity(`m${String(n).padStart(3, '0')}`, {
        order: `b${String(n).padStart(3, '0')}V`,
        pen: makePen('fineliner', 4, 0, false, 1),
      }),
    );
    await session.act('Paste', [putRows('strokes', ...many)], { parts: many.map(({ id }) => [id, bytes]) });
    picking.pickAll(() => true);
    await shape(picking);
    await picking.restyle({ kind: 'brush' }, 'Pen');
    const widths = new Set(many.map(({ id }) => session.model.strokes.get(id)!.pen.widthFrom));
    expect([...widths]).toEqual(['speed']);
    // The hand's own lines have pressure.
    expect(session.model.strokes.get('a')!.pen.widthFrom).toBe('pressure');
  });

  it('passes over what is hidden or locked, and lets go of what was taken back', async () => {
    const { session, picking } = await ready();
    const lines = () => session.model.layers.get('lines')!;
    await setLocked(session, [lines()], true);
    await picking.pickAt(100, 60, 8, false);
    expect(picking.count).toBe(0);
    await setLocked(session, [lines()], false);
    await setVisible(session, [lines()], false);
    picking.pickAll(() => true);
    expect(picking.count).toBe(0);
    await setVisible(session, [lines()], true);
    picking.pickAll(() => true);
    await setLocked(session, [lines()], true);
    picking.refresh();
    expect(picking.count).toBe(0);
    await setLocked(session, [lines()], false);
    picking.pickAll(() => true);
    await session.undo();
    picking.refresh();
    expect(ids(picking)).toEqual(['a', 'b']);
  });
});

describe('what is picked', () => {
  it('is moved as a step that undo takes back, and a movement that is broken off changes nothing', async () => {
    const { session, picking } = await ready();
    const before = onPage(session);
    await picking.pickIn(loop(30, 40, 280, 140), false);
    await shape(picking);
    const box = picking.box!;
    picking.beginMove();
    for (let i = 0; i < 5; i++) picking.moveOn([1, 0, 0, 1, 4, 2]);
    expect(picking.box!.x0).toBeCloseTo(box.x0 + 20, 6);
    picking.dropMove();
    expect(onPage(session)).toEqual(before);
    picking.beginMove();
    for (let i = 0; i < 5; i++) picking.moveOn([1, 0, 0, 1, 4, 2]);
    await picking.endMove();
    expect(session.model.strokes.get('b')!.matrix).toEqual([1, 0, 0, 1, 20, 10]);
    expect(session.model.strokes.get('c')!.matrix).toEqual([1, 0, 0, 1, 0, 0]);
    expect(session.nextLabel('undo')).toBe('Move');
    // The worker has it where the page has it.
    await until(() => Math.abs(picking.box!.x0 - box.x0 - 20) < 0.01, 'the frame is where the lines are');
    const [near] = await session.client.linesNear('lines', 120, 70, 2);
    expect(near.id).toBe('a');
    await savedOn(session);
    expect((await inkOnServer()).map((s) => s.matrix[4])).toEqual([20, 20, 0]);
    await session.undo();
    expect(onPage(session)).toEqual(before);
  });

  it('is turned, scaled and mirrored about its middle', async () => {
    const { session, picking } = await ready();
    await picking.pickAt(100, 120, 8, false);
    await shape(picking);
    await picking.transform({ turnDeg: 90 }, 'Turn');
    await until(() => picking.box!.y1 - picking.box!.y0 > 190, 'it stands upright');
    expect((picking.box!.y0 + picking.box!.y1) / 2).toBeCloseTo(120, 0);
    await picking.transform({ mirrors: true, scale: 0.5 }, 'Scale');
    await until(() => picking.box!.y1 - picking.box!.y0 < 120, 'it is half as long');
    expect(session.model.strokes.get('a')!.matrix).toEqual([1, 0, 0, 1, 0, 0]);
  });

  it('is made anew: shown first, then kept as one step, and is to the last value what it was after undo', async () => {
    const { session, picking } = await ready();
    const before = onPage(session);
    picking.pickAll(() => true);
    await shape(picking);
    picking.previewRestyle({ sizePx: 20 });
    picking.previewRestyle({ sizePx: 30, settings: { opacity: 0.5 } });
    expect(onPage(session)).toEqual(before);
    await picking.restyle({ sizePx: 12 }, 'Size');
    expect(picking.strokes.map(({ pen }) => [pen.sizePx, pen.opacity])).toEqual([
      [12, 0.5],
      [12, 0.5],
      [12, 0.5],
    ]);
    await picking.restyle({ sizeFactor: 2 }, 'Bolder');
    await picking.recolour('#0077c8');
    await savedOn(session);
    expect((await inkOnServer()).map(({ pen, colour }) => [pen.sizePx, colour])).toEqual(
      NAMES.map(() => [24, '#0077c8']),
    );
    for (let i = 0; i < 3; i++) await session.undo();
    expect(onPage(session)).toEqual(before);
    // The worker draws with the pens that they have again.
    const { gap } = (await session.client.linesNear('lines', 100, 70, 20))[0];
    expect(gap).toBeCloseTo(10 - 3, 0);
  });

  it('goes in front of the others or behind them, and to another layer', async () => {
    const { session, picking } = await ready();
    const order = () =>
      [...session.model.strokes.values()].sort((a, b) => (a.order < b.order ? -1 : 1)).map((s) => s.id);
    await picking.pickAt(100, 60, 8, false);
    await picking.restack('front');
    expect(order()).toEqual(['b', 'c', 'a']);
    picking.pickAll((s) => s.id !== 'b');
    await picking.restack('back');
    expect(order()).toEqual(['c', 'a', 'b']);
    await actsOn(session).acts.add('ink');
    const other = session.model.stack().find((l) => l.id !== 'lines')!;
    await picking.toLayer(other);
    expect(picking.strokes.map((s) => s.layerId)).toEqual([other.id, other.id]);
    expect(session.model.strokes.get('b')!.layerId).toBe('lines');
    await picking.toLayer(other);
    expect(session.nextLabel('undo')).toBe(`To ${other.name}`);
  });

  it('goes over the next line that it meets, or under it, and stays where there is none', async () => {
    const { session, picking } = await ready();
    const order = () =>
      [...session.model.strokes.values()].sort((a, b) => (a.order < b.order ? -1 : 1)).map((s) => s.id);
    // c lies across a; b lies apart from both.
    await picking.pickAt(100, 180, 8, false);
    await shape(picking);
    await picking.transform({ dy: -120 }, 'Move');
    await picking.step('down');
    expect(order()).toEqual(['c', 'a', 'b']);
    await picking.step('down');
    expect(order()).toEqual(['c', 'a', 'b']);
    await picking.step('up');
    expect(order()).toEqual(['a', 'c', 'b']);
    await savedOn(session);
    expect((await inkOnServer()).map((s) => s.id)).toEqual(['a', 'c', 'b']);
  });

  it('is grouped: touched once it is picked as a whole, copied as a group of its own, and ungrouped, on every device', async () => {
    const { session, picking } = await ready();
    picking.pickAll((s) => s.id !== 'b');
    await picking.group();
    expect([picking.hasGroup, session.nextLabel('undo')]).toEqual([true, 'Group 2 lines']);
    await picking.pickAt(100, 60, 8, false);
    expect(ids(picking)).toEqual(['a', 'c']);
    await picking.pickIn(loop(30, 160, 280, 200), false);
    expect(ids(picking).sort()).toEqual(['a', 'c']);
    await picking.pickAt(100, 120, 8, true);
    expect(picking.count).toBe(3);
    await picking.pickAt(100, 180, 8, true);
    expect(ids(picking)).toEqual(['b']);
    await picking.pickAt(100, 60, 8, false);
    await picking.duplicate();
    const copies = picking.strokes;
    expect(new Set(copies.map((s) => s.group)).size).toBe(1);
    expect(copies[0].group).not.toBe(session.model.strokes.get('a')!.group);
    await savedOn(session);
    const phone = await opened(new Browser('phone'));
    const theirs = new Picking(phone.session, () => {});
    await theirs.pickAt(100, 60, 4, false);
    expect(theirs.count).toBe(2);
    await theirs.ungroup();
    expect(theirs.hasGroup).toBe(false);
    await savedOn(phone.session);
    session.retryNow();
    await until(() => !session.model.strokes.get('a')!.group, 'the tablet sees it');
    expect((await inkOnServer()).filter((s) => s.group)).toHaveLength(2);
    await phone.session.undo();
    expect(phone.session.model.strokes.get('a')!.group).toBe(phone.session.model.strokes.get('c')!.group);
    // What was never grouped is so again after an undo of the first.
    await session.undo();
    await session.undo();
    await savedOn(session);
    expect(phone.told.notices).toEqual([]);
  });

  it('is deleted, duplicated, cut and pasted, here and on another device that has the sheet', async () => {
    const { session, picking } = await ready();
    await picking.pickAt(100, 60, 8, false);
    await picking.duplicate();
    expect(session.model.strokes.size).toBe(4);
    const [copy] = picking.strokes;
    expect([copy.matrix[4], copy.layerId]).toEqual([16, 'lines']);
    await picking.cut();
    expect(picking.count).toBe(0);
    await picking.paste();
    // At once, before the copies have come from the worker.
    void picking.copy();
    await picking.paste();
    await savedOn(session);
    const standing = (await inkOnServer()).filter((s) => !s.deleted);
    expect(standing).toHaveLength(5);
    const again = await opened(new Browser('phone'));
    expect([...again.session.model.strokes.values()].filter((s) => !s.deleted)).toHaveLength(5);
    expect(again.told.notices).toEqual([]);
    picking.pickAll(() => true);
    await picking.delete();
    expect(picking.count).toBe(0);
    await session.undo();
    expect([...session.model.strokes.values()].filter((s) => !s.deleted)).toHaveLength(5);
  });

  it('is not pasted where its layer takes none, and that is said', async () => {
    const { session, picking, told } = await ready();
    picking.pickAll(() => true);
    await picking.copy();
    await setLocked(session, [session.model.layers.get('lines')!], true);
    await picking.paste();
    expect(told.notices).toEqual([expect.stringMatching(/^Lines is locked, so nothing was pasted/)]);
    expect(session.model.strokes.size).toBe(3);
  });

  it('is undone with a layer that another device has moved it to: what others did stays', async () => {
    const { session, picking } = await ready();
    const phone = await opened(new Browser('phone'));
    await picking.pickAt(100, 60, 8, false);
    await shape(picking);
    await picking.transform({ dx: 10 }, 'Move');
    await savedOn(session);
    const mine = phone.session;
    mine.retryNow();
    await until(() => mine.model.strokes.get('a')!.matrix[4] === 10, 'the phone sees it');
    const theirs = new Picking(mine, () => {});
    await theirs.pickAt(110, 60, 8, false);
    await shape(theirs);
    await theirs.transform({ dx: 5 }, 'Move');
    await savedOn(mine);
    session.retryNow();
    await until(() => session.model.strokes.get('a')!.matrix[4] === 15, 'the tablet sees it');
    await session.undo();
    expect(session.model.strokes.get('a')!.matrix[4]).toBe(15);
    expect(world.away).toBe(false);
  });
});
