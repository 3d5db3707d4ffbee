/** Values by key with their sizes; the least recently used go when the total exceeds the limit. */
export class LruCache<V, K = string> {
  private readonly map = new Map<K, { value: V; bytes: number }>();
  private total = 0;

  constructor(
    private limitBytes: number,
    private readonly drop: (value: V) => void = () => {},
  ) {}

  get bytes(): number {
    return this.total;
  }

  /** What does not fit any more goes. */
  set limit(bytes: number) {
    this.limitBytes = bytes;
    this.trim(undefined);
  }

  get(key: K): V | undefined {
    const entry = this.map.get(key);
    if (!entry) return undefined;
    this.map.delete(key);
    this.map.set(key, entry);
    return entry.value;
  }

  /** The value, without counting as a use. */
  peek(key: K): V | undefined {
    return this.map.get(key)?.value;
  }

  has(key: K): boolean {
    return this.map.has(key);
  }

  set(key: K, value: V, bytes: number): void {
    this.delete(key);
    this.map.set(key, { value, bytes });
    this.total += bytes;
    this.trim(key);
  }

  private trim(latest: K | undefined): void {
    for (const oldest of this.map.keys()) {
      if (this.total <= this.limitBytes || oldest === latest) break;
      this.delete(oldest);
    }
  }

  /** Gives a value away: it is not here any more, and not dropped. */
  take(key: K): V | undefined {
    const entry = this.map.get(key);
    if (!entry) return undefined;
    this.map.delete(key);
    this.total -= entry.bytes;
    return entry.value;
  }

  delete(key: K): void {
    const entry = this.map.get(key);
    if (!entry) return;
    this.map.delete(key);
    this.total -= entry.bytes;
    this.drop(entry.value);
  }

  keys(): K[] {
    return [...this.map.keys()];
  }

  clear(): void {
    for (const key of this.keys()) this.delete(key);
  }
}
