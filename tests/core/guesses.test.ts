import * as fc from 'fast-check';
import { straightened } from '../../core/geometry/straight-line';
import { makePen, PEN_KINDS, settingsOf } from '../../core/stroke/pen';
import type { HandPoint } from '../../core/stroke/samples';
import { Spine } from '../../core/stroke/spine';
import { SpineBuilder } from '../../core/stroke/spine-builder';

const coordinate = fc.integer({ min: 0, max: 1200 }).map((v) => v / 4);
const point = fc.record({
  x: coordinate,
  y: coordinate,
  pressure: fc.double({ min: 0, max: 1, noNaN: true }),
  altitudeDeg: fc.integer({ min: 0, max: 90 }),
  azimuthDeg: fc.integer({ min: 0, max: 359 }),
});
const pen = fc
  .record({ kind: fc.constantFrom(...PEN_KINDS), steady: fc.integer({ min: 0, max: 100 }), hasPressure: fc.boolean() })
  .map(({ kind, steady, hasPressure }) =>
    makePen(kind, 9, steady, hasPressure, 1, { ...settingsOf(kind), turns: true, speed: 0.4 }),
  );

/** A spine's values as plain lists. */
const valuesOf = ({ data, own, count }: Spine) => [
  [...data.subarray(0, 3 * count)],
  own ? [...own.subarray(0, 3 * count)] : [],
];

describe('guessed samples', () => {
  it('show where the line would go, and leave no trace: what follows is to the bit as if they had never been', () => {
    fc.assert(
      fc.property(
        pen,
        fc.array(fc.tuple(point, fc.array(point, { maxLength: 4 }), fc.boolean()), { minLength: 1, maxLength: 60 }),
        (made, hand) => {
          const [guessing, plain] = [new SpineBuilder(made, 0.1), new SpineBuilder(made, 0.1)];
          const [a, b] = [new Spine(), new Spine()];
          let tMs = 0;
          for (const [p, guesses, isBatch] of hand) {
            // Samples of one batch have one time stamp.
            tMs += isBatch ? 0 : 8;
            for (const builder of [guessing, plain]) {
              builder.push(p.x, p.y, tMs, p.pressure, p.altitudeDeg, p.azimuthDeg);
              builder.settle();
            }
            const timed: HandPoint[] = guesses.map((g, i) => ({ ...g, tMs: tMs + 4 * i }));
            guessing.tail(a, 3, timed);
            if (timed.length) {
              const last = timed[timed.length - 1];
              expect([a.data[3 * (a.count - 1)], a.data[3 * (a.count - 1) + 1]]).toEqual([last.x, last.y]);
            }
            guessing.tail(a, 3);
            plain.tail(b, 3);
            expect(valuesOf(a)).toEqual(valuesOf(b));
            expect(valuesOf(guessing.spine)).toEqual(valuesOf(plain.spine));
          }
        },
      ),
      { numRuns: 150 },
    );
  });
});

describe('a way made straight', () => {
  const hand = (points: [number, number, number?][]): HandPoint[] =>
    points.map(([x, y, pressure = 0.5], i) => ({ x, y, pressure, tMs: 8 * i, altitudeDeg: 90, azimuthDeg: 0 }));

  it('goes from the first point to the last, pressed as on the way, never back', () => {
    const line = straightened(
      hand([
        [10, 10, 0.1],
        [30, 50, 0.4],
        [20, 20, 0.9],
        [70, 90, 0.6],
        [60, 60, 0.2],
      ]),
    );
    expect([line[0].x, line[0].y]).toEqual([10, 10]);
    const last = line[line.length - 1];
    expect([last.x, last.y].map((v) => Math.round(1e9 * v) / 1e9)).toEqual([60, 60]);
    for (const p of line) expect(p.x).toBeCloseTo(p.y, 9);
    for (let i = 1; i < line.length; i++) expect(line[i].x).toBeGreaterThan(line[i - 1].x);
    expect(line.map((p) => p.pressure)).toEqual([0.1, 0.4, 0.6]);
  });

  it('points in steps of 15 degrees where it is asked to, as far as the hand went in that direction', () => {
    for (let deg = -180; deg < 180; deg += 7) {
      const angle = (deg * Math.PI) / 180;
      const line = straightened(
        hand([
          [100, 100],
          [100 + 80 * Math.cos(angle), 100 + 80 * Math.sin(angle)],
        ]),
        15,
      );
      const { x, y } = line[line.length - 1];
      const found = (Math.atan2(y - 100, x - 100) * 180) / Math.PI;
      expect(Math.abs(found / 15 - Math.round(found / 15))).toBeLessThan(1e-9);
      expect(Math.abs(((found - deg + 540) % 360) - 180)).toBeLessThanOrEqual(7.5 + 1e-9);
      expect(Math.hypot(x - 100, y - 100)).toBeGreaterThan(79);
    }
  });

  it('is a dot where the hand stands still', () => {
    expect(straightened(hand([[5, 5]]))).toHaveLength(1);
    expect(
      straightened(
        hand([
          [5, 5],
          [5, 5],
        ]),
        15,
      ),
    ).toHaveLength(1);
  });
});
