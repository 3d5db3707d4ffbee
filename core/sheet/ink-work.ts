// Work on ink is generators: they yield what they lack, and let others have a turn.

/** Ids whose samples are wanted before the work goes on; none: only a moment to breathe. */
export type Lacking = readonly string[];
/** What long work yields: the part done (0 to 1), what is lacking, or something to wait for. */
export type Pause = number | Lacking | Promise<unknown>;
/** Others may have a turn. */
export const BREATH: Lacking = [];

/**
 * Runs work to its end that has all its samples at hand.
 * @throws {Error} something is lacking.
 */
export function finish<T>(work: Generator<Pause, T>): T {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
    if (typeof value !== 'number' && !(Array.isArray(value) && value.length === 0))
      throw new Error('samples are lacking');
  }
}
