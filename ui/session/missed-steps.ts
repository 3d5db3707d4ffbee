import type { ToWorker } from '../../workers/sheet-protocol';
import { fetchStepsAfter } from './api';
import { inkOf, partsOf } from './foreign-steps';

type Missed = Extract<ToWorker, { type: 'open' }>['missed'][number];

/**
 * The steps from the packed ink to the kept tiles, which the server had packed some steps ago.
 * @param layersSeq what they did to layers and settings up to here was read with these.
 */
export async function missedSteps(
  sheetId: string,
  { from, to, layersSeq }: { from: number; to: number; layersSeq: number },
): Promise<Missed[]> {
  const missed: Missed[] = [];
  for (let seq = from; seq < to;) {
    const { steps, parts } = await fetchStepsAfter(sheetId, seq);
    if (!steps.length) break;
    for (const step of steps) {
      seq = step.seq!;
      if (seq > to) break;
      const { changes } = seq <= layersSeq ? inkOf(step) : step;
      missed.push({ changes, parts: partsOf(changes, parts) });
    }
  }
  return missed;
}
