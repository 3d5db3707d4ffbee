import { grouped } from '../../core/sheet/grouped';
import { ApiFailure } from './api';
import { deliver, nextBatch } from './deliver';
import { Journal, type WaitingStep } from './journal';

/** What came of {@link sendAllWaiting}. */
export interface SentWaiting {
  /** Something was sent. */
  sent: boolean;
  /** Steps that the server did not take; they are set aside on this device. */
  refused: { label: string; reason: string }[];
}

/**
 * Brings to the server what sheets that are not open have left waiting on this device. A sheet that
 * fails stops no other, and leaves its steps waiting.
 */
export async function sendAllWaiting(): Promise<SentWaiting> {
  const journal = await Journal.open();
  const out: SentWaiting = { sent: false, refused: [] };
  try {
    for (const [sheetId, waiting] of grouped(await journal.allWaiting(), (w) => w.sheetId))
      try {
        await sendSheet(journal, sheetId, waiting, out);
      } catch (error) {
        if (!(error instanceof ApiFailure)) throw error;
      }
  } finally {
    journal.close();
  }
  return out;
}

async function sendSheet(
  journal: Journal,
  sheetId: string,
  waiting: readonly WaitingStep[],
  out: SentWaiting,
): Promise<void> {
  for (let at = 0; at < waiting.length;) {
    const batch = nextBatch(waiting.slice(at));
    const { written, refused } = await deliver(sheetId, batch);
    const done = new Set(written.map((w) => w.id));
    await journal.remove(batch.filter((w) => done.has(w.step.id)).map((w) => w.n!));
    for (const r of refused) {
      await journal.putAside(r.waiting, r.reason);
      out.refused.push({ label: r.waiting.step.label, reason: r.reason });
    }
    out.sent ||= written.length > 0;
    at += batch.length;
  }
}
