import { ApiFailure } from './api';
import { deliver, nextBatch, type Delivery, type Outgoing } from './deliver';
import type { Journal } from './journal';

/** `kept` false: some of the waiting steps are not on this device's disk. */
export type SyncState = { kind: 'saved' } | { kind: 'saving' } | { kind: 'waiting'; steps: number; kept: boolean };

/** A step in the queue. `place` resolves once it is in the journal, with undefined if it could not be put there. */
export interface QueuedStep extends Outgoing {
  place: Promise<number | undefined>;
}

const RETRY_MS = [500, 1000, 2000, 4000];
/** Asked to try now, a request that has been under way for longer is given up and made anew. */
const PATIENCE_MS = 1500;

/**
 * Brings waiting steps to the server, in order, one request at a time. What the server has
 * acknowledged leaves the journal; while it cannot be reached, steps stay and are tried again. A
 * step that it does not take is set aside and stops no other.
 */
export class Sender {
  onState: (state: SyncState) => void = () => {};
  onDelivered: (delivery: Delivery<QueuedStep>) => void = () => {};
  private queue: QueuedStep[] = [];
  private unkept = 0;
  private busy = false;
  private failures = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private request: { abort: AbortController; since: number } | undefined;
  private closed = false;
  private held = false;
  private atRest: (() => void)[] = [];

  constructor(
    private readonly sheetId: string,
    private readonly journal: Journal,
  ) {}

  get waiting(): readonly QueuedStep[] {
    return this.queue;
  }

  /** Resolves once nothing waits: while the server cannot be reached, it does not. */
  whenEmpty(): Promise<void> {
    return this.queue.length ? new Promise((done) => this.atRest.push(done)) : Promise.resolve();
  }

  /** Takes a step at once, on disk or not. */
  add(step: QueuedStep): void {
    this.queue.push(step);
    void step.place.then((n) => {
      if (n !== undefined || !this.queue.includes(step)) return;
      this.unkept++;
      this.tell();
    });
    this.tell();
    void this.run();
  }

  /** Tries at once: the device is back online, or the artist looks again. */
  retryNow(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    if (this.request && performance.now() - this.request.since > PATIENCE_MS) {
      this.failures = 0;
      this.request.abort.abort();
    }
    void this.run();
  }

  /** Sends nothing more until {@link release}: the sheet is being read, and what waits is put on top of it. */
  hold(): void {
    this.held = true;
  }

  release(): void {
    this.held = false;
    void this.run();
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
  }

  private async run(): Promise<void> {
    if (this.busy || this.held || this.closed || this.timer !== undefined) return;
    this.busy = true;
    try {
      while (this.queue.length && !this.held && !this.closed) await this.sendBatch();
      this.failures = 0;
    } catch (error) {
      this.retryLater(error);
    } finally {
      this.busy = false;
      this.tell();
    }
  }

  private async sendBatch(): Promise<void> {
    const batch = nextBatch(this.queue);
    const abort = new AbortController();
    this.request = { abort, since: performance.now() };
    const delivery = await deliver(this.sheetId, batch, abort.signal).finally(() => (this.request = undefined));
    this.queue.splice(0, batch.length);
    this.failures = 0;
    if (!this.queue.length) this.unkept = 0;
    this.onDelivered(delivery);
    await this.clearJournal(batch, delivery);
  }

  private async clearJournal(batch: readonly QueuedStep[], { refused }: Delivery<QueuedStep>): Promise<void> {
    const reasons = new Map(refused.map((r) => [r.waiting, r.reason]));
    const done: number[] = [];
    for (const waiting of batch) {
      const n = await waiting.place;
      if (n === undefined) continue;
      const reason = reasons.get(waiting);
      const { step, parts } = waiting;
      if (reason === undefined) done.push(n);
      else await this.journal.putAside({ n, sheetId: this.sheetId, step, parts }, reason);
    }
    if (done.length) await this.journal.remove(done);
  }

  private retryLater(error: unknown): void {
    if (this.closed) return;
    if (!(error instanceof ApiFailure)) console.error(error);
    const delay = RETRY_MS[Math.min(this.failures++, RETRY_MS.length - 1)];
    this.timer = setTimeout(() => {
      this.timer = undefined;
      void this.run();
    }, delay);
  }

  private tell(): void {
    if (this.queue.length === 0) {
      this.onState({ kind: 'saved' });
      for (const done of this.atRest.splice(0)) done();
    } else if (this.failures > 0 || this.unkept > 0)
      this.onState({ kind: 'waiting', steps: this.queue.length, kept: this.unkept === 0 });
    else this.onState({ kind: 'saving' });
  }
}
