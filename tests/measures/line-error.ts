import { makePen, type Pen } from '../../core/stroke/pen';
import { SampleRecorder, type Samples } from '../../core/stroke/samples';
import type { Spine } from '../../core/stroke/spine';
import { random } from './strokes';

/** A path whose course is known: CSS px, by the length along it. */
export interface KnownPath {
  lengthPx: number;
  at(s: number): readonly [x: number, y: number];
  /** The sharpest radius of its curve, px. */
  radiusPx: number;
}

export const straight = (lengthPx: number): KnownPath => ({
  lengthPx,
  radiusPx: Infinity,
  at: (s) => [40 + s, 200],
});

export const circle = (radiusPx: number): KnownPath => ({
  lengthPx: 1.8 * Math.PI * radiusPx,
  radiusPx,
  at: (s) => [300 + radiusPx * Math.cos(s / radiusPx), 300 + radiusPx * Math.sin(s / radiusPx)],
});

/** Two half circles, one bending each way. */
export const sShape = (radiusPx: number): KnownPath => ({
  lengthPx: 2 * Math.PI * radiusPx,
  radiusPx,
  at: (s) => {
    const half = Math.PI * radiusPx;
    const a = Math.min(s, half) / radiusPx;
    if (s <= half) return [100 + radiusPx * (1 - Math.cos(a)), 300 - radiusPx * Math.sin(a)];
    const b = (s - half) / radiusPx;
    return [100 + 3 * radiusPx - radiusPx * Math.cos(b), 300 + radiusPx * Math.sin(b)];
  },
});

/** Legs of `legPx` that meet at right angles. */
export const zigzag = (legPx: number, legs: number): KnownPath => ({
  lengthPx: legPx * legs,
  radiusPx: 0,
  at: (s) => {
    const leg = Math.min(legs - 1, Math.floor(s / legPx));
    const along = (s - leg * legPx) / Math.SQRT2;
    const before = (leg * legPx) / Math.SQRT2;
    const up = legPx / Math.SQRT2;
    return [50 + before + along, leg % 2 ? 300 - up + along : 300 - along];
  },
});

/** What devices do to the samples of a hand. */
export const TROUBLES = ['none', 'jitter', 'equal-times', 'bursts', 'frame-stamps', 'stall', 'pause', 'gap'] as const;
export type Trouble = (typeof TROUBLES)[number];

export interface Drawing {
  hz: number;
  /** CSS px per s. */
  speed: number;
  trouble: Trouble;
  seed: number;
  pressure?: (s: number) => number;
}

const JITTER_PX = 0.5;
/** How far samples may lie beside the path under a trouble, px. */
export const jitterOf = (trouble: Trouble): number => (trouble === 'jitter' || trouble === 'pause' ? JITTER_PX : 0);

/** The samples that a device gives of a hand that follows `path` at one speed. */
export function followed(path: KnownPath, { hz, speed, trouble, seed, pressure = () => 0.5 }: Drawing): Samples {
  const rnd = random(seed);
  const recorder = new SampleRecorder(6);
  const step = 1000 / hz;
  const total = (path.lengthPx / speed) * 1000;
  const shake = () => (rnd() - 0.5) * 2 * JITTER_PX;
  // Of a pause or stall: when it begins, hand time.
  const stop = total * (0.3 + 0.3 * rnd());
  let lag = 0;
  let paused = false;
  for (let hand = 0, n = 0; hand <= total; hand += step, n++) {
    if (trouble === 'gap' && hand > stop && hand < stop + 60) continue;
    if (trouble === 'pause' && !paused && hand > stop) {
      paused = true;
      // A trembling rest of half a second, at the rate of the device.
      for (let rest = 0; rest < 500; rest += step, lag += step) addAt(hand, hand + lag, true);
    }
    addAt(hand, stampOf(hand + lag), trouble === 'jitter');
  }
  function stampOf(t: number): number {
    if (trouble === 'frame-stamps') return Math.ceil(t / 16.7) * 16.7;
    if (trouble === 'bursts') return Math.ceil(t / 32) * 32;
    if (trouble === 'stall') return t > stop && t < stop + 200 ? stop + 200 : t;
    if (trouble === 'equal-times' && rnd() < 0.4) return Math.max(0, t - step);
    return t;
  }
  function addAt(hand: number, tMs: number, shakes: boolean): void {
    const s = Math.min(path.lengthPx, (hand / 1000) * speed);
    const [x, y] = path.at(s);
    recorder.add({
      x: x + (shakes ? shake() : 0),
      y: y + (shakes ? shake() : 0),
      tMs,
      pressure: pressure(s),
      altitudeDeg: 90,
      azimuthDeg: 0,
    });
  }
  return recorder.samples();
}

const STEP_PX = 0.5;

/** How far a spine is from what the hand followed. */
export interface LineError {
  /** Farthest point of the spine from the path, px. */
  offPx: number;
  /** Sharpest turn between the stretches before and after a point, beyond the path's own, degrees. */
  turnDeg: number;
  /** Largest change of width over a length of one width, as a part of it; between the tapers. */
  widthChange: number;
}

/**
 * Measures a spine, sampled every 0.5 px, against its path, sampled every 0.1 px.
 * @param stretchPx over how long a stretch a direction is taken; @param taperPx left out at both ends for the width.
 */
export function lineError(spine: Spine, path: KnownPath, stretchPx: number, taperPx: number): LineError {
  const { xy, r } = resampled(spine);
  const n = r.length;
  let offPx = 0;
  let from = 0;
  for (let i = 0; i < n; i++) {
    const near = nearest(path, xy[2 * i], xy[2 * i + 1], from);
    offPx = Math.max(offPx, near.distance);
    from = near.s;
  }
  const reach = Math.max(1, Math.round(stretchPx / STEP_PX));
  const own = path.radiusPx === Infinity ? 0 : (stretchPx / Math.max(path.radiusPx, 1e-9)) * (180 / Math.PI);
  let turnDeg = 0;
  for (let i = reach; i + reach < n; i++) {
    const ax = xy[2 * i] - xy[2 * (i - reach)];
    const ay = xy[2 * i + 1] - xy[2 * (i - reach) + 1];
    const bx = xy[2 * (i + reach)] - xy[2 * i];
    const by = xy[2 * (i + reach) + 1] - xy[2 * i + 1];
    const turn = Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by)) * (180 / Math.PI);
    turnDeg = Math.max(turnDeg, turn - own);
  }
  let widthChange = 0;
  const skip = Math.round(taperPx / STEP_PX);
  for (let i = skip; i < n - skip; i++) {
    const over = Math.max(1, Math.round((2 * r[i]) / STEP_PX));
    for (let j = i + 1; j <= Math.min(n - skip - 1, i + over); j++)
      widthChange = Math.max(widthChange, Math.abs(r[j] - r[i]) / Math.max(r[i], r[j]));
  }
  return { offPx, turnDeg, widthChange };
}

function resampled({ data, count }: Spine): { xy: number[]; r: number[] } {
  const xy: number[] = [];
  const r: number[] = [];
  let carried = 0;
  for (let k = 0; k + 1 < count; k++) {
    const [x0, y0, r0, x1, y1, r1] = data.subarray(3 * k, 3 * k + 6);
    const length = Math.hypot(x1 - x0, y1 - y0);
    let at = carried;
    for (; at < length; at += STEP_PX) {
      const u = at / length;
      xy.push(x0 + u * (x1 - x0), y0 + u * (y1 - y0));
      r.push(r0 + u * (r1 - r0));
    }
    carried = at - length;
  }
  return { xy, r };
}

/** The point of the path nearest to (x, y), looked for near `from` first: lines may cross themselves. */
function nearest(path: KnownPath, x: number, y: number, from: number): { distance: number; s: number } {
  let best = { distance: Infinity, s: from };
  const look = (s0: number, s1: number, step: number) => {
    for (let s = Math.max(0, s0); s <= Math.min(path.lengthPx, s1); s += step) {
      const [px, py] = path.at(s);
      const distance = Math.hypot(px - x, py - y);
      if (distance < best.distance) best = { distance, s };
    }
  };
  look(from - 8, from + 40, 2);
  look(best.s - 2, best.s + 2, 0.1);
  return best;
}

/** How near the line comes to each inner corner of a zig-zag, px: the farthest of them. */
export function cornerMiss(spine: Spine, legPx: number, legs: number): number {
  const { xy } = resampled(spine);
  const path = zigzag(legPx, legs);
  let worst = 0;
  for (let leg = 1; leg < legs; leg++) {
    const [cx, cy] = path.at(leg * legPx);
    let miss = Infinity;
    for (let i = 0; i < xy.length; i += 2) miss = Math.min(miss, Math.hypot(xy[i] - cx, xy[i + 1] - cy));
    worst = Math.max(worst, miss);
  }
  return worst;
}

/** What is left of a tremor of 9 Hz and 1.28 px, drawn along a straight line at 150 px/s: largest offset, px. */
export function tremorLeft(spineOf: (samples: Samples, pen: Pen) => Spine, steady: number): number {
  const recorder = new SampleRecorder(6);
  for (let t = 0; t < 3000; t += 1000 / 120)
    recorder.add({
      x: t * 0.15,
      y: 200 + 1.28 * Math.sin((2 * Math.PI * 9 * t) / 1000),
      tMs: t,
      pressure: 0.5,
      altitudeDeg: 90,
      azimuthDeg: 0,
    });
  const { data, count } = spineOf(recorder.samples(), makePen('fineliner', 2, steady, true, 1));
  let off = 0;
  for (let i = 0; i < count; i++)
    if (data[3 * i] > 60 && data[3 * i] < 390) off = Math.max(off, Math.abs(data[3 * i + 1] - 200));
  return off;
}
