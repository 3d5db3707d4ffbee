import * as fc from 'fast-check';
import { encodeFrame } from '../../contract/frame';
import { packInk, readInk, unpackInk } from '../../contract/ink-frame';
import type { Erasure } from '../../core/sheet/entities';
import { StrokePacker, type StrokeRow } from '../../core/sheet/packed-strokes';
import { listed, strokeEntity } from '../measures/sheets';

const stroke = strokeEntity('a');
const BOX = { x0: 0.5, y0: -2, x1: 100.25, y1: 40 };
const row = (id: string, more: Partial<StrokeRow> = {}): StrokeRow => ({
  id,
  layerId: 'lines',
  order: 'a0',
  colour: '#000000',
  penJson: JSON.stringify(stroke.pen),
  matrixJson: '[1,0,0,1,0,0]',
  engine: 3,
  standsJson: null,
  groupJson: null,
  pourJson: null,
  tiedJson: null,
  labelJson: null,
  deleted: 0,
  box: BOX,
  ...more,
});
function columnsOf(rows: readonly StrokeRow[]) {
  const packer = new StrokePacker();
  for (const one of rows) packer.add(one);
  return packer.columns();
}
const erasure = { id: 'e', deleted: false, layerId: 'lines', pen: stroke.pen, strokeIds: ['a'], engine: 3 } as Erasure;
const kept = { erasure, bytes: Uint8Array.of(9), box: BOX };

describe('the ink of a sheet on the wire', () => {
  it('comes out as it went in, whatever it is, and is found by its ids', () => {
    const half = fc.integer({ min: -2000, max: 2000 }).map((v) => v / 2);
    const any: fc.Arbitrary<StrokeRow> = fc.record({
      id: fc.stringMatching(/^[A-Za-z0-9_-]{1,39}$/).map((v) => `s${v}`),
      layerId: fc.constantFrom('lines', 'rough', 'x'),
      order: fc.stringMatching(/^[A-Za-z0-9]{1,30}$/),
      colour: fc.constantFrom('#000000', '#c2185b'),
      penJson: fc.constantFrom(JSON.stringify(stroke.pen), JSON.stringify({ ...stroke.pen, sizePx: 7 })),
      matrixJson: fc.constantFrom('[1,0,0,1,0,0]', '[2,0,0,2,-5.25,1e6]'),
      engine: fc.integer({ min: 1, max: 3 }),
      groupJson: fc.constantFrom(null, '"g1"', '"g2"'),
      pourJson: fc.constantFrom(null, '{"seeds":[[1,2.5]],"gapPx":4,"against":["lines"]}'),
      tiedJson: fc.constantFrom(null, 'true', 'false'),
      labelJson: fc.constantFrom(null, '{"text":"Tern","font":"hand","align":"left","spacing":1.2,"box":[0,-9,40,3]}'),
      standsJson: fc.constantFrom(null, '{"samples":"a","of":"b","from":0,"to":7.125}'),
      deleted: fc.constantFrom(0, 1),
      box: fc.record({ x0: half, y0: half, x1: half, y1: half }),
    });
    fc.assert(
      fc.property(fc.uniqueArray(any, { selector: (r) => r.id, maxLength: 40 }), fc.nat(), (rows, seq) => {
        const { body, parts } = packInk(seq, columnsOf(rows), [kept], [[3, 'lines', 0, 1, 2, 3]]);
        // As it arrives: at an odd place of a larger memory.
        const frame = encodeFrame(body, parts);
        const moved = new Uint8Array(frame.length + 1).subarray(1);
        moved.set(frame);
        const read = readInk(moved);
        expect([read.seq, read.damage]).toEqual([seq, [[3, 'lines', 0, 1, 2, 3]]]);
        expect(read.erasures.map((e) => ({ ...e, bytes: [...e.bytes!] }))).toEqual([{ ...kept, bytes: [9] }]);
        expect(listed(read.strokes)).toEqual(
          rows.map(
            ({
              penJson,
              matrixJson,
              standsJson,
              groupJson,
              pourJson,
              tiedJson,
              labelJson,
              box: _,
              deleted,
              ...rest
            }) => ({
              ...rest,
              deleted: deleted === 1,
              pen: JSON.parse(penJson) as unknown,
              matrix: JSON.parse(matrixJson) as unknown,
              ...(standsJson === null ? {} : { stands: JSON.parse(standsJson) as unknown }),
              ...(groupJson === null ? {} : { group: JSON.parse(groupJson) as unknown }),
              // What is no pour is not tied.
              ...(pourJson === null ? {} : { pour: JSON.parse(pourJson) as unknown, tied: tiedJson === 'true' }),
              ...(labelJson === null ? {} : { label: JSON.parse(labelJson) as unknown }),
            }),
          ),
        );
        rows.forEach((r, i) => {
          expect(read.strokes.indexOf(r.id)).toBe(i);
          expect(read.strokes.ownBoxAt(i)).toEqual(r.box);
        });
        expect(
          ['-', '', 'other', `${rows.map(({ id }) => id).join('')}x`].map((id) => read.strokes.indexOf(id)),
        ).toEqual([-1, -1, -1, -1]);
      }),
      { numRuns: 150 },
    );
  });

  it('names what many strokes share once: a pen costs nothing a second time', () => {
    const size = (count: number) => {
      const rows = Array.from({ length: count }, (_, i) => row(`s${String(i).padStart(5, '0')}`));
      const { body, parts } = packInk(1, columnsOf(rows), []);
      return encodeFrame(body, parts).length;
    };
    // 6 letters and a line end, 2 and a line end of the order, 40 of the row.
    expect(size(2000) - size(1000)).toBeLessThan(1000 * 55);
    const { strokes } = unpackInk(packInk(1, columnsOf([row('a'), row('b')]), []));
    expect(strokes.strokeAt(0).pen).toBe(strokes.strokeAt(1).pen);
  });

  it('may hold nothing at all, and an erasure without samples', () => {
    const { strokes, ...rest } = unpackInk(packInk(0, columnsOf([]), [{ erasure, box: BOX }]));
    expect(strokes.count).toBe(0);
    expect(rest).toEqual({ seq: 0, erasures: [{ erasure, bytes: undefined, box: BOX }], damage: [] });
  });

  it.each([
    ['a row too few', 'rows', (b: Uint8Array) => b.subarray(36)],
    ['half a row', 'rows', (b: Uint8Array) => b.subarray(0, 40)],
    ['an id too many', 'ids', (b: Uint8Array) => Uint8Array.of(...b, 10, 65)],
    ['an order too few', 'orders', (b: Uint8Array) => b.subarray(0, 2)],
    ['a pen that is not listed', 'rows', (b: Uint8Array) => b.map((v, i) => (i === 8 ? 200 : v))],
  ] as const)('is refused with %s', (_what, name, change) => {
    const { body, parts } = packInk(1, columnsOf([row('a'), row('b')]), []);
    parts.set(name, change(parts.get(name)!));
    expect(() => unpackInk({ body, parts })).toThrow(RangeError);
  });

  it('ranks what comes later among its rows: layer by layer, by order, then by id', () => {
    const { strokes } = unpackInk(
      packInk(
        1,
        columnsOf([
          row('a', { order: 'a1' }),
          row('c', { order: 'a1' }),
          row('b', { order: 'a3' }),
          row('z', { layerId: 'rough' }),
        ]),
        [],
      ),
    );
    const rank = (layerId: string, order: string, id: string) => strokes.rankOf({ layerId, order, id });
    expect([
      rank('lines', 'a1', 'b'),
      rank('lines', 'a1', 'c'),
      rank('lines', 'a2', 'x'),
      rank('lines', 'a4', 'x'),
    ]).toEqual([0.5, 1, 1.5, 2.5]);
    expect([rank('alone', 'a9', 'x'), rank('rough', 'a9', 'x')]).toEqual([-0.5, 3.5]);
  });
});
