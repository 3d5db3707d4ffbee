import * as fc from 'fast-check';
import { linesNear, nearestOn } from '../../core/sheet/lines-near';
import { finish } from '../../core/sheet/ink-work';
import { makePen } from '../../core/stroke/pen';
import { spineFrom } from '../../core/stroke/spine';
import { withMetEnds } from '../../core/stroke/met-ends';
import { handSamples } from '../measures/strokes';
import { TestSheet } from '../measures/sheets';

const line = (x0: number, y0: number, x1: number, y1: number) =>
  handSamples((u) => [x0 + (x1 - x0) * u, y0 + (y1 - y0) * u], { ms: 400, tremorPx: 0 });
const even = (size: number) => makePen('fineliner', size, 0, false, 1);

describe('lines near a place', () => {
  const near = (sheet: TestSheet, x: number, y: number, reach: number) =>
    finish(linesNear(sheet.ink, 'lines', x, y, reach));

  it('are those whose edge is within reach, with the nearest point of their middle', () => {
    const sheet = new TestSheet();
    const upright = sheet.ink1(line(100, 20, 100, 280), even(10));
    const lying = sheet.ink1(line(20, 200, 280, 200), even(4));
    expect(near(sheet, 112, 90, 6)).toEqual([]);
    const [found] = near(sheet, 112, 90, 8);
    expect([found.id, Math.round(found.x), Math.round(found.y), Math.round(found.gap)]).toEqual([upright, 100, 90, 7]);
    expect(near(sheet, 104, 196, 8).map((n) => n.id)).toEqual([upright, lying]);
    // Within a line there is no gap.
    expect(near(sheet, 103, 90, 6)[0].gap).toBeLessThan(0);
  });

  it('are not there where they are erased, nor where they were deleted', () => {
    const sheet = new TestSheet();
    const id = sheet.ink1(line(100, 20, 100, 280), even(10));
    sheet.erase(line(80, 150, 120, 150), 30, false);
    expect(near(sheet, 110, 150, 8)).toEqual([]);
    expect(near(sheet, 110, 90, 8)).toHaveLength(1);
    sheet.set(id, 'deleted', true);
    expect(near(sheet, 110, 90, 8)).toEqual([]);
  });

  it('lie where they were moved to', () => {
    const sheet = new TestSheet();
    const id = sheet.ink1(line(100, 20, 100, 280), even(10));
    sheet.set(id, 'matrix', [0, 1, -1, 0, 300, 0]);
    const [found] = near(sheet, 150, 110, 12);
    expect([found.id, Math.round(found.y), Math.round(found.gap)]).toEqual([id, 100, 5]);
  });

  it('are measured to the nearest of their points, as trying all of them finds', () => {
    const coordinate = fc.double({ min: 0, max: 100, noNaN: true });
    const points = fc.array(fc.tuple(coordinate, coordinate), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(points, coordinate, coordinate, (places, x, y) => {
        const { gap } = nearestOn(spineFrom(places.map(([px, py]) => [px, py, 3])), x, y);
        let least = Infinity;
        for (let i = 0; i < Math.max(1, places.length - 1); i++)
          for (let n = 0; n <= 400; n++) {
            const [a, b] = [places[i], places[Math.min(places.length - 1, i + 1)]];
            const at = (k: 0 | 1) => a[k] + (n / 400) * (b[k] - a[k]);
            least = Math.min(least, Math.hypot(x - at(0), y - at(1)) - 3);
          }
        // Tried points lie up to 0.36 px apart.
        expect(gap).toBeLessThanOrEqual(least + 1e-9);
        expect(gap).toBeGreaterThanOrEqual(least - 0.2);
      }),
    );
  });
});

describe('ends that meet', () => {
  const at = (samples: ReturnType<typeof line>, i: number) => [samples.x[i] / 32, samples.y[i] / 32];

  it('are where they are to meet, and the middle stays where it was', () => {
    const samples = line(50, 100, 250, 100);
    const met = withMetEnds(samples, { x: 46, y: 96 }, { x: 254, y: 107 }, 24);
    const last = samples.count - 1;
    expect(at(met, 0)).toEqual([46, 96]);
    expect(at(met, last)).toEqual([254, 107]);
    const middle = last >> 1;
    expect(at(met, middle)).toEqual(at(samples, middle));
    expect(met.pressure).toBe(samples.pressure);
    // No sample is moved by more than the end, and no step of the way turns back.
    for (let i = 1; i < samples.count; i++) {
      expect(Math.hypot(met.x[i] - samples.x[i], met.y[i] - samples.y[i]) / 32).toBeLessThanOrEqual(8.1);
      expect(met.x[i]).toBeGreaterThan(met.x[i - 1]);
    }
    expect(withMetEnds(samples, undefined, undefined, 24)).toBe(samples);
  });

  it('move at most as far as its middle, however short the stroke; a dot does not', () => {
    const short = line(50, 100, 58, 100);
    const met = withMetEnds(short, undefined, { x: 66, y: 100 }, 24);
    expect(at(met, 0)).toEqual(at(short, 0));
    expect(at(met, short.count - 1)).toEqual([66, 100]);
    const dot = { ...short, count: 1 };
    expect(withMetEnds(dot, { x: 0, y: 0 }, { x: 1, y: 1 }, 24)).toBe(dot);
  });
});
