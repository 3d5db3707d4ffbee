import 'fake-indexeddb/auto';
import { IDBFactory } from 'fake-indexeddb';
import { decodeFrame } from '../../contract/frame';
import { putRows, type Step } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/codec';
import { Journal } from '../../ui/sheet/journal';
import { Sender, type SyncState } from '../../ui/sheet/sender';
import { handSamples } from '../measures/strokes';
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

  fetch = async (_url: string, init?: RequestInit): Promise<Response> => {
    if (this.away) throw new TypeError('failed to fetch');
    const { body, parts } = decodeFrame(init!.body as Uint8Array);
    const { steps } = body as { steps: Step[] };
    this.requests.push(steps.map((s) => s.id));
    for (const s of steps) expect(parts.get(`s-${s.id}`)).toEqual(BYTES);
    const results = steps.map(({ id }) => {
      if (this.refuses.has(id)) return { id, refused: { code: 'unknown-entity', message: 'Lines was deleted.' } };
      if (!this.seqs.has(id)) this.seqs.set(id, this.seqs.size + 1);
      return { id, seq: this.seqs.get(id)! };
    });
    if (this.losesAnswers-- > 0) throw new TypeError('failed to fetch');
    return new Response(JSON.stringify({ results, seq: this.seqs.size }), { status: 200 });
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
  sender.onAcknowledged = (ids) => acknowledged.push(...ids);
  sender.onRefused = (s, message) => refused.push(`${s.id}: ${message}`);
  const add = async (id: string) => {
    const n = await journal.add(sheetId, step(id), [[`s-${id}`, BYTES]]);
    sender.add({ n, sheetId, step: step(id), parts: [[`s-${id}`, BYTES]] });
  };
  return { sender, states, acknowledged, refused, add };
}

async function until(done: () => boolean): Promise<void> {
  for (let i = 0; i < 400 && !done(); i++) await new Promise((r) => setTimeout(r, 10));
  expect(done()).toBe(true);
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
  it('sends steps in order, in few requests, and forgets them once they are acknowledged', async () => {
    const { states, acknowledged, add } = watched();
    for (const id of ['a', 'b', 'c', 'd']) await add(id);
    await until(() => acknowledged.length === 4);
    expect(server.requests.flat()).toEqual(['a', 'b', 'c', 'd']);
    expect(acknowledged).toEqual(['a', 'b', 'c', 'd']);
    await until(() => states[states.length - 1].kind === 'saved');
    expect(await journal.allWaiting()).toEqual([]);
  });

  it('keeps steps while the server is away, says how many, and sends each once when it is back', async () => {
    const { sender, states, acknowledged, add } = watched();
    server.away = true;
    await add('a');
    await add('b');
    await until(() => states.some((s) => s.kind === 'waiting' && s.steps === 2));
    expect((await journal.allWaiting()).map((w) => w.step.id)).toEqual(['a', 'b']);
    server.away = false;
    sender.retryNow();
    await until(() => acknowledged.length === 2);
    expect([...server.seqs.entries()]).toEqual([
      ['a', 1],
      ['b', 2],
    ]);
    expect(states[states.length - 1]).toEqual({ kind: 'saved' });
  });

  it('sends again what was written but not acknowledged: the same number comes back', async () => {
    const { acknowledged, add } = watched();
    server.losesAnswers = 1;
    await add('a');
    await until(() => acknowledged.length === 1);
    expect(server.requests).toEqual([['a'], ['a']]);
    expect(server.seqs.size).toBe(1);
  });

  it('tells of a refused step with the reason, and goes on with the others', async () => {
    const { acknowledged, refused, add } = watched();
    server.refuses.add('b');
    for (const id of ['a', 'b', 'c']) await add(id);
    await until(() => acknowledged.length === 2 && refused.length === 1);
    expect(acknowledged).toEqual(['a', 'c']);
    expect(refused).toEqual(['b: Lines was deleted.']);
    expect(await journal.allWaiting()).toEqual([]);
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
});
