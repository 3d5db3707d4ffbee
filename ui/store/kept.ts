/** A value in the browser's storage; anything unreadable there counts as absent. */
export function readKept<T>(key: string, fallback: T): T {
  try {
    const text = localStorage.getItem(key);
    return text === null ? fallback : { ...fallback, ...(JSON.parse(text) as Partial<T>) };
  } catch {
    return fallback;
  }
}

/** Keeps a value for the next visit, if the browser lets us. */
export function keep(key: string, value: unknown): void {
  try {
    localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // Private windows may refuse; the value then lasts as long as the page.
  }
}
