import { actsOn } from '../measures/layer-acts';
import 'fake-indexeddb/auto';
import { compose, IDENTITY } from '../../core/geometry/matrix';
import { orderAbove } from '../../core/sheet/orders';
import { placementMatrix } from '../../core/sheet/placement';
import { unpackInk } from '../../contract/ink-frame';
import { putRows } from '../../core/sheet/steps';
import { makePen } from '../../core/stroke/pen';
import { FEWEST_STROKES } from '../../server/store/kept-ink';
import { Inking } from '../../ui/session/inking';
import { Journal } from '../../ui/session/journal';
import { papersFor, sheetWithPicture } from '../../ui/session/pictures';
import { placePicture, setLayerOpacity } from '../../ui/session/stack-actions';
import { StepMemory } from '../../ui/session/step-memory';
import {
  Browser,
  BYTES,
  ink,
  opened,
  openSessions,
  savedOn,
  serverLayers,
  serverStrokes,
  setUpWorld,
  world,
} from '../measures/devices';
import { until } from '../measures/until';
import { PageWorker } from '../measures/page-worker';
import { referenceEntity, strokeEntity } from '../measures/sheets';

// Some sheets here have thousands of strokes.
jest.setTimeout(60000);
setUpWorld();

describe('a sheet that is open', () => {
  it('keeps each act on the device, then on the server, and is found so by the next session', async () => {
    const tablet = new Browser('tablet');
    const { session } = await opened(tablet);
    await ink(session, 'a');
    await setLayerOpacity(session, session.model.layers.get('lines')!, 0.5);
    await savedOn(session);
    expect(await serverStrokes()).toEqual([['a', false]]);
    expect(serverLayers().find((l) => l.id === 'lines')!.opacity).toBe(0.5);
    const again = await opened(tablet);
    expect([...again.session.model.strokes.keys()]).toEqual(['a']);
    expect(again.session.nextLabel('undo')).toBe('Opacity of Lines');
    expect(again.session.stepNames('undo', 5)).toEqual(['Opacity of Lines', 'Ink line']);
  });

  it('has what waits on the device on top when it is opened without having been sent', async () => {
    const tablet = new Browser('tablet');
    const first = await opened(tablet);
    world.away = true;
    await ink(first.session, 'a');
    await ink(first.session, 'b');
    await until(() => first.told.sync === 'waiting', 'the steps wait');
    first.session.close();
    expect(await serverStrokes()).toEqual([]);
    world.away = false;
    const { session } = await opened(tablet);
    expect([...session.model.strokes.keys()]).toEqual(['a', 'b']);
    await savedOn(session);
    expect(await serverStrokes()).toEqual([
      ['a', false],
      ['b', false],
    ]);
    expect(world.store.steps.after('sheet', 0, 1e6).steps).toHaveLength(2);
    await session.undo();
    expect(session.model.strokes.get('b')!.deleted).toBe(true);
  });

  it('undoes and redoes step by step, in the order in which they were asked for, over sessions', async () => {
    const tablet = new Browser('tablet');
    const { session } = await opened(tablet);
    for (const id of ['a', 'b', 'c']) await ink(session, id);
    await Promise.all([session.undo(), session.undo(), session.redo()]);
    await savedOn(session);
    expect(await serverStrokes()).toEqual([
      ['a', false],
      ['b', false],
      ['c', true],
    ]);
    session.close();
    const { session: later } = await opened(tablet);
    await later.redo();
    await savedOn(later);
    expect((await serverStrokes()).every(([, deleted]) => !deleted)).toBe(true);
    for (let i = 0; i < 4; i++) await later.undo();
    expect([...later.model.strokes.values()].every((s) => s.deleted)).toBe(true);
  });

  it('takes back what the server refuses, says why, and keeps the rest', async () => {
    const { session, told } = await opened(new Browser('tablet'));
    const picture = referenceEntity();
    await ink(session, 'a');
    await session.act('Add picture', [putRows('layers', picture)]);
    await until(() => told.notices.length === 1, 'the refusal is told');
    expect(told.notices[0]).toMatch(/^"Add picture" was not taken: This picture is not stored yet\./);
    await until(() => !session.model.layers.has('photo'), 'the sheet is as the server has it');
    expect((await session.setAside()).map((w) => w.step.label)).toEqual(['Add picture']);
    expect(await serverStrokes()).toEqual([['a', false]]);
  });

  it('goes on after a refused step: what waits for all strokes does not wait for ever', async () => {
    const { session, told } = await opened(new Browser('tablet'));
    await ink(session, 'hand');
    // No place that anything can be put beside.
    const bad = strokeEntity('bad', { order: 'b' });
    await session.act('Bad', [putRows('strokes', bad)], { parts: [['bad', BYTES]] });
    await until(() => told.notices.length > 0, 'the refusal');
    await session.ready;
    await ink(session, 'after');
    await savedOn(session);
    expect((await session.client.linesNear('lines', 70, 40, 5)).map((l) => l.id).sort()).toEqual(['after', 'hand']);
  });
});

describe('two devices on one sheet', () => {
  it('see each other, the last one wins by field, and what waits here stays as it is here', async () => {
    const [tablet, phone] = [new Browser('tablet'), new Browser('phone')];
    const a = await opened(tablet);
    const b = await opened(phone);
    const linesOf = ({ session }: typeof a) => session.model.layers.get('lines')!;
    await actsOn(a.session).acts.rename(linesOf(a), 'Contours');
    await savedOn(a.session);
    world.away = true;
    await setLayerOpacity(b.session, linesOf(b), 0.3);
    await until(() => b.told.sync === 'waiting', 'the phone is away');
    world.away = false;
    await setLayerOpacity(a.session, linesOf(a), 0.8);
    await savedOn(a.session);
    b.session.retryNow();
    await until(() => linesOf(b).name === 'Contours', 'the phone learns the new name');
    expect(linesOf(b).opacity).toBe(0.3);
    await savedOn(b.session);
    expect(serverLayers()[0]).toMatchObject({ name: 'Contours', opacity: 0.3 });
    a.session.retryNow();
    await until(() => linesOf(a).opacity === 0.3, 'the tablet learns the last opacity');
  });

  it('undo their own steps only, and leave a field alone that the other has changed since', async () => {
    const a = await opened(new Browser('tablet'));
    const b = await opened(new Browser('phone'));
    await ink(a.session, 'a');
    await setLayerOpacity(a.session, a.session.model.layers.get('lines')!, 0.5);
    await savedOn(a.session);
    b.session.retryNow();
    await until(() => b.session.model.strokes.has('a'), 'the phone sees the line');
    expect(b.session.nextLabel('undo')).toBeUndefined();
    await setLayerOpacity(b.session, b.session.model.layers.get('lines')!, 0.9);
    await savedOn(b.session);
    a.session.retryNow();
    await until(() => a.session.model.layers.get('lines')!.opacity === 0.9, 'the tablet sees the opacity');
    await a.session.undo();
    expect(a.session.model.layers.get('lines')!.opacity).toBe(0.9);
    expect(a.told.notices).toEqual(['1 change made elsewhere since then stayed as it is.']);
    await a.session.undo();
    expect(a.session.model.strokes.get('a')!.deleted).toBe(true);
  });
});

describe('acts on the stack', () => {
  it('add a layer as the target, move it, and give the target to another when it is deleted', async () => {
    const { session } = await opened(new Browser('tablet'));
    await actsOn(session).acts.add('rough');
    const rough = session.model.stack().at(-1)!;
    expect([rough.kind, session.model.settings.target]).toEqual(['rough', rough.id]);
    await actsOn(session).acts.step(rough.id, 'down');
    expect(session.model.stack().map((l) => l.kind)).toEqual(['rough', 'ink']);
    await actsOn(session).acts.step(rough.id, 'down');
    expect(session.model.stack()[0].id).toBe(rough.id);
    await actsOn(session).acts.delete([rough.id]);
    expect(session.model.settings.target).toBe('lines');
    await actsOn(session).acts.delete(['lines']);
    expect(session.model.settings.target).toBeNull();
    await session.undo();
    expect([session.model.settings.target, session.model.stack().length]).toEqual(['lines', 1]);
  });

  it('take the ink along with the picture: every stroke by what the picture moved', async () => {
    const { session } = await opened(new Browser('tablet'));
    await ink(session, 'a');
    const reference = referenceEntity({ placement: { cx: 200, cy: 150, scale: 2, turnDeg: 0, mirrored: false } });
    const placement = { cx: 260, cy: 120, scale: 3, turnDeg: 90, mirrored: true };
    session.model.layers.set('photo', reference);
    await placePicture(session, reference, placement, true);
    const { matrix } = session.model.strokes.get('a')!;
    // A picture's corner and the ink over it stay together.
    const whole = compose(matrix, placementMatrix(reference.placement, reference.picture));
    placementMatrix(placement, reference.picture).forEach((v, i) => expect(whole[i]).toBeCloseTo(v, 9));
    await session.undo();
    session.model.strokes.get('a')!.matrix.forEach((v, i) => expect(v).toBeCloseTo(IDENTITY[i], 12));
  });
});

describe('a sheet of many strokes', () => {
  const fill = () => {
    const many = Array.from({ length: FEWEST_STROKES }, (_, i) => strokeEntity(`k${i}`, { order: `a${1000 + i}` }));
    const step = { id: 'fill', device: 'seed', undoable: false, label: 'Fill', changes: [putRows('strokes', ...many)] };
    world.store.steps.append('sheet', [step], new Map(many.map(({ id }) => [id, BYTES])), 0);
  };

  it('is opened from what was packed some steps ago, with what was done since, and undone as before', async () => {
    fill();
    const tablet = new Browser('tablet');
    const first = await opened(tablet);
    await ink(first.session, 'new');
    await actsOn(first.session).acts.rename(first.session.model.layers.get('lines')!, 'Inked');
    await actsOn(first.session).acts.delete(['lines']);
    await first.session.undo();
    await savedOn(first.session);
    const packed = unpackInk(await world.store.sheets.ink('sheet', 0));
    expect([packed.seq, packed.strokes.count]).toEqual([1, FEWEST_STROKES]);
    for (const browser of [tablet, new Browser('phone')]) {
      const { session, told } = await opened(browser);
      await until(() => session.model.strokes.has('new'), 'the line is there');
      expect(session.model.layers.get('lines')).toMatchObject({ name: 'Inked', deleted: false });
      // Layers were read as they are: what was done to them and taken back is no news.
      expect(told.notices).toEqual([]);
      if (browser === tablet) expect(session.history).toEqual(first.session.history);
    }
  });

  it('takes ink before its strokes have come: on top of them, journaled at once, and undone', async () => {
    fill();
    const steady = globalThis.fetch;
    let letThrough: () => void = () => {};
    const held = new Promise<void>((done) => (letThrough = done));
    globalThis.fetch = (async (path: string, init?: RequestInit) => {
      if (String(path).includes('/strokes')) await held;
      return steady(path, init);
    }) as typeof fetch;
    const tablet = new Browser('tablet');
    const opening = opened(tablet);
    await until(() => openSessions().length > 0, 'the sheet is there');
    const [session] = openSessions();
    expect([session.model.strokes.size, session.hasInkOn(['lines']), session.isSaved]).toEqual([0, true, false]);
    expect(session.topOrderOf('lines')).toBe(`a${1000 + FEWEST_STROKES - 1}`);
    await session.act('Ink line', [putRows('strokes', strokeEntity('early', { order: 'a4' }))], {
      parts: [['early', BYTES]],
    });
    expect((await session.journal.waiting('sheet')).map((w) => w.step.label)).toEqual(['Ink line']);
    const undone = session.undo();
    letThrough();
    await opening;
    await undone;
    expect([session.model.strokes.size, session.model.strokes.get('early')!.deleted]).toEqual([
      FEWEST_STROKES + 1,
      true,
    ]);
    await savedOn(session);
    expect(await session.setAside()).toEqual([]);
    expect(world.store.steps.after('sheet', 1, 1e6).steps.map((s) => s.label)).toEqual(['Ink line', 'Ink line']);
    globalThis.fetch = steady;
  });

  it('erases nothing, and says why, where its lines are not here and the server cannot be reached', async () => {
    fill();
    const { session } = await opened(new Browser('tablet'));
    const said: string[] = [];
    const inking = new Inking(
      session,
      () => {},
      (text) => said.push(text),
    );
    world.away = true;
    const pen = makePen('fineliner', 20, 0, false, 1);
    expect(await inking['erased']('lines', BYTES, pen)).toEqual([]);
    expect(said).toEqual([expect.stringMatching(/nothing was erased/)]);
    world.away = false;
    expect(await inking['erased']('lines', BYTES, pen)).toHaveLength(FEWEST_STROKES);
  });

  it('is closed, and says so, when its strokes cannot be read; what was drawn meanwhile is kept', async () => {
    const steady = globalThis.fetch;
    globalThis.fetch = ((path: string, init?: RequestInit) =>
      String(path).includes('/strokes') ? Promise.reject(new TypeError('gone')) : steady(path, init)) as typeof fetch;
    await expect(opened(new Browser('tablet'))).rejects.toThrow('cannot reach its server');
    globalThis.fetch = steady;
  });
});

describe('what must not be lost', () => {
  it('opens a sheet although a waiting step names what the server lacks, and sets the step aside', async () => {
    const tablet = new Browser('tablet');
    tablet.use();
    const journal = await Journal.open();
    await journal.add(
      'sheet',
      {
        id: 'w',
        device: 'tablet',
        undoable: true,
        label: 'Opacity',
        changes: [{ op: 'set', table: 'layers', field: 'opacity', ids: ['gone'], before: [1], after: [0.5] }],
      },
      [],
    );
    journal.close();
    const { session, told } = await opened(tablet);
    await ink(session, 'a');
    await until(() => told.notices.some((n) => n.includes('"Opacity" was not taken')), 'it is told');
    await savedOn(session);
    expect(await serverStrokes()).toEqual([['a', false]]);
    expect((await session.setAside()).map((w) => w.step.id)).toEqual(['w']);
  });

  it('drops at opening what waits although the server has it, and does not put it over a newer value', async () => {
    const tablet = new Browser('tablet');
    const phone = new Browser('phone');
    const a = await opened(tablet);
    const linesOf = ({ session }: typeof a) => session.model.layers.get('lines')!;
    await setLayerOpacity(a.session, linesOf(a), 0.3);
    await savedOn(a.session);
    const [written] = world.store.steps.after('sheet', 0, 1e6).steps;
    a.session.close();
    const b = await opened(phone);
    await setLayerOpacity(b.session, linesOf(b), 0.8);
    await savedOn(b.session);
    // The removal from the journal had failed.
    tablet.use();
    const journal = await Journal.open();
    await journal.add('sheet', written, []);
    journal.close();
    const again = await opened(tablet);
    expect(linesOf(again).opacity).toBe(0.8);
    await until(() => again.session['sender'].waiting.length === 0, 'nothing waits');
    expect(world.store.steps.after('sheet', 0, 1e6).steps).toHaveLength(2);
  });

  it('takes a foreign value that it had not seen beneath its own newer one', async () => {
    const [tablet, phone] = [new Browser('tablet'), new Browser('phone')];
    const a = await opened(tablet);
    const b = await opened(phone);
    const linesOf = ({ session }: typeof a) => session.model.layers.get('lines')!;
    await setLayerOpacity(a.session, linesOf(a), 0.8);
    await savedOn(a.session);
    await setLayerOpacity(b.session, linesOf(b), 0.3);
    await savedOn(b.session);
    await until(() => b.session['seq'] === 2, 'the phone has caught up');
    expect(linesOf(b).opacity).toBe(0.3);
    a.session.retryNow();
    await until(() => linesOf(a).opacity === 0.3, 'so has the tablet');
  });

  it('lets two tabs of one device undo and redo, before and after opening again', async () => {
    const tablet = new Browser('tablet');
    const first = await opened(tablet);
    const second = await opened(tablet);
    await ink(first.session, 'a');
    await savedOn(first.session);
    await ink(second.session, 'b');
    await savedOn(second.session);
    await first.session.undo();
    await savedOn(first.session);
    const { session } = await opened(tablet);
    for (let i = 0; i < 2; i++) await session.undo();
    expect([...session.model.strokes.values()].map((s) => s.deleted)).toEqual([true, true]);
    for (let i = 0; i < 2; i++) await session.redo();
    await savedOn(session);
    expect((await serverStrokes()).map(([, deleted]) => deleted)).toEqual([false, false]);
  });

  it('puts a new line above those that others have drawn meanwhile', async () => {
    const a = await opened(new Browser('tablet'));
    const b = await opened(new Browser('phone'));
    const inking = new Inking(
      a.session,
      () => {},
      () => {},
    );
    const make = (id: string) =>
      inking['makeStroke']('lines', BYTES, strokeEntity(id).pen, { colour: '#000000' }, id).stroke;
    const one = make('one');
    await a.session.act('Ink line', [putRows('strokes', one)], { parts: [['one', BYTES]] });
    await savedOn(a.session);
    const high = strokeEntity('high', { order: orderAbove([one.order, orderAbove([one.order])]) });
    await b.session.act('Ink line', [putRows('strokes', high)], { parts: [['high', BYTES]] });
    await savedOn(b.session);
    a.session.retryNow();
    await until(() => a.session.model.strokes.has('high'), 'the tablet sees it');
    expect(make('two').order > high.order).toBe(true);
    // Beneath is under all that there is, again and again, and changes nothing about what comes on top.
    const beneath = (id: string) =>
      inking['makeStroke']('lines', BYTES, strokeEntity(id).pen, { colour: '#000000', beneath: true }, id).stroke;
    const low = beneath('low');
    expect(low.order < one.order).toBe(true);
    await a.session.act('Ink line', [putRows('strokes', low)], { parts: [['low', BYTES]] });
    expect(beneath('lower').order < low.order).toBe(true);
    expect(make('three').order > high.order).toBe(true);
  });

  it('says that a layer with ink was deleted elsewhere, and brings it back', async () => {
    const a = await opened(new Browser('tablet'));
    const b = await opened(new Browser('phone'));
    await ink(a.session, 'a');
    await savedOn(a.session);
    await actsOn(b.session).acts.delete(['lines']);
    await savedOn(b.session);
    a.session.retryNow();
    await until(() => a.told.notices.includes('Lines was deleted elsewhere, with 1 line on it.'), 'it is told');
    a.told.ways[0].does();
    await savedOn(a.session);
    expect(serverLayers()[0].deleted).toBe(false);
  });

  it('lands a stroke that was held once, although two tabs land it', async () => {
    const tablet = new Browser('tablet');
    const tabs = [await opened(tablet), await opened(tablet)];
    await tabs[0].session.journal.hold({
      id: 'held-1',
      sheetId: 'sheet',
      bytes: BYTES,
      pen: strokeEntity('x').pen,
      colour: '#000000',
    });
    const hands = tabs.map(
      ({ session }) =>
        new Inking(
          session,
          () => {},
          () => {},
        ),
    );
    for (const hand of hands) await hand.restoreHeld();
    for (const hand of hands) await hand.openTarget();
    for (const { session } of tabs) await savedOn(session);
    expect(await serverStrokes()).toEqual([['held-1', false]]);
  });

  it('lands held strokes beneath the others where they were meant to go there, the last one lowest', async () => {
    const { session } = await opened(new Browser('tablet'));
    await ink(session, 'first');
    const stroke = { sheetId: 'sheet', bytes: BYTES, pen: strokeEntity('x').pen, colour: '#000000' };
    await session.journal.hold({ id: 'low', ...stroke, beneath: true });
    await session.journal.hold({ id: 'lowest', ...stroke, beneath: true });
    await session.journal.hold({ id: 'top', ...stroke });
    const inking = new Inking(
      session,
      () => {},
      () => {},
    );
    await inking.restoreHeld();
    await inking.openTarget();
    await savedOn(session);
    // As the server gives them: in their order, first drawn first.
    expect((await serverStrokes()).map(([id]) => id)).toEqual(['lowest', 'low', 'first', 'top']);
  });

  it('cuts labels where they are made: a layer with the longest name can be changed', async () => {
    const { session, told } = await opened(new Browser('tablet'));
    const lines = () => session.model.layers.get('lines')!;
    await actsOn(session).acts.rename(lines(), '\u{1F58B}'.repeat(60));
    await setLayerOpacity(session, lines(), 0.5);
    await savedOn(session);
    expect(told.notices).toEqual([]);
    expect(serverLayers()[0]).toMatchObject({ name: '\u{1F58B}'.repeat(60), opacity: 0.5 });
    expect(world.store.steps.after('sheet', 1, 1e6).steps[0].label).toMatch(/^Opacity of .*…$/u);
  });

  it('leaves no empty sheet behind when its picture cannot be placed', async () => {
    new Browser('tablet').use();
    const picture = { pictures: [{ hash: 'f'.repeat(64), width: 80, height: 60, frames: 1 }] };
    const paper = { widthPx: 80, heightPx: 60, ppi: 300 };
    await expect(sheetWithPicture({ name: 'leaf.png' } as File, picture, 'Leaf', paper)).rejects.toThrow(
      'This picture is not stored yet.',
    );
    expect(world.store.sheets.list().map((card) => card.name)).toEqual(['Reeds']);
  });

  it('offers papers in the shape of a picture: its own size, and larger ones while they are not too large', () => {
    const widths = (width: number, height: number) => papersFor({ width, height }).map((p) => p.paper.widthPx);
    expect(widths(1024, 788)).toEqual([1024, 2048, 4096]);
    expect(widths(4000, 3000)).toEqual([4000]);
    expect(papersFor({ width: 30000, height: 10 })[0].paper).toEqual({ widthPx: 20000, heightPx: 16, ppi: 300 });
  });

  it('leaves no worker behind when a sheet cannot be opened', async () => {
    const ended = jest.spyOn(PageWorker.prototype, 'terminate');
    const steady = globalThis.fetch;
    globalThis.fetch = ((path: string, init?: RequestInit) =>
      path.includes('/strokes')
        ? Promise.reject(new TypeError('failed to fetch'))
        : steady(path, init)) as typeof fetch;
    await expect(opened(new Browser('tablet'))).rejects.toThrow('cannot reach its server');
    globalThis.fetch = steady;
    expect(ended).toHaveBeenCalledTimes(1);
    ended.mockRestore();
  });

  it('says that the sheet was deleted elsewhere', async () => {
    const { session, told } = await opened(new Browser('tablet'));
    world.store.sheets.act({ id: 'del', kind: 'delete', sheetId: 'sheet' }, 0);
    await ink(session, 'a');
    await until(() => told.notices.some((n) => n.startsWith('This sheet was deleted elsewhere')), 'it is told');
    expect(await serverStrokes()).toEqual([['a', false]]);
  });

  it('reorders layers that two devices gave one place', async () => {
    const { session } = await opened(new Browser('tablet'));
    const same = { kind: 'ink' as const, deleted: false, visible: true, locked: false, opacity: 1, order: 'a1' };
    await session.act('Add', [putRows('layers', { ...same, id: 'p', name: 'P' }, { ...same, id: 'q', name: 'Q' })]);
    await actsOn(session).acts.step('lines', 'up');
    expect(session.model.stack().map((l) => l.id)).toEqual(['p', 'lines', 'q']);
    await savedOn(session);
    await session.undo();
    expect(session.model.stack().map((l) => l.id)).toEqual(['lines', 'p', 'q']);
  });

  it('asks for the body of a step that it no longer has at hand', async () => {
    const { session } = await opened(new Browser('tablet'));
    for (const id of ['a', 'b']) await ink(session, id);
    await savedOn(session);
    session['undoing']['memory']['bodies'].clear();
    for (let i = 0; i < 2; i++) await session.undo();
    expect([...session.model.strokes.values()].map((s) => s.deleted)).toEqual([true, true]);
  });

  it('keeps its memory of steps small, and their names', () => {
    const memory = new StepMemory();
    const ids = Array.from({ length: 5000 }, (_, i) => `stroke-${i}`);
    const values = ids.map(() => [1, 0, 0, 1, 2, 3]);
    for (let n = 0; n < 60; n++)
      memory.add({
        id: `n${n}`,
        device: 'd',
        undoable: true,
        label: `Move ${n}`,
        changes: [{ op: 'set', table: 'strokes', field: 'matrix', ids, before: values, after: values }],
      });
    expect(memory.bytes).toBeLessThanOrEqual(8 * 1024 * 1024);
    expect([memory.label('n0'), memory.body('n0'), memory.body('n59')?.id]).toEqual(['Move 0', undefined, 'n59']);
  });

  it('undoes a step whose every field has moved on without touching anything', async () => {
    const { session } = await opened(new Browser('tablet'));
    await setLayerOpacity(session, session.model.layers.get('lines')!, 0.5);
    await savedOn(session);
    const phone = await opened(new Browser('phone'));
    await setLayerOpacity(phone.session, phone.session.model.layers.get('lines')!, 0.9);
    await savedOn(phone.session);
    session.retryNow();
    await until(() => session.model.layers.get('lines')!.opacity === 0.9, 'it is seen');
    await session.undo();
    await savedOn(session);
    expect(world.store.steps.after('sheet', 2, 1e6).steps[0]).toMatchObject({ changes: [], undoable: false });
    expect(session.history).toMatchObject({ undo: [], redo: [expect.any(String)] });
  });
});
