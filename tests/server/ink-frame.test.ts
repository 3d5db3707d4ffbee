import * as fc from 'fast-check';
import { encodeFrame } from '../../contract/frame';
import { packInk, readInk, unpackInk, type StrokeRow } from '../../contract/ink-frame';
import type { Erasure } from '../../core/sheet/entities';
import { strokeEntity } from '../measures/sheets';

const stroke = strokeEntity('a');
const row = (id: string, more: Partial<StrokeRow> = {}): StrokeRow => ({
  id,
  layerId: 'lines',
  order: 'a0',
  colour: '#000000',
  penJson: JSON.stringify(stroke.pen),
  matrixJson: '[1,0,0,1,0,0]',
  engine: 3,
  deleted: 0,
  samples: Uint8Array.of(1, 2, 3),
  ...more,
});
const erasure = { id: 'e', deleted: false, layerId: 'lines', pen: stroke.pen, strokeIds: ['a'], engine: 3 } as Erasure;

describe('the ink of a sheet on the wire', () => {
  it('comes out as it went in, whatever it is', () => {
    const any: fc.Arbitrary<StrokeRow> = fc.record({
      id: fc.stringMatching(/^[A-Za-z0-9_-]{1,39}$/).map((v) => `s${v}`),
      layerId: fc.constantFrom('lines', 'rough', 'x'),
      order: fc.stringMatching(/^[A-Za-z0-9]{1,30}$/),
      colour: fc.constantFrom('#000000', '#c2185b'),
      penJson: fc.constantFrom(JSON.stringify(stroke.pen), JSON.stringify({ ...stroke.pen, sizePx: 7 })),
      matrixJson: fc.constantFrom('[1,0,0,1,0,0]', '[2,0,0,2,-5.25,1e6]'),
      engine: fc.integer({ min: 1, max: 3 }),
      deleted: fc.constantFrom(0, 1),
      samples: fc.option(fc.uint8Array({ maxLength: 20 })),
    });
    fc.assert(
      fc.property(fc.uniqueArray(any, { selector: (r) => r.id, maxLength: 40 }), fc.nat(), (rows, seq) => {
        const { body, parts } = packInk(seq, rows, [{ erasure, samples: Uint8Array.of(9) }]);
        // As it arrives: at an odd place of a larger memory.
        const frame = encodeFrame(body, parts);
        const moved = new Uint8Array(frame.length + 1).subarray(1);
        moved.set(frame);
        const read = readInk(moved);
        expect(read.seq).toBe(seq);
        expect(read.erasures).toEqual([erasure]);
        expect(read.strokes).toEqual(
          rows.map(({ penJson, matrixJson, samples: _, deleted, ...rest }) => ({
            ...rest,
            deleted: deleted === 1,
            pen: JSON.parse(penJson) as unknown,
            matrix: JSON.parse(matrixJson) as unknown,
          })),
        );
        const wanted = rows.flatMap((r) => (r.samples ? [[r.id, [...r.samples]]] : []));
        expect([...read.samples].map(([id, bytes]) => [id, [...bytes]])).toEqual([...wanted, ['e', [9]]]);
      }),
      { numRuns: 150 },
    );
  });

  it('names what many strokes share once: a pen costs nothing a second time', () => {
    const size = (count: number) => {
      const rows = Array.from({ length: count }, (_, i) => row(`s${String(i).padStart(5, '0')}`));
      const { body, parts } = packInk(1, rows, []);
      return encodeFrame(body, parts).length;
    };
    // 6 letters and a line end, 2 and a line end of the order, 24 of the row, 3 of samples.
    expect(size(2000) - size(1000)).toBeLessThan(1000 * 38);
    const { strokes } = unpackInk(packInk(1, [row('a'), row('b')], []));
    expect(strokes[0].pen).toBe(strokes[1].pen);
  });

  it('may be read without samples, and with none at all', () => {
    const packed = packInk(4, [row('a')], [{ erasure, samples: Uint8Array.of(9) }]);
    expect(unpackInk(packed, false).samples.size).toBe(0);
    expect(unpackInk(packInk(0, [], []))).toEqual({ seq: 0, strokes: [], erasures: [], samples: new Map() });
  });

  it.each([
    ['a row too few', 'rows', (b: Uint8Array) => b.subarray(24)],
    ['half a row', 'rows', (b: Uint8Array) => b.subarray(0, 30)],
    ['an id too many', 'ids', (b: Uint8Array) => Uint8Array.of(...b, 10, 65)],
    ['samples cut short', 'samples', (b: Uint8Array) => b.subarray(1)],
    ['a pen that is not listed', 'rows', (b: Uint8Array) => b.map((v, i) => (i === 8 ? 200 : v))],
  ] as const)('is refused with %s', (_what, name, change) => {
    const { body, parts } = packInk(1, [row('a'), row('b')], []);
    parts.set(name, change(parts.get(name)!));
    expect(() => unpackInk({ body, parts })).toThrow(RangeError);
  });
});
