import { keptText } from './kept';
import { PENS_KEY } from './kept-pen';
import { penSlice } from './pen-slice';
import { readKeptPens } from './pens-file';
import type { AppStore } from './store';

/** Takes in the artist's own pens as this device keeps them, and follows what other tabs do to them. @returns stops following. */
export function followPens(store: AppStore): () => void {
  const take = (text: string | null) => store.dispatch(penSlice.actions.pensChanged(readKeptPens(text)));
  const follow = ({ key, newValue }: StorageEvent) => void (key === PENS_KEY && take(newValue));
  take(keptText(PENS_KEY));
  window.addEventListener('storage', follow);
  return () => window.removeEventListener('storage', follow);
}
