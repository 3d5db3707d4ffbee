import type { Assign, Change, Read } from '../../core/sheet/steps';
import { Previews } from '../../workers/previews';

/** The hand holds what it does for so long at most. */
const MOST_MS = 60000;

/**
 * What the hand is doing that means places of the paper as it is: strokes under way, and what is shown before it is done.
 * Another paper waits until it rests.
 */
export class BusyHand {
  private hands = 0;
  private readonly previews = new Previews();
  private waiting: (() => void)[] = [];
  private closed = false;

  /** @param onBusy it has begun. @param onRest it has come to rest. */
  constructor(
    private readonly onBusy: () => void,
    private readonly onRest: () => void,
  ) {}

  get isBusy(): boolean {
    return this.hands > 0 || this.previews.stand;
  }

  /** Something is begun. @returns ends it. */
  hold(): () => void {
    this.hands++;
    this.onBusy();
    let isHeld = true;
    return () => {
      if (isHeld) this.hands = Math.max(0, this.hands - 1);
      isHeld = false;
      this.rests();
    };
  }

  /** Strokes are shown with these values. */
  show(changes: readonly Assign[], read: Read): void {
    this.previews.show(changes, read);
    this.rests();
  }

  /** A step has set its fields. */
  done(changes: readonly Change[]): void {
    this.previews.done(changes);
    this.rests();
  }

  /** Nothing is shown any more but what the steps give. */
  clear(): void {
    this.previews.clear();
    this.rests();
  }

  /** A hand that is busy for longer than `mostMs` is passed over: others' steps are not kept away for ever. */
  async whenAtRest(mostMs = MOST_MS): Promise<void> {
    if (!this.isBusy || this.closed) return;
    let late: ReturnType<typeof setTimeout> | undefined;
    await new Promise<void>((done) => {
      this.waiting.push(done);
      late = setTimeout(() => this.letGo(), mostMs);
    });
    clearTimeout(late);
  }

  private letGo(): void {
    this.hands = 0;
    this.clear();
  }

  private rests(): void {
    if (this.isBusy) return;
    for (const done of this.waiting.splice(0)) done();
    this.onRest();
  }

  close(): void {
    this.closed = true;
    for (const done of this.waiting.splice(0)) done();
  }
}
