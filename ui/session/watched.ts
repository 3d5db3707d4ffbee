import { useSyncExternalStore } from 'react';

/** A value that parts of an open sheet's screens share, and are told of when it changes. */
export class Watched<T> {
  private readonly listeners = new Set<() => void>();

  constructor(private value: T) {}

  readonly now = (): T => this.value;

  readonly watch = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };

  set(value: T): void {
    if (Object.is(value, this.value)) return;
    this.value = value;
    for (const listener of this.listeners) listener();
  }
}

export const useWatched = <T>(watched: Watched<T>): T => useSyncExternalStore(watched.watch, watched.now);
