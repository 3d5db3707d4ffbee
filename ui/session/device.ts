import { nanoid } from 'nanoid';

const KEY = 'hush-line.device';

/** This browser's name in the journal: undo takes back its own steps only. */
export function deviceId(): string {
  try {
    const known = localStorage.getItem(KEY);
    if (known) return known;
    const fresh = nanoid();
    localStorage.setItem(KEY, fresh);
    return fresh;
  } catch {
    // Without storage, undo lasts as long as the page.
    return (fallback ??= nanoid());
  }
}

let fallback: string | undefined;
