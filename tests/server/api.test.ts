import sharp from 'sharp';
import request from 'supertest';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { decodeFrame, encodeFrame, type Parts } from '../../contract/frame';
import { readInk } from '../../contract/ink-frame';
import { leftOver, leftOverWords } from '../../server/store/left-over';
import { FIRST_LAYER, type LiftedLayer } from '../../core/sheet/entities';
import { putRows, type Change, type Step } from '../../core/sheet/steps';
import { decodeSamples } from '../../core/stroke/codec';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { createApp } from '../../server/app';
import { openStore, type Store } from '../../server/store';
import { handSamples } from '../measures/strokes';
import { listed, referenceEntity, strokeEntity } from '../measures/sheets';

const SAMPLES = encodeSamples(handSamples((u) => [20 + 80 * u, 40], { ms: 200 }));
const PAPER = { widthPx: 400, heightPx: 300, ppi: 300 };

let folder: string;
let store: Store;
let n = 0;
const api = () => request(createApp(store, { now: () => 1_700_000_000_000 + n++ }));
const fresh = (base: string) => `${base}${n++}`;

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'hush-line-api-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true });
});

const act = (body: object) =>
  api()
    .post('/api/drawer')
    .send({ id: fresh('act'), ...body });
async function newSheet(id = 'sheet-1'): Promise<string> {
  await act({ kind: 'create', sheetId: id, name: 'Ferry bell', paper: PAPER }).expect(200);
  return id;
}
const stroke = (id: string, layerId = 'lines') => strokeEntity(id, { layerId });
const step = (id: string, changes: Change[], more: Partial<Step> = {}): Step => ({
  id,
  device: 'device-1',
  undoable: true,
  label: 'Ink line',
  changes,
  ...more,
});
const post = (sheet: string, steps: unknown[], parts: Parts = new Map()) =>
  api()
    .post(`/api/sheets/${sheet}/steps`)
    .set('Content-Type', 'application/octet-stream')
    .send(Buffer.from(encodeFrame({ steps }, parts)));
const inkStep = (id: string) => step(`step-${id}`, [putRows('strokes', stroke(id))]);
async function framed(asked: request.Test): Promise<Buffer> {
  const answer = await asked.buffer(true).parse((res, done) => {
    const chunks: Buffer[] = [];
    res.on('data', (c: Buffer) => chunks.push(c));
    res.on('end', () => done(null, Buffer.concat(chunks)));
  });
  return answer.body as Buffer;
}
const inkOf = async (sheet: string) => readInk(await framed(api().get(`/api/sheets/${sheet}/strokes`)));

describe('the drawer', () => {
  it('makes, renames, duplicates, deletes and restores sheets, each act once', async () => {
    const sheet = await newSheet();
    const body = { id: 'act-x', kind: 'duplicate', sheetId: sheet, newId: 'copy', name: 'Copy' };
    await post(sheet, [inkStep('a')], new Map([['a', SAMPLES]])).expect(200);
    await api().post('/api/drawer').send(body).expect(200);
    await api().post('/api/drawer').send(body).expect(200);
    await act({ kind: 'rename', sheetId: sheet, name: 'Bell' }).expect(200);
    expect((await inkOf('copy')).strokes.count).toBe(1);
    await act({ kind: 'delete', sheetId: sheet }).expect(200);
    const names = async () => (await api().get('/api/sheets')).body.sheets.map((s: { name: string }) => s.name).sort();
    expect(await names()).toEqual(['Copy']);
    await act({ kind: 'restore', sheetId: sheet }).expect(200);
    expect(await names()).toEqual(['Bell', 'Copy']);
  });

  it.each([
    [{ kind: 'create', sheetId: 'x', name: 'x', paper: { widthPx: 5, heightPx: 300, ppi: 300 } }, /at least 16 px/],
    [{ kind: 'create', sheetId: 'x', name: '  ', paper: PAPER }, /needs a name/],
    [{ kind: 'rename', sheetId: '../etc', name: 'x' }, /sheetId/],
    [{ kind: 'burn', sheetId: 'x' }, /kind/],
  ])('refuses %j and changes nothing', async (body, message) => {
    const answer = await act(body).expect(400);
    expect(answer.body).toMatchObject({ code: 'bad-request', message: expect.stringMatching(message) });
    expect((await api().get('/api/sheets')).body.sheets).toEqual([]);
  });

  it('answers 404 with a code for a sheet or an address that is not there', async () => {
    await act({ kind: 'rename', sheetId: 'nothing', name: 'x' }).expect(404);
    const answer = await api().get('/api/sheets/nothing').expect(404);
    expect(answer.body.code).toBe('not-found');
    await api().get('/api/nowhere').expect(404);
  });
});

describe('steps', () => {
  it('are numbered in order, and one sent twice is one step', async () => {
    const sheet = await newSheet();
    const parts = new Map([
      ['a', SAMPLES],
      ['b', SAMPLES],
    ]);
    const first = await post(sheet, [inkStep('a'), inkStep('b')], parts).expect(200);
    const again = await post(sheet, [inkStep('b'), inkStep('c')], new Map([...parts, ['c', SAMPLES]])).expect(200);
    expect(first.body).toEqual({
      deleted: false,
      results: [
        { id: 'step-a', seq: 1 },
        { id: 'step-b', seq: 2 },
      ],
      seq: 2,
    });
    expect(again.body).toEqual({
      deleted: false,
      results: [
        // It may have been written otherwise than it was sent: that is looked at.
        { id: 'step-b', seq: 2, isOther: true },
        { id: 'step-c', seq: 3 },
      ],
      seq: 3,
    });
    expect(listed((await inkOf(sheet)).strokes).map((s) => s.id)).toEqual(['a', 'b', 'c']);
    const { parts: samples } = decodeFrame(
      await framed(
        api()
          .post(`/api/sheets/${sheet}/samples`)
          .send({ ids: ['b'] }),
      ),
    );
    expect([...samples.keys()]).toEqual(['b']);
    expect(Buffer.from(samples.get('b')!).equals(Buffer.from(SAMPLES))).toBe(true);
  });

  it('survive closing and opening the store', async () => {
    const sheet = await newSheet();
    await post(sheet, [inkStep('a')], new Map([['a', SAMPLES]])).expect(200);
    store.close();
    store = openStore(folder);
    expect((await inkOf(sheet)).strokes.count).toBe(1);
    expect((await api().get(`/api/sheets/${sheet}`)).body.card.seq).toBe(1);
  });

  it('never put ink on a reference; the refused step leaves nothing, the others stand', async () => {
    const sheet = await newSheet();
    const photo = await aPicture();
    const layer = referenceEntity({ picture: { hash: photo, width: 8, height: 6 } });
    const bad = step('bad', [putRows('strokes', stroke('ok')), putRows('strokes', stroke('no', 'photo'))]);
    const parts = new Map([
      ['a', SAMPLES],
      ['ok', SAMPLES],
      ['no', SAMPLES],
    ]);
    const answer = await post(sheet, [step('add', [putRows('layers', layer)]), bad, inkStep('a')], parts).expect(200);
    expect(answer.body.results[1].refused.code).toBe('not-inkable');
    expect(listed((await inkOf(sheet)).strokes).map((s) => s.id)).toEqual(['a']);
    const target = step('t', [
      { op: 'set', table: 'sheet', field: 'target', ids: ['sheet'], before: ['lines'], after: ['photo'] },
    ]);
    expect((await post(sheet, [target])).body.results[0].refused.code).toBe('not-inkable');
  });

  it('are refused without their samples, with an unknown picture, and with values of the wrong kind', async () => {
    const sheet = await newSheet();
    expect((await post(sheet, [inkStep('a')])).body.results[0].refused.code).toBe('missing-part');
    const layer = {
      ...FIRST_LAYER,
      id: 'p',
      kind: 'reference' as const,
      picture: { hash: 'f'.repeat(64), width: 8, height: 6 },
      placement: { cx: 0, cy: 0, scale: 1, turnDeg: 0, mirrored: false },
    };
    const unknown = await post(sheet, [step('p', [putRows('layers', layer)])]);
    expect(unknown.body.results[0].refused.code).toBe('unknown-picture');
    const lifted = step('l', [putRows('layers', { ...layer, kind: 'lifted' })]);
    expect((await post(sheet, [lifted])).body.results[0].refused.code).toBe('unknown-picture');
    const wrong = step('w', [
      { op: 'set', table: 'layers', field: 'opacity', ids: ['lines'], before: [1], after: ['loud'] },
    ]);
    await post(sheet, [wrong]).expect(400);
    await post(sheet, [inkStep('a')], new Map([['a', Uint8Array.of(1, 2, 3)]])).expect(400);
    await api().post(`/api/sheets/${sheet}/steps`).send('hello').expect(400);
    expect((await api().get(`/api/sheets/${sheet}`)).body.card.seq).toBe(0);
  });

  it('keep what belongs to pictures: veil, place beside the paper, what was done; and guides', async () => {
    const sheet = await newSheet();
    const photo = await aPicture();
    const layer = referenceEntity({ picture: { hash: photo, width: 8, height: 6 } });
    const set = (field: string, after: unknown, id = 'photo') => assign('layers', id, field, after);
    const crop = { id: 'c', kind: 'crop', on: true, corners: [[0, 0], [1, 0], [1, 0.5], [0, 0.5]], width: 8, height: 3 }; // prettier-ignore
    const { veil: _v, beside: _b, ...plain } = { ...layer, veil: 0, beside: false };
    const recipe = [{ id: 'l', kind: 'lift', on: true, paper: 0.9, line: 0.2, keep: 0.5, specks: 3 }];
    const lifted = { ...plain, id: 'page', kind: 'lifted', order: 'Zzz', recipe } as unknown as LiftedLayer;
    const swatches = [[{ id: 's1', colour: '#17605c' }, { id: 's2', colour: '#a03b22', name: 'Brick' }]]; // prettier-ignore
    const guides = { kind: 'perspective', squares: 4, points: [[-50, 20.5]] };
    const steps = [
      step('add', [putRows('layers', layer)]),
      step('look', [set('veil', 0.3), set('beside', true), set('recipe', [crop])]),
      step('lift', [putRows('layers', lifted)]),
      step('swatches', [
        { op: 'set', table: 'sheet', field: 'swatches', ids: ['sheet'], before: [null], after: swatches },
      ]),
      step('guides', [{ op: 'set', table: 'sheet', field: 'guides', ids: ['sheet'], before: [null], after: [guides] }]),
    ];
    const { results } = (await post(sheet, steps).expect(200)).body as { results: object[] };
    expect(results.every((r) => 'seq' in r)).toBe(true);
    store.close();
    store = openStore(folder);
    const { layers, settings } = (await api().get(`/api/sheets/${sheet}`)).body;
    expect(layers.find((l: { id: string }) => l.id === 'photo')).toMatchObject({
      veil: 0.3,
      beside: true,
      recipe: [crop],
    });
    expect(settings.guides).toEqual(guides);
    expect(settings.swatches).toEqual(swatches[0]);
    expect(layers.find((l: { id: string }) => l.id === 'page')).toEqual(lifted);
    // They are no layer's of ink.
    const onInk = await post(sheet, [step('ink', [set('veil', 0.5, 'lines')])]);
    expect(onInk.body.results[0].refused.code).toBe('unknown-field');
  });

  const assign = (table: 'layers' | 'strokes', id: string, field: string, after: unknown): Change => ({
    op: 'set',
    table,
    field,
    ids: [id],
    before: [null],
    after: [after],
  });
  /** A picture cropped to corners `x y x y ...`, parts of it. */
  const cropped = (corners: string, width = 8): Change => {
    const at = corners.split(' ').map(Number);
    const points = [0, 2, 4, 6].map((i) => at.slice(i, i + 2));
    return assign('layers', 'photo', 'recipe', [
      { id: 'c', kind: 'crop', on: true, corners: points, width, height: 3 },
    ]);
  };
  it.each([
    ['an order with nothing beside it', [assign('layers', 'lines', 'order', 'zzzz')]],
    ['a matrix that flattens', [assign('strokes', 'a', 'matrix', [1, 0, 1, 0, 0, 0])]],
    ['a matrix without end', [assign('strokes', 'a', 'matrix', [1e300, 0, 0, 1e300, 0, 0])]],
    ['a place without end', [assign('strokes', 'a', 'matrix', [1, 0, 0, 1, 1e300, 0])]],
    ['a crop that holds nothing', [cropped('0 0 1 0 1 0 0 0')]],
    ['a crop whose corners cross', [cropped('0 0 1 1 1 0 0 1')]],
    ['a crop to no pixels', [cropped('0 0 1 0 1 1 0 1', 0)]],
    ['a lift whose paper is darker than its lines', [assign('layers', 'photo', 'recipe', [{ id: 'l', kind: 'lift', on: true, paper: 0.2, line: 0.9, keep: 0.5, specks: 0 }])]], // prettier-ignore
    ['thresholds that fall', [assign('layers', 'photo', 'recipe', [{ id: 't', kind: 'steps', on: true, thresholds: [0.6, 0.4], amount: 1 }])]], // prettier-ignore
    ['more values than there are', [assign('layers', 'photo', 'recipe', [{ id: 't', kind: 'steps', on: true, thresholds: [0.1, 0.2, 0.3, 0.4, 0.5, 0.6], amount: 1 }])]], // prettier-ignore
    ['a curve that goes back', [assign('layers', 'photo', 'recipe', [{ id: 'c', kind: 'curve', on: true, points: [[0.5, 0], [0.5, 1]] }])]], // prettier-ignore
    [
      'more squares than can be seen',
      [
        {
          op: 'set',
          table: 'sheet',
          field: 'guides',
          ids: ['sheet'],
          before: [null],
          after: [{ kind: 'squares', squares: 1e6, points: [[0, 0]] }],
        },
      ],
    ],
    ['control characters in a name', [assign('layers', 'lines', 'name', 'Li\u0000nes')]],
    ['an id that is a word of the language', [putRows('strokes', strokeEntity('constructor'))]],
    ['formulas that are not there yet', [putRows('strokes', strokeEntity('b', { engine: 99 }))]],
    [
      'a hand infinitely small',
      [putRows('strokes', strokeEntity('b', { pen: { ...stroke('b').pen, handScale: 1e-300 } }))],
    ],
  ] as [string, Change[]][])('are refused at the door: %s', async (_what, changes) => {
    const sheet = await newSheet();
    await post(sheet, [inkStep('a')], new Map([['a', SAMPLES]])).expect(200);
    await post(
      sheet,
      [step('bad', changes)],
      new Map([
        ['b', SAMPLES],
        ['constructor', SAMPLES],
      ]),
    ).expect(400);
    expect((await api().get(`/api/sheets/${sheet}`)).body.card.seq).toBe(1);
  });

  it('refuse samples that unpack to more than a hand can make, at once', async () => {
    const sheet = await newSheet();
    const one = handSamples(() => [5, 5], { ms: 10, tremorPx: 0 });
    const packed = encodeSamples(one);
    // The count, a varint after version and quantum, says four million.
    const bomb = Uint8Array.of(packed[0], packed[1], 0x80, 0x80, 0x80, 0x02, ...packed.subarray(3));
    const answer = await post(sheet, [inkStep('a')], new Map([['a', bomb]])).expect(400);
    expect(answer.body).toMatchObject({ code: 'bad-samples', detail: expect.stringMatching(/count/) });
  });

  it('come back as many as fit, and at least one; a body is had alone', async () => {
    const sheet = await newSheet();
    const ids = Array.from({ length: 400 }, (_, i) => `s${i}`);
    const long = ids.map((id) => strokeEntity(id));
    for (let n = 0; n < 4; n++) {
      const rows = long.map((s) => ({ ...s, id: `${s.id}-${n}` }));
      const parts = new Map(rows.map((r) => [r.id, SAMPLES]));
      await post(sheet, [step(`big-${n}`, [putRows('strokes', ...rows)])], parts).expect(200);
    }
    const few = store.steps.after(sheet, 0, 200_000);
    expect([few.steps.map((s) => s.id), few.seq]).toEqual([['big-0'], 4]);
    expect(few.parts.size).toBe(400);
    expect(store.steps.after(sheet, 1, 1).steps.map((s) => s.id)).toEqual(['big-1']);
    expect(store.steps.find(sheet, ['big-2', 'big-3'], 1).map((s) => s.id)).toEqual(['big-2']);
    const { body } = await api().get(`/api/sheets/${sheet}/history?device=device-1`);
    expect(body.undo).toHaveLength(4);
    expect(body.labels).toHaveLength(4);
    expect(body.steps.length).toBeLessThan(4);
    const known = await api()
      .post(`/api/sheets/${sheet}/steps/known`)
      .send({ ids: ['big-1', 'nothing'] });
    expect(known.body).toEqual({ ids: ['big-1'] });
  });

  it('say that their sheet was deleted, and are kept in it', async () => {
    const sheet = await newSheet();
    await act({ kind: 'delete', sheetId: sheet }).expect(200);
    const answer = await post(sheet, [inkStep('a')], new Map([['a', SAMPLES]])).expect(200);
    expect(answer.body).toMatchObject({ deleted: true, seq: 1 });
    expect((await api().get(`/api/sheets/${sheet}`)).body.deleted).toBe(true);
  });

  it('are counted with their pictures while their sheet is deleted, and no longer once it is back', async () => {
    const [sheet, other] = [await newSheet(), await newSheet('sheet-2')];
    const [photo, shared] = [await aPicture(), await aPicture('#333')];
    expect(leftOverWords(leftOver(store.db))).toContain('on no sheet of the drawer: 2 pictures');
    const at = (hash: string, id: string) =>
      step(id, [putRows('layers', referenceEntity({ id, picture: { hash, width: 8, height: 6 } }))]);
    await post(sheet, [at(photo, 'p'), at(shared, 'q'), inkStep('a')], new Map([['a', SAMPLES]])).expect(200);
    await post(other, [at(shared, 'r'), inkStep('b')], new Map([['b', SAMPLES]])).expect(200);
    expect([leftOverWords(leftOver(store.db)), leftOver(store.db)]).toEqual([
      undefined,
      { pictures: 0, pictureBytes: 0, samples: 0, sampleBytes: 0 },
    ]);
    await act({ kind: 'delete', sheetId: sheet }).expect(200);
    expect(leftOver(store.db)).toMatchObject({ pictures: 1, samples: 1, sampleBytes: SAMPLES.length });
    expect(leftOverWords(leftOver(store.db))).toBe(
      'Kept, though on no sheet of the drawer: 1 picture (0.0 MB), the ink of 1 line (0.0 MB).',
    );
    await act({ kind: 'restore', sheetId: sheet }).expect(200);
    expect(leftOver(store.db).pictures).toBe(0);
  });

  it('tell a device what it can undo, with bodies, and give the steps after a number with samples', async () => {
    const sheet = await newSheet();
    await post(
      sheet,
      [inkStep('a'), inkStep('b')],
      new Map([
        ['a', SAMPLES],
        ['b', SAMPLES],
      ]),
    );
    const undo = step(
      'u',
      [{ op: 'set', table: 'strokes', field: 'deleted', ids: ['b'], before: [false], after: [true] }],
      {
        undoable: false,
        undoes: 'step-b',
      },
    );
    await post(sheet, [undo, step('other', [], { device: 'device-2' })]);
    const { body } = await api().get(`/api/sheets/${sheet}/history?device=device-1`);
    expect([body.undo, body.redo]).toEqual([['step-a'], ['u']]);
    expect(body.steps.map((s: Step) => s.id)).toEqual(['u', 'step-a']);
    const found = await api()
      .post(`/api/sheets/${sheet}/steps/find`)
      .send({ ids: ['step-b', 'nothing'] });
    expect(found.body.steps).toHaveLength(1);
    const later = await api()
      .get(`/api/sheets/${sheet}/steps?after=1`)
      .buffer(true)
      .parse((res, done) => {
        const chunks: Buffer[] = [];
        res.on('data', (c: Buffer) => chunks.push(c));
        res.on('end', () => done(null, Buffer.concat(chunks)));
      });
    const frame = decodeFrame(later.body as Buffer);
    expect((frame.body as { steps: Step[] }).steps.map((s) => s.seq)).toEqual([2, 3, 4]);
    expect([...frame.parts.keys()]).toEqual(['b']);
  });
});

describe('under strain', () => {
  it('parts that no step asks for are neither looked at nor kept', async () => {
    const sheet = await newSheet();
    const parts = new Map([
      ['a', SAMPLES],
      ['unasked', Uint8Array.of(1, 2, 3)],
    ]);
    await post(sheet, [inkStep('a')], parts).expect(200);
    expect(store.sheets.samples(sheet, ['~a', '~unasked']).size).toBe(1);
  });

  it('more ink than can be taken in at once is refused, and others are answered meanwhile', async () => {
    const sheet = await newSheet();
    // The most samples that a stroke may have, all of one place: a few bytes.
    const still = encodeSamples(handSamples(() => [20, 40], { ms: 131000, hz: 1000, tremorPx: 0, tilt: false }));
    const { count } = decodeSamples(still);
    const most = Math.ceil(4e6 / count) + 2;
    const ids = Array.from({ length: most }, (_, i) => `k${i}`);
    const refused = post(sheet, ids.map(inkStep), new Map(ids.map((id) => [id, still])));
    const order: string[] = [];
    const answered = refused.expect(413).then(() => order.push('ink'));
    await api().get('/api/sheets').expect(200);
    order.push('drawer');
    await answered;
    expect(order).toEqual(['drawer', 'ink']);
    expect((await api().get(`/api/sheets/${sheet}`)).body.card.seq).toBe(0);
  });

  it('a copy under an id that is taken is 409, and changes nothing', async () => {
    const sheet = await newSheet();
    await newSheet('sheet-2');
    await act({ kind: 'duplicate', sheetId: sheet, newId: 'sheet-2', name: 'Copy' }).expect(409);
    expect((await api().get('/api/sheets/sheet-2')).body.card.name).toBe('Ferry bell');
  });

  it('what is nested 150,000 deep is refused', async () => {
    const sheet = await newSheet();
    const deep = `${'['.repeat(150000)}${']'.repeat(150000)}`;
    const body = `{"id":"x","kind":"rename","sheetId":"${sheet}","name":${deep}}`;
    await api().post('/api/drawer').set('Content-Type', 'application/json').send(body).expect(400);
    const steps = `{"body":{"steps":[{"id":"x","device":"d","undoable":true,"label":"x","changes":[{"op":"set","table":"layers","field":"name","ids":["lines"],"before":[""],"after":[${deep}]}]}]},"parts":[]}`;
    const head = Buffer.from(steps);
    const frame = Buffer.alloc(8);
    frame.write('HSH1');
    frame.writeUInt32BE(head.length, 4);
    await api()
      .post(`/api/sheets/${sheet}/steps`)
      .set('Content-Type', 'application/octet-stream')
      .send(Buffer.concat([frame, head]))
      .expect(400);
  });
});

describe('overviews', () => {
  it('are kept by seq and only as PNG; an older one does not replace a newer', async () => {
    const sheet = await newSheet();
    const png = (tail: number) => Buffer.from([137, 80, 78, 71, 13, 10, 26, 10, tail]);
    const put = (seq: number, body: Buffer) =>
      api()
        .put(`/api/sheets/${sheet}/overview?seq=${seq}&widthPx=${PAPER.widthPx}&heightPx=${PAPER.heightPx}`)
        .set('Content-Type', 'image/png')
        .send(body);
    await api().get(`/api/sheets/${sheet}/overview`).expect(404);
    // One of a step that is not written would never be replaced.
    await put(5, png(5)).expect(400);
    const ids = ['a', 'b', 'c', 'd', 'e', 'f'];
    await post(sheet, ids.map(inkStep), new Map(ids.map((id) => [id, SAMPLES]))).expect(200);
    await put(5, png(5)).expect(204);
    await put(3, png(3)).expect(204);
    await put(6, Buffer.from('no')).expect(400);
    const { body } = await api().get(`/api/sheets/${sheet}/overview`).expect(200);
    expect((body as Buffer)[8]).toBe(5);
  });
});

async function aPicture(background = '#888'): Promise<string> {
  const png = await sharp({ create: { width: 8, height: 6, channels: 3, background } })
    .png()
    .toBuffer();
  const answer = await api()
    .post('/api/pictures')
    .set('Content-Type', 'application/octet-stream')
    .send(png)
    .expect(200);
  return answer.body.pictures[0].hash as string;
}
