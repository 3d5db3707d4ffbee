import { useEffect, useReducer } from 'react';
import type { Picking } from '../../../../../session/picking';
import { useOpenSheet } from '../../../../../session/session-context';
import { useAppSelector } from '../../../../../store/store';

/** What is picked, followed: by every change of it, and of the sheet. */
export function usePicking(): Picking {
  const { picking } = useOpenSheet();
  const [, look] = useReducer((n: number) => n + 1, 0);
  const { undo, redo, stack } = useAppSelector((s) => s.sheet);
  useEffect(() => picking.watch(look), [picking]);
  useEffect(() => picking.refresh(), [picking, undo, redo, stack]);
  return picking;
}
