import { encodePath } from '../../core/stroke/pack-path';
import { plainNode } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';
import { InkStore } from '../../core/sheet/ink-store';
import { mmToPx } from '../../core/sheet/paper';
import { noLeaks } from '../../ui/screens/sheet/stops/check/no-leaks';
import { answerCheck, type CheckWish } from '../../workers/checking';
import { TileMaker } from '../../workers/tile-maker';
import { strokeEntity } from '../measures/sheets';

const PPI = 300;
const away = () => Promise.reject(new Error('nothing is asked for'));

/** A sheet with two squares, each open by so many px between the edges of its line. */
function squares(...gaps: number[]): TileMaker {
  const maker = new TileMaker({ samples: away, lowTiles: away });
  maker.ink = new InkStore();
  const pen = makePen('fineliner', 4, 0, false, 1);
  gaps.forEach((gap, n) => {
    const [x, y, side] = [100 + 600 * n, 100, 400];
    const middle = x + side / 2;
    const half = (gap + pen.sizePx) / 2;
    const way = [
      [middle + half, y],
      [x + side, y],
      [x + side, y + side],
      [x, y + side],
      [x, y],
      [middle - half, y],
    ];
    const bytes = encodePath({ closed: false, nodes: way.map(([px, py]) => plainNode(px, py, 'corner')) });
    const row = strokeEntity(`s${n}`, { pen, order: `a${n}` });
    maker.ink.follow([{ kind: 'insert', table: 'strokes', row }], new Map([[row.id, bytes]]));
  });
  return maker;
}
const wish = (gapPx: number): CheckWish => ({ layerIds: ['lines'], gapPx, thinPx: 0.5, widePx: 59, classesPx: [] });

describe('where there is no leak', () => {
  it('gaps that are wider are counted on their own, up to 5 mm', async () => {
    const wide = mmToPx(3.2, PPI);
    const found = await answerCheck(squares(wide, -4), wish(mmToPx(0.7, PPI)));
    expect(found).toMatchObject({ leaks: [], wider: { count: 1 } });
    expect(found!.wider!.mostPx).toBeCloseTo(wide, 0);
    // With the dial there it is a leak as any.
    const asLeak = await answerCheck(squares(wide, -4), wish(Math.ceil(found!.wider!.mostPx)));
    expect([asLeak!.leaks.length, asLeak!.wider]).toEqual([1, undefined]);
    expect(await answerCheck(squares(-4, -4), wish(8))).toMatchObject({ leaks: [], wider: { count: 0 } });
  });

  it('what is said holds up to a width, which it names', () => {
    expect(noLeaks(8, 59, PPI, { count: 3, mostPx: 38 })).toBe('No gap up to 0.7 mm. Wider ones: 3.');
    expect(noLeaks(8, 59, PPI, { count: 0, mostPx: 0 })).toBe('No gap up to 5 mm.');
    expect(noLeaks(70, 59, PPI, undefined)).toBe('No gap up to 5.9 mm.');
  });
});
