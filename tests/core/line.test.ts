import * as fc from 'fast-check';
import '../../core/stroke/engine-1/provided';
import { smoothAlong } from '../../core/stroke/along-curve';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen, openingOfPressure, openingOfSpeed } from '../../core/stroke/pen';
import { SampleClock } from '../../core/stroke/sample-clock';
import { SampleRecorder } from '../../core/stroke/samples';
import type { Spine } from '../../core/stroke/spine';
import { SpineMaker, spineOf } from '../../core/stroke/spine-maker';
import {
  circle,
  cornerMiss,
  followed,
  jitterOf,
  lineError,
  sShape,
  straight,
  tremorLeft,
  TROUBLES,
  zigzag,
  type KnownPath,
} from '../measures/line-error';
import { angleOf } from '../../core/stroke/turning';
import { loop, loopPlaces, missedBy, tipPlaces, tips } from '../measures/small-forms';
import { handSamples } from '../measures/strokes';

const PATHS = [straight(260), circle(80), sShape(60)];
const radii = (s: Spine) => Array.from({ length: s.count }, (_, i) => s.data[3 * i + 2]);

describe('a line under what devices do to samples', () => {
  // The limits: the jitter and 0.3 px, 20 degrees and 15 % within a nib's width, as artists notice them
  // (common practice, no source).
  it.each(TROUBLES.flatMap((trouble) => [0, 35, 70, 100].map((steady) => [trouble, steady] as const)))(
    'has no knot: %s, steady %d',
    (trouble, steady) => {
      PATHS.forEach((path, at) => {
        for (const hz of [60, 120, 240])
          for (const hasPressure of [true, false]) {
            const speed = [80, 200, 600][(at + hz / 60) % 3];
            const samples = followed(path, { hz, speed, trouble, seed: hz + at });
            const pen = makePen('dip', 12, steady, hasPressure, 1);
            const error = lineError(spineOf(samples, pen, 0.05), path, 12, 50);
            expect(error.offPx).toBeLessThan(jitterOf(trouble) + 0.3);
            expect(error.turnDeg).toBeLessThan(20);
            expect(error.widthChange).toBeLessThan(0.15);
          }
      });
    },
  );

  it('stays straight where a finger goes straight, whatever the stamps', () => {
    for (let seed = 1; seed < 20; seed++) {
      const samples = followed(straight(300), { hz: 60, speed: 300, trouble: 'equal-times', seed });
      const { data, count } = spineOf(samples, makePen('dip', 12, 35, false, 1), 0.05);
      for (let i = 0; i < count; i++) expect(Math.abs(data[3 * i + 1] - 200)).toBeLessThan(1e-9);
    }
  });

  it('does not change when the stamps do, but for the width that comes from speed', () => {
    const good = followed(sShape(60), { hz: 120, speed: 200, trouble: 'none', seed: 3 });
    const bad = { ...good, t: good.t.map((t) => Math.ceil(t / 130) * 130) };
    const pen = makePen('dip', 12, 60, true, 1);
    expect(spineOf(bad, pen, 0.1).data).toEqual(spineOf(good, pen, 0.1).data);
  });

  it('makes a spine of any samples at all: finite, and never wider than the nib', () => {
    const any = fc.array(
      fc.record({
        x: fc.double({ min: -5000, max: 5000, noNaN: true }),
        y: fc.double({ min: -5000, max: 5000, noNaN: true }),
        tMs: fc.double({ min: 0, max: 5000, noNaN: true }),
        pressure: fc.constantFrom(0, 0.5, 1),
      }),
      { minLength: 1, maxLength: 60 },
    );
    fc.assert(
      fc.property(any, fc.boolean(), fc.integer({ min: 0, max: 100 }), (points, hasPressure, steady) => {
        const recorder = new SampleRecorder(5);
        for (const p of points) recorder.add({ ...p, altitudeDeg: 90, azimuthDeg: 0 });
        const spine = spineOf(recorder.samples(), makePen('dip', 12, steady, hasPressure, 1), 0.1);
        expect(spine.count).toBeGreaterThan(0);
        expect(spine.data.subarray(0, 3 * spine.count).every(Number.isFinite)).toBe(true);
        expect(Math.max(...radii(spine))).toBeLessThanOrEqual(6 + 1e-9);
      }),
      { numRuns: 300 },
    );
  });
});

describe('time stamps', () => {
  it('are spread over the time since the group before, and always rise', () => {
    const clock = new SampleClock();
    for (const t of [0, 16, 16, 16, 16, 32, 32, 32, 32, 300]) clock.push(t);
    clock.spread();
    expect(Array.from(clock.t.subarray(0, clock.n))).toEqual([0, 4, 8, 12, 16, 20, 24, 28, 32, 300]);
  });

  it('go on at 250 Hz while the clock stands still', () => {
    const clock = new SampleClock();
    for (let i = 0; i < 200; i++) clock.push(7);
    clock.spread();
    for (let i = 1; i < 200; i++) expect(clock.t[i] - clock.t[i - 1]).toBe(4);
    expect(clock.closed).toBeGreaterThan(100);
  });
});

describe('steady', () => {
  it('takes a tremor out evenly along the slider', () => {
    const left = [0, 20, 35, 50, 70, 100].map((steady) => tremorLeft((s, pen) => spineOf(s, pen, 0.05), steady));
    expect(left[0]).toBeGreaterThan(1.25);
    for (let i = 1; i < left.length; i++) expect(left[i]).toBeLessThan(left[i - 1] - 0.08);
    expect(left[2]).toBeLessThan(0.9);
    expect(left[4]).toBeLessThan(0.3);
    expect(left[5]).toBeLessThan(0.05);
  });

  it.each([
    [35, 2],
    [100, 6],
  ])('at %d keeps corners made on purpose within %d px', (steady, limit) => {
    for (const hz of [120, 240])
      for (const speed of [500, 1000, 2000])
        for (const leg of [60, 73.3, 101.7]) {
          const samples = followed(zigzag(leg, 6), { hz, speed, trouble: 'none', seed: 1 });
          const spine = spineOf(samples, makePen('fineliner', 2, steady, true, 1), 0.05);
          expect(cornerMiss(spine, leg, 6)).toBeLessThan(limit);
        }
  });
});

describe('small forms', () => {
  const missed = (path: KnownPath, places: number[], steady: number, speed: number, hz: number) =>
    missedBy(
      spineOf(followed(path, { hz, speed, trouble: 'none', seed: 1 }), makePen('fineliner', 2, steady, true, 1), 0.05),
      path,
      places,
    );

  // 0.5 px of a loop of 4 px is what an artist asks for at 35; without the turning 70 lost 1.5 px of it, 100 all.
  it.each([
    [3, 35, 0.55],
    [4, 35, 0.5],
    [6, 35, 0.3],
    [4, 70, 0.65],
    [6, 70, 0.7],
    [4, 100, 0.65],
    [6, 100, 0.9],
    [12, 100, 0.7],
  ])('keep a loop of radius %d at a steady of %d within %d px', (radius, steady, limit) => {
    const path = loop(radius);
    for (const hz of [60, 120, 240])
      for (const speed of [60, 121, 200]) expect(missed(path, loopPlaces(path), steady, speed, hz)).toBeLessThan(limit);
  });

  // At an even pace a device itself passes a tip by up to half a step: 0.85 px at 100 px/s and 60 Hz.
  it.each([0, 35, 70, 100].flatMap((steady) => [15, 30, 45].map((tip) => [tip, steady] as const)))(
    'keep tips of %d degrees at a steady of %d within 1.25 px',
    (tip, steady) => {
      for (const [leg, legs] of [
        [50, 5],
        [20, 6],
        [10, 8],
      ])
        for (const hz of [60, 120, 240])
          for (const speed of [45, 61, 83, 101])
            expect(missed(tips(tip, leg, legs), tipPlaces(leg, legs), steady, speed, hz)).toBeLessThan(1.25);
    },
  );

  it('keep the tips of a hand that trembles within what the device adds, and make no tips where it makes none', () => {
    for (let seed = 1; seed < 12; seed++) {
      const shaken = followed(tips(40, 30, 5), { hz: 240, speed: 80, trouble: 'jitter', seed });
      const spine = spineOf(shaken, makePen('fineliner', 2, 35, true, 1), 0.05);
      expect(missedBy(spine, tips(40, 30, 5), tipPlaces(30, 5))).toBeLessThan(1.25 + 0.5 * Math.SQRT2);
      const along = followed(straight(300), { hz: 240, speed: 80, trouble: 'jitter', seed });
      const { data, count } = spineOf(along, makePen('fineliner', 2, 0, true, 1), 0.05);
      for (let i = 1; i < count; i++) expect(data[3 * i]).toBeGreaterThanOrEqual(data[3 * i - 3] - 0.5);
    }
  });

  it('measures an angle as Math.atan2 does, to 0.01', () => {
    for (let a = -3.14; a <= 3.14; a += 0.01)
      expect(Math.abs(angleOf(3 * Math.cos(a), 3 * Math.sin(a)) - a)).toBeLessThan(0.0101);
    expect(angleOf(-1, 0)).toBe(Math.PI);
    expect(angleOf(0, 0)).toBe(0);
  });
});

describe('width', () => {
  const widest = (s: Spine) => 2 * Math.max(...radii(s));
  const middle = (speed: number) =>
    widest(
      spineOf(
        followed(straight(300), { hz: 120, speed, trouble: 'none', seed: 1 }),
        makePen('dip', 12, 35, false, 1),
        0.1,
      ),
    );

  it('uses its whole range at the speeds at which people trace', () => {
    expect(middle(60)).toBeGreaterThan(11.5);
    expect(middle(150)).toBeGreaterThan(6);
    expect(middle(150)).toBeLessThan(8.5);
    expect(middle(250)).toBeLessThan(5);
    expect(middle(400)).toBeLessThan(1.8);
  });

  it('fills the range with pressures from 0.1 to 0.9', () => {
    expect([0, 0.1, 0.5, 0.9, 1].map((p) => openingOfPressure(p))).toEqual([0, 0, 0.5, 1, 1]);
    expect([0, 0.06, 0.4, 3].map(openingOfSpeed)).toEqual([1, 1, 0, 0]);
  });

  it('tapers by length, however fast the stroke begins and ends', () => {
    for (const speed of [60, 300]) {
      const spine = spineOf(
        followed(straight(300), { hz: 120, speed, trouble: 'none', seed: 1 }),
        makePen('dip', 12, 35, true, 1),
        0.02,
      );
      const at = (x: number) => {
        let i = 0;
        while (i + 2 < spine.count && spine.data[3 * (i + 1)] < x) i++;
        const [x0, , r0, x1, , r1] = spine.data.subarray(3 * i, 3 * i + 6);
        return r0 + ((x - x0) / (x1 - x0)) * (r1 - r0);
      };
      expect(spine.data[2]).toBe(0);
      expect(spine.data[3 * spine.count - 1]).toBe(0);
      const full = at(190);
      // In over 2.5 nibs, out over 4: half way the eased taper has three quarters of the width.
      expect(at(40 + 15) / full).toBeCloseTo(0.75, 1);
      const end = spine.data[3 * spine.count - 3];
      expect(at(end - 24) / full).toBeCloseTo(0.75, 1);
    }
  });

  it('begins without a ball where there is no pressure', () => {
    const pen = makePen('dip', 24, 35, false, 1);
    const samples = followed(straight(200), { hz: 120, speed: 300, trouble: 'none', seed: 1 });
    for (const count of [1, 2, 3, 5]) expect(widest(spineOf({ ...samples, count }, pen, 0.1))).toBeLessThan(8);
    const held = handSamples(() => [50, 50], { ms: 80, tremorPx: 0.2 });
    expect(widest(spineOf(held, pen, 0.1))).toBeCloseTo(24, 6);
  });
});

describe('earlier engines', () => {
  // Printed by each engine when it was the newest.
  it.each([
    [1, true, 87, [89.40586042571825, 167.89713220664038, 4.278137583630299]],
    [2, true, 90, [98.44249451742034, 175.24109646553498, 3.1180488626770675]],
    [2, false, 91, [95.85728457506829, 173.91258350497864, 0.72]],
    [3, true, 90, [98.42218124586421, 175.2952881020528, 3.1180488626770675]],
    [3, false, 91, [95.83916697585573, 173.9566175246561, 0.72]],
  ])('draw what was made with them as it was: %d, pressure %s', (engine, hasPressure, count, eleventh) => {
    const samples = handSamples((u) => [40 + 400 * u, 120 + 60 * Math.sin(u * 8)], { ms: 300 });
    const pen = { ...makePen('dip', 12, 40, hasPressure, 1), taperInPx: 30, taperOutPx: 48 };
    const spine = new SpineMaker().ofBytes(encodeSamples(samples), pen, engine, 0.1);
    expect(spine.count).toBe(count);
    expect(Array.from(spine.data.subarray(30, 33))).toEqual(eleventh);
  });

  it('are told apart in one and the same maker', () => {
    const samples = handSamples((u) => [40 + 40 * u, 120 + 6 * Math.sin(u * 40)], { ms: 900 });
    const pen = makePen('dip', 12, 40, true, 1);
    const maker = new SpineMaker();
    const [first, second, third, fourth] = [1, 2, 3, 4].map((engine) => maker.of(samples, pen, engine, 0.1).data);
    expect(second).not.toEqual(first);
    expect(third).not.toEqual(second);
    expect(fourth).not.toEqual(third);
    expect(maker.of(samples, pen, 2, 0.1).data).toEqual(second);
  });
});

describe('smoothing along the line', () => {
  it('leaves a parabola where it is, as the fit of one must', () => {
    const s = Float64Array.from({ length: 41 }, (_, i) => i + 0.3 * Math.sin(7 * i));
    const x = s.map((v) => 1e4 + 3 + 2 * v - 0.05 * v * v);
    const y = s.map((v) => -7 + 0.4 * v + 0.02 * v * v);
    const out = { x: 0, y: 0 };
    for (const reach of [3, 8, 19]) {
      smoothAlong(s, x, y, 41, 20, reach, out);
      expect(out.x).toBeCloseTo(x[20], 8);
      expect(out.y).toBeCloseTo(y[20], 8);
    }
  });

  it('has the moments of a smoother of second order (Savitzky and Golay 1964)', () => {
    // What makes their weights smooth a parabola without bias: the sum is 1, the first and second moments vanish.
    const s = Float64Array.from({ length: 21 }, (_, i) => i);
    const weights = Array.from(s, (_, i) => {
      const out = { x: 0, y: 0 };
      smoothAlong(
        s,
        Float64Array.from(s, (_v, j) => (j === i ? 1 : 0)),
        s,
        21,
        10,
        6.5,
        out,
      );
      return out.x;
    });
    const moment = (power: number) => weights.reduce((sum, w, i) => sum + w * (i - 10) ** power, 0);
    expect(moment(0)).toBeCloseTo(1, 10);
    expect(moment(1)).toBeCloseTo(0, 10);
    expect(moment(2)).toBeCloseTo(0, 8);
    expect(weights[10]).toBeGreaterThan(weights[11]);
    expect(Math.min(...weights)).toBeLessThan(0);
  });

  it('leaves a knot alone that has too few others near it', () => {
    const s = Float64Array.of(0, 10, 20);
    const out = { x: 0, y: 0 };
    smoothAlong(s, Float64Array.of(0, 4, 9), Float64Array.of(5, 5, 8), 3, 1, 5, out);
    expect(out).toEqual({ x: 4, y: 5 });
  });
});
