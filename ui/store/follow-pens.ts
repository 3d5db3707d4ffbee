import { keepText, keptText } from './kept';
import { PENS_KEY } from './kept-pen';
import { noticeSlice } from './notice-slice';
import { penSlice } from './pen-slice';
import { readKeptPens } from './pens-file';
import type { AppStore } from './store';

/** Where pens stay that this version cannot read: the next change would write over them. */
const ASIDE_KEY = `${PENS_KEY}.unread`;

/** Keeps what cannot be read of pens as it is, and says so once. */
function putAside(store: AppStore, text: string): void {
  if (keptText(ASIDE_KEY) === text) return;
  const isKept = keepText(ASIDE_KEY, text);
  const where = isKept
    ? 'They stay on this device as they are, for a version that can.'
    : 'This browser could not keep them.';
  const said = `Some of your own pens cannot be read by this version. ${where}`;
  store.dispatch(noticeSlice.actions.add({ text: said, tone: 'warning' }));
}

/** Takes in the artist's own pens as this device keeps them, and follows what other tabs do to them. @returns stops following. */
export function followPens(store: AppStore): () => void {
  const take = (text: string | null) => {
    const { pens, left } = readKeptPens(text);
    if (left) putAside(store, text!);
    store.dispatch(penSlice.actions.pensChanged(pens));
  };
  const follow = ({ key, newValue }: StorageEvent) => void (key === PENS_KEY && take(newValue));
  take(keptText(PENS_KEY));
  window.addEventListener('storage', follow);
  return () => window.removeEventListener('storage', follow);
}
