import type { Parts } from '../../contract/frame';
import { MAX_STEP_BYTES } from '../../contract/steps';
import type { Step } from '../../core/sheet/steps';
import { ApiFailure, sendSteps } from './api';
import type { Journal, WaitingStep } from './journal';

export type SyncState = { kind: 'saved' } | { kind: 'saving' } | { kind: 'waiting'; steps: number };

const MAX_BATCH = 200;
const RETRY_MS = [500, 1000, 2000, 4000];

/**
 * Brings waiting steps to the server, in order, one request at a time. What the server has
 * acknowledged leaves the journal; while it cannot be reached, steps stay and are tried again.
 */
export class Sender {
  onState: (state: SyncState) => void = () => {};
  onAcknowledged: (ids: string[], seq: number) => void = () => {};
  onRefused: (step: Step, message: string) => void = () => {};
  private queue: WaitingStep[] = [];
  private busy = false;
  private failures = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private closed = false;

  constructor(
    private readonly sheetId: string,
    private readonly journal: Journal,
  ) {}

  get waiting(): readonly WaitingStep[] {
    return this.queue;
  }

  /** Takes a step that is in the journal (it has its place `n`). */
  add(step: WaitingStep): void {
    this.queue.push(step);
    this.tell();
    void this.run();
  }

  /** Tries at once: the device is back online, or the artist looks again. */
  retryNow(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    void this.run();
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
  }

  private async run(): Promise<void> {
    if (this.busy || this.closed || this.timer !== undefined) return;
    this.busy = true;
    try {
      while (this.queue.length && !this.closed) await this.sendBatch();
      this.failures = 0;
    } catch (error) {
      this.retryLater(error);
    } finally {
      this.busy = false;
      this.tell();
    }
  }

  private async sendBatch(): Promise<void> {
    const batch = this.nextBatch();
    const parts: Parts = new Map(batch.flatMap((w) => w.parts));
    const { results, seq } = await sendSteps(
      this.sheetId,
      batch.map((w) => w.step),
      parts,
    );
    await this.journal.remove(batch.map((w) => w.n!));
    this.queue.splice(0, batch.length);
    this.failures = 0;
    this.onAcknowledged(
      results.flatMap((r) => ('seq' in r ? [r.id] : [])),
      seq,
    );
    for (const r of results)
      if ('refused' in r) this.onRefused(batch.find((w) => w.step.id === r.id)!.step, r.refused.message);
  }

  /** As many steps as fit one request; always at least one. */
  private nextBatch(): WaitingStep[] {
    let bytes = 0;
    const batch: WaitingStep[] = [];
    for (const waiting of this.queue.slice(0, MAX_BATCH)) {
      bytes += 1000 + waiting.parts.reduce((sum, [, part]) => sum + part.length, 0);
      if (batch.length && bytes > MAX_STEP_BYTES / 4) break;
      batch.push(waiting);
    }
    return batch;
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
    if (this.queue.length === 0) this.onState({ kind: 'saved' });
    else if (this.failures > 0) this.onState({ kind: 'waiting', steps: this.queue.length });
    else this.onState({ kind: 'saving' });
  }
}
