import * as fc from 'fast-check';
import { placementMatrix } from '../../core/sheet/placement';
import { handlePlaces, type Point } from '../../ui/screens/sheet/paper/handle-places';

const SIZE = { width: 1200, height: 900 };
/** What the bars leave of a phone, a phone on its side and a desk, CSS px. */
const SCREENS = [
  { x0: 0, y0: 56, x1: 390, y1: 560 },
  { x0: 102, y0: 0, x1: 844, y1: 390 },
  { x0: 300, y0: 56, x1: 984, y1: 740 },
];
const placed = (screen: (typeof SCREENS)[number], scale: number, turnDeg: number, cx = 0.5, cy = 0.5) =>
  handlePlaces(
    placementMatrix(
      {
        cx: screen.x0 + cx * (screen.x1 - screen.x0),
        cy: screen.y0 + cy * (screen.y1 - screen.y0),
        scale,
        turnDeg,
        mirrored: false,
      } as never,
      SIZE as never,
    ),
    SIZE.width,
    SIZE.height,
    screen,
  );
const distance = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]);
const any = fc.record({
  screen: fc.constantFrom(...SCREENS),
  scale: fc.double({ min: 0.05, max: 40, noNaN: true }),
  turn: fc.double({ min: 0, max: 360, noNaN: true }),
  cx: fc.double({ min: 0, max: 1, noNaN: true }),
  cy: fc.double({ min: 0, max: 1, noNaN: true }),
});

describe('handles of a picture', () => {
  it('stand at its corners where these are in sight', () => {
    const { corners, scaleAt, turnAt, top } = placed(SCREENS[2], 0.4, 20);
    expect(scaleAt).toEqual(corners);
    expect(distance(turnAt, top)).toBeCloseTo(40, 6);
  });

  it('stay in sight, on the way to their corners, however large the picture and wherever it lies', () => {
    fc.assert(
      fc.property(any, ({ screen, scale, turn, cx, cy }) => {
        const { corners, scaleAt, turnAt, centre } = placed(screen, scale, turn, cx, cy);
        for (const [x, y] of [...scaleAt, turnAt]) {
          expect(x).toBeGreaterThanOrEqual(screen.x0);
          expect(x).toBeLessThanOrEqual(screen.x1);
          expect(y).toBeGreaterThanOrEqual(screen.y0);
          expect(y).toBeLessThanOrEqual(screen.y1);
        }
        const clear = (p: Point) =>
          p[0] > screen.x0 + 12 && p[0] < screen.x1 - 12 && p[1] > screen.y0 + 12 && p[1] < screen.y1 - 12;
        if (!clear(centre)) return;
        scaleAt.forEach((at, i) => {
          const [cornerX, cornerY] = [corners[i][0] - centre[0], corners[i][1] - centre[1]];
          const [x, y] = [at[0] - centre[0], at[1] - centre[1]];
          expect(Math.abs(cornerX * y - cornerY * x) / Math.hypot(cornerX, cornerY)).toBeLessThan(1e-6);
        });
      }),
      { numRuns: 500 },
    );
  });

  it('leave the one that turns where it can be touched apart from those that scale', () => {
    fc.assert(
      fc.property(any, ({ screen, scale, turn, cx, cy }) => {
        const { scaleAt, turnAt } = placed(screen, scale, turn, cx, cy);
        for (const at of scaleAt) expect(distance(at, turnAt)).toBeGreaterThanOrEqual(44 - 1e-9);
      }),
      { numRuns: 500 },
    );
  });
});
