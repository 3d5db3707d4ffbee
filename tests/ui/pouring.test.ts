import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { makePixels } from '../../core/raster/pixels';
import { assign, putRows } from '../../core/sheet/steps';
import { encodePath } from '../../core/stroke/pack-path';
import { plainNode } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';
import { Pouring } from '../../ui/session/pouring';
import type { SheetSession } from '../../ui/session/session';
import type { Followed } from '../../core/fill/following';
import type { ColourAsk } from '../../workers/colouring';
import { followedChanges, TiedPours } from '../../ui/session/tied-pours';
import { wholeInk } from '../../demo/whole-ink';
import { Browser, inkOnServer, openedInTurn, savedOn, setUpWorld, world } from '../measures/devices';
import { until } from '../measures/until';
import { strokeEntity } from '../measures/sheets';

setUpWorld();

const WAY = { colour: '#8c3a2b', alike: false, tied: true };
const pen = makePen('fineliner', 4, 0, false, 1);

/** Inks a line along places. */
function line(session: SheetSession, id: string, closed: boolean, ...xy: number[]): Promise<void> {
  const nodes = Array.from({ length: xy.length / 2 }, (_, k) => plainNode(xy[2 * k], xy[2 * k + 1], 'corner'));
  const stroke = strokeEntity(id, { pen, order: `a1${id}` });
  return session.act('Ink line', [putRows('strokes', stroke)], { parts: [[id, encodePath({ closed, nodes })]] });
}
const box = (session: SheetSession, id: string, x0: number, y0: number, x1: number, y1: number) =>
  line(session, id, true, x0, y0, x1, y0, x1, y1, x0, y1);

async function setUp(device: string) {
  const { session } = await openedInTurn(new Browser(device));
  const said: string[] = [];
  const pouring = new Pouring(session, (text) => said.push(text), (text) => said.push(text)); // prettier-ignore
  const end = pouring.begin();
  const tap = async (x: number, y: number, way = WAY) => {
    pouring.start();
    pouring.move([x, y]);
    return pouring.end(way);
  };
  const pours = () => [...session.model.strokes.values()].filter((s) => s.pour && !s.deleted);
  return { session, pouring, said, end, tap, pours };
}

/** What the server has of the layer of pours, drawn. */
async function drawn(layerId: string): Promise<Buffer> {
  const { ink } = await wholeInk(world.store, 'sheet');
  const pixels = ink.draw(layerId, 0, makePixels(0, 0, 400, 300), new RasterWorkspace(400, 300));
  return Buffer.from(pixels!.data);
}

describe('pouring', () => {
  it('makes its layer beneath all ink with the first pour, in one step; lines land where they did after', async () => {
    const { session, pouring, tap, pours, end } = await setUp('one');
    await box(session, 'b', 40, 40, 200, 200);
    expect(pouring.makesLayer.now()).toBe(true);
    expect(await tap(100, 100)).toBe(true);
    pouring.followTarget(session.model.settings.target);
    const [pour] = pours();
    const layer = session.model.layers.get(pour.layerId)!;
    expect([layer.kind, layer.name, session.model.settings.target]).toEqual(['colour', 'Colour', layer.id]);
    expect(layer.order < session.model.layers.get('lines')!.order).toBe(true);
    await session.undo();
    pouring.followTarget(session.model.settings.target);
    expect(session.model.layers.get(layer.id)?.deleted ?? true).toBe(true);
    expect(pouring.makesLayer.now()).toBe(true);
    await session.redo();
    pouring.followTarget(session.model.settings.target);
    end();
    expect(session.model.settings.target).toBe('lines');
  });

  it('says so where there is no shape, or the layer is locked, and changes nothing', async () => {
    const { session, said, tap, pours, pouring } = await setUp('one');
    await box(session, 'b', 40, 40, 200, 200);
    expect(await tap(-40, -40)).toBe(false);
    expect(said).toEqual(['There is no shape that could be poured.']);
    await tap(100, 100);
    const [pour] = pours();
    pouring.followTarget(session.model.settings.target);
    await session.act('Lock', [{ op: 'set', table: 'layers', field: 'locked', ids: [pour.layerId], before: [false], after: [true] }]); // prettier-ignore
    expect(await tap(20, 20)).toBe(false);
    expect(said[1]).toBe('Colour is locked, so nothing was poured. Unlock it in the stack to pour there.');
    expect(pours()).toHaveLength(1);
  });

  it('on an ink layer lies beneath its lines: solid blacks and whites', async () => {
    const { session, pouring, tap, pours } = await setUp('one');
    await box(session, 'b', 40, 40, 200, 200);
    // The artist takes the ink layer while on Colour.
    pouring.makesLayer.set(false);
    await tap(100, 100, { ...WAY, colour: '#000000' });
    const [pour] = pours();
    expect(pour.layerId).toBe('lines');
    expect(pour.order < session.model.strokes.get('b')!.order).toBe(true);
    // It closes no shape of its own.
    await tap(20, 20, { ...WAY, colour: '#ffffff' });
    expect(pours().map(({ colour }) => colour).sort()).toEqual(['#000000', '#ffffff']); // prettier-ignore
  });

  it('every shape like it: of a colour all of that colour on the layer, without colour all of its size', async () => {
    const { session, tap, pours } = await setUp('one');
    for (let k = 0; k < 4; k++) await box(session, `b${k + 1}`, 20 + 90 * k, 40, 90 + 90 * k, 100);
    await box(session, 'large', 20, 120, 380, 280);
    await tap(50, 70, { ...WAY, alike: true });
    expect(pours()).toHaveLength(4);
    await tap(200, 200);
    await tap(50, 70, { ...WAY, colour: '#2c3a44', alike: true });
    expect(pours().map(({ colour }) => colour)).toEqual(Array(5).fill('#2c3a44'));
  });

  it('follows what this device does to its lines, and the other device shows the same', async () => {
    const one = await setUp('one');
    const { session, tap, pours } = one;
    await box(session, 'b', 40, 40, 200, 200);
    await tap(100, 100);
    const [{ id, layerId }] = pours();
    await line(session, 'parts', false, 120, 30, 120, 210);
    await until(() => pours().length === 2, 'both parts have the colour');
    await savedOn(session);
    expect((await inkOnServer()).filter((s) => s.pour && !s.deleted)).toHaveLength(2);
    const shape = session.model.strokes.get(id)!.pour!.shape;
    expect(shape).toBeDefined();
    const two = await openedInTurn(new Browser('two'));
    expect(two.session.model.strokes.get(id)!.pour).toEqual(session.model.strokes.get(id)!.pour);
    const parted = await drawn(layerId);
    // Undo takes the line; the colour follows by itself, and is no step to undo.
    await session.undo();
    await until(() => pours().length === 1, 'it is one again');
    await savedOn(session);
    expect(session.nextLabel('undo')).toBe('Pour');
    expect((await drawn(layerId)).equals(parted)).toBe(false);
    await session.redo();
    await until(() => pours().length === 2, 'parted again');
    await savedOn(session);
    expect((await drawn(layerId)).equals(parted)).toBe(true);
    await session.undo();
    await session.undo();
    await until(() => pours().length === 0, 'the pour is taken back');
  });

  it('what is being followed is left off when the artist goes on: undo of a line waits for nothing', async () => {
    const { session, tap, pours } = await setUp('one');
    await box(session, 'b', 40, 40, 200, 200);
    await tap(100, 100);
    const asked: string[] = [];
    const { client } = session;
    const colour = client.colour.bind(client);
    let holds: Promise<void> | undefined;
    client.colour = (async (ask: ColourAsk) => {
      asked.push(ask.what);
      if (ask.what === 'follow') await holds;
      return colour(ask);
    }) as typeof client.colour;

    await line(session, 'parts', false, 120, 30, 120, 210);
    await until(() => pours().length === 2, 'both parts have the colour');

    // While it is being followed: the line goes at once, and what was looked for is left off.
    let goOn: () => void = () => {};
    holds = new Promise((done) => (goOn = done));
    await session.act('Move', [assign('strokes', session.model.strokes.get('parts')!, 'matrix', [1, 0, 0, 1, 9, 0])]);
    const before = asked.length;
    await until(() => asked.length > before, 'it is followed');
    await session.undo();
    expect(session.model.strokes.get('parts')!.matrix).toEqual([1, 0, 0, 1, 0, 0]);
    expect(asked.slice(before)).toEqual(['follow', 'leave-off']);
    goOn();
    await session.tied.settled();
    // It was asked anew: what came of the first question is not looked at.
    expect(asked.slice(before, before + 3)).toEqual(['follow', 'leave-off', 'follow']);
    expect(pours()).toHaveLength(2);
  });

  it('an opened shape is told, stays, and is closed by itself when its line is back', async () => {
    const { session, pouring, tap, pours } = await setUp('one');
    await line(session, 'c', false, 200, 40, 40, 40, 40, 200, 200, 200);
    await line(session, 'd', false, 200, 38, 200, 202);
    await tap(100, 100);
    const before = pours()[0].pour;
    await session.act('Delete', [{ op: 'set', table: 'strokes', field: 'deleted', ids: ['d'], before: [false], after: [true] }]); // prettier-ignore
    await until(() => pours()[0].pour!.isOpen === true, 'it is open');
    expect(pours()[0].pour).toEqual({ ...before, isOpen: true });
    pouring.lookSoon();
    await until(() => pouring.opened.now().length === 1, 'it is told');
    await session.undo();
    await until(() => pours()[0].pour!.isOpen === undefined, 'it is closed');
  });

  it('small shapes are filled from beside in one step', async () => {
    const { session, pouring, tap, pours } = await setUp('one');
    await box(session, 'b', 40, 40, 360, 260);
    await box(session, 's', 100, 100, 114, 114);
    await box(session, 't', 200, 100, 214, 114);
    await tap(60, 60);
    pouring.lookSoon();
    await until(() => pouring.unfilled.now()?.length === 2, 'both are found');
    await pouring.fillAll();
    expect(pours().map(({ colour }) => colour)).toEqual(Array(3).fill('#8c3a2b'));
    expect(session.nextLabel('undo')).toBe('Fill 2 small shapes');
  });

  it('small shapes beside colour on a locked layer stay as they are, which is said', async () => {
    const { session, pouring, said, tap, pours } = await setUp('one');
    await box(session, 'b', 40, 40, 360, 260);
    await box(session, 's', 100, 100, 114, 114);
    await tap(60, 60);
    pouring.lookSoon();
    await until(() => pouring.unfilled.now()?.length === 1, 'it is found');
    const [{ layerId }] = pours();
    await session.act('Lock', [{ op: 'set', table: 'layers', field: 'locked', ids: [layerId], before: [false], after: [true] }]); // prettier-ignore
    await pouring.fillAll();
    expect(pours()).toHaveLength(1);
    expect(said).toEqual(['1 small shape not filled: the colour beside lies on a locked layer. Unlock it in the stack to fill there.']); // prettier-ignore
  });

  it('what goes wrong once is said, and the next touch asks again', async () => {
    const { session, said, tap, pours } = await setUp('one');
    await box(session, 'b', 40, 40, 200, 200);
    const logged = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    jest.spyOn(session.client, 'colour').mockRejectedValueOnce(new Error('no memory'));
    expect(await tap(100, 100)).toBe(false);
    expect(said).toEqual(['The shape could not be looked for, so nothing was poured. Try again.']);
    expect(await tap(100, 100)).toBe(true);
    expect(pours()).toHaveLength(1);
    logged.mockRestore();
  });
});

describe('colour that would run out of a shape', () => {
  /** A box with a door of 30 px, and a whole one beside it. */
  async function open(device: string) {
    const made = await setUp(device);
    await line(made.session, 'open', false, 105, 60, 160, 60, 160, 200, 40, 200, 40, 60, 75, 60);
    await box(made.session, 'whole', 220, 60, 340, 200);
    const { runningOut } = made.pouring;
    const lines = () => [...made.session.model.strokes.values()].filter((s) => !s.pour && !s.deleted);
    const act = jest.spyOn(made.session, 'act');
    const labels = () => act.mock.calls.map(([label]) => label);
    return { ...made, runningOut, lines, labels };
  }

  it('is asked about before anything is poured; bridged and poured it is one step, which undo takes back whole', async () => {
    const { session, pouring, runningOut, tap, pours, lines, labels } = await open('one');
    expect(await tap(100, 130)).toBe(false);
    expect(runningOut.words()).toBe('Ran out here: a gap of 26 px (2.20 mm).');
    expect([pours().length, pouring.held.now().length, labels()]).toEqual([0, 1, []]);
    expect(await pouring.bridgeAndPour()).toBe(true);
    expect([runningOut.question.now(), pouring.held.now()]).toEqual([undefined, []]);
    expect([pours().length, lines().length, labels()]).toEqual([1, 3, ['Bridge, and pour']]);
    await session.undo();
    expect([pours().length, lines().length]).toEqual([0, 2]);
    await session.redo();
    // What follows finds it as it is.
    await session.close();
    expect(pours().map(({ pour }) => pour!.isOpen)).toEqual([undefined]);
    const { size } = (await session.client.colour<'target'>({
      what: 'target',
      bounds: { against: ['lines'], gapPx: 8 },
      at: [100, 130],
    }))!.shape;
    expect(size / (120 * 140)).toBeCloseTo(1, 1);
  });

  it('is poured all the same, or not at all; a whole shape is never asked about', async () => {
    const { pouring, runningOut, tap, pours, lines, said } = await open('one');
    await tap(100, 130);
    pouring.letGo();
    expect([runningOut.question.now(), pouring.held.now(), pours().length]).toEqual([undefined, [], 0]);
    expect(await pouring.bridgeAndPour()).toBe(false);
    await tap(100, 130);
    expect(await pouring.pourAllTheSame()).toBe(true);
    expect([pours().length, lines().length]).toEqual([1, 2]);
    expect(await tap(280, 130)).toBe(true);
    expect(pours()).toHaveLength(2);
    expect(said).toEqual([]);
  });

  it('where its gap lies on a locked layer stays as it is, which is said; another edit lets go of it', async () => {
    const { session, pouring, runningOut, tap, pours, lines, said } = await open('one');
    await tap(280, 130);
    pouring.followTarget(session.model.settings.target);
    const lock = (locked: boolean) =>
      session.act('Lock', [
        { op: 'set', table: 'layers', field: 'locked', ids: ['lines'], before: [!locked], after: [locked] },
      ]);
    await lock(true);
    await tap(100, 130);
    expect(await pouring.bridgeAndPour()).toBe(false);
    expect(said).toEqual(['One gap lies on a locked layer and stayed open. Unlock it in the stack to bridge there.']);
    expect([pours().length, lines().length]).toEqual([1, 2]);
    await lock(false);
    let edited = () => {};
    Object.assign(session, {
      stage: {
        watchInk: (told: () => void) => ((edited = told), () => undefined),
        view: { scale: 1 },
        applied: () => undefined,
      },
    });
    pouring.begin();
    await tap(100, 130);
    expect(runningOut.question.now()).toBeDefined();
    edited();
    expect([runningOut.question.now(), pouring.held.now()]).toEqual([undefined, []]);
    // Another edit while it is looked at: what is found then would be of lines as they were.
    const ask = session.client.colour.bind(session.client);
    jest.spyOn(session.client, 'colour').mockImplementation(async (what: ColourAsk) => {
      const answer = (await ask(what)) as never;
      if (what.what === 'ran-out') edited();
      return answer;
    });
    expect([await tap(100, 130), runningOut.question.now(), pours().length]).toEqual([false, undefined, 1]);
    expect(said.pop()).toBe('The pour before was still being looked at, and was given up.');
    session.stage = undefined;
  });

  it('whose shape is poured already, in the same colour: its gap alone is bridged', async () => {
    const { session, pouring, runningOut, tap, pours, lines, labels } = await open('one');
    await tap(100, 130);
    await pouring.bridgeAndPour();
    pouring.followTarget(session.model.settings.target);
    const bridge = lines().find(({ id }) => id !== 'open' && id !== 'whole')!;
    await session.act('Delete', [assign('strokes', bridge, 'deleted', true)]);
    expect([await tap(100, 130), runningOut.leaks().length]).toEqual([false, 1]);
    expect(await pouring.bridgeAndPour()).toBe(true);
    expect([pours().length, lines().length, labels().at(-1)]).toEqual([1, 3, 'Bridge']);
  });

  it('within what lies around, poured already, is asked about, too; around all lines it is poured again without a word', async () => {
    const { session, pouring, runningOut, tap, pours } = await open('one');
    expect(await tap(10, 10, { ...WAY, colour: '#d9cdb2' })).toBe(true);
    pouring.followTarget(session.model.settings.target);
    expect(await tap(100, 130)).toBe(false);
    expect(runningOut.leaks()).toHaveLength(1);
    expect(await pouring.bridgeAndPour()).toBe(true);
    expect(pours().map(({ colour }) => colour)).toEqual(['#d9cdb2', WAY.colour]);
    expect(await tap(10, 290, { ...WAY, colour: '#102030' })).toBe(true);
    expect(pours().map(({ colour }) => colour)).toEqual(['#102030', WAY.colour]);
  });

  it('in a loop: what is closed is poured alone, or what is open with its bridges, too', async () => {
    const { session, pouring, runningOut, pours, lines, labels } = await open('one');
    const loop = Float64Array.of(20, 30, 360, 30, 360, 230, 20, 230);
    expect(await pouring.pourWithin(loop, WAY)).toBe(false);
    expect(runningOut.words()).toBe('One shape in the loop ran out: a gap of 26 px (2.20 mm).');
    expect(await pouring.pourAllTheSame()).toBe(true);
    expect([pours().length, lines().length]).toEqual([1, 2]);
    await session.undo();
    await pouring.pourWithin(loop, WAY);
    expect(await pouring.bridgeAndPour()).toBe(true);
    expect([pours().length, lines().length, labels().pop()]).toEqual([2, 3, 'Bridge, and pour 2 shapes']);
  });
});

describe('tied pours', () => {
  afterEach(() => jest.useRealTimers());

  it('follow once the hand rests: what it does meanwhile comes first, and nothing of it is lost', async () => {
    jest.useFakeTimers();
    const asked: unknown[] = [];
    const answers: (Followed[] | undefined)[] = [undefined, []];
    const sheet = {
      model: { strokes: { hasPours: true }, stack: () => [] },
      isHandBusy: true,
      client: {
        colour: (ask: { what: string; changed?: unknown }) => {
          asked.push(ask.changed ?? ask.what);
          return Promise.resolve(answers.shift());
        },
      },
      act: () => Promise.resolve(),
    };
    const tied = new TiedPours(sheet as unknown as ConstructorParameters<typeof TiedPours>[0]);
    const changed = (layerId: string) => [{ layerId, box: { x0: 0, y0: 0, x1: 1, y1: 1 } }];
    tied.note(changed('a'), true);
    await jest.advanceTimersByTimeAsync(5000);
    expect(asked).toEqual([]);
    tied.note(changed('b'), false);
    sheet.isHandBusy = false;
    await jest.advanceTimersByTimeAsync(1000);
    // The first answer was left off: the same is asked for again, with what came since.
    const all = [...changed('a'), ...changed('b')];
    expect(asked).toEqual([all, all]);
    await jest.advanceTimersByTimeAsync(5000);
    expect(asked).toHaveLength(2);
    tied.close();
  });
});

describe('what becomes of tied pours', () => {
  const pour = { seeds: [[1, 1] as const], gapPx: 4, against: ['lines'] };
  const stroke = strokeEntity('p', { pour, tied: true });

  it('passes over what has gone meanwhile, or is tied no more', () => {
    const bytes = new Uint8Array([1]);
    const followed = [{ kind: 'shape' as const, id: 'p', bytes, seed: [2, 2] as [number, number] }];
    const make = (find: () => typeof stroke | undefined) => followedChanges(followed, find, () => 'new');
    expect(make(() => undefined).changes).toEqual([]);
    expect(make(() => ({ ...stroke, deleted: true })).changes).toEqual([]);
    expect(make(() => ({ ...stroke, tied: false })).changes).toEqual([]);
    const { changes, parts } = make(() => stroke);
    expect(changes).toEqual([
      { op: 'set', table: 'strokes', field: 'pour', ids: ['p'], before: [pour], after: [{ ...pour, seeds: [[2, 2]], shape: 'new' }] },
    ]); // prettier-ignore
    expect(parts).toEqual([['new', bytes]]);
  });
});
