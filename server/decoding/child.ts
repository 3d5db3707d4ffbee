import { createWriteStream } from 'node:fs';
import { buffer } from 'node:stream/consumers';
import { DecodeFailure } from './decoded';
import { decoders } from './decoders';
import { framedFailure, framedFile } from './answer-frame';
import { PLAIN, type DecodedKind } from './kinds';
import { OWN_LIMITS } from './limits';
import { plainCopy } from './plain-copy';
import { watchOver } from './watchdog';

// The decoding process: a kind (or what stands for one) as its argument, a file on its standard input, the answer on descriptor 3 (libraries
// print what they like on the others).

watchOver(OWN_LIMITS);

async function answer(): Promise<Uint8Array[]> {
  try {
    const [what, side, frames] = process.argv.slice(2);
    const bytes = await buffer(process.stdin);
    if (what !== PLAIN) return framedFile(await decoders[what as DecodedKind](bytes));
    return framedFile({ pictures: [await plainCopy(bytes, Number(side), Number(frames))], frames: Number(frames) });
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
