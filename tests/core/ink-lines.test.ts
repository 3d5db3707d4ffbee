import * as fc from 'fast-check';
import { InkLines } from '../../core/areas/ink-lines';
import type { InkLine } from '../../core/areas/ink-line';
import { ChangeLog } from '../../core/sheet/change-log';
import { finish } from '../../core/sheet/ink-work';
import type { InkStore } from '../../core/sheet/ink-store';
import type { Stroke } from '../../core/sheet/entities';
import type { Write } from '../../core/sheet/steps';
import { encodePath } from '../../core/stroke/pack-path';
import { plainNode } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';
import { openedInk, strokeEntity } from '../measures/sheets';

const pen = makePen('fineliner', 4, 0, false, 1);
const bytesOf = (x: number): Uint8Array =>
  encodePath({ closed: false, nodes: [plainNode(x, 20, 'corner'), plainNode(x + 30, 60, 'corner')] });
const strokeOf = (n: number, more: Partial<Stroke> = {}): Stroke =>
  strokeEntity(`s${n}`, { pen, order: `a${String(n).padStart(4, '0')}V`, layerId: n % 3 ? 'lines' : 'other', ...more });

function sheetOf(count: number): InkStore {
  const strokes = Array.from({ length: count }, (_, n) => strokeOf(n));
  return openedInk(strokes, [], new Map(strokes.map(({ id }, n) => [id, bytesOf(20 * n)])));
}

const described = (lines: readonly InkLine[]): string[] => lines.map(({ id, layerId, data }) => `${id} ${layerId} ${data.join()}`).sort(); // prettier-ignore
const all = (lines: InkLines, ink: InkStore, layers: readonly string[]): InkLine[] => finish(lines.of(ink, layers));

const FIELDS: Record<string, readonly unknown[]> = {
  matrix: [[1, 0, 0, 1, 7, 3], [1, 0, 0, 1, 0, 0], [2, 0, 0, 2, 0, 0]], // prettier-ignore
  deleted: [true, false],
  layerId: ['lines', 'other', 'third'],
  pen: [makePen('fineliner', 9, 0, false, 1), pen, { ...pen, fades: true }],
  colour: ['#ff0000'],
};

describe('lines of a sheet', () => {
  it('followed from edit to edit, are those that are made at once; those that stayed are the same objects', () => {
    const edit = fc.tuple(fc.nat(14), fc.constantFrom(...Object.keys(FIELDS), 'insert'), fc.nat(2));
    fc.assert(
      fc.property(fc.array(edit, { minLength: 1, maxLength: 20 }), fc.boolean(), (edits, isBoth) => {
        const ink = sheetOf(12);
        const kept = new InkLines();
        const layers = isBoth ? ['lines', 'other'] : ['lines'];
        let before = all(kept, ink, layers);
        edits.forEach(([n, field, k], turn) => {
          const write: Write =
            field === 'insert'
              ? { kind: 'insert', table: 'strokes', row: strokeOf(100 + turn, { order: `b${turn}V` }) }
              : {
                  kind: 'assign',
                  table: 'strokes',
                  id: `s${n}`,
                  field,
                  value: FIELDS[field][k % FIELDS[field].length],
                };
          ink.follow([write], new Map([[`s${100 + turn}`, bytesOf(11 * turn)]]));
          const now = all(kept, ink, layers);
          expect(described(now)).toEqual(described(all(new InkLines(), ink, layers)));
          const changed = field === 'insert' ? `s${100 + turn}` : `s${n}`;
          const stayed = before.filter(({ id }) => id !== changed);
          expect(stayed.every((line) => now.includes(line))).toBe(true);
          before = now;
        });
      }),
      { numRuns: 80 },
    );
  });

  it('a label that says something else has other lines', () => {
    const label = { text: 'Tern', font: 'f', align: 'start', leading: 1.2 } as unknown as Stroke['label'];
    const stroke = strokeOf(1, { label });
    const ink = openedInk([stroke], [], new Map([['s1', bytesOf(0)]]));
    const kept = new InkLines();
    const [before] = all(kept, ink, ['lines']);
    const value = { ...label, text: 'Tide', shape: 'other' };
    ink.follow([{ kind: 'assign', table: 'strokes', id: 's1', field: 'label', value }], new Map([['other', bytesOf(40)]])); // prettier-ignore
    const [after] = all(kept, ink, ['lines']);
    expect(after.data[0] - before.data[0]).toBeCloseTo(40, 3);
  });

  it('are all looked at anew after more changes than are remembered, and for other layers', () => {
    const ink = sheetOf(6);
    const kept = new InkLines();
    all(kept, ink, ['lines']);
    for (let k = 0; k < 9000; k++)
      ink.follow([{ kind: 'assign', table: 'strokes', id: `s${k % 3}`, field: 'matrix', value: [1, 0, 0, 1, k, 0] }], new Map()); // prettier-ignore
    expect(ink.log!.since(0)).toBeUndefined();
    expect(described(all(kept, ink, ['lines']))).toEqual(described(all(new InkLines(), ink, ['lines'])));
    expect(described(all(kept, ink, ['other']))).toEqual(described(all(new InkLines(), ink, ['other'])));
  });
});

describe('the log of changes', () => {
  it('tells what changed after a revision as long as it is remembered', () => {
    const log = new ChangeLog(0);
    log.note('a', 1);
    log.note('b', 2);
    log.note('a', 3);
    expect([...log.since(0)!].sort()).toEqual(['a', 'b']);
    expect([...log.since(2)!]).toEqual(['a']);
    expect(log.since(3)!.size).toBe(0);
    for (let n = 4; n < 9000; n++) log.note(`n${n}`, n);
    expect(log.since(3)).toBeUndefined();
    expect([...log.since(8998)!]).toEqual(['n8999']);
  });
});
