import { inflateSync } from 'fflate';

/** What was deflated (RFC 1951), if it is as long as that; undefined: it is not. No more is made of it. @throws {Error} damaged. */
export function inflate(bytes: Uint8Array, length: number): Uint8Array | undefined {
  // Room for one byte too many tells what is too long.
  const out = inflateSync(bytes, { out: new Uint8Array(length + 1) });
  return out.length === length ? out : undefined;
}
