import { useOpenSheet } from './session-context';
import type { SheetSession } from './session';
import { noticeSlice } from '../store/notice-slice';
import { useAppDispatch } from '../store/store';

type Tell = (text: string) => void;

/** Something that works on the open sheet and is made once for it. @param known those that were made, by session. */
export function useMadeOnce<T>(
  known: WeakMap<object, T>,
  make: (session: SheetSession, say: Tell, warn: Tell) => T,
): T {
  const { session } = useOpenSheet();
  const dispatch = useAppDispatch();
  const found = known.get(session);
  if (found) return found;
  const told = (tone: 'plain' | 'warning') => (text: string) => void dispatch(noticeSlice.actions.add({ text, tone }));
  const made = make(session, told('plain'), told('warning'));
  known.set(session, made);
  return made;
}
