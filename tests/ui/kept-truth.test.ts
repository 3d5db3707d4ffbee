import 'fake-indexeddb/auto';
import { nanoid } from 'nanoid';
import type { Parts } from '../../contract/frame';
import { blankAddresses, keptTile } from '../../contract/low-tiles';
import { sheetPng } from '../../core/formats/sheet-png';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { lowLevels, tilesOfPaper } from '../../core/raster/low-tiles';
import { eachTile, TILE_SIDE, tileKey, tileRect, type TileAddress } from '../../core/raster/tiles';
import { FIRST_LAYER, hasStrokes, newSettings, type Pour, type Stroke } from '../../core/sheet/entities';
import { erasingChanges } from '../../core/sheet/erasing';
import { finish } from '../../core/sheet/ink-work';
import { InkStore } from '../../core/sheet/ink-store';
import { paperChanges } from '../../core/sheet/paper-change';
import type { PaperSize } from '../../core/sheet/paper';
import { SheetModel } from '../../core/sheet/sheet-model';
import { assign, putRows, partsNamedBy, type Assign, type Step } from '../../core/sheet/steps';
import { encodePath } from '../../core/stroke/pack-path';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { plainNode } from '../../core/stroke/path';
import { ENGINE, makePen } from '../../core/stroke/pen';
import { wholeInk } from '../../demo/whole-ink';
import type { SheetSession } from '../../ui/session/session';
import { Browser, openedInTurn, setUpWorld, world } from '../measures/devices';
import { until } from '../measures/until';
import { actsOn } from '../measures/layer-acts';
import { PageWorker } from '../measures/page-worker';
import { strokeEntity } from '../measures/sheets';
import { handSamples, random } from '../measures/strokes';
import { unpackTile } from '../../workers/unpack-tile';

/** So few, that tiles fall behind and are let go many times in a run. */
setUpWorld({ keptSteps: 25, sweepSteps: 8 });
jest.setTimeout(120000);
beforeAll(() => (PageWorker.fewestStrokes = 1));
afterAll(() => (PageWorker.fewestStrokes = undefined));

const PAPER: PaperSize = { widthPx: 400, heightPx: 300, ppi: 300 };
const work = new RasterWorkspace(TILE_SIDE, TILE_SIDE);

/** A sheet as some of its steps give it, drawn from nothing. */
interface Truth {
  model: SheetModel;
  ink: InkStore;
  paper: PaperSize;
}

/** The journal replayed up to a step. */
function replayed(steps: readonly Step[], parts: Parts, seq: number): Truth {
  const model = new SheetModel(newSettings(300), [FIRST_LAYER]);
  const ink = new InkStore(Infinity);
  for (const { seq: own, changes } of steps) {
    if (own! > seq) break;
    const ids = changes.flatMap(partsNamedBy);
    ink.follow(
      model.apply(changes),
      new Map(ids.flatMap((id): [string, Uint8Array][] => (parts.has(id) ? [[id, parts.get(id)!]] : []))),
    );
  }
  return { model, ink, paper: model.settings.paper ?? PAPER };
}

const drawn = ({ ink }: Truth, { layerId, level, ...place }: TileAddress): Buffer => {
  const pixels = ink.draw(layerId, level, tileRect(place), work, 'exact');
  return pixels ? Buffer.from(pixels.data) : Buffer.alloc(4 * TILE_SIDE * TILE_SIDE);
};

/** Expects that every tile and the small picture that are kept of a sheet show the step that they name, to the byte. */
async function expectKeptTrue(id: string, truthAt: (seq: number) => Truth | Promise<Truth>): Promise<number> {
  const { body, parts } = world.store.lowTiles.of(id, 0, 1e9);
  const tiles = [
    ...body.tiles.map((row) => keptTile(row)),
    ...body.blank.flatMap((row) => blankAddresses(row).map((address) => ({ ...address, seq: row[2] }))),
  ];
  const wrong: string[] = [];
  for (const address of tiles) {
    const { seq } = address;
    const bytes = (parts.get(tileKey(address)) ??
      world.store.lowTiles.bytesOf(id, [address], 1e9).get(tileKey(address)))!;
    const is = bytes.length
      ? Buffer.from((await unpackTile(bytes, address)).data)
      : Buffer.alloc(4 * TILE_SIDE * TILE_SIDE);
    if (!is.equals(drawn(await truthAt(seq), address))) wrong.push(`${tileKey(address)} at ${seq}`);
  }
  const overview = world.store.db
    .prepare('SELECT seq, png, width_px, height_px FROM overviews WHERE sheet_id = ? AND seq >= 0')
    .get(id) as { seq: number; png: Buffer; width_px: number; height_px: number } | undefined;
  if (overview) {
    const { model, ink, paper } = await truthAt(overview.seq);
    const should = Buffer.concat(finish(sheetPng(model, ink, paper, { level: 0, onPaper: true })));
    if (!overview.png.equals(should)) wrong.push(`the small picture at ${overview.seq}`);
    expect([overview.width_px, overview.height_px]).toEqual([paper.widthPx, paper.heightPx]);
  }
  expect([id, wrong]).toEqual([id, []]);
  return tiles.length + (overview ? 1 : 0);
}

/** A device in a run; it opens the sheet anew when the paper is another, as the page does. */
class Device {
  now!: Awaited<ReturnType<typeof openedInTurn>>;
  constructor(readonly browser: Browser) {}
  get session(): SheetSession {
    return this.now.session;
  }
  /** Until it is there: an artist tries again. */
  async open(): Promise<void> {
    for (let tries = 0; ; tries++)
      try {
        this.now = await openedInTurn(this.browser);
        return;
      } catch (error) {
        if (tries > 50) throw error;
      }
  }
  async reopen(): Promise<void> {
    this.session.close();
    await this.open();
  }
}

const square = (x: number, y: number, side: number) =>
  encodePath({
    closed: true,
    nodes: [
      [x, y],
      [x + side, y],
      [x + side, y + side],
      [x, y + side],
    ].map(([nx, ny]) => plainNode(nx, ny, 'corner')),
  });

/** One act of the hand, by luck. */
async function act(device: Device, rnd: () => number): Promise<void> {
  const { session } = device;
  const { model } = session;
  const { acts } = actsOn(session);
  const layers = model.stack();
  const layer = layers[Math.floor(rnd() * layers.length)];
  const strokes = [...model.strokes.values()].filter((s) => !s.deleted);
  const some = strokes.filter(() => rnd() < 0.3);
  const what = rnd();
  if (what < 0.34) {
    const [x, y, l] = [rnd() * 360, rnd() * 260, 20 + rnd() * 80];
    const id = nanoid();
    const onto = layers.filter((l) => l.kind === 'ink');
    if (!onto.length) return;
    const stroke = strokeEntity(id, {
      layerId: onto[Math.floor(rnd() * onto.length)].id,
      order: `a${nanoid(4).replace(/\W|_/g, 'V')}V`,
    });
    const bytes = encodeSamples(handSamples((u) => [x + l * u, y + 20 * Math.sin(4 * u)], { ms: 90 }));
    const rest = session.holdPaper();
    await session.act('Ink line', [putRows('strokes', stroke)], { parts: [[id, bytes]] });
    rest();
  } else if (what < 0.42) {
    const bytes = encodeSamples(handSamples((u) => [rnd() * 5 + 150, 300 * u], { ms: 100 }));
    const mark = { id: nanoid(), layerId: 'lines', pen: makePen('fineliner', 14, 0, false, 1), engine: ENGINE };
    const erased = await session.client.erased('lines', bytes, mark.pen).catch(() => []);
    if (!erased.length) return;
    const changes = erasingChanges(erased, mark, (id) => session.model.strokes.get(id), nanoid);
    await session.act('Erase', changes, { parts: [[mark.id, bytes]] });
  } else if (what < 0.5 && some.length) await session.act('Move', [shifted(some, rnd() * 40 - 20, 0)]);
  else if (what < 0.58 && some.length) {
    // Held for a while, kept or let go.
    await session.preview([shifted(some, 50 * rnd(), 30)]);
    await session.keeping.keepPicture();
    await session.keeping.keepTiles();
    const held = some.flatMap(({ id }) => session.model.strokes.get(id) ?? []);
    if (rnd() < 0.5) await session.act('Move', [shifted(held, 25, 5)]);
    else await session.preview([shifted(held, 0, 0)]);
  } else if (what < 0.64 && layer && hasStrokes(layer)) {
    const id = nanoid();
    const pour: Pour = { seeds: [[20, 20]], gapPx: 4, against: ['lines'] };
    const stroke = strokeEntity(id, {
      layerId: 'lines',
      colour: '#cc8833',
      pour,
      tied: false,
      pen: { ...makePen('fineliner', 1, 0, false, 1), ...(rnd() < 0.8 ? { fill: 'alone' as const } : {}) },
    });
    await session.act('Pour', [putRows('strokes', stroke)], { parts: [[id, square(rnd() * 300, rnd() * 200, 60)]] });
  } else if (what < 0.74) {
    const pours = strokes.filter((s) => s.pour);
    const one = pours[Math.floor(rnd() * pours.length)];
    if (!one) return;
    const shape = nanoid();
    const change = assign('strokes', one, 'pour', { ...one.pour!, shape });
    await session.act('Colour follows', [change], {
      undoable: rnd() < 0.5,
      parts: [[shape, square(rnd() * 300, rnd() * 200, 30 + 50 * rnd())]],
    });
  } else if (what < 0.78) {
    const { widthPx, heightPx } = session.paper;
    const luck = rnd();
    const box = { x0: 0, y0: 0, x1: widthPx, y1: heightPx };
    if (luck < 0.3) box.x1 += 60;
    else if (luck < 0.6) box.x0 -= 40;
    else if (luck < 0.9) box.x0 += Math.min(30, widthPx - 200);
    const scale = luck < 0.9 ? 1 : 1.25;
    if (widthPx > 700) return;
    await session.act('Paper', paperChanges(session.model, session.paper, { box, scale, ppi: 300 }));
  } else if (what < 0.81 && layers.length < 4) await acts.add('ink');
  else if (what < 0.83 && layers.length > 1) await acts.delete([layer.id]);
  else if (what < 0.85 && layer) await acts.duplicate([layer.id]);
  else if (what < 0.94) await session.undo();
  else await session.redo();
}

const shifted = (strokes: readonly Stroke[], dx: number, dy: number): Assign => ({
  op: 'set',
  table: 'strokes',
  field: 'matrix',
  ids: strokes.map((s) => s.id),
  before: strokes.map((s) => s.matrix),
  after: strokes.map(({ matrix: [a, b, c, d, e, f] }) => [a, b, c, d, e + dx, f + dy]),
});

describe('what is kept beside the journal', () => {
  let kept = 0;
  let papers = 0;
  afterAll(() => expect([kept > 40, papers > 2]).toEqual([true, true]));

  it.each(process.env.SEEDS?.split(',').map(Number) ?? [1, 2, 3])(
    'is what the journal gives, to the byte, whatever three devices did: run %d',
    async (seed) => {
      const rnd = random(seed * 104729);
      const devices = ['tablet', 'phone', 'desk'].map((name) => new Device(new Browser(name)));
      for (const device of devices) await device.open();
      const steady = globalThis.fetch;
      let isRough = true;
      globalThis.fetch = (async (path: string, init?: RequestInit) => {
        const luck = rnd();
        if (isRough && luck < 0.08) throw new TypeError('failed to fetch');
        await new Promise((r) => setTimeout(r, isRough ? rnd() * 8 : 0));
        const answer = await steady(path, init);
        if (isRough && luck > 0.9) throw new TypeError('the answer was lost');
        return answer;
      }) as typeof fetch;
      const copies: string[] = [];
      const rests = async (device: Device) => {
        if (!device.now.told.hasOtherPaper) return;
        papers++;
        await device.reopen();
      };
      for (let round = 0; round < 60; round++) {
        const device = devices[Math.floor(rnd() * 3)];
        await rests(device);
        await act(device, rnd);
        if (rnd() < 0.3) await new Promise((r) => setTimeout(r, rnd() * 20));
        if (rnd() < 0.4) devices[Math.floor(rnd() * 3)].session.retryNow();
        if (rnd() < 0.4) {
          const one = devices[Math.floor(rnd() * 3)].session;
          one.keeping.allSoon();
          await one.keeping.keepPicture();
          await one.keeping.keepTiles();
        }
        if (rnd() < 0.04) {
          const copy = `copy${copies.length}`;
          world.store.sheets.act({ id: nanoid(), kind: 'duplicate', sheetId: 'sheet', newId: copy, name: copy }, round);
          copies.push(copy);
        }
        if (rnd() < 0.03) await device.reopen();
      }
      isRough = false;
      const head = () => world.store.sheets.head('sheet')!;
      const isThere = ({ session, now }: Device) =>
        !session['sender'].waiting.length && session['seq'] === head().card.seq && !now.told.hasOtherPaper;
      for (let i = 0; i < 400 && !devices.every(isThere); i++) {
        for (const device of devices) {
          await rests(device);
          device.session.retryNow();
        }
        await new Promise((r) => setTimeout(r, 10));
      }
      expect(devices.map(isThere)).toEqual([true, true, true]);
      globalThis.fetch = steady;

      const { steps, parts } = world.store.steps.after('sheet', 0, 1e9);
      const truths = new Map<number, Truth>();
      const truthAt = (seq: number) => {
        if (!truths.has(seq)) truths.set(seq, replayed(steps, parts, seq));
        return truths.get(seq)!;
      };
      kept += await expectKeptTrue('sheet', truthAt);
      for (const copy of copies)
        kept += await expectKeptTrue(copy, async () => ({
          ...(await wholeInk(world.store, copy)),
          paper: world.store.sheets.head(copy)!.card,
        }));
      // At rest whatever can be kept is kept, and is as true.
      const [{ session: resting }] = devices;
      resting.keeping.allSoon();
      await resting.keeping.keepPicture();
      await resting.keeping.keepTiles();
      kept += await expectKeptTrue('sheet', truthAt);
      // Every device shows what a fresh opening would.
      const last = truthAt(head().card.seq);
      for (const { session } of devices) {
        const { maker, sheet } = session.client['worker'] as unknown as PageWorker;
        await until(() => sheet.isTrue, 'the worker has all that it shows');
        for (const layer of sheet.model.stack().filter(hasStrokes))
          for (const level of lowLevels(last.paper))
            for (const address of tilesIn(last.paper, layer.id, level)) {
              const pixels = await maker.pixels(address);
              const is = pixels ? Buffer.from(pixels.data) : Buffer.alloc(4 * TILE_SIDE * TILE_SIDE);
              expect([tileKey(address), is.equals(drawn(last, address))]).toEqual([tileKey(address), true]);
            }
      }
    },
  );
});

function tilesIn(paper: PaperSize, layerId: string, level: number): TileAddress[] {
  const tiles: TileAddress[] = [];
  eachTile(tilesOfPaper(paper, level), (tx, ty) => tiles.push({ layerId, level, tx, ty }));
  return tiles;
}
