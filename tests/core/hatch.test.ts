import * as fc from 'fast-check';
import { hatched, hatchPen, MOST_HATCHES, type HatchWays } from '../../core/stroke/hatch';
import { encodePath } from '../../core/stroke/pack-path';
import { decodePath, type StrokePath } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';

const line = (x0: number, y0: number, x1: number, y1: number, count = 20): Float64Array =>
  Float64Array.from({ length: 2 * count }, (_, i) => {
    const u = (i >> 1) / (count - 1);
    return i % 2 ? y0 + u * (y1 - y0) : x0 + u * (x1 - x0);
  });
const PLAIN: HatchWays = { apartPx: 10, lean: 0, wave: 0, crosses: false };
const endsOf = ({ nodes }: StrokePath) => [nodes[0], nodes[nodes.length - 1]].map(({ x, y }) => [x, y]);
const angleOf = (path: StrokePath) => {
  const [[x0, y0], [x1, y1]] = endsOf(path);
  return (Math.atan2(y1 - y0, x1 - x0) * 180) / Math.PI;
};

describe('strokes between two guides', () => {
  it('go from one to the other, evenly spaced, as far off the ends at both sides', () => {
    const strokes = hatched(line(0, 0, 205, 0), line(0, 40, 205, 40), PLAIN);
    expect(strokes).toHaveLength(21);
    strokes.forEach((path, k) => {
      expect(path.closed).toBe(false);
      expect(endsOf(path)).toEqual([
        [expect.closeTo(2.5 + 10 * k, 6), 0],
        [expect.closeTo(2.5 + 10 * k, 6), 40],
      ]);
    });
  });

  it('do not care which way round the second guide was drawn', () => {
    const a = line(0, 0, 200, 10);
    const packed = (b: Float64Array) =>
      hatched(a, b, PLAIN).map((path) => Buffer.from(encodePath(path)).toString('hex'));
    expect(packed(line(220, 60, 0, 50))).toEqual(packed(line(0, 50, 220, 60)));
  });

  it('follow the guides: around a ring they point to its middle', () => {
    const ring = (r: number) =>
      Float64Array.from({ length: 200 }, (_, i) => r * (i % 2 ? Math.sin((i >> 1) / 40) : Math.cos((i >> 1) / 40)));
    for (const path of hatched(ring(50), ring(90), PLAIN)) {
      const [[x0, y0], [x1, y1]] = endsOf(path);
      expect(Math.abs(x0 * y1 - y0 * x1) / Math.hypot(x0, y0) / Math.hypot(x1, y1)).toBeLessThan(0.01);
      expect(Math.hypot(x1, y1) - Math.hypot(x0, y0)).toBeCloseTo(40, 0);
    }
  });

  it('lean by the angle that is set, no nearer to each other for that, and end at the sides where they would run on', () => {
    const strokes = hatched(line(0, 0, 300, 0), line(0, 50, 300, 50), { ...PLAIN, lean: 1 });
    for (const path of strokes) expect(angleOf(path)).toBeCloseTo(45, 6);
    // Square to 45 degrees, 10 px.
    const starts = strokes.map((path) => endsOf(path)[0]).filter(([, y]) => y === 0);
    for (let k = 1; k < starts.length; k++) expect(starts[k][0] - starts[k - 1][0]).toBeCloseTo(10 * Math.SQRT2, 6);
    for (const [x] of strokes.flatMap(endsOf)) expect(x >= -1e-9 && x <= 300 + 1e-9).toBe(true);
  });

  it.each([0, 0.7, -1.5])('leaning by %p they are crossed at 50 degrees', (lean) => {
    const guides = [line(0, 0, 300, 0), line(0, 50, 300, 50)] as const;
    const own = hatched(...guides, { ...PLAIN, lean });
    const all = hatched(...guides, { ...PLAIN, lean, crosses: true });
    expect(all.slice(0, own.length)).toEqual(own);
    for (const path of all.slice(own.length)) expect(Math.abs(angleOf(path) - angleOf(own[0]))).toBeCloseTo(50, 6);
  });

  it('wander as far as they are told, no two alike, and always in the same way', () => {
    const guides = [line(0, 0, 400, 0), line(0, 80, 400, 80)] as const;
    const wavy = { ...PLAIN, wave: 1 };
    const strokes = hatched(...guides, wavy);
    expect(hatched(...guides, wavy)).toEqual(strokes);
    const off = strokes.map(({ nodes }) => nodes.map(({ x }) => x - (nodes[0].x + nodes[nodes.length - 1].x) / 2));
    expect(new Set(off.map((way) => way[2].toFixed(3))).size).toBe(strokes.length);
    const most = Math.max(...off.flat().map(Math.abs));
    expect(most).toBeGreaterThan(1.5);
    expect(most).toBeLessThan(10);
    const half = hatched(...guides, { ...PLAIN, wave: 0.5 });
    expect(half.length).toBe(strokes.length);
    expect(half[5].nodes[2].x).not.toBe(strokes[5].nodes[2].x);
  });

  it('fan out from a dot; of guides that enclose nothing there are none', () => {
    const fan = hatched(Float64Array.of(50, 100), line(0, 0, 100, 0), { ...PLAIN, apartPx: 5 });
    expect(fan.length).toBeGreaterThan(8);
    for (const path of fan) expect(endsOf(path)[0]).toEqual([50, 100]);
    expect(hatched(Float64Array.of(5, 5), Float64Array.of(9, 9), PLAIN)).toEqual([]);
    expect(hatched(line(0, 0, 90, 0), line(0, 0, 90, 0), PLAIN)).toEqual([]);
  });

  it('are refused where they would be too many, and never cut short', () => {
    const guides = [line(0, 0, 1000, 0), line(0, 50, 1000, 50)] as const;
    expect(() => hatched(...guides, { ...PLAIN, apartPx: 0.2 })).toThrow(RangeError);
    expect(hatched(...guides, { ...PLAIN, apartPx: 1001 / MOST_HATCHES }).length).toBeLessThanOrEqual(MOST_HATCHES);
  });

  it('whatever the guides, can be kept: finite, of few nodes, read again as they were written', () => {
    const guide = fc.array(fc.tuple(fc.integer({ min: -50, max: 900 }), fc.integer({ min: -50, max: 900 })), { minLength: 1, maxLength: 30 }); // prettier-ignore
    const ways = fc.record({
      apartPx: fc.double({ min: 6, max: 80, noNaN: true }),
      lean: fc.double({ min: -2, max: 2, noNaN: true }),
      wave: fc.double({ min: 0, max: 1, noNaN: true }),
      crosses: fc.boolean(),
    });
    fc.assert(
      fc.property(guide, guide, ways, (a, b, way) => {
        let strokes: StrokePath[];
        try {
          strokes = hatched(Float64Array.from(a.flat()), Float64Array.from(b.flat()), way);
        } catch (error) {
          return error instanceof RangeError && /more than/.test(error.message);
        }
        return strokes.every((path) => {
          const bytes = encodePath(path);
          const same = Buffer.from(encodePath(decodePath(bytes))).equals(Buffer.from(bytes));
          return same && path.nodes.every(({ x, y, inX, outY }) => [x, y, inX, outY].every(Number.isFinite));
        });
      }),
      { numRuns: 60 },
    );
  });
});

it('their pen tapers by parts of the stroke alone', () => {
  const pen = makePen('brush', 6, 0, true, 1);
  expect(hatchPen(pen, 0)).toMatchObject({ taperInPx: 0, taperOutPx: 0 });
  expect(hatchPen(pen, 0).taperOutPart).toBeUndefined();
  const { taperInPart, taperOutPart } = hatchPen(pen, 1);
  expect(taperInPart! + taperOutPart!).toBeCloseTo(1, 9);
  expect(taperOutPart!).toBeGreaterThan(taperInPart!);
});
