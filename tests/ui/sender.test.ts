import 'fake-indexeddb/auto';
import { IDBFactory } from 'fake-indexeddb';
import { decodeFrame } from '../../contract/frame';
import { putRows, type Step } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { Journal } from '../../ui/session/journal';
import { sendAllWaiting } from '../../ui/session/send-all-waiting';
import { Sender, type SyncState } from '../../ui/session/sender';
import { handSamples } from '../measures/strokes';
import { until } from '../measures/until';
import { strokeEntity } from '../measures/sheets';

const BYTES = encodeSamples(handSamples((u) => [100 * u, 20], { ms: 200 }));
const step = (id: string): Step => ({
  id,
  device: 'd',
  undoable: true,
  label: 'Ink line',
  changes: [putRows('strokes', strokeEntity(`s-${id}`))],
});

/** A server in memory that speaks the contract: numbers steps once each, and can be away. */
class FakeServer {
  seqs = new Map<string, number>();
  requests: string[][] = [];
  away = false;
  refuses = new Set<string>();
  /** Answers are lost on the way back, as when the connection breaks after the step was written. */
  losesAnswers = 0;

  /** Step ids whose form the server does not take: it answers 400 to the whole request. */
  badForm = new Set<string>();
  /** Requests that never get an answer. */
  silent = 0;
  /** An answer that says nothing of the steps. */
  turnsAway: { code: string; status: number } | undefined;
  /** Bytes of the largest body. */
  largest = 0;

  fetch = async (_url: string, init?: RequestInit): Promise<Response> => {
    if (this.silent-- > 0)
      return new Promise((_, reject) => init!.signal!.addEventListener('abort', () => reject(new Error('aborted'))));
    if (this.away) throw new TypeError('failed to fetch');
    if (this.turnsAway)
      return new Response(JSON.stringify({ code: this.turnsAway.code, message: 'Not now.' }), this.turnsAway);
    const { body, parts } = decodeFrame(init!.body as Uint8Array);
    const { steps } = body as { steps: Step[] };
    this.requests.push(steps.map((s) => s.id));
    this.largest = Math.max(this.largest, (init!.body as Uint8Array).length);
    if (steps.some((s) => this.badForm.has(s.id)))
      return new Response(JSON.stringify({ code: 'bad-request', message: 'label: too long' }), { status: 400 });
    for (const s of steps) expect(parts.get(`s-${s.id}`)).toEqual(BYTES);
    const results = steps.map(({ id }) => {
      if (this.refuses.has(id)) return { id, refused: { code: 'unknown-entity', message: 'Lines was deleted.' } };
      if (!this.seqs.has(id)) this.seqs.set(id, this.seqs.size + 1);
      return { id, seq: this.seqs.get(id)! };
    });
    if (this.losesAnswers-- > 0) throw new TypeError('failed to fetch');
    return new Response(JSON.stringify({ results, seq: this.seqs.size, deleted: false }), { status: 200 });
  };
}

let server: FakeServer;
let journal: Journal;
beforeEach(async () => {
  globalThis.indexedDB = new IDBFactory();
  server = new FakeServer();
  globalThis.fetch = server.fetch as typeof fetch;
  journal = await Journal.open();
});
const open: Sender[] = [];
afterEach(() => {
  for (const sender of open.splice(0)) sender.close();
  journal.close();
});

function watched(sheetId = 'sheet') {
  const sender = new Sender(sheetId, journal);
  open.push(sender);
  const states: SyncState[] = [];
  const acknowledged: string[] = [];
  const refused: string[] = [];
  sender.onState = (s) => states.push(s);
  sender.onDelivered = (d) => {
    acknowledged.push(...d.written.map((w) => w.id));
    refused.push(...d.refused.map((r) => `${r.waiting.step.id}: ${r.reason}`));
  };
  const add = async (id: string) => {
    const parts: [string, Uint8Array][] = [[`s-${id}`, BYTES]];
    const place = journal.add(sheetId, step(id), parts);
    await place;
    sender.add({ step: step(id), parts, place });
  };
  return { sender, states, acknowledged, refused, add };
}

describe('the journal of a device', () => {
  it('gives steps back in order, by sheet, after it was closed', async () => {
    for (const [sheet, id] of [
      ['one', 'a'],
      ['two', 'b'],
      ['one', 'c'],
    ])
      await journal.add(sheet, step(id), [[`s-${id}`, BYTES]]);
    journal.close();
    journal = await Journal.open();
    expect((await journal.waiting('one')).map((w) => w.step.id)).toEqual(['a', 'c']);
    expect((await journal.allWaiting()).map((w) => w.step.id)).toEqual(['a', 'b', 'c']);
    const [first] = await journal.waiting('one');
    expect(first.parts[0][1]).toEqual(BYTES);
    await journal.remove([first.n!]);
    expect((await journal.waiting('one')).map((w) => w.step.id)).toEqual(['c']);
  });

  it('holds strokes until they are let go', async () => {
    const { pen } = strokeEntity('x');
    for (const id of ['h1', 'h2']) await journal.hold({ id, sheetId: 'one', bytes: BYTES, pen, colour: '#000000' });
    expect((await journal.held('one')).map((h) => h.id)).toEqual(['h1', 'h2']);
    expect(await journal.held('two')).toEqual([]);
    await journal.release(['h1']);
    expect((await journal.held('one')).map((h) => h.id)).toEqual(['h2']);
  });
});

describe('the sender', () => {
  it('tells when nothing waits any more, and not before', async () => {
    const { sender, acknowledged, add } = watched();
    await sender.whenEmpty();
    server.away = true;
    await add('a');
    let isEmpty = false;
    const empty = sender.whenEmpty().then(() => (isEmpty = true));
    await new Promise((done) => setTimeout(done, 50));
    expect(isEmpty).toBe(false);
    server.away = false;
    sender.retryNow();
    await empty;
    expect(acknowledged).toEqual(['a']);
  });

  it('sends steps in order, in few requests, and forgets them once they are acknowledged', async () => {
    const { states, acknowledged, add } = watched();
    for (const id of ['a', 'b', 'c', 'd']) await add(id);
    await until(() => acknowledged.length === 4, 'the sender has come so far');
    expect(server.requests.flat()).toEqual(['a', 'b', 'c', 'd']);
    expect(acknowledged).toEqual(['a', 'b', 'c', 'd']);
    await until(() => states[states.length - 1].kind === 'saved', 'the sender has come so far');
    await new Promise((r) => setTimeout(r, 50));
    expect(await journal.allWaiting()).toEqual([]);
  });

  it('keeps steps while the server is away, says how many, and sends each once when it is back', async () => {
    const { sender, states, acknowledged, add } = watched();
    server.away = true;
    await add('a');
    await add('b');
    await until(() => states.some((s) => s.kind === 'waiting' && s.steps === 2), 'the sender has come so far');
    expect((await journal.allWaiting()).map((w) => w.step.id)).toEqual(['a', 'b']);
    server.away = false;
    sender.retryNow();
    await until(() => acknowledged.length === 2, 'the sender has come so far');
    await until(() => states[states.length - 1].kind === 'saved', 'the sender has come so far');
    expect([...server.seqs.entries()]).toEqual([
      ['a', 1],
      ['b', 2],
    ]);
    expect(states[states.length - 1]).toEqual({ kind: 'saved' });
  });

  it.each([
    { code: 'foreign', status: 403 },
    { code: 'server-busy', status: 503 },
    { code: 'store-damaged', status: 500 },
    { code: 'server-failed', status: 500 },
  ])('keeps steps while the server answers $code: that says nothing of the steps', async (answer) => {
    const { sender, states, acknowledged, add } = watched();
    server.turnsAway = answer;
    await add('a');
    await until(() => states.some((s) => s.kind === 'waiting' && s.steps === 1), 'the sender has come so far');
    expect((await journal.allWaiting()).map((w) => w.step.id)).toEqual(['a']);
    server.turnsAway = undefined;
    sender.retryNow();
    await until(() => acknowledged.length === 1, 'the sender has come so far');
    expect(acknowledged).toHaveLength(1);
  });

  it('sends again what was written but not acknowledged: the same number comes back', async () => {
    const { acknowledged, add } = watched();
    server.losesAnswers = 1;
    await add('a');
    await until(() => acknowledged.length === 1, 'the sender has come so far');
    expect(server.requests).toEqual([['a'], ['a']]);
    expect(server.seqs.size).toBe(1);
  });

  it('tells of a refused step with the reason, and goes on with the others', async () => {
    const { sender, acknowledged, refused, add } = watched();
    server.refuses.add('b');
    for (const id of ['a', 'b', 'c']) await add(id);
    await until(() => acknowledged.length === 2 && refused.length === 1, 'the sender has come so far');
    expect(acknowledged).toEqual(['a', 'c']);
    expect(refused).toEqual(['b: Lines was deleted.']);
    await until(() => sender.waiting.length === 0, 'the sender has come so far');
    await new Promise((r) => setTimeout(r, 50));
    expect(await journal.allWaiting()).toEqual([]);
    expect((await journal.setAside('sheet')).map((w) => [w.step.id, w.setAside])).toEqual([
      ['b', 'Lines was deleted.'],
    ]);
  });

  it('stops when it is closed, and leaves the rest for the next time', async () => {
    const { sender, add } = watched();
    server.away = true;
    await add('a');
    sender.close();
    server.away = false;
    sender.retryNow();
    await new Promise((r) => setTimeout(r, 50));
    expect(server.requests).toEqual([]);
    expect(await journal.allWaiting()).toHaveLength(1);
  });

  it('finds the step whose form is refused, sets it aside, and brings all the others', async () => {
    const { sender, states, acknowledged, refused, add } = watched();
    server.away = true;
    const ids = Array.from({ length: 21 }, (_, i) => `s${i}`);
    for (const id of ids) await add(id);
    server.badForm.add('s13');
    server.away = false;
    sender.retryNow();
    await until(
      () => states[states.length - 1].kind === 'saved' && acknowledged.length === 20,
      'the sender has come so far',
    );
    expect(acknowledged).toEqual(ids.filter((id) => id !== 's13'));
    expect(refused).toEqual(['s13: label: too long']);
    await new Promise((r) => setTimeout(r, 50));
    expect((await journal.setAside('sheet')).map((w) => w.step.id)).toEqual(['s13']);
    expect(await journal.allWaiting()).toEqual([]);
  });

  it('measures what it sends in bytes, not in steps', async () => {
    const { sender, acknowledged } = watched();
    server.away = true;
    const heavy = Array.from({ length: 30000 }, (_, i) => `id-of-a-stroke-that-moves-${i}`);
    for (let n = 0; n < 8; n++) {
      const values = heavy.map(() => [1, 0, 0, 1, n, 0]);
      const changes = [
        { op: 'set' as const, table: 'strokes' as const, field: 'matrix', ids: heavy, before: values, after: values },
      ];
      const heavyStep = { ...step(`n${n}`), changes };
      sender.add({ step: heavyStep, parts: [[`s-n${n}`, BYTES]], place: Promise.resolve(undefined) });
    }
    server.away = false;
    sender.retryNow();
    await until(() => acknowledged.length === 8, 'the sender has come so far');
    expect(server.largest).toBeLessThan(5 * 1024 * 1024);
    expect(server.requests.length).toBeGreaterThan(3);
  });

  it('gives up a request without an answer when it is asked to try now', async () => {
    const { sender, acknowledged, add } = watched();
    server.silent = 1;
    await add('a');
    await new Promise((r) => setTimeout(r, 1600));
    expect(acknowledged).toEqual([]);
    sender.retryNow();
    await until(() => acknowledged.length === 1, 'the sender has come so far');
    expect(server.requests).toEqual([['a']]);
  });
});

describe('a device that cannot keep', () => {
  it('says so when its store is missing, and sends all the same', async () => {
    globalThis.indexedDB = undefined as unknown as IDBFactory;
    const told: string[] = [];
    journal = await Journal.open((text) => told.push(text));
    const { states, acknowledged, add } = watched();
    server.away = true;
    await add('a');
    await until(() => states.some((s) => s.kind === 'waiting' && !s.kept), 'the sender has come so far');
    expect(told).toEqual([expect.stringMatching(/keeps nothing on the device/)]);
    server.away = false;
    await until(() => acknowledged.length === 1, 'the sender has come so far');
    expect(states[states.length - 1]).toEqual({ kind: 'saved' });
  });

  it('opens its store anew when the connection closed, and loses no step', async () => {
    const told: string[] = [];
    journal = await Journal.open((text) => told.push(text));
    journal['db']!.close();
    expect(await journal.add('sheet', step('a'), [['s-a', BYTES]])).toBe(1);
    expect((await journal.waiting('sheet')).map((w) => w.step.id)).toEqual(['a']);
    expect(told).toEqual([]);
  });

  it('says so when a write fails, keeps the step in the queue, and never shows it as saved before it is', async () => {
    const told: string[] = [];
    journal = await Journal.open((text) => told.push(text));
    server.away = true;
    const { sender, states } = watched();
    IDBObjectStore.prototype.add = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    try {
      const place = journal.add('sheet', step('a'), [['s-a', BYTES]]);
      sender.add({ step: step('a'), parts: [['s-a', BYTES]], place });
      await until(() => states.some((s) => s.kind === 'waiting' && !s.kept), 'the sender has come so far');
    } finally {
      IDBObjectStore.prototype.add = nativeAdd;
    }
    expect(states.some((s) => s.kind === 'saved')).toBe(false);
    expect(told).toEqual([expect.stringMatching(/could not keep a step/)]);
    server.away = false;
    sender.retryNow();
    await until(() => states[states.length - 1].kind === 'saved', 'the sender has come so far');
    expect(server.seqs.has('a')).toBe(true);
  });
});

const nativeAdd = IDBObjectStore.prototype.add;

describe('what other sheets left waiting', () => {
  it('is sent although one sheet fails, and what is refused is told and set aside', async () => {
    for (const [sheet, id] of [
      ['gone', 'a'],
      ['one', 'b'],
      ['one', 'c'],
    ])
      await journal.add(sheet, step(id), [[`s-${id}`, BYTES]]);
    server.refuses.add('c');
    const answering = server.fetch;
    globalThis.fetch = (async (url: string, init?: RequestInit) =>
      url.includes('/gone/')
        ? new Response(JSON.stringify({ code: 'not-found', message: 'There is no such sheet.' }), { status: 404 })
        : answering(url, init)) as typeof fetch;
    const out = await sendAllWaiting();
    expect(out).toEqual({ sent: true, refused: [{ label: 'Ink line', reason: 'Lines was deleted.' }] });
    expect((await journal.allWaiting()).map((w) => w.step.id)).toEqual(['a']);
    expect((await journal.setAside('one')).map((w) => w.step.id)).toEqual(['c']);
  });
});
