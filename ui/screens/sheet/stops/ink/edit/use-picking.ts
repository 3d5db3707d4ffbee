import { useEffect, useReducer } from 'react';
import type { Picking } from '../../../../../session/picking';
import { useOpenSheet } from '../../../../../session/session-context';
import { useAppSelector } from '../../../../../store/store';
import { lookingFrom } from '../../../../../session/watched';

/** What is picked and can be done with it, followed by every step of the sheet; how it moves is not. */
export function usePicking(): Picking {
  const { picking } = useOpenSheet();
  const [, look] = useReducer((n: number) => n + 1, 0);
  useAppSelector((s) => s.sheet.undo);
  useAppSelector((s) => s.sheet.stack);
  useEffect(() => lookingFrom((told) => picking.watchPicked(told), look), [picking]);
  return picking;
}
