import { PaperEdit } from '../../../../session/paper-edit';
import { useMadeOnce } from '../../../../session/use-made-once';

/** What changes the open sheet's paper: made when it is first wanted, with the file of the tools. */
export const usePaperEdit = (): PaperEdit => useMadeOnce(known, (session, _say, warn) => new PaperEdit(session, warn));

const known = new WeakMap<object, PaperEdit>();
