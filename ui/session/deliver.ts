import type { StepsAnswer } from '../../contract/answers';
import { MAX_STEP_BYTES } from '../../contract/limits';
import type { Step } from '../../core/sheet/steps';
import { ApiFailure, sendSteps } from './api';

/** A step on its way, with its samples. */
export interface Outgoing {
  step: Step;
  parts: [string, Uint8Array][];
}

/** What became of a batch. */
export interface Delivery<T extends Outgoing> {
  /** `isOther`: it was written otherwise than it was sent, or may have been. */
  written: { id: string; seq: number; isOther?: true }[];
  refused: { waiting: T; reason: string }[];
  /** The sheet's latest step and whether it lies among the deleted, if any of the batch arrived. */
  state?: Pick<StepsAnswer, 'seq' | 'deleted'>;
}

const MAX_BATCH = 200;
const BATCH_BYTES = MAX_STEP_BYTES / 8;

const sizes = new WeakMap<Step, number>();

/** About how many bytes a step takes as JSON; measured once. */
export function stepBytes(step: Step): number {
  let size = sizes.get(step);
  if (size === undefined) sizes.set(step, (size = JSON.stringify(step).length));
  return size;
}

const bytesOf = ({ step, parts }: Outgoing): number =>
  stepBytes(step) + parts.reduce((sum, [, part]) => sum + part.length, 0);

/** As many steps from the front as fit one request; always at least one. */
export function nextBatch<T extends Outgoing>(queue: readonly T[]): T[] {
  let bytes = 0;
  const batch: T[] = [];
  for (const waiting of queue.slice(0, MAX_BATCH)) {
    bytes += bytesOf(waiting);
    if (batch.length && bytes > BATCH_BYTES) break;
    batch.push(waiting);
  }
  return batch;
}

/**
 * Sends a batch. Where the server does not take the request as a whole, the step that is to blame is
 * found by halving; the others arrive.
 * @throws {ApiFailure} the server cannot be reached, failed, or does not know the sheet: nothing is decided.
 */
export async function deliver<T extends Outgoing>(
  sheetId: string,
  batch: readonly T[],
  signal?: AbortSignal,
): Promise<Delivery<T>> {
  try {
    const { results, seq, deleted } = await sendSteps(
      sheetId,
      batch.map((w) => w.step),
      new Map(batch.flatMap((w) => w.parts)),
      signal,
    );
    const byId = new Map(batch.map((w) => [w.step.id, w]));
    return {
      written: results.flatMap((r) => ('seq' in r ? [r] : [])),
      refused: results.flatMap((r) =>
        'refused' in r ? [{ waiting: byId.get(r.id)!, reason: r.refused.message }] : [],
      ),
      state: { seq, deleted },
    };
  } catch (error) {
    if (!(error instanceof ApiFailure) || !error.isVerdict) throw error;
    if (batch.length === 1) return { written: [], refused: [{ waiting: batch[0], reason: error.message }] };
    const half = batch.length >> 1;
    const first = await deliver(sheetId, batch.slice(0, half), signal);
    const second = await deliver(sheetId, batch.slice(half), signal);
    return {
      written: [...first.written, ...second.written],
      refused: [...first.refused, ...second.refused],
      state: second.state ?? first.state,
    };
  }
}
