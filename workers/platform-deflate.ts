import { deflating, type Deflating } from '../core/formats/deflating';

/**
 * By the platform's own code, which is several times as fast as a script; while one part is packed the next is made. By a
 * script where the platform has none.
 */
export function platformDeflating(): Deflating {
  if (typeof CompressionStream === 'undefined') return deflating();
  const { readable, writable } = new CompressionStream('deflate');
  const writer = writable.getWriter();
  const parts: Uint8Array[] = [];
  const reading = readAll(readable.getReader(), parts);
  let last: Promise<unknown> | undefined;
  return {
    push(bytes) {
      const before = last;
      // What fails here fails the reading, too, which is waited for at the end.
      last = writer.write(bytes as Uint8Array<ArrayBuffer>).catch(() => undefined);
      return before;
    },
    async end() {
      await writer.close().catch(() => undefined);
      await reading;
      return parts;
    },
  };
}

async function readAll(reader: ReadableStreamDefaultReader<Uint8Array>, parts: Uint8Array[]): Promise<void> {
  for (let { done, value } = await reader.read(); !done; { done, value } = await reader.read()) parts.push(value!);
}
