import * as fc from 'fast-check';
import { packCopiedLines, unpackCopiedLines, type CopiedLines } from '../../contract/copied-lines';
import { decodeFrame, encodeFrame } from '../../contract/frame';
import { finish } from '../../core/sheet/ink-work';
import { copiesOf } from '../../core/sheet/picking';
import { makePen } from '../../core/stroke/pen';
import { handSamples } from '../measures/strokes';
import { TestSheet } from '../measures/sheets';

/** Three lines: one erased, one of another pen, one that turns. */
function copied(): CopiedLines {
  const sheet = new TestSheet();
  const line = (y: number) => handSamples((u) => [20 + 200 * u, y], { ms: 300 });
  const ids = [
    sheet.ink1(line(40), makePen('fineliner', 9, 30, false, 1)),
    sheet.ink1(line(80), makePen('pencil', 12, 0, true, 1)),
    sheet.ink1(line(120), makePen('marker', 20, 60, true, 1)),
  ];
  sheet.erase(
    handSamples((u) => [100, 20 + 40 * u], { ms: 200 }),
    14,
    false,
  );
  const copies = finish(copiesOf(sheet.ink, ids));
  expect(copies.map(({ erasures }) => erasures.length)).toEqual([1, 0, 0]);
  return { id: 'c1', sheetId: 'kelp', at: 5, box: { x0: 15, y0: 30, x1: 225, y1: 130 }, copies };
}

describe('copied lines on a clipboard', () => {
  it('come out as they went in', () => {
    const lines = copied();
    const plain = (of: CopiedLines) => JSON.parse(JSON.stringify(of)) as unknown;
    expect(plain(unpackCopiedLines(packCopiedLines(lines)))).toEqual(plain(lines));
  });

  it('are refused, and nothing else happens, whatever was changed of them', () => {
    const bytes = packCopiedLines(copied());
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(bytes.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }),
        (changes) => {
          const changed = bytes.slice();
          for (const [at, value] of changes) changed[at] = value;
          try {
            expect(unpackCopiedLines(changed).copies).toHaveLength(3);
          } catch (error) {
            expect(error).toBeInstanceOf(RangeError);
          }
        },
      ),
      { numRuns: 1500 },
    );
  });

  it.each([
    ['no lines', (body: Body) => (body.strokes = [])],
    ['a line that has no samples', (body: Body) => (body.strokes[0].stroke.id = 'other')],
    ['formulas of a later time', (body: Body) => (body.strokes[0].stroke.engine = 99)],
    ['an eraser that is not there', (body: Body) => (body.erasures = [])],
    ['a colour that is none', (body: Body) => (body.strokes[1].stroke.colour = 'url(x)')],
    ['a matrix without end', (body: Body) => (body.strokes[0].stroke.matrix = [1e300, 0, 0, 1e300, 0, 0])],
    ['what no line has', (body: Body) => (body.strokes[0].stroke.script = 'x')],
  ])('are refused with %s', (_what, spoil) => {
    const { body, parts } = decodeFrame(packCopiedLines(copied()));
    spoil(body as Body);
    expect(() => unpackCopiedLines(encodeFrame(body, parts))).toThrow(RangeError);
  });
});

interface Body {
  strokes: { stroke: Record<string, unknown> }[];
  erasures: unknown[];
}
