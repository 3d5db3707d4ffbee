import { ApiFailure, sendSteps } from './api';
import { Journal, type WaitingStep } from './journal';

/**
 * Brings to the server what sheets that are not open have left waiting on this device.
 * @returns whether anything was sent. Failing leaves everything waiting.
 */
export async function sendAllWaiting(): Promise<boolean> {
  const journal = await Journal.open();
  let sent = false;
  try {
    const bySheet = new Map<string, WaitingStep[]>();
    for (const w of await journal.allWaiting()) bySheet.set(w.sheetId, [...(bySheet.get(w.sheetId) ?? []), w]);
    for (const [sheetId, waiting] of bySheet)
      for (let i = 0; i < waiting.length; i += 100) {
        const batch = waiting.slice(i, i + 100);
        await sendSteps(
          sheetId,
          batch.map((w) => w.step),
          new Map(batch.flatMap((w) => w.parts)),
        );
        await journal.remove(batch.map((w) => w.n!));
        sent = true;
      }
  } catch (error) {
    if (!(error instanceof ApiFailure)) throw error;
  } finally {
    journal.close();
  }
  return sent;
}
