import Database from 'better-sqlite3';
import { copyFileSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateRawSync } from 'node:zlib';
import request from 'supertest';
import { decodeFrame, encodeFrame, type Parts } from '../../contract/frame';
import { unpackInk } from '../../contract/ink-frame';
import type { LowTilesBody } from '../../contract/low-tiles';
import { sheetPng } from '../../core/formats/sheet-png';
import { packTile } from '../../core/raster/pack-tile';
import { makePixels } from '../../core/raster/pixels';
import { TILE_SIDE } from '../../core/raster/tiles';
import { FIRST_LAYER, type Erasure } from '../../core/sheet/entities';
import { InkMeasure } from '../../core/sheet/ink-box';
import { finish } from '../../core/sheet/ink-work';
import { assign, putRows, type Change, type Step } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { wholeInk } from '../../demo/whole-ink';
import { MOST_PUT_TILES } from '../../contract/limits';
import { createApp } from '../../server/app';
import { openStore, type Store } from '../../server/store';
import { FEWEST_STROKES, MOST_STEPS_BEHIND } from '../../server/store/kept-ink';
import { KEPT_STEPS } from '../../server/store/low-tiles';
import { setUpStore } from '../measures/server-store';
import { listed, strokeEntity } from '../measures/sheets';
import { handSamples } from '../measures/strokes';
import { showTheSame } from '../measures/pictures';

// Thousands of strokes are measured in some of these.
jest.setTimeout(60000);
const BYTES = encodeSamples(handSamples((u) => [20 + 80 * u, 40], { ms: 200 }));
const BOX = new InkMeasure().boxOf(BYTES, strokeEntity('a'));
const TILE = packTile(makePixels(-4, -4, TILE_SIDE, TILE_SIDE));
const OTHER_TILE = packTile({
  ...makePixels(-4, -4, TILE_SIDE, TILE_SIDE),
  data: new Uint8ClampedArray(4 * TILE_SIDE * TILE_SIDE).fill(9),
});

let store: Store;
let n = 0;
setUpStore((opened) => (store = opened));

function send(changes: Change[], parts: Parts = new Map(), sheet = 's'): number {
  const step: Step = { id: `step${n++}`, device: 'd1', undoable: true, label: 'x', changes };
  const [result] = store.steps.append(sheet, [step], parts, 2000).results;
  if (!('seq' in result)) throw new Error(JSON.stringify(result));
  return result.seq;
}
const ink = (id: string, more: Parameters<typeof strokeEntity>[1] = {}) =>
  send([putRows('strokes', strokeEntity(id, more))], new Map([[id, BYTES]]));
const damageOf = (seq: number) => store.lowTiles.damageAfter('s', seq - 1).filter((d) => d[0] === seq);
const PAPER = { widthPx: 800, heightPx: 600 };
/** Leaves tiles with the sheet as a step left it. */
const keep = (seq: number, tiles: Parts, paper = PAPER, sheet = 's') =>
  store.lowTiles.put(sheet, { seq, ...paper }, tiles);
const BLANK = new Uint8Array();
const kept = (sheet = 's') => store.lowTiles.of(sheet, 0, 1e6);

describe('where ink lies', () => {
  it('is kept with it, before its matrix', async () => {
    ink('a', { matrix: [2, 0, 0, 2, 100, 0] });
    const { strokes } = unpackInk(await store.sheets.ink('s', 0));
    const own = strokes.ownBoxAt(0);
    for (const side of ['x0', 'y0', 'x1', 'y1'] as const) expect(own[side]).toBeCloseTo(BOX[side], 4);
    expect(strokes.boxAt(0).x0).toBeCloseTo(100 + 2 * BOX.x0, 3);
  });

  it('is measured anew when the pen changes', async () => {
    ink('a');
    const pen = makePen('dip', 60, 30, true, 1);
    send([assign('strokes', strokeEntity('a'), 'pen', pen)]);
    const { strokes } = unpackInk(await store.sheets.ink('s', 0));
    expect(strokes.ownBoxAt(0).y1).toBeCloseTo(new InkMeasure().boxOf(BYTES, { pen, engine: 3 }).y1, 4);
  });

  it('is noted with each step that changes it: before and after, by layer', () => {
    const first = ink('a');
    expect(damageOf(first)).toEqual([[first, 'lines', BOX.x0, BOX.y0, BOX.x1, BOX.y1]]);
    const moved = send([assign('strokes', strokeEntity('a'), 'matrix', [1, 0, 0, 1, 200, 0])]);
    expect(damageOf(moved)).toEqual([[moved, 'lines', BOX.x0, BOX.y0, BOX.x1 + 200, BOX.y1]]);
    send([putRows('layers', { ...FIRST_LAYER, id: 'second', order: 'a5' })]);
    const lifted = send([assign('strokes', strokeEntity('a'), 'layerId', 'second')]);
    expect(
      damageOf(lifted)
        .map((d) => d[1])
        .sort(),
    ).toEqual(['lines', 'second']);
    const quiet = send([assign('layers', FIRST_LAYER, 'opacity', 0.5)]);
    expect(damageOf(quiet)).toEqual([]);
  });

  it('is where an erasure lies, and wherever a stroke has taken it', () => {
    ink('a');
    ink('b', { matrix: [1, 0, 0, 1, 300, 300] });
    const erasure: Erasure = {
      id: 'e',
      deleted: false,
      layerId: 'lines',
      pen: makePen('fineliner', 8, 0, false, 1),
      strokeIds: ['a', 'b'],
      engine: 3,
    };
    const bytes = encodeSamples(handSamples((u) => [50, 20 + 40 * u], { ms: 100 }));
    const seq = send([putRows('erasures', erasure)], new Map([['e', bytes]]));
    const [[, , , y0, x1, y1]] = damageOf(seq);
    expect([y0 < 25, x1 > 300, y1 > 330]).toEqual([true, true, true]);
  });
});

describe('kept tiles', () => {
  it('are given back as they came, with what has changed since the oldest of them', () => {
    const first = ink('a');
    const tiles = [
      ['lines/0/0/0', TILE],
      ['lines/-1/0/0', TILE],
      ['lines/0/1/0', BLANK],
      ['lines/0/1/2', BLANK],
    ] as const;
    expect(keep(first, new Map(tiles))).toBe(true);
    const second = ink('b');
    const { body, parts } = kept();
    expect(body).toMatchObject({ seq: second, blank: [['lines', 0, first, [1, 0, 1, 2]]] });
    expect(body.tiles.sort()).toEqual([
      ['lines', -1, 0, 0, first],
      ['lines', 0, 0, 0, first],
    ]);
    expect(body.damage.map((d) => d[0])).toEqual([second]);
    expect([...parts.keys()]).toEqual(['lines/0/0/0']);
    expect([...parts.get('lines/0/0/0')!]).toEqual([...TILE]);
    const asked = [
      { layerId: 'lines', level: -1, tx: 0, ty: 0, seq: first },
      { layerId: 'lines', level: -1, tx: 1, ty: 0, seq: first },
      { layerId: 'lines', level: 0, tx: 1, ty: 0, seq: first },
      // Not as another step left it.
      { layerId: 'lines', level: 0, tx: 0, ty: 0, seq: second },
    ];
    const found = store.lowTiles.bytesOf('s', asked, 1e6);
    expect([...found].map(([key, bytes]) => [key, bytes.length > 0])).toEqual([
      ['lines/-1/0/0', true],
      ['lines/0/1/0', false],
    ]);
  });

  it('give way to later ones only, blank ones like others', () => {
    const first = ink('a');
    const second = ink('b');
    const put = (seq: number, bytes: Uint8Array) => keep(seq, new Map([['lines/0/0/0', bytes]]));
    const now = () => kept().parts.get('lines/0/0/0');
    expect([put(second, TILE), put(first, OTHER_TILE)]).toEqual([true, true]);
    expect([...now()!]).toEqual([...TILE]);
    put(first, BLANK);
    expect(now()).toBeDefined();
    put(second, BLANK);
    expect([now(), kept().body.blank]).toEqual([undefined, [['lines', 0, second, [0, 0]]]]);
  });

  it('are not taken of a step that is not written, or of one long ago; what is old goes, and nothing is blank then', () => {
    const put = (seq: number) =>
      keep(
        seq,
        new Map([
          ['lines/0/0/0', TILE],
          ['lines/0/1/0', BLANK],
        ]),
      );
    ink('a');
    expect([put(2), put(1)]).toEqual([false, true]);
    store.db.prepare('UPDATE sheets SET seq = ? WHERE id = ?').run(KEPT_STEPS + 1, 's');
    expect(put(1)).toBe(false);
    // The next sweep is at a round number; what was left later than the old ones stays.
    const sweep = 512 * Math.ceil((KEPT_STEPS + 2) / 512);
    store.db.prepare('UPDATE sheets SET seq = ? WHERE id = ?').run(sweep - 1, 's');
    keep(sweep - 1, new Map([['lines/-1/0/0', BLANK]]));
    ink('b');
    const { tiles, blank } = kept().body;
    expect([tiles, blank]).toEqual([[], [['lines', -1, sweep - 1, [0, 0]]]]);
    expect(store.lowTiles.damageAfter('s', 0)).toHaveLength(1);
  });

  it('are taken of the paper that the sheet has, and of its layers and places alone', () => {
    const seq = ink('a');
    const put = (key: string, paper = PAPER) => keep(seq, new Map([[key, BLANK]]), paper);
    expect(put('lines/0/3/2')).toBe(true);
    expect([
      put('gone/0/0/0'),
      put('lines/1/0/0'),
      put('lines/-9/0/0'),
      put('lines/0/4/0'),
      put('lines/0/0/3'),
    ]).toEqual([false, false, false, false, false]);
    expect(put('lines/0/0/0', { ...PAPER, widthPx: 900 })).toBe(false);
    const png = Buffer.from('a small picture');
    expect(store.sheets.putOverview('s', { seq, ...PAPER, heightPx: 601 }, png)).toBe(false);
    expect(store.sheets.overview('s')).toBeUndefined();
  });

  it('go along with a copy where nothing has changed since they were left, tile by tile', () => {
    const first = ink('a');
    const all = ['lines/0/0/0', 'lines/0/3/2', 'lines/-1/0/0'];
    keep(first, new Map(all.map((key) => [key, TILE])));
    keep(first, new Map([['lines/0/3/0', BLANK]]));
    // One line more, in the corner where the first tile is: the others are as they were.
    const second = ink('b');
    keep(second, new Map([['lines/0/2/2', TILE]]));
    store.sheets.act({ id: 'copy', kind: 'duplicate', sheetId: 's', newId: 't', name: 'Copy' }, 3000);
    const { tiles, blank, damage } = kept('t').body;
    expect(tiles.map((t) => [t[1], t[2], t[3], t[4]]).sort()).toEqual([
      [0, 2, 2, 0],
      [0, 3, 2, 0],
    ]);
    expect([blank, damage]).toEqual([[['lines', 0, 0, [3, 0]]], []]);
  });

  it('stay when the paper grows, and say nothing of its new part', () => {
    const first = ink('a');
    keep(first, new Map([['lines/0/0/0', TILE]]));
    const paper = { widthPx: 1600, heightPx: 600, ppi: 300 };
    const grows = { op: 'set' as const, table: 'sheet' as const, field: 'paper', ids: ['sheet'], before: [null], after: [paper] }; // prettier-ignore
    const seq = send([grows]);
    expect(store.sheets.head('s')!.card).toMatchObject(paper);
    // A device that has not seen it yet.
    expect(keep(seq, new Map([['lines/0/1/0', BLANK]]))).toBe(false);
    expect([kept().body.tiles.length, kept().body.blank]).toEqual([1, []]);
  });

  it('are all let go of when one is wrong, with the small picture, and that is counted', () => {
    const seq = ink('a');
    keep(seq, new Map([['lines/0/0/0', TILE]]));
    store.sheets.putOverview('s', { seq, ...PAPER }, Buffer.from('x'));
    expect(store.sheets.head('s')!.isOverviewDue).toBe(false);
    store.lowTiles.drop('s');
    expect([kept().body.tiles, store.lowTiles.dropsOf('s')]).toEqual([[], 1]);
    expect(store.sheets.head('s')!.isOverviewDue).toBe(true);
    // It is seen in the drawer until there is another.
    expect(store.sheets.overview('s')).toBeDefined();
  });

  it('a small picture goes along with a copy; one of an earlier step, or of another paper, is due anew', () => {
    const first = ink('a');
    store.sheets.putOverview('s', { seq: first, ...PAPER }, Buffer.from('x'));
    const copy = (id: string) =>
      store.sheets.act({ id: `make-${id}`, kind: 'duplicate', sheetId: 's', newId: id, name: 'Copy' }, 3000);
    copy('t');
    ink('b');
    copy('u');
    expect(
      ['t', 'u'].map((id) => [store.sheets.head(id)!.isOverviewDue, store.sheets.overview(id) !== undefined]),
    ).toEqual([
      [false, true],
      [true, true],
    ]);
  });

  it('come and go over the wire, and nothing else is taken for one', async () => {
    const api = request(createApp(store));
    const seq = ink('a');
    const put = (parts: Parts, at = seq, query = 'widthPx=800&heightPx=600') =>
      api
        .put(`/api/sheets/s/tiles?seq=${at}&${query}`)
        .set('Content-Type', 'application/octet-stream')
        .send(Buffer.from(encodeFrame(null, parts)));
    await put(new Map([['lines/0/0/0', TILE]])).expect(204);
    const answer = await api.get('/api/sheets/s/tiles?level=0').responseType('blob').expect(200);
    const { body, parts } = decodeFrame(answer.body as Buffer);
    expect((body as LowTilesBody).tiles).toEqual([['lines', 0, 0, 0, seq]]);
    expect([...parts.keys()]).toEqual(['lines/0/0/0']);
    const found = await api
      .post('/api/sheets/s/tiles/find')
      .send({ tiles: [{ layerId: 'lines', level: 0, tx: 0, ty: 0, seq }] })
      .responseType('blob')
      .expect(200);
    expect([...decodeFrame(found.body as Buffer).parts.keys()]).toEqual(['lines/0/0/0']);
    const status = async (asked: request.Test) => (await asked).status;
    expect(await status(put(new Map([['lines/0/0/0', Uint8Array.of(1, 2, 3)]])))).toBe(400);
    expect(await status(put(new Map([['../0/0/0', TILE]])))).toBe(400);
    expect(await status(put(new Map([['lines/3/0/0', BLANK]])))).toBe(400);
    expect(await status(put(new Map(), seq + 1))).toBe(400);
    expect(await status(put(new Map(), seq, 'widthPx=800'))).toBe(400);
    expect(await status(api.put('/api/sheets/none/tiles?seq=0').send(Buffer.from('x')))).toBe(404);
    expect(await status(api.post('/api/sheets/s/tiles/find').send({ tiles: [] }))).toBe(400);
    expect(await status(api.post('/api/sheets/s/samples').send({ ids: ['a b'] }))).toBe(400);
    expect(kept().body.tiles).toHaveLength(1);
    const many = new Map(Array.from({ length: MOST_PUT_TILES + 1 }, (_, i) => [`lines/0/${i}/0`, BLANK]));
    expect(await status(put(many))).toBe(400);
    await api.delete('/api/sheets/s/tiles').expect(204);
    expect([kept().body.tiles, store.lowTiles.dropsOf('s')]).toEqual([[], 1]);
    expect(await status(api.delete('/api/sheets/none/tiles'))).toBe(404);
  });

  it('that would unpack to more than a tile are refused before they have', async () => {
    const seq = ink('a');
    const bomb = deflateRawSync(Buffer.alloc(64 * 1024 * 1024), { level: 9 });
    expect(bomb.length).toBeLessThan(100000);
    const inflated: number[] = [];
    const real = process.memoryUsage().rss;
    const answer = await request(createApp(store))
      .put(`/api/sheets/s/tiles?seq=${seq}&widthPx=800&heightPx=600`)
      .set('Content-Type', 'application/octet-stream')
      .send(Buffer.from(encodeFrame(null, new Map([['lines/0/0/0', bomb]]))));
    inflated.push(process.memoryUsage().rss - real);
    expect([answer.status, kept().body.tiles]).toEqual([400, []]);
    expect(inflated[0]).toBeLessThan(48 * 1024 * 1024);
  });
});

describe('reading the ink of a sheet', () => {
  it('lets others in between, and is right though they ink meanwhile', async () => {
    const many = Array.from({ length: 4200 }, (_, i) =>
      strokeEntity(`k${i}`, { order: `a${String(i).padStart(5, '0')}` }),
    );
    send([putRows('strokes', ...many)], new Map(many.map(({ id }) => [id, BYTES])));
    const reading = store.sheets.ink('s', 0);
    let turns = 0;
    const other = setInterval(() => turns++, 0);
    // After the first piece a stroke is moved from those that were read to those that were not.
    await new Promise((done) => setImmediate(done));
    send([assign('strokes', strokeEntity('k1'), 'order', 'b')]);
    const { strokes, seq } = unpackInk(await reading);
    clearInterval(other);
    expect([turns > 0, strokes.count, seq]).toEqual([true, 4200, 2]);
    expect(strokes.idAt(4199)).toBe('k1');
  });

  it('gives what was packed of a large sheet some steps ago, and packs it anew when it has fallen too far behind', async () => {
    const many = Array.from({ length: FEWEST_STROKES }, (_, i) => strokeEntity(`k${i}`, { order: `a${1000 + i}` }));
    send([putRows('strokes', ...many)], new Map(many.map(({ id }) => [id, BYTES])));
    expect(unpackInk(await store.sheets.ink('s', 0)).seq).toBe(1);
    ink('late', { order: 'b' });
    const { seq, strokes, damage } = unpackInk(await store.sheets.ink('s', 0));
    expect([seq, strokes.count, strokes.indexOf('late')]).toEqual([1, FEWEST_STROKES, -1]);
    // What has changed later is told with the steps that changed it.
    expect(damage.map((d) => d[0])).toEqual([1]);
    store.db.prepare('UPDATE sheets SET seq = ? WHERE id = ?').run(2 + MOST_STEPS_BEHIND, 's');
    const again = unpackInk(await store.sheets.ink('s', 0));
    expect([again.seq, again.strokes.count]).toEqual([2 + MOST_STEPS_BEHIND, FEWEST_STROKES + 1]);
  });

  it('gives the place of the topmost stroke of each layer at once', () => {
    ink('a', { order: 'a1' });
    ink('b', { order: 'a7' });
    ink('c', { order: 'a3' });
    expect(store.sheets.head('s')!.tops).toEqual({ lines: 'a7' });
  });
});

/**
 * tests/fixtures/format-1.sqlite was written by the app before boxes were kept (its first format): strokes of all three
 * engines, two layers, moved, deleted and erased ones, and one whose samples are broken. The pictures beside it are what
 * the app of that day drew of it, at the paper's size and at a quarter.
 */
describe('a sheet from before boxes were kept', () => {
  let old: Store;
  let place: string;
  beforeEach(() => {
    place = mkdtempSync(join(tmpdir(), 'hush-line-old-'));
    copyFileSync(join(__dirname, '../fixtures/format-1.sqlite'), join(place, 'hush-line.sqlite'));
  });
  afterEach(() => {
    old.close();
    rmSync(place, { recursive: true });
  });

  it('opens unchanged, pixel for pixel', async () => {
    old = openStore(place);
    const { ink: all, model } = await wholeInk(old, 'old');
    expect(all.unreadable).toEqual(['k20']);
    const { card } = old.sheets.head('old')!;
    for (const [level, name] of [
      [0, 'format-1.png'],
      [-2, 'format-1-quarter.png'],
    ] as const) {
      const png = Buffer.concat(finish(sheetPng(model, all, card, { level, onPaper: false })));
      expect(showTheSame(png, readFileSync(join(__dirname, '../fixtures', name)))).toBe(true);
    }
  });

  it('keeps every row, is measured once, and takes steps as before', async () => {
    const plain = new Database(join(place, 'hush-line.sqlite'), { readonly: true });
    const rows = (db: Database.Database) =>
      db
        .prepare(
          'SELECT id, layer_id, ord, colour, pen, matrix, engine, deleted FROM strokes ORDER BY layer_id, ord, id',
        )
        .all();
    const before = rows(plain);
    expect([plain.pragma('user_version', { simple: true }), before.length]).toEqual([1, 48]);
    plain.close();
    old = openStore(place);
    expect(rows(old.db)).toEqual(before);
    const unmeasured = () => old.db.prepare('SELECT COUNT(*) FROM strokes WHERE x0 IS NULL').pluck().get();
    expect(unmeasured()).toBe(48);
    // A stroke that was never measured may be moved at once: where it lay is noted.
    const [stroke] = listed(unpackInk(await old.sheets.ink('old', 0)).strokes);
    expect(unmeasured()).toBe(0);
    const step: Step = {
      id: 'late',
      device: 'd',
      undoable: true,
      label: 'x',
      changes: [assign('strokes', stroke, 'colour', '#00aa00')],
    };
    const [{ seq }] = old.steps.append('old', [step], new Map(), 1).results as { id: string; seq: number }[];
    expect(old.lowTiles.damageAfter('old', seq - 1)).toHaveLength(1);
  });

  it('notes where a stroke lay that nobody has measured yet', () => {
    old = openStore(place);
    const stroke = strokeEntity('k5');
    const step: Step = {
      id: 'late',
      device: 'd',
      undoable: true,
      label: 'x',
      changes: [assign('strokes', stroke, 'deleted', true)],
    };
    const [{ seq }] = old.steps.append('old', [step], new Map(), 1).results as { id: string; seq: number }[];
    const [[, layer, x0, , x1]] = old.lowTiles.damageAfter('old', seq - 1);
    expect([layer, x1 > x0]).toEqual(['lines', true]);
  });
});
