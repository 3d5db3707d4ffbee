import { useEffect, useId, useMemo } from 'react';
import { useOpenSheet } from './session-context';
import type { SheetDraft } from './sheet-drafts';

/** What a control shows before it is kept; it goes with the control. */
export function useSheetDraft() {
  const { drafts } = useOpenSheet().session;
  const name = useId();
  useEffect(() => () => drafts.set(name, undefined), [drafts, name]);
  return useMemo(
    () => ({
      show: (draft: SheetDraft) => drafts.set(name, draft),
      /** A step takes its place. */
      keep: (step: Promise<unknown> = Promise.resolve()) => void drafts.keep(name, step),
    }),
    [drafts, name],
  );
}
