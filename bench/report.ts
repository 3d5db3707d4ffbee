import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

/** One measured figure. `ratio` is value over (or under) `against`, from the same run. */
export interface Figure {
  name: string;
  value: number;
  unit: string;
  ratio?: number;
  against?: string;
}

export const figure = (name: string, value: number, unit: string, ratio?: number, against?: string): Figure => ({
  name,
  value: rounded(value),
  unit,
  ...(ratio === undefined ? {} : { ratio: rounded(ratio) }),
  ...(against === undefined ? {} : { against }),
});

const rounded = (v: number): number => Number(v.toPrecision(4));

/**
 * Times several pieces of work alternately, `rounds` times each, and gives the median ms of each: what
 * disturbs the machine disturbs all of them alike.
 */
export function alternate(rounds: number, ...works: (() => void)[]): number[] {
  const times = works.map((): number[] => []);
  for (let r = 0; r <= rounds; r++)
    works.forEach((work, i) => {
      const began = performance.now();
      work();
      // The first round warms up.
      if (r > 0) times[i].push(performance.now() - began);
    });
  return times.map(median);
}

export function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)];
}

/** By nearest rank. */
export function percentile(values: number[], p: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.max(0, Math.ceil(sorted.length * p) - 1)] ?? 0;
}

const MB = 1048576;

/** Memory in use once all that nobody holds is gone, MB. */
function inUse(): number {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  collect();
  collect();
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  return (heapUsed + arrayBuffers) / MB;
}

/** How much memory what is made holds from then on, MB. */
export function heldBy(make: () => unknown): number {
  const before = inUse();
  const kept = [make()];
  const held = inUse() - before;
  // Kept until here.
  kept.length = 0;
  return held;
}

/** The most that arrays take while work is done, over what they take before, MB: looked at wherever it pauses. */
export function peakOf(work: Generator<unknown, unknown>): number {
  inUse();
  const arrays = () => process.memoryUsage().arrayBuffers / MB;
  const before = arrays();
  let peak = before;
  for (let done = false; !done; peak = Math.max(peak, arrays())) done = work.next().done === true;
  return peak - before;
}
