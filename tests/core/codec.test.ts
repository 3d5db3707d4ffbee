import * as fc from 'fast-check';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { decodeSamples } from '../../core/stroke/codec';
import { CHANNELS, SampleRecorder, unitLog2For } from '../../core/stroke/samples';
import { handSamples } from '../measures/strokes';

const channel = (min: number, max: number, n: number) =>
  fc.array(fc.integer({ min, max }), { minLength: n, maxLength: n }).map((v) => Int32Array.from(v));

describe('the coding of samples', () => {
  it('gives back every value exactly', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 60 }).chain((count) =>
          fc.record({
            unitLog2: fc.integer({ min: 5, max: 12 }),
            count: fc.constant(count),
            x: channel(-(2 ** 27), 2 ** 27, count),
            y: channel(-(2 ** 27), 2 ** 27, count),
            t: channel(0, 2 ** 30, count),
            pressure: channel(0, 1023, count),
            altitude: channel(0, 90, count),
            azimuth: channel(0, 359, count),
          }),
        ),
        (samples) => {
          const back = decodeSamples(encodeSamples(samples));
          for (const name of CHANNELS) expect(back[name]).toEqual(samples[name]);
          expect(back.unitLog2).toBe(samples.unitLog2);
        },
      ),
      { numRuns: 150 },
    );
  });

  it('takes at most 4 bytes a sample for a mouse and 7 for a pen with tilt', () => {
    const path = (u: number) => [300 + 260 * u + 40 * Math.sin(u * 9), 200 + 90 * Math.cos(u * 7)] as const;
    const mouse = handSamples(path, { ms: 1600, hz: 125, tilt: false, pressure: () => 0.5 });
    const pen = handSamples(path, { ms: 1600, hz: 240 });
    mouse.pressure.fill(512);
    expect(encodeSamples(mouse).length / mouse.count).toBeLessThanOrEqual(4);
    expect(encodeSamples(pen).length / pen.count).toBeLessThanOrEqual(7);
  });

  it('reads from a view into a larger buffer', () => {
    const samples = handSamples((u) => [u * 50, u * 20], { ms: 200 });
    const bytes = encodeSamples(samples);
    const around = new Uint8Array(bytes.length + 20);
    around.set(bytes, 7);
    expect(decodeSamples(around.subarray(7, 7 + bytes.length)).x).toEqual(samples.x);
  });

  it('refuses what is cut short, of another version, or empty', () => {
    const bytes = encodeSamples(handSamples((u) => [u * 50, u * 20], { ms: 300 }));
    expect(() => decodeSamples(bytes.subarray(0, bytes.length - 4))).toThrow(RangeError);
    expect(() => decodeSamples(Uint8Array.of(9, 5, 1))).toThrow('version 9');
    expect(() => decodeSamples(new Uint8Array())).toThrow(RangeError);
    expect(() => encodeSamples(new SampleRecorder(5).samples())).toThrow(RangeError);
  });

  it('quantises to a power of two between 1/32 and 1/4096 of a paper px, at most 1/16 of a device px', () => {
    for (const scale of [0.01, 0.2, 1, 1.9, 2, 7, 64, 128, 256, 5000]) {
      const n = unitLog2For(scale);
      expect(n).toBeGreaterThanOrEqual(5);
      expect(n).toBeLessThanOrEqual(12);
      if (n < 12) expect(scale / 2 ** n).toBeLessThanOrEqual(1 / 16);
    }
  });
});
