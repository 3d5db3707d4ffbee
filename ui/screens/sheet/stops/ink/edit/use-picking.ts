import type { Picking } from '../../../../../session/picking';
import { useOpenSheet } from '../../../../../session/session-context';
import { useAppSelector } from '../../../../../store/store';
import { useTellings } from '../../../../../components/use-tellings';

const watchPicked = (picking: Picking, told: () => void) => picking.watchPicked(told);

/** What is picked and can be done with it, followed by every step of the sheet; how it moves is not. */
export function usePicking(): Picking {
  const { picking } = useOpenSheet();
  useAppSelector((s) => s.sheet.undo);
  useAppSelector((s) => s.sheet.stack);
  useTellings(picking, watchPicked);
  return picking;
}
