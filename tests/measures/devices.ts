import { IDBFactory } from 'fake-indexeddb';
import { mkdtempSync, rmSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unpackInk } from '../../contract/ink-frame';
import { putRows } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { createApp } from '../../server/app';
import { openStore, type Store } from '../../server/store';
import { SheetSession, type SessionListener, type WayBack } from '../../ui/session/session';
import { PageWorker } from './page-worker';
import { listed, strokeEntity } from './sheets';
import { handSamples } from './strokes';
import { until } from './until';

/** The samples of every stroke that these tests ink. */
export const BYTES = encodeSamples(handSamples((u) => [20 + 100 * u, 40], { ms: 200 }));

/** A browser: its storage, its journal. The page's globals are those of the browser that is in use. */
export class Browser {
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

/** What the devices share: the server's store, and whether the server can be reached. */
export const world = { store: undefined as unknown as Store, away: false };

let folder: string;
let http: Server;
let restore: () => void;
const open: SheetSession[] = [];
/** Those that this test has opened, whether they are ready or not. */
export const openSessions = (): readonly SheetSession[] => open;

/** A server for each test, and the end of it and of all sessions after. */
export function setUpWorld(bounds?: Parameters<typeof openStore>[1]): void {
  beforeAll(() => {
    globalThis.Worker = PageWorker as unknown as typeof Worker;
  });
  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), 'hush-line-session-'));
    world.store = openStore(folder, bounds);
    const paper = { widthPx: 400, heightPx: 300, ppi: 300 };
    world.store.sheets.act({ id: 'act', kind: 'create', sheetId: 'sheet', name: 'Reeds', paper }, 0);
    http = createApp(world.store).listen(0);
    const { port } = http.address() as AddressInfo;
    world.away = false;
    const overHttp = fetch;
    globalThis.fetch = ((path: string, init?: RequestInit) =>
      world.away
        ? Promise.reject(new TypeError('failed to fetch'))
        : overHttp(`http://127.0.0.1:${port}${path}`, init)) as typeof fetch;
    restore = () => (globalThis.fetch = overHttp);
  });
  afterEach(async () => {
    for (const session of open.splice(0)) session.close();
    restore();
    http.closeAllConnections();
    await new Promise((done) => http.close(done));
    world.store.close();
    rmSync(folder, { recursive: true });
  });
}

/** Opens the sheet on a device. */
export async function opened(browser: Browser) {
  browser.use();
  const told = { notices: [] as string[], ways: [] as WayBack[], sync: 'saved', hasOtherPaper: false };
  const listener: SessionListener = {
    found: () => {},
    failed: () => {},
    structure: () => {},
    history: () => {},
    paperChanged: () => (told.hasOtherPaper = true),
    sync: ({ kind }) => (told.sync = kind),
    notice: (text, way) => {
      told.notices.push(text);
      if (way) told.ways.push(way);
    },
    restoreSheet: () => {},
  };
  const session = await SheetSession.open('sheet', () => 0, listener);
  open.push(session);
  // There is no screen to wait for.
  session['isShown']();
  await session.ready;
  return { session, told };
}

/** Opened one after the other: the page's globals are those of the browser that opens. */
let opening: Promise<unknown> = Promise.resolve();
export function openedInTurn(browser: Browser) {
  const turn = opening.then(() => opened(browser));
  opening = turn.catch(() => undefined);
  return turn;
}

export const savedOn = (session: SheetSession) =>
  until(() => session['sender'].waiting.length === 0, 'everything is on the server');

export const ink = (session: SheetSession, id: string) =>
  session.act('Ink line', [putRows('strokes', strokeEntity(id))], { parts: [[id, BYTES]] });

export const serverLayers = () => world.store.sheets.head('sheet')!.layers;
export const inkOnServer = async (id = 'sheet') => listed(unpackInk(await world.store.sheets.ink(id, 0)).strokes);
export const serverStrokes = async () => (await inkOnServer()).map((s) => [s.id, s.deleted]);
