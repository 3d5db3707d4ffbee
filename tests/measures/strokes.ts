import { Spine, spineFrom } from '../../core/stroke/spine';
import { handPointAt, SampleRecorder, type HandPoint, type Samples } from '../../core/stroke/samples';

/** A repeatable stream of numbers in 0..1. Park & Miller (1988), CACM 31(10): the minimal standard generator. */
export function random(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 16807) % 2147483647) / 2147483647;
}

/** A wandering spine of `n` points inside size x size, widths from 0.3 to `widest` px. */
export function randomSpine(rnd: () => number, size: number, n: number, widest: number): Spine {
  const spine = new Spine();
  const margin = widest / 2 + 2;
  const inside = (v: number) => Math.min(size - margin, Math.max(margin, v));
  let x = margin + rnd() * (size - 2 * margin);
  let y = margin + rnd() * (size - 2 * margin);
  let angle = rnd() * 2 * Math.PI;
  let r = (0.3 + rnd() * (widest - 0.3)) / 2;
  const wild = rnd() < 0.3;
  for (let i = 0; i < n; i++) {
    spine.push(x, y, r);
    angle += (rnd() - 0.5) * (wild ? 4 : 0.8);
    const step = rnd() * (wild ? 3 : 8);
    x = inside(x + Math.cos(angle) * step);
    y = inside(y + Math.sin(angle) * step);
    r = Math.min(widest / 2, Math.max(0.15, r + (rnd() - 0.5) * (wild ? widest / 2 : widest / 10)));
  }
  return spine;
}

/** Strokes that break naive outlines, in 64 x 64 px. */
export const HARD_SPINES: Record<string, Spine> = {
  hairpin: spineFrom([
    [8, 20, 4],
    [50, 20, 4],
    [50.2, 20.5, 4],
    [8, 26, 4],
  ]),
  'hairpin on itself': spineFrom([
    [8, 32, 5],
    [52, 32, 5],
    [8, 32, 5],
  ]),
  zigzag: spineFrom(Array.from({ length: 12 }, (_, i) => [8 + i * 4, i % 2 ? 18 : 44, 3] as const)),
  'zigzag within the nib': spineFrom(Array.from({ length: 16 }, (_, i) => [24 + i, 32 + (i % 2 ? 2 : -2), 9] as const)),
  'curl tighter than the nib': spineFrom(
    Array.from({ length: 40 }, (_, i) => [32 + 3 * Math.cos(i * 0.6), 32 + 3 * Math.sin(i * 0.6), 8] as const),
  ),
  'spiral outwards': spineFrom(
    Array.from(
      { length: 60 },
      (_, i) => [32 + (2 + i * 0.35) * Math.cos(i * 0.4), 32 + (2 + i * 0.35) * Math.sin(i * 0.4), 2.5] as const,
    ),
  ),
  dot: spineFrom([[32.3, 31.6, 7]]),
  'pressed dot': spineFrom([
    [32, 32, 2],
    [32.1, 32, 5],
    [32.1, 32.1, 9],
    [32, 32.1, 9],
  ]),
  'flick of three': spineFrom([
    [10, 40, 0.4],
    [26, 30, 5],
    [54, 24, 0.1],
  ]),
  '1 to 20 px in three': spineFrom([
    [20, 32, 0.5],
    [23, 32, 5],
    [28, 33, 10],
  ]),
  '20 to 1 px in three': spineFrom([
    [24, 32, 10],
    [36, 31, 4],
    [44, 30, 0.5],
  ]),
  'one disc in the next': spineFrom([
    [20, 32, 2],
    [22, 32, 9],
    [24, 32, 3],
    [50, 32, 3],
  ]),
  hairline: spineFrom([
    [5, 8, 0.2],
    [58, 55, 0.2],
  ]),
};

/** What a hand gives: a smooth path with tremor, pressure that swells, at `hz` samples a second. */
export function handSamples(
  path: (u: number) => readonly [x: number, y: number],
  {
    ms,
    hz = 240,
    tremorPx = 0.3,
    pressure = (u: number) => 0.2 + 0.6 * Math.sin(Math.PI * u),
    seed = 1,
    unitLog2 = 5,
    tilt = true,
  }: {
    ms: number;
    hz?: number;
    tremorPx?: number;
    pressure?: (u: number) => number;
    seed?: number;
    unitLog2?: number;
    tilt?: boolean;
  },
): Samples {
  const rnd = random(seed);
  const recorder = new SampleRecorder(unitLog2);
  const n = Math.max(1, Math.round((ms / 1000) * hz));
  for (let i = 0; i <= n; i++) {
    const u = i / n;
    const [x, y] = path(u);
    // Physiological tremor is around 8 to 12 Hz (from memory, unverified).
    const shake = tremorPx * Math.sin((2 * Math.PI * 10 * u * ms) / 1000);
    recorder.add({
      x: x + shake + (rnd() - 0.5) * tremorPx,
      y: y + shake * 0.6 + (rnd() - 0.5) * tremorPx,
      tMs: u * ms,
      pressure: pressure(u) + (rnd() - 0.5) * 0.01,
      altitudeDeg: tilt ? 55 + Math.round(4 * Math.sin(u * 5)) : 90,
      azimuthDeg: tilt ? (350 + Math.round(20 * u)) % 360 : 0,
    });
  }
  return recorder.samples();
}

/** The points that a hand gave, one by one, as samples were made from them. */
export function* handPoints(samples: Samples): Generator<HandPoint> {
  for (let i = 0; i < samples.count; i++) yield handPointAt(samples, i);
}
