import { Pouring } from '../../../../session/pouring';
import { useMadeOnce } from '../../../../session/use-made-once';
import { pourings } from './colour-registry';

export const usePouring = (): Pouring => useMadeOnce(pourings, (session, say, warn) => new Pouring(session, say, warn));
