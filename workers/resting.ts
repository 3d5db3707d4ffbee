import type { Pause } from '../core/sheet/ink-work';

const REST_MS = 60;

/** What nobody waits for rests so long while the screen waits for something. */
export const rest = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, REST_MS));

/** Work that rests while the screen waits for something. */
export function* calmly<T>(work: Generator<Pause, T>, isCalm: () => boolean): Generator<Pause, T> {
  try {
    for (;;) {
      while (!isCalm()) yield rest();
      const { done, value } = work.next();
      if (done) return value;
      yield value;
    }
  } finally {
    work.return(undefined as T);
  }
}
