import type { Samples } from './samples';

/** How readily the end of a line meets another. */
export const CATCHES = ['off', 'gentle', 'strong'] as const;
export type Catch = (typeof CATCHES)[number];

/** A place on the paper, px. */
export interface Place {
  x: number;
  y: number;
}

/** A moved end takes so many times its movement of the line along, and at least this much, px. */
const ALONG_TIMES = 4;

/**
 * A stroke whose ends are moved to places that they almost met: most at the end itself, smoothly less along the line, at most as
 * far as its middle.
 * @param start where it is to begin, `end` where it is to end; absent: where it does.
 * @param leastPx so much of the line goes along with an end at least, px.
 * @returns new samples; a dot stays what it is.
 */
export function withMetEnds(
  samples: Samples,
  start: Place | undefined,
  end: Place | undefined,
  leastPx: number,
): Samples {
  const { count } = samples;
  if (count < 2 || !(start || end)) return samples;
  const lengths = lengthsOf(samples);
  const whole = lengths[count - 1];
  const x = samples.x.slice(0, count);
  const y = samples.y.slice(0, count);
  const perPx = 2 ** samples.unitLog2;
  const move = (to: Place | undefined, at: number, lengthTo: (i: number) => number) => {
    if (!to) return;
    const dx = to.x - samples.x[at] / perPx;
    const dy = to.y - samples.y[at] / perPx;
    const reach = Math.min(whole / 2, Math.max(leastPx, ALONG_TIMES * Math.sqrt(dx * dx + dy * dy)));
    for (let i = 0; i < count; i++) {
      const u = reach > 0 ? lengthTo(i) / reach : i === at ? 0 : 1;
      if (u >= 1) continue;
      const weight = (1 - u) * (1 - u) * (1 + 2 * u);
      x[i] = Math.round(x[i] + dx * weight * perPx);
      y[i] = Math.round(y[i] + dy * weight * perPx);
    }
  };
  move(start, 0, (i) => lengths[i]);
  move(end, count - 1, (i) => whole - lengths[i]);
  return { ...samples, x, y };
}

/** How far along the hand's way each sample is, px. */
function lengthsOf({ x, y, count, unitLog2 }: Samples): Float64Array {
  const lengths = new Float64Array(count);
  const perPx = 2 ** unitLog2;
  for (let i = 1; i < count; i++) {
    const [dx, dy] = [(x[i] - x[i - 1]) / perPx, (y[i] - y[i - 1]) / perPx];
    lengths[i] = lengths[i - 1] + Math.sqrt(dx * dx + dy * dy);
  }
  return lengths;
}
