import * as fc from 'fast-check';
import { apply, compose, lengthScale, type Matrix } from '../../core/geometry/matrix';
import { turnAbout } from '../../core/geometry/turn-about';
import { viewMatrix } from '../../core/geometry/view';
import { cornerScaling, gestureOf, onPaper } from '../../ui/screens/sheet/paper/corner-drag';
import { handlePlaces, type Point } from '../../ui/screens/sheet/paper/handle-places';

const SCREEN = { x0: 0, y0: 0, x1: 1280, y1: 800 };
const turned = (deg: number, mirrored: boolean, x = 600, y = 400): Matrix =>
  compose(turnAbout([x, y], { turnDeg: deg, mirrors: mirrored }), [1, 0, 0, 1, x - 100, y - 60]);
const frame = (deg: number, mirrored = false) => handlePlaces(turned(deg, mirrored), 200, 120, SCREEN);

const at = fc.record({ deg: fc.integer({ min: -180, max: 180 }), mirrored: fc.boolean(), index: fc.nat(3) });
const by = fc.tuple(fc.integer({ min: -60, max: 60 }), fc.integer({ min: -40, max: 40 }));
const apart = ([a, b]: Point, [c, d]: Point) => Math.hypot(a - c, b - d);
const HELD = { frees: false, centred: false };

describe('a corner of a frame that is dragged', () => {
  it('leaves the opposite corner where it is, in proportion, however the frame lies', () => {
    fc.assert(
      fc.property(at, by, ({ deg, mirrored, index }, [dx, dy]) => {
        const places = frame(deg, mirrored);
        const from = places.scaleAt[index];
        const change = cornerScaling({ places, index, from }, [from[0] + dx, from[1] + dy], HELD);
        const opposite = places.corners[(index + 2) % 4];
        expect(apart(apply(change, ...opposite), opposite)).toBeLessThan(1e-9);
        const [a, b, c, d] = change;
        expect(Math.abs(b) + Math.abs(c) + Math.abs(a - d)).toBeLessThan(1e-9);
        // As near to the pointer as a frame in proportion can be.
        const corner = apply(change, ...places.corners[index]);
        const off = [from[0] + dx - corner[0], from[1] + dy - corner[1]];
        const along = [from[0] - opposite[0], from[1] - opposite[1]];
        expect(Math.abs(off[0] * along[0] + off[1] * along[1])).toBeLessThan(1e-6);
      }),
    );
  });

  it('freed, follows the pointer; about the middle, that stays', () => {
    fc.assert(
      fc.property(at, by, ({ deg, mirrored, index }, [dx, dy]) => {
        const places = frame(deg, mirrored);
        const from = places.scaleAt[index];
        const to: Point = [from[0] + dx, from[1] + dy];
        const free = cornerScaling({ places, index, from }, to, { frees: true, centred: false });
        const corner = places.corners[index];
        expect(apart(apply(free, ...corner), to)).toBeLessThan(1e-6);
        // Its sides stay at right angles to each other.
        const [p, q, r] = places.corners.map((c) => apply(free, ...c));
        expect(Math.abs((q[0] - p[0]) * (r[0] - q[0]) + (q[1] - p[1]) * (r[1] - q[1]))).toBeLessThan(1e-5);
        const centred = cornerScaling({ places, index, from }, to, { frees: false, centred: true });
        expect(apart(apply(centred, ...places.centre), places.centre)).toBeLessThan(1e-9);
      }),
    );
  });

  it('never turns the frame over, nor makes it nothing', () => {
    const places = frame(20);
    for (const held of [HELD, { frees: true, centred: false }, { frees: false, centred: true }])
      for (const to of [places.corners[0], [-4000, -4000], places.centre] as Point[]) {
        const [a, b, c, d] = cornerScaling({ places, index: 2, from: places.scaleAt[2] }, to, held);
        expect(a * d - b * c).toBeGreaterThan(1e-4);
      }
  });

  it('moves nothing where its handle has no way to go from what stays: a frame wholly out of sight', () => {
    const away = handlePlaces([1, 0, 0, 1, 4000, 3000], 200, 120, SCREEN);
    const from = away.scaleAt[0];
    for (const frees of [false, true]) {
      const places = { ...away, corners: away.corners.map((c, i) => (i === 2 ? from : c)) };
      const change = cornerScaling({ places, index: 0, from }, [from[0] - 30, from[1] - 20], { frees, centred: false });
      expect(change.every(Number.isFinite)).toBe(true);
      expect(change[0]).toBeCloseTo(1, 9);
    }
  });

  it('does nothing where the pointer does not move, also where its handle stands inside', () => {
    const wide = handlePlaces([20, 0, 0, 20, -1000, -700], 200, 120, SCREEN);
    const from: Point = [wide.scaleAt[2][0] + 9, wide.scaleAt[2][1] - 4];
    for (const frees of [false, true])
      cornerScaling({ places: wide, index: 2, from }, from, { frees, centred: false }).forEach((v, i) =>
        expect(v).toBeCloseTo([1, 0, 0, 1, 0, 0][i], 9),
      );
  });
});

describe('a change on the screen', () => {
  const view = { x: 120, y: -40, scale: 0.7, turnDeg: 33 } as Parameters<typeof viewMatrix>[0];

  it('is a gesture about the place that stays, or from a place to another', () => {
    fc.assert(
      fc.property(by, fc.integer({ min: 20, max: 300 }), fc.integer({ min: -170, max: 170 }), (at, percent, deg) => {
        const scaled = compose(turnAbout(at, { turnDeg: deg, scale: percent / 100 }), [1, 0, 0, 1, 5, 9]);
        const { from, to, factor, turnDeg } = gestureOf(scaled);
        const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
        const again = turnAbout(from, { turnDeg, scale: factor, dx, dy });
        again.forEach((v, i) => expect(v).toBeCloseTo(scaled[i], 6));
      }),
    );
    expect(gestureOf([1, 0, 0, 1, 7, -3])).toEqual({ from: [0, 0], to: [7, -3], factor: 1, turnDeg: 0 });
  });

  it('moves on the paper what it moves on the screen', () => {
    const change: Matrix = [1.2, 0, 0, 0.7, 40, -30];
    const m = viewMatrix(view);
    const there = apply(m, ...apply(onPaper(change, view), 200, 300));
    const here = apply(change, ...apply(m, 200, 300));
    expect(apart(there, here)).toBeLessThan(1e-9);
    expect(lengthScale(onPaper([2, 0, 0, 2, 9, 9], view))).toBeCloseTo(2, 9);
  });
});
