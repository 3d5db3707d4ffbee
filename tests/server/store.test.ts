import Database from 'better-sqlite3';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unpackInk } from '../../contract/ink-frame';
import { assign, putRows, type Change, type Step } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { openStore, type Store } from '../../server/store';
import { MIGRATIONS } from '../../server/store/migrations';
import { listed, strokeEntity } from '../measures/sheets';
import { handSamples } from '../measures/strokes';

const inkOf = async (id: string, from = store) => listed(unpackInk(await from.sheets.ink(id, 0)).strokes);

const BYTES = encodeSamples(handSamples((u) => [100 * u, 20], { ms: 200 }));
const step = (id: string, changes: Change[], more: Partial<Step> = {}): Step => ({
  id,
  device: 'd1',
  undoable: true,
  label: id,
  changes,
  ...more,
});

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'hush-line-store-'));
  store = openStore(folder);
  store.sheets.act(
    { id: 'act', kind: 'create', sheetId: 's', name: 'Reeds', paper: { widthPx: 800, heightPx: 600, ppi: 300 } },
    1000,
  );
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true });
});

const ink = (id: string) =>
  store.steps.append('s', [step(`ink-${id}`, [putRows('strokes', strokeEntity(id))])], new Map([[id, BYTES]]), 2000);

describe('the store on disk', () => {
  it('writes through to the disk at every commit (WAL, synchronous FULL, foreign keys)', () => {
    const setting = (name: string) => store.db.pragma(name, { simple: true });
    expect([setting('journal_mode'), setting('synchronous'), setting('foreign_keys')]).toEqual(['wal', 2, 1]);
  });

  it('is found as it was by another process, without being closed first', async () => {
    ink('a');
    const other = openStore(folder);
    expect((await inkOf('s', other)).map((s) => s.id)).toEqual(['a']);
    expect([...other.sheets.samples('s', ['a', 'none'])]).toEqual([['a', Buffer.from(BYTES)]]);
    other.close();
  });

  it('refuses a folder that a newer version wrote, and leaves it alone', () => {
    store.close();
    const db = new Database(join(folder, 'hush-line.sqlite'));
    db.pragma('user_version = 99');
    db.close();
    expect(() => openStore(folder)).toThrow(/newer Hush Line/);
    const again = new Database(join(folder, 'hush-line.sqlite'));
    expect(again.pragma('user_version', { simple: true })).toBe(99);
    again.pragma(`user_version = ${MIGRATIONS.length}`);
    again.close();
    store = openStore(folder);
    expect(store.sheets.list()).toHaveLength(1);
  });

  it('gives a table and its journal together or not at all', async () => {
    ink('a');
    const before = store.sheets.head('s')!.card.seq;
    // The second change names a layer that is not there: the first one must not stay either.
    const bad = step('bad', [
      putRows('strokes', strokeEntity('b')),
      putRows('strokes', strokeEntity('c', { layerId: 'nowhere' })),
    ]);
    const good = step('good', [assign('strokes', strokeEntity('a'), 'colour', '#c2185b')]);
    const { results } = store.steps.append(
      's',
      [bad, good],
      new Map([
        ['b', BYTES],
        ['c', BYTES],
      ]),
      3000,
    );
    expect(results[0]).toMatchObject({ id: 'bad', refused: { message: expect.any(String) } });
    expect(results[1]).toEqual({ id: 'good', seq: before + 1 });
    expect((await inkOf('s')).map((s) => [s.id, s.colour])).toEqual([['a', '#c2185b']]);
    expect(store.db.prepare('SELECT COUNT(*) FROM samples').pluck().get()).toBe(1);
    expect(store.steps.after('s', before, 10).steps.map((s) => s.id)).toEqual(['good']);
  });

  it('tells each device what it alone can undo and redo; what is redone is the undoing step', () => {
    ink('a');
    store.steps.append(
      's',
      [
        step('theirs', [putRows('strokes', strokeEntity('b'))], { device: 'd2' }),
        step('quiet', [assign('strokes', strokeEntity('a'), 'colour', '#0077c8')], { undoable: false }),
        step('back', [assign('strokes', strokeEntity('a'), 'deleted', true)], { undoes: 'ink-a', undoable: false }),
      ],
      new Map([['b', BYTES]]),
      3000,
    );
    expect(store.steps.history('s', 'd1')).toEqual({ undo: [], redo: ['back'] });
    expect(store.steps.history('s', 'd2')).toEqual({ undo: ['theirs'], redo: [] });
    expect(store.steps.history('s', 'd3')).toEqual({ undo: [], redo: [] });
  });

  it('duplicates what stands, with its samples, into a sheet with a journal of its own', async () => {
    ink('a');
    ink('b');
    store.steps.append('s', [step('gone', [assign('strokes', strokeEntity('b'), 'deleted', true)])], new Map(), 3000);
    store.sheets.act({ id: 'copy', kind: 'duplicate', sheetId: 's', newId: 't', name: 'Reeds copy' }, 4000);
    expect((await inkOf('t')).map((s) => s.id)).toEqual(['a']);
    expect([...store.sheets.samples('t', ['a']).get('a')!]).toEqual([...BYTES]);
    expect(store.sheets.head('t')!.card.seq).toBe(0);
    store.steps.append('t', [step('x', [assign('strokes', strokeEntity('a'), 'colour', '#d35400')])], new Map(), 5000);
    expect((await inkOf('s'))[0].colour).toBe('#000000');
    expect((await inkOf('t'))[0].colour).toBe('#d35400');
  });

  it('keeps a deleted sheet until it is restored, out of the list', async () => {
    ink('a');
    store.sheets.act({ id: 'del', kind: 'delete', sheetId: 's' }, 3000);
    expect(store.sheets.list()).toEqual([]);
    store.sheets.act({ id: 'res', kind: 'restore', sheetId: 's' }, 4000);
    expect(store.sheets.list().map((c) => c.name)).toEqual(['Reeds']);
    expect(await inkOf('s')).toHaveLength(1);
    expect(store.sheets.act({ id: 'none', kind: 'rename', sheetId: 'nowhere', name: 'x' }, 1)).toBe('unknown');
  });
});
