import { Deflate } from 'pako';

/**
 * Deflates what comes in parts (RFC 1950, as files have it). What it gives back has to be waited for before it is given more:
 * so no more than a part is ever held.
 */
export interface Deflating {
  push(bytes: Uint8Array): Promise<unknown> | undefined;
  /** What was made of all. Nothing may come after. */
  end(): Promise<Uint8Array[]> | Uint8Array[];
}

/** At once, wherever this runs. */
export function deflating(): Deflating {
  const zlib = new Deflate({ level: 6 });
  const parts: Uint8Array[] = [];
  zlib.onData = (data: Uint8Array) => {
    if (data.length) parts.push(data);
  };
  return {
    push(bytes) {
      zlib.push(bytes);
      return undefined;
    },
    end() {
      zlib.push(new Uint8Array(), true);
      return parts;
    },
  };
}
