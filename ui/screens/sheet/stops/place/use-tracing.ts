import { Tracing } from '../../../../session/tracing';
import { useMadeOnce } from '../../../../session/use-made-once';

/** What traces on the open sheet: made when it is first wanted, with the file of the tools. */
export const useTracing = (): Tracing => useMadeOnce(known, (session, say, warn) => new Tracing(session, say, warn));

const known = new WeakMap<object, Tracing>();
