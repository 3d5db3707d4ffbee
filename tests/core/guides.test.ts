import * as fc from 'fast-check';
import { firstPoints, guideLines, type Segment } from '../../core/sheet/guides';
import type { Guides } from '../../core/sheet/entities';

const PAPER = { widthPx: 1200, heightPx: 900 };
const guides = (kind: Guides['kind'], more: Partial<Guides> = {}): Guides => ({
  kind,
  squares: 6,
  points: [[600, 450]],
  ...more,
});
const isWithin = ([x0, y0, x1, y1]: Segment) =>
  [x0, x1].every((x) => x >= -1e-6 && x <= PAPER.widthPx + 1e-6) &&
  [y0, y1].every((y) => y >= -1e-6 && y <= PAPER.heightPx + 1e-6);

/** Distance from a point to the endless line of a segment, px. */
function offLine([px, py]: readonly number[], [x0, y0, x1, y1]: Segment): number {
  const length = Math.hypot(x1 - x0, y1 - y0);
  return Math.abs((x1 - x0) * (py - y0) - (y1 - y0) * (px - x0)) / length;
}

describe('guides', () => {
  it('thirds cut both sides in three', () => {
    expect(guideLines(guides('thirds'), PAPER)).toEqual([
      [400, 0, 400, 900],
      [800, 0, 800, 900],
      [0, 300, 1200, 300],
      [0, 600, 1200, 600],
    ]);
  });

  it('squares are square, as many along the longer side as asked for, with no line on the edge', () => {
    for (let squares = 2; squares <= 60; squares++) {
      const lines = guideLines(guides('squares', { squares }), PAPER);
      const upright = lines.filter(([x0, , x1]) => x0 === x1);
      const level = lines.filter(([, y0, , y1]) => y0 === y1);
      expect(upright.length).toBe(squares - 1);
      expect(upright[0][0]).toBeCloseTo(1200 / squares, 9);
      if (level.length) expect(level[0][1]).toBeCloseTo(1200 / squares, 9);
      expect(level.length).toBe(Math.ceil((900 / 1200) * squares - 1e-9) - 1);
    }
  });

  it('lines of perspective go through their points, and stay on the paper, wherever those lie', () => {
    const coordinate = fc.double({ min: -1e5, max: 1e5, noNaN: true });
    const points = fc.array(fc.tuple(coordinate, coordinate), { minLength: 1, maxLength: 3 });
    fc.assert(
      fc.property(points, (given) => {
        const lines = guideLines(guides('perspective', { points: given as [number, number][] }), PAPER);
        const isHorizon = (line: Segment) =>
          given.length > 1 && offLine(given[0], line) < 1e-2 && offLine(given[1], line) < 1e-2;
        return lines.every(
          (line) => isWithin(line) && (isHorizon(line) || given.some((point) => offLine(point, line) < 0.05)),
        );
      }),
      { numRuns: 300 },
    );
  });

  it('a point beyond the paper sends its lines over all of it; two give a horizon', () => {
    const far = guideLines(guides('perspective', { points: [[-600, 450]] }), PAPER);
    const ends = far.map(([, , x1, y1]) => (x1 > 1199 ? y1 : -1)).filter((y) => y >= 0);
    expect(far.length).toBeGreaterThanOrEqual(12);
    expect(Math.max(...ends) - Math.min(...ends)).toBeGreaterThan(500);
    const [horizon] = guideLines(guides('perspective', { points: firstPoints(2, PAPER) }), PAPER);
    expect(horizon).toEqual([0, 450, 1200, 450]);
    expect(firstPoints(1, PAPER)).toEqual([[600, 450]]);
    expect(firstPoints(3, PAPER)).toHaveLength(3);
  });

  it('two points in one place leave out the horizon, and nothing else', () => {
    const both = guides('perspective', {
      points: [
        [600, 450],
        [600, 450],
      ],
    });
    expect(guideLines(both, PAPER)).toHaveLength(24);
  });
});
