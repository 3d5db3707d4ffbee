import { useEffect, useState, type ReactNode } from 'react';
import { useWatched } from '../../../../session/watched';
import { StateSign } from '../../frame/state-sign';
import { usePouring } from './use-pouring';

/** What takes no longer than this is not told, ms. */
const TOLD_AFTER_MS = 300;

/** What is being looked for, what is still open or unfilled, or what stands there otherwise. */
export function ColourStatus({ children }: { children: ReactNode }) {
  const pouring = usePouring();
  const isBusy = useLong(useWatched(pouring.busy));
  const words = statusWords(useWatched(pouring.unfilled)?.length ?? 0, useWatched(pouring.opened).length);
  if (isBusy) return <StateSign dot="some" words="Looking for the shape" />;
  return words ? <StateSign dot="warning" words={words} /> : children;
}

/** Whether something has been so for a while. */
function useLong(isSo: boolean): boolean {
  const [isLong, setLong] = useState(false);
  useEffect(() => {
    if (!isSo) return;
    const timer = setTimeout(() => setLong(true), TOLD_AFTER_MS);
    return () => {
      clearTimeout(timer);
      setLong(false);
    };
  }, [isSo]);
  return isLong;
}

/** @param open shapes whose lines enclose them no longer. */
export function statusWords(unfilled: number, open: number): string {
  const shapes = (count: number, about = '') => `${count} ${about}${count === 1 ? 'shape' : 'shapes'}`;
  return [open && `${shapes(open)} opened`, unfilled && `${shapes(unfilled, 'small ')} unfilled`]
    .filter(Boolean)
    .join(', ');
}
