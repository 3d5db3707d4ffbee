/**
 * What a hand gave, quantised when it arrived. All channels have at least `count` values:
 * `x`, `y` in quanta of `2 ** -unitLog2` paper px (y down), `t` in quarter milliseconds since
 * pen-down (never falling), `pressure` 0 to 1023, `altitude` 0 to 90 and `azimuth` 0 to 359 degrees.
 */
export interface Samples {
  unitLog2: number;
  count: number;
  x: Int32Array;
  y: Int32Array;
  t: Int32Array;
  pressure: Int32Array;
  altitude: Int32Array;
  azimuth: Int32Array;
  /** Places of a path that was set by its nodes: `pressure` is the width there, as a part of the pen's size. */
  isPath?: boolean;
}

/** Samples of no points, to be filled. */
export const emptySamples = (): Samples => ({
  unitLog2: 0,
  count: 0,
  x: new Int32Array(),
  y: new Int32Array(),
  t: new Int32Array(),
  pressure: new Int32Array(),
  altitude: new Int32Array(),
  azimuth: new Int32Array(),
});

export const CHANNELS = ['x', 'y', 't', 'pressure', 'altitude', 'azimuth'] as const;
export const PRESSURE_MAX = 1023;
export const TICKS_PER_MS = 4;

/** One reading of the hand: paper px, ms since pen-down, pressure 0 to 1, whole degrees. */
export interface HandPoint {
  x: number;
  y: number;
  tMs: number;
  pressure: number;
  altitudeDeg: number;
  azimuthDeg: number;
}

/** Sample `i` as a hand point. */
export function handPointAt(samples: Samples, i: number): HandPoint {
  const perPx = 2 ** samples.unitLog2;
  return {
    x: samples.x[i] / perPx,
    y: samples.y[i] / perPx,
    tMs: samples.t[i] / TICKS_PER_MS,
    pressure: samples.pressure[i] / PRESSURE_MAX,
    altitudeDeg: samples.altitude[i],
    azimuthDeg: samples.azimuth[i],
  };
}

/**
 * The quantum for a stroke drawn at `devicePxPerPaperPx`: a power of two no larger than 1/16 of a
 * device px, between 1/32 and 1/4096 of a paper px.
 * @returns n, for a quantum of `2 ** -n` paper px.
 * @example unitLog2For(1) // 5: 1/16 device px would be 4, but 1/32 paper px is the coarsest
 */
export function unitLog2For(devicePxPerPaperPx: number): number {
  let n = 5;
  while (n < 12 && 2 ** n < 16 * devicePxPerPaperPx) n++;
  return n;
}

/** Collects hand points into {@link Samples}, quantising each as it comes. */
export class SampleRecorder {
  private channels: Record<(typeof CHANNELS)[number], number[]> = {
    x: [],
    y: [],
    t: [],
    pressure: [],
    altitude: [],
    azimuth: [],
  };
  private readonly perPx: number;

  constructor(readonly unitLog2: number) {
    this.perPx = 2 ** unitLog2;
  }

  get count(): number {
    return this.channels.x.length;
  }

  /**
   * Adds a point and returns it as it will be read back.
   * Times that run backwards are held at the latest one (events may arrive with equal stamps).
   */
  add(p: HandPoint): HandPoint {
    const c = this.channels;
    const last = c.t.length ? c.t[c.t.length - 1] : 0;
    c.x.push(Math.round(p.x * this.perPx));
    c.y.push(Math.round(p.y * this.perPx));
    c.t.push(Math.max(last, Math.round(p.tMs * TICKS_PER_MS)));
    c.pressure.push(Math.round(Math.min(1, Math.max(0, p.pressure)) * PRESSURE_MAX));
    c.altitude.push(Math.round(p.altitudeDeg));
    c.azimuth.push(Math.round(p.azimuthDeg) % 360);
    return this.at(this.count - 1);
  }

  at(i: number): HandPoint {
    const c = this.channels;
    return {
      x: c.x[i] / this.perPx,
      y: c.y[i] / this.perPx,
      tMs: c.t[i] / TICKS_PER_MS,
      pressure: c.pressure[i] / PRESSURE_MAX,
      altitudeDeg: c.altitude[i],
      azimuthDeg: c.azimuth[i],
    };
  }

  samples(): Samples {
    const c = this.channels;
    return {
      unitLog2: this.unitLog2,
      count: this.count,
      x: Int32Array.from(c.x),
      y: Int32Array.from(c.y),
      t: Int32Array.from(c.t),
      pressure: Int32Array.from(c.pressure),
      altitude: Int32Array.from(c.altitude),
      azimuth: Int32Array.from(c.azimuth),
    };
  }
}
