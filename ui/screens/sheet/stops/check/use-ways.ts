import { useMadeOnce } from '../../../../session/use-made-once';
import { WaysOfLooking } from '../../../../session/ways-of-looking';

/** The open sheet's ways of looking: made when Check is first opened. */
export const useWays = (): WaysOfLooking => useMadeOnce(known, (session) => new WaysOfLooking(session));

const known = new WeakMap<object, WaysOfLooking>();
