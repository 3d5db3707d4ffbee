import type { Pen } from './pen';
import { SpineBuilder, type Builder } from './spine-builder';

/** The engine that is not part of the first program: who may meet ink of it has `engine-1/provided`. */
export const FIRST_ENGINE = 1;

const provided = new Map<number, (pen: Pen) => Builder>();

/** Makes an engine known that is not part of the newest one's program. */
export const provideEngine = (engine: number, make: (pen: Pen) => Builder): void => void provided.set(engine, make);

/** @throws {Error} one that was not provided: to take another for it would draw something else. */
export function builderOf(engine: number, pen: Pen): Builder {
  if (engine !== FIRST_ENGINE) return new SpineBuilder(pen, 1, engine);
  const make = provided.get(engine);
  if (!make) throw new Error('the formulas of the first engine are not here');
  return make(pen);
}
