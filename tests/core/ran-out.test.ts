import { InkLines } from '../../core/areas/ink-lines';
import { AreaFinder } from '../../core/fill/area-finder';
import { ranOut, ranOutWithin, type Flooded, type RanOut } from '../../core/fill/ran-out';
import type { Place } from '../../core/fill/shape-inside';
import { ringsSize } from '../../core/geometry/rings';
import { finish } from '../../core/sheet/ink-work';
import { encodePath } from '../../core/stroke/pack-path';
import { makePen } from '../../core/stroke/pen';
import { putRows } from '../../core/sheet/steps';
import { gappedDrawing, type KnownGap } from '../measures/gapped-drawing';
import { polyline, PouredSheet } from '../measures/poured';
import { strokeEntity } from '../measures/sheets';

const SIDE = 6;
const CLOSED_PX = 0.8;
/** As on paper of 300 ppi: 5 mm. */
const WIDE_PX = 59;
const pen = makePen('fineliner', 4, 0, false, 1);

const floodedAt = (sheet: PouredSheet, ...at: Place): Flooded => {
  const { shape, reachesEdge } = sheet.target(...at)!;
  return { at, size: shape.size, reachesEdge };
};

/** Shapes of which some are open by known gaps, all of them wider than those that are closed. */
class OpenSheet extends PouredSheet {
  readonly known: KnownGap[];
  private readonly wide = new AreaFinder(new InkLines());

  constructor(hatches: number, seed: number) {
    super(20 + 200 * SIDE, CLOSED_PX);
    const { lines, gaps } = gappedDrawing(SIDE, SIDE, seed, hatches);
    this.known = gaps;
    for (const { data, count } of lines)
      this.path(polyline(false, ...Array.from({ length: 2 * count }, (_, i) => data[3 * (i >> 1) + (i & 1)])), pen);
  }

  out(x: number, y: number): RanOut | undefined {
    const finders = { near: this.finder, wide: this.wide };
    return finish(ranOut(this.ink, finders, this.paper, this.bounds, 'flats', floodedAt(this, x, y), WIDE_PX));
  }

  outWithin(...loop: number[]): RanOut[] {
    const closed = this.within(...loop).map(({ rings }) => rings);
    const places = Float64Array.from(loop);
    return finish(
      ranOutWithin(this.ink, { wide: this.wide }, this.paper, this.bounds, 'flats', places, closed, WIDE_PX),
    );
  }

  /** Draws what closes gaps. */
  bridge({ leaks }: RanOut): void {
    for (const [n, { id, bridge }] of leaks.entries()) {
      const row = strokeEntity(`bridge-${id}-${n}`, { order: `b${id}${n}V`, pen: { ...pen, sizePx: bridge.sizePx } });
      this.put([putRows('strokes', row)], [[row.id, encodePath(bridge.path)]]);
    }
  }
}

const middleOf = (k: number): [number, number] => [110 + 200 * (k % SIDE), 110 + 200 * Math.floor(k / SIDE)];

describe('colour that runs out of a shape', () => {
  it.each([
    [0, 7],
    [12, 8],
    [40, 9],
  ])(
    'is told with the gaps that were left on purpose, among %d hatches a shape; what is closed or lies around is poured without a word',
    (hatches, seed) => {
      const sheet = new OpenSheet(hatches, seed);
      let [open, right] = [0, 0];
      for (let k = 0; k < SIDE * SIDE; k++) {
        const [cx, cy] = middleOf(k);
        const own = sheet.known.filter(({ x, y }) => Math.hypot(x - cx, y - cy) < 100);
        const out = sheet.out(cx, cy);
        if (!own.length) expect(out).toBeUndefined();
        else {
          open++;
          const isOwn = ({ x, y }: { x: number; y: number }) => own.some((gap) => Math.hypot(gap.x - x, gap.y - y) < 8);
          right += Number(out !== undefined && out.leaks.length === own.length && out.leaks.every(isOwn));
        }
      }
      expect(open).toBeGreaterThan(20);
      expect(right / open).toBeGreaterThan(0.9);
      // Between the shapes, and beside the strokes that lie about there.
      let asked = 0;
      for (let k = 0; k < SIDE * SIDE; k++) {
        const [cx, cy] = middleOf(k);
        asked += Number(sheet.out(cx + 98, cy + 98) !== undefined);
      }
      expect(asked).toBe(0);
    },
  );

  it('is held once its gaps are bridged: what is poured then is the shape that was shown', () => {
    const sheet = new OpenSheet(12, 3);
    let bridged = 0;
    for (let k = 0; k < SIDE * SIDE; k++) {
      const at = middleOf(k);
      const out = sheet.out(...at);
      if (!out) continue;
      sheet.bridge(out);
      const target = sheet.target(...at)!;
      bridged++;
      expect(target.reachesEdge).toBe(false);
      expect(target.shape.size / out.target.shape.size).toBeCloseTo(1, 1);
      expect(sheet.out(...at)).toBeUndefined();
    }
    expect(bridged).toBeGreaterThan(15);
  });

  it('of one large shape into another is told, too, and of a large one that is whole nothing', () => {
    const sheet = new PouredSheet(1000);
    const box = (x0: number, y0: number, x1: number, y1: number) => [x0, y0, x1, y0, x1, y1, x0, y1];
    sheet.path(polyline(true, ...box(40, 40, 960, 960)), pen);
    // A box with a door of 30 px.
    sheet.path(polyline(false, 215, 100, 300, 100, 300, 300, 100, 300, 100, 100, 185, 100), pen);
    const finders = { near: sheet.finder, wide: new AreaFinder(new InkLines()) };
    const out = (...at: [number, number]) =>
      finish(ranOut(sheet.ink, finders, sheet.paper, sheet.bounds, 'flats', floodedAt(sheet, ...at), 60));
    const inside = out(200, 200)!;
    expect(inside.leaks).toHaveLength(1);
    expect(inside.leaks[0].gapPx).toBeCloseTo(26, 0);
    expect([inside.leaks[0].x, inside.leaks[0].y]).toEqual([expect.closeTo(200, 0), expect.closeTo(100, 0)]);
    expect(ringsSize(inside.target.rings)).toBeCloseTo(200 * 200, -3);
    expect(out(700, 700)).toBeUndefined();
  });

  it('in a loop: those that are open, but none that is poured already', () => {
    const sheet = new OpenSheet(0, 7);
    const open = Array.from({ length: SIDE * SIDE }, (_, k) => k).filter((k) => {
      const [cx, cy] = middleOf(k);
      return sheet.known.some(({ x, y }) => Math.hypot(x - cx, y - cy) < 100);
    });
    const end = 20 + 200 * SIDE;
    const outs = sheet.outWithin(5, 5, end - 5, 5, end - 5, end - 5, 5, end - 5);
    const isFound = (k: number) =>
      outs.some(({ target: { box } }) => {
        const [cx, cy] = middleOf(k);
        return Math.hypot((box.x0 + box.x1) / 2 - cx, (box.y0 + box.y1) / 2 - cy) < 30;
      });
    expect(open.filter(isFound).length / open.length).toBeGreaterThan(0.9);
    expect(Array.from({ length: SIDE * SIDE }, (_, k) => k).filter((k) => !open.includes(k) && isFound(k))).toEqual([]);
  });
});
