import { Worker } from 'node:worker_threads';
import type { DecodingLimits } from './limits';

/** Looks this often. */
const LOOK_MS = 250;

/** In plain script: what it watches may be busy for good, and has no turn to load anything more. */
const WATCHING = `
const { workerData } = require('node:worker_threads');
const began = Date.now();
setInterval(() => {
  const isAlone = process.ppid !== workerData.parent;
  const isLate = Date.now() - began > workerData.seconds * 1000;
  if (isAlone || isLate || process.memoryUsage.rss() > workerData.bytes) process.kill(process.pid, 'SIGKILL');
}, workerData.lookMs);
`;

/**
 * Ends this process, whatever it is doing, once the one that began it has gone, or it takes longer or more than it may: a
 * server that was killed leaves none behind. On a thread of its own.
 */
export function watchOver(limits: DecodingLimits, parent = process.ppid): void {
  const worker = new Worker(WATCHING, { eval: true, workerData: { parent, lookMs: LOOK_MS, ...limits } });
  worker.unref();
}
