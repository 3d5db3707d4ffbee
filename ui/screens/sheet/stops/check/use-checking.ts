import { Checking } from '../../../../session/checking';
import { useMadeOnce } from '../../../../session/use-made-once';
import { checkings } from './check-registry';

export const useChecking = (): Checking =>
  useMadeOnce(checkings, (session, say, warn) => new Checking(session, say, warn));
