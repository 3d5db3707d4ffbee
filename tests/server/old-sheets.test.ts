import Database from 'better-sqlite3';
import { copyFileSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sheetPng } from '../../core/formats/sheet-png';
import { finish } from '../../core/sheet/ink-work';
import { assign, type Change } from '../../core/sheet/steps';
import { restyled } from '../../core/stroke/restyle';
import { wholeInk } from '../../demo/whole-ink';
import { openStore, type Store } from '../../server/store';
import { showTheSame } from '../measures/pictures';

const fixture = (name: string) => join(__dirname, '../fixtures', name);
const ROWS = 'SELECT id, layer_id, ord, colour, pen, matrix, engine, deleted, stands FROM strokes ORDER BY id';

/**
 * tests/fixtures/format-3.sqlite was written by the app when its pens were two, fineliner and dip pen, and had no settings:
 * strokes of three engines on two layers, moved, scaled, mirrored, deleted, erased and severed ones. The pictures
 * beside it are what the app of that day drew of it, at the paper's size and at a quarter.
 */
const AS_WRITTEN = '';
/** Other databases of the same format found parts by a column of their own. */
const WITH_A_COLUMN = `
  DROP INDEX strokes_severed;
  ALTER TABLE strokes ADD COLUMN part_of TEXT GENERATED ALWAYS AS (json_extract(stands, '$.of')) VIRTUAL;
  CREATE INDEX strokes_severed ON strokes (sheet_id, part_of) WHERE part_of IS NOT NULL;
`;

describe.each([
  ['as it was written', AS_WRITTEN],
  ['with a column for parts', WITH_A_COLUMN],
])('a sheet from before pens had settings, %s', (_, sql) => {
  let store: Store;
  let place: string;
  let before: unknown[];
  beforeEach(() => {
    place = mkdtempSync(join(tmpdir(), 'hush-line-old-'));
    const file = join(place, 'hush-line.sqlite');
    copyFileSync(fixture('format-3.sqlite'), file);
    const plain = new Database(file);
    expect(plain.pragma('user_version', { simple: true })).toBe(3);
    plain.exec(sql);
    before = plain.prepare(ROWS).all();
    plain.close();
    store = openStore(place);
  });
  afterEach(() => {
    store.close();
    rmSync(place, { recursive: true });
  });

  const standing = async (id = 'old') => {
    const { ink, model } = await wholeInk(store, id);
    expect(ink.unreadable).toEqual([]);
    const parts = [...model.strokes.values()].filter((s) => s.stands && !s.deleted);
    return { ink, model, parts };
  };
  const png = async (id: string, level: number) => {
    const { ink, model } = await standing(id);
    const { card } = store.sheets.head(id)!;
    return Buffer.concat(finish(sheetPng(model, ink, card, { level, onPaper: false })));
  };
  const send = (id: string, label: string, ...changes: Change[]) =>
    store.steps.append('old', [{ id, device: 'd', undoable: true, label, changes }], new Map(), 1).results[0];

  it.each([
    [0, 'format-3.png'],
    [-2, 'format-3-quarter.png'],
  ])('opens unchanged, pixel for pixel, at level %i', async (level, name) => {
    expect((await standing()).parts.length).toBeGreaterThan(20);
    expect(showTheSame(await png('old', level), readFileSync(fixture(name)))).toBe(true);
  });

  it('keeps every row, and its lines can be made anew with the pens of today and be undone', async () => {
    expect(store.db.prepare(ROWS).all()).toEqual(before);
    const [part] = (await standing()).parts;
    const pencil = restyled(part.pen, { kind: 'pencil' }, true);
    expect(send('late', 'Restyle', assign('strokes', part, 'pen', pencil))).toMatchObject({
      id: 'late',
      seq: expect.any(Number),
    });
    const after = (await standing()).model.strokes.get(part.id)!;
    expect(after.pen).toMatchObject({ kind: 'pencil', sizePx: part.pen.sizePx });
    send('back', 'Undo', assign('strokes', after, 'pen', part.pen));
    expect(store.db.prepare(ROWS).all()).toEqual(before);
  });

  it('is duplicated with all its parts, pixel for pixel', async () => {
    store.sheets.act({ id: 'copy', kind: 'duplicate', sheetId: 'old', newId: 'new', name: 'Old 2' }, 2);
    expect((await standing('new')).parts).toHaveLength((await standing()).parts.length);
    expect(showTheSame(await png('new', 0), readFileSync(fixture('format-3.png')))).toBe(true);
  });

  it('gives back what was erased of its severed lines, and notes where', async () => {
    const { model, parts } = await standing();
    const erasure = [...model.erasures.values()].find((e) => e.strokeIds.includes(parts[0].stands!.of))!;
    const { seq } = send('given', 'Undo', assign('erasures', erasure, 'deleted', true)) as { seq: number };
    expect(store.lowTiles.damageAfter('old', seq - 1).length).toBeGreaterThan(0);
    expect(showTheSame(await png('old', 0), readFileSync(fixture('format-3.png')))).toBe(false);
  });
});
