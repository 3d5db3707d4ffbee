import 'fake-indexeddb/auto';
import { IDBFactory } from 'fake-indexeddb';
import { mkdtempSync, rmSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compose, IDENTITY } from '../../core/geometry/matrix';
import { placementMatrix } from '../../core/sheet/placement';
import { putRows } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/codec';
import { createApp } from '../../server/app';
import { openStore, type Store } from '../../server/store';
import { SheetSession, type SessionListener } from '../../ui/sheet/session';
import {
  addLayer,
  deleteLayer,
  moveLayer,
  placePicture,
  renameLayer,
  setLayerOpacity,
} from '../../ui/sheet/stack-actions';
import { PageWorker } from '../measures/page-worker';
import { referenceEntity, strokeEntity } from '../measures/sheets';
import { handSamples } from '../measures/strokes';

const BYTES = encodeSamples(handSamples((u) => [20 + 100 * u, 40], { ms: 200 }));

/** A browser: its storage, its journal. The page's globals are those of the browser that is in use. */
class Browser {
  private readonly kept = new Map<string, string>();
  private readonly databases = new IDBFactory();

  constructor(readonly device: string) {
    this.kept.set('hush-line.device', device);
  }

  use(): void {
    globalThis.indexedDB = this.databases;
    globalThis.localStorage = {
      getItem: (key: string) => this.kept.get(key) ?? null,
      setItem: (key: string, value: string) => void this.kept.set(key, value),
    } as Storage;
  }
}

let folder: string;
let store: Store;
let http: Server;
let away = false;
const open: SheetSession[] = [];

beforeAll(() => {
  globalThis.Worker = PageWorker as unknown as typeof Worker;
});
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'hush-line-session-'));
  store = openStore(folder);
  const paper = { widthPx: 400, heightPx: 300, ppi: 300 };
  store.sheets.act({ id: 'act', kind: 'create', sheetId: 'sheet', name: 'Reeds', paper }, 0);
  http = createApp(store).listen(0);
  const { port } = http.address() as AddressInfo;
  away = false;
  const overHttp = fetch;
  globalThis.fetch = ((path: string, init?: RequestInit) =>
    away
      ? Promise.reject(new TypeError('failed to fetch'))
      : overHttp(`http://127.0.0.1:${port}${path}`, init)) as typeof fetch;
  restore = () => (globalThis.fetch = overHttp);
});
let restore: () => void;
afterEach(async () => {
  for (const session of open.splice(0)) session.close();
  restore();
  http.closeAllConnections();
  await new Promise((done) => http.close(done));
  store.close();
  rmSync(folder, { recursive: true });
});

async function opened(browser: Browser) {
  browser.use();
  const told = { notices: [] as string[], sync: 'saved' };
  const listener: SessionListener = {
    found: () => {},
    structure: () => {},
    history: () => {},
    sync: ({ kind }) => (told.sync = kind),
    notice: (text) => told.notices.push(text),
  };
  const session = await SheetSession.open('sheet', () => 0, listener);
  open.push(session);
  return { session, told };
}

async function until(done: () => boolean, what: string): Promise<void> {
  for (let i = 0; i < 500 && !done(); i++) await new Promise((r) => setTimeout(r, 10));
  if (!done()) throw new Error(`never: ${what}`);
}

const savedOn = (session: SheetSession) =>
  until(() => session['sender'].waiting.length === 0, 'everything is on the server');

const ink = (session: SheetSession, id: string) =>
  session.act('Ink line', [putRows('strokes', strokeEntity(id))], { parts: [[id, BYTES]] });

const serverLayers = () => store.sheets.head('sheet')!.layers;
const serverStrokes = () => store.sheets.strokes('sheet').body.strokes.map((s) => [s.id, s.deleted]);

describe('a sheet that is open', () => {
  it('keeps each act on the device, then on the server, and is found so by the next session', async () => {
    const tablet = new Browser('tablet');
    const { session } = await opened(tablet);
    await ink(session, 'a');
    await setLayerOpacity(session, session.model.layers.get('lines')!, 0.5);
    await savedOn(session);
    expect(serverStrokes()).toEqual([['a', false]]);
    expect(serverLayers().find((l) => l.id === 'lines')!.opacity).toBe(0.5);
    const again = await opened(tablet);
    expect([...again.session.model.strokes.keys()]).toEqual(['a']);
    expect(again.session.nextLabel('undo')).toBe('Opacity of Lines');
    expect(again.session.stepNames('undo', 5)).toEqual(['Opacity of Lines', 'Ink line']);
  });

  it('has what waits on the device on top when it is opened without having been sent', async () => {
    const tablet = new Browser('tablet');
    const first = await opened(tablet);
    away = true;
    await ink(first.session, 'a');
    await ink(first.session, 'b');
    await until(() => first.told.sync === 'waiting', 'the steps wait');
    first.session.close();
    expect(serverStrokes()).toEqual([]);
    away = false;
    const { session } = await opened(tablet);
    expect([...session.model.strokes.keys()]).toEqual(['a', 'b']);
    await savedOn(session);
    expect(serverStrokes()).toEqual([
      ['a', false],
      ['b', false],
    ]);
    expect(store.steps.after('sheet', 0, 10).steps).toHaveLength(2);
    await session.undo();
    expect(session.model.strokes.get('b')!.deleted).toBe(true);
  });

  it('undoes and redoes step by step, in the order in which they were asked for, over sessions', async () => {
    const tablet = new Browser('tablet');
    const { session } = await opened(tablet);
    for (const id of ['a', 'b', 'c']) await ink(session, id);
    await Promise.all([session.undo(), session.undo(), session.redo()]);
    await savedOn(session);
    expect(serverStrokes()).toEqual([
      ['a', false],
      ['b', false],
      ['c', true],
    ]);
    session.close();
    const { session: later } = await opened(tablet);
    await later.redo();
    await savedOn(later);
    expect(serverStrokes().every(([, deleted]) => !deleted)).toBe(true);
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
    expect(session.model.layers.get('photo')!.deleted).toBe(true);
    expect(serverStrokes()).toEqual([['a', false]]);
  });
});

describe('two devices on one sheet', () => {
  it('see each other, the last one wins by field, and what waits here stays as it is here', async () => {
    const [tablet, phone] = [new Browser('tablet'), new Browser('phone')];
    const a = await opened(tablet);
    const b = await opened(phone);
    const linesOf = ({ session }: typeof a) => session.model.layers.get('lines')!;
    await renameLayer(a.session, linesOf(a), 'Contours');
    await savedOn(a.session);
    away = true;
    await setLayerOpacity(b.session, linesOf(b), 0.3);
    await until(() => b.told.sync === 'waiting', 'the phone is away');
    away = false;
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
    await addLayer(session, 'rough');
    const rough = session.model.stack().at(-1)!;
    expect([rough.kind, session.model.settings.target]).toEqual(['rough', rough.id]);
    await moveLayer(session, rough, -1);
    expect(session.model.stack().map((l) => l.kind)).toEqual(['rough', 'ink']);
    await moveLayer(session, session.model.layers.get(rough.id)!, -1);
    expect(session.model.stack()[0].id).toBe(rough.id);
    await deleteLayer(session, session.model.layers.get(rough.id)!);
    expect(session.model.settings.target).toBe('lines');
    await deleteLayer(session, session.model.layers.get('lines')!);
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
