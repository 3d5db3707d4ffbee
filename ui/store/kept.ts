/** A text in the browser's storage; null where there is none, or none can be read. */
export function keptText(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

/** A value in the browser's storage; anything unreadable there counts as absent. */
export function readKept<T>(key: string, fallback: T): T {
  try {
    const text = keptText(key);
    return text === null ? fallback : { ...fallback, ...(JSON.parse(text) as Partial<T>) };
  } catch {
    return fallback;
  }
}

/** Keeps a value for the next visit. @returns false where the browser does not let us: it then lasts as long as the page. */
export const keep = (key: string, value: unknown): boolean => keepText(key, JSON.stringify(value));

/** {@link keep}, of a text. */
export function keepText(key: string, text: string): boolean {
  try {
    localStorage.setItem(key, text);
    return true;
  } catch {
    return false;
  }
}
