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
