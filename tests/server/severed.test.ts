import request from 'supertest';
import { decodeFrame, encodeFrame, type Parts } from '../../contract/frame';
import { unpackInk } from '../../contract/ink-frame';
import { stroke as strokeShape } from '../../contract/entities';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import type { Erasure, Stands, Stroke } from '../../core/sheet/entities';
import { finish } from '../../core/sheet/ink-work';
import { assign, putRows, type Change, type Step } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { wholeInk } from '../../demo/whole-ink';
import { createApp } from '../../server/app';
import type { Store } from '../../server/store';
import { FAMILY_QUERY } from '../../server/store/ink-damage';
import { PARTS_QUERY } from '../../server/store/sheets';
import { setUpStore } from '../measures/server-store';
import { listed, strokeEntity } from '../measures/sheets';
import { handSamples } from '../measures/strokes';

const SAMPLES = handSamples((u) => [20 + 200 * u, 40], { ms: 400 });
const BYTES = encodeSamples(SAMPLES);
const HOLE = encodeSamples(handSamples((u) => [120, 20 + 40 * u], { ms: 100 }));

let store: Store;
let n = 0;
setUpStore((opened) => (store = opened));

const stepOf = (changes: Change[]): Step => ({ id: `step${n++}`, device: 'd1', undoable: true, label: 'x', changes });
const send = (changes: Change[], parts: Parts = new Map()) =>
  store.steps.append('s', [stepOf(changes)], parts, 2000).results[0];
const part = (id: string, stands: Partial<Stands>, more: Partial<Stroke> = {}): Stroke =>
  strokeEntity(id, { stands: { samples: 'a', of: 'a', from: 0, to: 30, ...stands }, ...more });
const erasure: Erasure = {
  id: 'e',
  deleted: false,
  layerId: 'lines',
  pen: makePen('fineliner', 8, 0, false, 1),
  strokeIds: ['a'],
  engine: 3,
};

/** A line at the height of 40 px, severed in its middle. */
function sever(): void {
  send([putRows('strokes', strokeEntity('a'))], new Map([['a', BYTES]]));
  const cut = send(
    [
      putRows('erasures', erasure),
      putRows('strokes', part('left', { to: 48 }), part('right', { from: 48, to: 96 })),
      assign('strokes', strokeEntity('a'), 'deleted', true),
    ],
    new Map([['e', HOLE]]),
  );
  expect(cut).toHaveProperty('seq');
}
const strokes = async (sheet = 's') => unpackInk(await store.sheets.ink(sheet, 0)).strokes;
const work = new RasterWorkspace(300, 200);
async function alphaAt(x: number, y: number, sheet = 's'): Promise<number> {
  const { ink } = await wholeInk(store, sheet);
  const pixels = finish(ink.drawing('lines', 0, { x0: 0, y0: 0, width: 300, height: 200 }, work));
  return pixels ? pixels.data[4 * (y * 300 + x) + 3] : 0;
}

describe('a severed stroke on the server', () => {
  it('has its samples once, and gives them out for each part', async () => {
    sever();
    expect(store.sheets.samples('s', ['a', 'left', 'right', 'e', 'nothing'])).toEqual(
      new Map([
        ['a', Buffer.from(BYTES)],
        ['left', Buffer.from(BYTES)],
        ['right', Buffer.from(BYTES)],
        ['e', Buffer.from(HOLE)],
      ]),
    );
    const rows = store.db.prepare('SELECT id FROM samples WHERE sheet_id = ? ORDER BY id').pluck().all('s');
    expect(rows).toEqual(['a', 'e']);
    // Another device that follows the steps gets them with the parts.
    const after = store.steps.after('s', 1, 1e6);
    expect([...after.parts.keys()].sort()).toEqual(['e', 'left', 'right']);
    expect(after.parts.get('right')).toEqual(Buffer.from(BYTES));
    const packed = await strokes();
    expect(listed(packed).map(({ id, deleted, stands }) => [id, deleted, stands])).toEqual([
      ['a', true, undefined],
      ['left', false, { samples: 'a', of: 'a', from: 0, to: 48 }],
      ['right', false, { samples: 'a', of: 'a', from: 48, to: 96 }],
    ]);
    // Each has a box of its own.
    const [, left, right] = [0, 1, 2].map((row) => packed.boxAt(row));
    expect([Math.round(left.x1), Math.round(right.x0)].map((x) => Math.abs(x - 120) < 10)).toEqual([true, true]);
  });

  it('is measured anew, part by part, when a part gets another pen', async () => {
    sever();
    send([assign('strokes', part('left', { to: 48 }), 'pen', makePen('dip', 60, 30, true, 1))]);
    const packed = await strokes();
    const [left, right] = ['left', 'right'].map((id) => packed.ownBoxAt(packed.indexOf(id)));
    expect(left.y1 - left.y0).toBeGreaterThan(2 * (right.y1 - right.y0));
    expect(left.x1).toBeLessThan(160);
  });

  it('is refused without samples to stand on, and never takes another range', () => {
    send([putRows('strokes', strokeEntity('a'))], new Map([['a', BYTES]]));
    expect(send([putRows('strokes', part('p', { samples: 'gone' }))])).toMatchObject({
      refused: { code: 'missing-part' },
    });
    expect(send([putRows('strokes', part('p', {}))])).toHaveProperty('seq');
    expect(send([assign('strokes', part('p', {}), 'stands', { samples: 'a', of: 'a', from: 2, to: 3 })])).toMatchObject(
      { refused: { code: 'unknown-field' } },
    );
  });

  it.each([
    ['backwards', { from: 9, to: 3 }],
    ['of no length', { from: 3, to: 3 }],
    ['before the first sample', { from: -1 }],
    ['endless', { to: 1e300 }],
    ['of a word of the language', { of: 'constructor' }],
    ['of nothing', { samples: '' }],
  ])('is turned away at the door where its range is %s', (_, stands) => {
    expect(strokeShape.safeParse(part('p', stands)).success).toBe(false);
    expect(strokeShape.safeParse(part('p', {})).success).toBe(true);
  });

  it('goes through the door with its step', async () => {
    const app = createApp(store);
    const post = (step: Step, parts: Parts) =>
      request(app)
        .post('/api/sheets/s/steps')
        .set('Content-Type', 'application/octet-stream')
        .send(Buffer.from(encodeFrame({ steps: [step] }, parts)));
    await post(stepOf([putRows('strokes', strokeEntity('a'))]), new Map([['a', BYTES]])).expect(200);
    const step = stepOf([putRows('strokes', part('p', { from: 1.625, to: 8.001 }))]);
    const { body } = (await post(step, new Map()).expect(200)) as { body: { results: unknown[] } };
    expect(body.results).toEqual([{ id: step.id, seq: 2 }]);
    const bring = await request(app)
      .post('/api/sheets/s/samples')
      .send({ ids: ['p'] })
      .buffer()
      .parse((res, done) => {
        const pieces: Buffer[] = [];
        res.on('data', (piece: Buffer) => pieces.push(piece));
        res.on('end', () => done(null, Buffer.concat(pieces)));
      });
    expect(decodeFrame(bring.body as Buffer).parts.get('p')).toEqual(Buffer.from(BYTES));
  });

  it('keeps what was erased from it in each of its parts, wherever they go, and in a copy of the sheet', async () => {
    sever();
    send([assign('strokes', part('right', {}), 'matrix', [1, 0, 0, 1, 20, 100])]);
    // Severed once more: what erased the first stroke has erased the parts of its part.
    send([
      putRows('strokes', part('rest', { of: 'right', from: 48, to: 80 }, { matrix: [1, 0, 0, 1, 20, 100] })),
      assign('strokes', part('right', {}), 'deleted', true),
    ]);
    store.sheets.act({ id: 'copy', kind: 'duplicate', sheetId: 's', newId: 't', name: 'Reeds 2' }, 3000);
    for (const sheet of ['s', 't']) {
      const shown = await Promise.all(
        [
          [60, 40],
          [121, 40],
          [160, 40],
          [141, 140],
          [160, 140],
          [230, 140],
        ].map(([x, y]) => alphaAt(x, y, sheet)),
      );
      expect(shown).toEqual([255, 0, 0, 0, 255, 0]);
    }
    // The copy has no tombstones but those that its parts come from.
    expect(
      listed(await strokes('t'))
        .map((s) => s.id)
        .sort(),
    ).toEqual(['a', 'left', 'rest', 'right']);
  });

  it('is found with its parts by index: an erasure on a large sheet reads a few rows', () => {
    const rows = (query: string) =>
      (store.db.prepare(`EXPLAIN QUERY PLAN ${query}`).all({ sheetId: 's', listed: 'a' }) as { detail: string }[])
        .map(({ detail }) => detail.replace(/COVERING |EXISTS /g, ''))
        .filter((detail) => /^(SEARCH|SCAN) [sp] /.test(detail));
    expect(rows(FAMILY_QUERY)).toEqual([
      'SEARCH s USING INDEX strokes_severed (sheet_id=? AND part_of=?)',
      'SEARCH s USING PRIMARY KEY (sheet_id=? AND id=?)',
    ]);
    expect(rows(`SELECT id FROM strokes WHERE @sheetId <> @listed AND EXISTS (${PARTS_QUERY})`)).toEqual([
      'SEARCH p USING INDEX strokes_severed (sheet_id=? AND part_of=?)',
    ]);
  });

  it('is shown anew wherever its parts have gone, when its erasure is taken back', () => {
    sever();
    send([assign('strokes', part('right', {}), 'matrix', [1, 0, 0, 1, 0, 300])]);
    const back = send([assign('erasures', erasure, 'deleted', true)]) as { seq: number };
    const [[, , , y0, , y1]] = store.lowTiles.damageAfter('s', back.seq - 1);
    expect([y0 < 40, y1 > 330]).toEqual([true, true]);
  });
});
