import { nanoid } from 'nanoid';

/** What the buttons of messages do, by key: the store holds plain values only. */
const ways = new Map<string, () => void>();

/** Keeps what a button does. @returns its key. */
export function keepWay(does: () => void): string {
  const key = nanoid();
  ways.set(key, does);
  return key;
}

/** Does it, once. */
export function takeWay(key: string): void {
  ways.get(key)?.();
  ways.delete(key);
}

export const forgetWay = (key: string): void => void ways.delete(key);
