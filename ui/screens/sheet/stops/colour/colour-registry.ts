import type { Hatching } from '../../../../session/hatching';
import type { Labelling } from '../../../../session/labelling';
import type { Pouring } from '../../../../session/pouring';

/** What is poured on each open sheet, by its session: here for pointers and keys, which may come before the file of the tools. */
export const pourings = new WeakMap<object, Pouring>();

/** The same of what is hatched. */
export const hatchings = new WeakMap<object, Hatching>();

/** The same of labels. */
export const labellings = new WeakMap<object, Labelling>();
