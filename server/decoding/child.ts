import { createWriteStream } from 'node:fs';
import { buffer } from 'node:stream/consumers';
import { DecodeFailure } from './decoded';
import { decoders } from './decoders';
import { framedFailure, framedFile } from './answer-frame';
import type { DecodedKind } from './kinds';
import { OWN_LIMITS } from './limits';
import { watchOver } from './watchdog';

// The decoding process: a kind as its argument, a file on its standard input, the answer on descriptor 3 (libraries
// print what they like on the others).

watchOver(OWN_LIMITS);

async function answer(): Promise<Uint8Array[]> {
  try {
    return framedFile(await decoders[process.argv[2] as DecodedKind](await buffer(process.stdin)));
  } catch (error) {
    if (error instanceof DecodeFailure) return framedFailure(error.code, error.detail);
    return framedFailure('picture-cut-short', String(error));
  }
}

void answer().then((parts) => {
  const out = createWriteStream('', { fd: 3 });
  for (const part of parts) out.write(part);
  out.end(() => process.exit(0));
});
