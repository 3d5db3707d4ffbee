/** What an act changes of the interface comes so much later than what it changes of the drawing. */
const PIXELS_FIRST_MS = 60;

/** Lets the interface follow once the pixels are shown: painting both at once would hold these up. */
export class PixelsFirst {
  private readonly due = new Map<string, () => void>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private closed = false;

  /** Does it soon; of what is due by the same name, the latest counts. */
  later(name: string, follow: () => void): void {
    if (this.closed) return;
    this.due.set(name, follow);
    this.timer ??= setTimeout(() => {
      this.timer = undefined;
      const due = [...this.due.values()];
      this.due.clear();
      for (const one of due) one();
    }, PIXELS_FIRST_MS);
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
  }
}
