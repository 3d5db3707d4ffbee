import { spawn } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readAnswer } from './answer-frame';
import { DecodeFailure, type DecodedFile } from './decoded';
import { kindOf, PLAIN, type DecodedKind } from './kinds';
import { LIMITS, type DecodingLimits } from './limits';
import type { PlainCopy } from './plain-copy';

const LOOK_MS = 100;

/** Built, the process is a file beside the server's; otherwise it is run from its source. */
const BUILT = join(__dirname, 'decoder.cjs');
const COMMAND = existsSync(BUILT) ? [BUILT] : ['--import', 'tsx', join(__dirname, 'child.ts')];

/**
 * Decodes a file in a process of its own, which is ended when it takes too long, or too much memory where the system tells:
 * a file made to do harm costs that, and the server answers meanwhile.
 * @throws {DecodeFailure}
 */
export const decodeElsewhere = (kind: DecodedKind, bytes: Uint8Array, limits = LIMITS): Promise<DecodedFile> =>
  elsewhere([kind], bytes, limits);

/** As {@link plainCopy}, of what takes much memory, as {@link decodeElsewhere}. @throws {DecodeFailure} */
export async function copyElsewhere(bytes: Uint8Array, side: number, frames: number): Promise<PlainCopy> {
  const { pictures } = await elsewhere([PLAIN, String(side), String(frames)], bytes, LIMITS);
  const copy = Buffer.from(pictures[0].bytes);
  return { bytes: copy, type: kindOf(copy) === 'webp' ? 'image/webp' : 'image/jpeg' };
}

function elsewhere(what: readonly string[], bytes: Uint8Array, limits: DecodingLimits): Promise<DecodedFile> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [...COMMAND, ...what], { stdio: ['pipe', 'ignore', 'ignore', 'pipe'] });
    const parts: Buffer[] = [];
    let reason: string | undefined;
    const stop = (why: string) => {
      reason ??= why;
      child.kill('SIGKILL');
    };
    const late = setTimeout(() => stop(`longer than ${limits.seconds} s`), limits.seconds * 1000);
    const look = setInterval(() => {
      if (memoryOf(child.pid) > limits.bytes) stop(`more than ${Math.round(limits.bytes / 1e6)} MB`);
    }, LOOK_MS);
    const done = () => {
      clearTimeout(late);
      clearInterval(look);
    };
    child.on('error', (error) => {
      done();
      reject(error);
    });
    child.stdio[3]!.on('data', (part: Buffer) => parts.push(part));
    // One that gives up early does not read to the end.
    child.stdin!.on('error', () => undefined);
    child.stdin!.end(bytes);
    child.on('close', () => {
      done();
      if (reason) return reject(new DecodeFailure('picture-too-complex', reason));
      const answer = readAnswer(Buffer.concat(parts));
      if (!answer) return reject(new DecodeFailure('picture-too-complex', 'decoding broke off'));
      if ('failed' in answer) return reject(new DecodeFailure(answer.failed.code, answer.failed.detail));
      resolve(answer);
    });
  });
}

const PAGE_BYTES = 4096;

/** Bytes of memory that a process holds; 0 where the system does not tell. */
function memoryOf(pid: number | undefined): number {
  try {
    return Number(readFileSync(`/proc/${pid}/statm`, 'latin1').split(' ')[1]) * PAGE_BYTES;
  } catch {
    return 0;
  }
}
