import { addSpine } from '../../core/raster/add-spine';
import { CoverageMask } from '../../core/raster/coverage-mask';
import { makePen } from '../../core/stroke/pen';
import { PRESSURE_MAX, TICKS_PER_MS, type Samples } from '../../core/stroke/samples';
import { Spine } from '../../core/stroke/spine';
import { SpineBuilder } from '../../core/stroke/spine-builder';
import { spineOf } from '../../core/stroke/spine-maker';
import { handSamples } from '../measures/strokes';

const wave = (u: number) => [40 + 400 * u, 120 + 60 * Math.sin(u * 8)] as const;
/** Loops that get smaller, and tips. */
const curls = (u: number) => {
  const r = 9 - 6 * u;
  const tip = Math.max(0, 12 * (u - 0.7));
  return [
    40 + 150 * u + r * Math.sin(u * 60) + tip * Math.abs(((u * 40) % 2) - 1),
    90 - r * Math.cos(u * 60) + 3 * tip * Math.abs(((u * 30) % 2) - 1),
  ] as const;
};
const WAYS = [wave, curls];
const PENS = [makePen('dip', 12, 40, true, 1), makePen('dip', 12, 90, false, 1), makePen('fineliner', 4, 0, true, 1)];

/** Feeds a stroke sample by sample, looking at it after each, as the screen does. */
function drawn(samples: Samples, pen: (typeof PENS)[number], look: (b: SpineBuilder, tail: Spine) => void) {
  const builder = new SpineBuilder(pen, 0.1);
  const tail = new Spine();
  const k = 2 ** samples.unitLog2;
  for (let i = 0; i < samples.count; i++) {
    builder.push(samples.x[i] / k, samples.y[i] / k, samples.t[i] / TICKS_PER_MS, samples.pressure[i] / PRESSURE_MAX);
    builder.settle();
    builder.tail(tail);
    look(builder, tail);
  }
  return { builder, tail };
}

const points = (s: Spine) => Array.from(s.data.subarray(0, 3 * s.count));

describe('the spine under the nib and the spine that is kept', () => {
  it.each(PENS.map((p) => [p.kind, p.widthFrom, p] as const))('are one: %s, width from %s', (_kind, _width, pen) => {
    for (const [way, ms] of WAYS.flatMap((w) => [30, 120, 900, 4000].map((time) => [w, time] as const))) {
      const samples = handSamples(way, { ms });
      const { builder, tail } = drawn(samples, pen, () => undefined);
      const kept = spineOf(samples, pen, 0.1);
      const settled = points(builder.spine);
      const rest = points(tail).slice(builder.spine.count ? 3 : 0);
      expect([...settled, ...rest]).toEqual(points(kept));
    }
  });

  it.each(PENS)('never changes what has settled', (pen) => {
    let before: number[] = [];
    drawn(handSamples(curls, { ms: 4000, tremorPx: 0.4 }), pen, (b) => {
      const now = points(b.spine);
      expect(now.slice(0, before.length)).toEqual(before);
      before = now;
    });
    expect(before.length).toBeGreaterThan(60);
  });

  // Smoothing looks 23 px ahead at most, the taper at the end is 32 px long.
  it.each([
    [35, 40],
    [100, 60],
  ])('at a steady of %d moves nothing by more than 0.1 of coverage that lies %d px back', (steady, backPx) => {
    const pen = makePen('dip', 8, steady, true, 1);
    const samples = handSamples((u) => [20 + 400 * u, 60 + 25 * Math.sin(u * 9)], { ms: 800, tremorPx: 1 });
    const whole = new CoverageMask(440, 120);
    addSpine(whole, spineOf(samples, pen, 0.1), 1);
    const wet = new CoverageMask(440, 120);
    let compared = 0;
    let worst = 0;
    let n = 0;
    drawn(samples, pen, (b, tail) => {
      if (n++ % 12) return;
      addSpine(wet, b.spine, 1, { ends: false });
      b.tail(tail, 3);
      addSpine(wet, tail, 1, { from: b.spine.count > 2 ? 1 : 0 });
      const limit = Math.floor(20 + (400 * (n - 1)) / samples.count - backPx - pen.sizePx);
      for (let y = 0; y < 120; y++)
        for (let x = 0; x < limit; x++) {
          worst = Math.max(worst, Math.abs(wet.data[y * 440 + x] - whole.data[y * 440 + x]));
          compared++;
        }
      wet.clean();
    });
    expect(compared).toBeGreaterThan(50000);
    expect(worst).toBeLessThanOrEqual(0.1 * 255);
  });

  it('begins and ends where the pen did, however steady', () => {
    for (const steady of [0, 30, 100]) {
      const samples = handSamples(wave, { ms: 600 });
      const k = 2 ** samples.unitLog2;
      const spine = spineOf(samples, makePen('fineliner', 4, steady, true, 1), 0.1);
      const at = (i: number) => [spine.data[3 * i], spine.data[3 * i + 1]];
      expect(at(0)).toEqual([samples.x[0] / k, samples.y[0] / k]);
      const [x, y] = at(spine.count - 1);
      expect(x).toBeCloseTo(samples.x[samples.count - 1] / k, 9);
      expect(y).toBeCloseTo(samples.y[samples.count - 1] / k, 9);
    }
  });

  it('keeps a pressed dot round and full, and tapers a flick at both ends', () => {
    const pen = makePen('dip', 10, 35, true, 1);
    const dot = spineOf(
      handSamples(() => [50, 50], { ms: 200, tremorPx: 0.2, pressure: () => 0.9 }),
      pen,
      0.1,
    );
    const radii = (s: Spine) => Array.from({ length: s.count }, (_, i) => s.data[3 * i + 2]);
    expect(Math.max(...radii(dot))).toBeGreaterThan(4.5);
    const flick = radii(
      spineOf(
        handSamples((u) => [50 + 300 * u, 50], { ms: 120, pressure: () => 0.7 }),
        pen,
        0.1,
      ),
    );
    expect(flick[0]).toBeLessThan(0.1);
    expect(flick[flick.length - 1]).toBeLessThan(0.1);
    expect(Math.max(...flick)).toBeGreaterThan(3);
  });
});
