import { nanoid } from 'nanoid';
import type { ToneSet } from '../../core/picture/recipe-steps';
import { Watched } from '../session/watched';
import { keepText, keptText } from './kept';
import { readTones, type OwnTones } from './tones-file';

const KEY = 'hush-line.tones';
/** Where tones stay that this version cannot read: the next change would write over them. */
const ASIDE_KEY = `${KEY}.unread`;
export const MOST_TONES = 24;

/** The artist's own tones on this device, in all its tabs. */
class OwnTonesStore {
  readonly all = new Watched<readonly OwnTones[]>([]);
  /** How many are on this device that this version cannot read. */
  readonly left = new Watched(0);

  constructor() {
    this.take(keptText(KEY));
    if (typeof window !== 'undefined')
      window.addEventListener('storage', ({ key, newValue }) => key === KEY && this.take(newValue));
  }

  /** @returns whether they are kept for the next visit, as of all of these. */
  keep(name: string, set: ToneSet): boolean {
    return this.add({ id: nanoid(), name, set });
  }

  add(made: OwnTones, at = this.all.now().length): boolean {
    if (this.all.now().length >= MOST_TONES) return true;
    return this.put([...this.all.now().slice(0, at), made, ...this.all.now().slice(at)]);
  }

  rename(id: string, name: string): boolean {
    return this.put(this.all.now().map((t) => (t.id === id ? { ...t, name } : t)));
  }

  remove(id: string): boolean {
    return this.put(this.all.now().filter((t) => t.id !== id));
  }

  private put(all: readonly OwnTones[]): boolean {
    this.all.set(all);
    return keepText(KEY, JSON.stringify(all));
  }

  /** Takes over what this device has kept, in whatever tab. */
  take(text: string | null): void {
    const { all, left } = readTones(text);
    if (left && text !== null) keepText(ASIDE_KEY, text);
    this.left.set(left);
    this.all.set(all);
  }
}

export const ownTones = new OwnTonesStore();
