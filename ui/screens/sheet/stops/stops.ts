import { CHECK } from './check/check-stop';
import { COLOUR } from './colour/colour-stop';
import { INK } from './ink/ink-stop';
import { PLACE } from './place/place-stop';
import { SEND } from './send/send-stop';
import type { Stop } from './stop';

/** The stops that there are, in the order of the work. A new one is a folder beside these, and its line here. */
export const STOPS: readonly Stop[] = [PLACE, INK, CHECK, COLOUR, SEND];

/** Where a sheet opens, and where an address leads that names no stop. */
export const FIRST_STOP = INK;

/** The stop that an address leads to. */
export const stopAt = (path: string): Stop | undefined => STOPS.find((s) => s.route === path.split('/').pop());
