import Database from 'better-sqlite3';
import { copyFileSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sheetPng } from '../../core/formats/sheet-png';
import { finish } from '../../core/sheet/ink-store';
import { assign, type Step } from '../../core/sheet/steps';
import { restyled } from '../../core/stroke/restyle';
import { wholeInk } from '../../demo/whole-ink';
import { openStore, type Store } from '../../server/store';

const fixture = (name: string) => join(__dirname, '../fixtures', name);
const ROWS = 'SELECT id, layer_id, ord, colour, pen, matrix, engine, deleted, stands FROM strokes ORDER BY id';

/**
 * tests/fixtures/format-3.sqlite was written by the app when its pens were two, fineliner and dip pen, and had no settings:
 * strokes of three engines on two layers, moved, scaled, mirrored, deleted, erased and severed ones. The pictures
 * beside it are what the app of that day drew of it, at the paper's size and at a quarter.
 */
describe('a sheet from before pens had settings', () => {
  let store: Store;
  let place: string;
  beforeEach(() => {
    place = mkdtempSync(join(tmpdir(), 'hush-line-old-'));
    copyFileSync(fixture('format-3.sqlite'), join(place, 'hush-line.sqlite'));
  });
  afterEach(() => {
    store.close();
    rmSync(place, { recursive: true });
  });

  it.each([
    [0, 'format-3.png'],
    [-2, 'format-3-quarter.png'],
  ])('opens unchanged, pixel for pixel, at level %i', async (level, name) => {
    store = openStore(place);
    const { ink, model } = await wholeInk(store, 'old');
    expect(ink.unreadable).toEqual([]);
    expect([...model.strokes.values()].filter((s) => s.stands && !s.deleted).length).toBeGreaterThan(20);
    const { card } = store.sheets.head('old')!;
    const png = Buffer.concat(finish(sheetPng(model, ink, card, { level, onPaper: false })));
    expect(png.equals(readFileSync(fixture(name)))).toBe(true);
  });

  it('keeps every row, and its lines can be made anew with the pens of today and be undone', async () => {
    const plain = new Database(join(place, 'hush-line.sqlite'), { readonly: true });
    const before = plain.prepare(ROWS).all();
    plain.close();
    store = openStore(place);
    expect(store.db.prepare(ROWS).all()).toEqual(before);
    const { model } = await wholeInk(store, 'old');
    const part = [...model.strokes.values()].find((s) => s.stands && !s.deleted)!;
    const step = (id: string, kind: 'pencil' | 'dip', from: typeof part): Step => ({
      id,
      device: 'd',
      undoable: true,
      label: 'Restyle',
      changes: [assign('strokes', from, 'pen', kind === 'dip' ? part.pen : restyled(part.pen, { kind }, true))],
    });
    const [done] = store.steps.append('old', [step('late', 'pencil', part)], new Map(), 1).results;
    expect(done).toMatchObject({ id: 'late', seq: expect.any(Number) });
    const after = (await wholeInk(store, 'old')).model.strokes.get(part.id)!;
    expect(after.pen).toMatchObject({ kind: 'pencil', sizePx: part.pen.sizePx });
    store.steps.append('old', [step('back', 'dip', after)], new Map(), 1);
    expect(store.db.prepare(ROWS).all()).toEqual(before);
  });
});
