import { useOpenSheet } from '../../../../session/session-context';
import type { SheetSession } from '../../../../session/session';
import { Tracing } from '../../../../session/tracing';
import { noticeSlice } from '../../../../store/notice-slice';
import { useAppDispatch } from '../../../../store/store';

const known = new WeakMap<SheetSession, Tracing>();

/** What traces on the open sheet: made when it is first wanted, with the file of the tools. */
export function useTracing(): Tracing {
  const { session } = useOpenSheet();
  const dispatch = useAppDispatch();
  const found = known.get(session);
  if (found) return found;
  const told = (tone: 'plain' | 'warning') => (text: string) => void dispatch(noticeSlice.actions.add({ text, tone }));
  const made = new Tracing(session, told('plain'), told('warning'));
  known.set(session, made);
  return made;
}
