import request from 'supertest';
import { decodeFrame, type Parts } from '../../contract/frame';
import { unpackInk } from '../../contract/ink-frame';
import type { Label, Stroke, TextLayer } from '../../core/sheet/entities';
import { assign, putRows, type Change } from '../../core/sheet/steps';
import { encodePath } from '../../core/stroke/pack-path';
import { joinedContours, laidLabel } from '../../core/text/label-shape';
import { LETTERS_PEN } from '../../core/text/label-pens';
import { createApp } from '../../server/app';
import type { Store } from '../../server/store';
import { lettersIn } from '../measures/label-fonts';
import { setUpStore } from '../measures/server-store';
import { listed, strokeEntity } from '../measures/sheets';

let store: Store;
let n = 0;
setUpStore((opened) => (store = opened));

const send = (changes: Change[], parts: Parts = new Map()) =>
  store.steps.append('s', [{ id: `step${n++}`, device: 'd1', undoable: true, label: 'x', changes }], parts, 2000)
    .results[0];
const layer: TextLayer = { id: 'text', kind: 'text', deleted: false, name: 'Tern', order: 'a5', visible: true, locked: false, opacity: 1 }; // prettier-ignore
const words = (text: string) => ({ text, font: 'hand' as const, align: 'left' as const, spacing: 1.2 });
const shapeOf = (text: string) => laidLabel(lettersIn('hand'), words(text));
const bytesOf = (text: string) => encodePath(joinedContours(shapeOf(text).contours.flat())!);
const labelOf = (text: string, more: Partial<Label> = {}): Label => ({
  ...words(text),
  box: shapeOf(text).box,
  ...more,
});
const letters = (more: Partial<Stroke> = {}) =>
  strokeEntity('letters', { layerId: 'text', pen: LETTERS_PEN, label: labelOf('Tern'), ...more });

/** A text that said "Tern", and says "Low water" now. */
function write(): void {
  expect(send([putRows('layers', layer), putRows('strokes', letters())], new Map([['letters', bytesOf('Tern')]]))).toHaveProperty('seq'); // prettier-ignore
  const change = assign('strokes', letters() as Stroke, 'label', labelOf('Low water', { shape: 'other' }));
  expect(send([change], new Map([['other', bytesOf('Low water')]]))).toHaveProperty('seq');
}
const strokes = async (sheet = 's') => listed(unpackInk(await store.sheets.ink(sheet, 0)).strokes);

describe('a text on the server', () => {
  it('says what it says now, lies where that lies, and has both its shapes', async () => {
    write();
    const [one] = await strokes();
    expect(one.label).toEqual(labelOf('Low water', { shape: 'other' }));
    const box = unpackInk(await store.sheets.ink('s', 0)).strokes.ownBoxAt(0);
    const [x0, y0, x1, y1] = labelOf('Low water').box;
    // Letters stay within their lines; the box has some room around.
    expect([box.x0 > x0 - 40, box.y0 > y0 - 40, box.x1 < x1 + 40, box.y1 < y1 + 40, box.x1 - box.x0 > 0.8 * (x1 - x0)]).toEqual(Array(5).fill(true)); // prettier-ignore
    const samples = store.sheets.samples('s', ['letters', '~letters', 'other', '~nothing']);
    expect([...samples].map(([id, bytes]) => [id, bytes.length])).toEqual([
      ['letters', bytesOf('Low water').length],
      ['~letters', bytesOf('Tern').length],
      ['other', bytesOf('Low water').length],
    ]);
  });

  it('comes with what it brought to who follows its steps', () => {
    write();
    const { steps, parts } = store.steps.after('s', 0, 1e6);
    expect(steps).toHaveLength(2);
    expect([...parts.keys()].sort()).toEqual(['letters', 'other']);
  });

  it('is copied with its sheet', async () => {
    write();
    store.sheets.act({ id: 'copy', kind: 'duplicate', sheetId: 's', newId: 't', name: 'Copy' }, 3000);
    expect((await strokes('t'))[0].label?.text).toBe('Low water');
    expect(store.sheets.samples('t', ['letters']).get('letters')!.length).toBe(bytesOf('Low water').length);
    expect(store.sheets.head('t')!.layers.find(({ id }) => id === 'text')?.kind).toBe('text');
  });

  it('whose letters do not come is refused, and so is ink on it, and letters on ink: nothing is written', async () => {
    write();
    const before = await strokes();
    const now = before[0];
    const refused = (changes: Change[], parts?: Parts) => (send(changes, parts) as { refused?: { code: string } }).refused?.code; // prettier-ignore
    expect(refused([assign('strokes', now, 'label', labelOf('Tide', { shape: 'lost' }))])).toBe('missing-part');
    const bytes: Parts = new Map([['x', bytesOf('Tide')]]);
    expect(refused([putRows('strokes', strokeEntity('x', { layerId: 'text' }))], bytes)).toBe('not-inkable');
    expect(refused([putRows('strokes', strokeEntity('x', { label: labelOf('Tide') }))], bytes)).toBe('not-inkable');
    expect(await strokes()).toEqual(before);
  });

  it('is asked for by names that are names', async () => {
    write();
    const app = createApp(store);
    const ask = (ids: string[]) =>
      request(app).post('/api/sheets/s/samples').set('Host', 'localhost').send({ ids }).buffer(true).parse((res, done) => {
        const chunks: Buffer[] = [];
        res.on('data', (chunk: Buffer) => chunks.push(chunk));
        res.on('end', () => done(null, Buffer.concat(chunks)));
      }); // prettier-ignore
    const answer = await ask(['~letters', 'letters']);
    expect([...decodeFrame(new Uint8Array(answer.body as Buffer)).parts.keys()].sort()).toEqual([
      'letters',
      '~letters',
    ]);
    for (const bad of ['~', '~~letters', 'a b', `~${'x'.repeat(41)}`]) expect((await ask([bad])).status).toBe(400);
  });
});
