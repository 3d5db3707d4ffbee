import type { Checking } from '../../../../session/checking';

/** What is checked of each open sheet, by its session: here for keys, which may come before the file of the tools. */
export const checkings = new WeakMap<object, Checking>();
