import { z } from 'zod';

/** Binary parts by name. */
export type Parts = Map<string, Uint8Array>;

const MAGIC = 0x48534831;
const header = z.strictObject({
  body: z.unknown(),
  parts: z.array(z.strictObject({ id: z.string(), length: z.number().int().min(0) })),
});

/**
 * One body that carries JSON and binary parts: the magic `HSH1` and the header's length (both 32
 * bits, big-endian), the header `{body, parts: [{id, length}]}` in UTF-8, then the parts in order.
 */
export function encodeFrame(body: unknown, parts: Parts): Uint8Array<ArrayBuffer> {
  const list = [...parts].map(([id, bytes]) => ({ id, length: bytes.length }));
  const head = new TextEncoder().encode(JSON.stringify({ body, parts: list }));
  const size = 8 + head.length + list.reduce((sum, p) => sum + p.length, 0);
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  view.setUint32(0, MAGIC);
  view.setUint32(4, head.length);
  out.set(head, 8);
  let at = 8 + head.length;
  for (const bytes of parts.values()) {
    out.set(bytes, at);
    at += bytes.length;
  }
  return out;
}

/**
 * Reads a frame. Parts are views into `bytes`.
 * @throws {RangeError} not a frame, cut short, or with bytes left over; {z.ZodError} a bad header.
 */
export function decodeFrame(bytes: Uint8Array): { body: unknown; parts: Parts } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 8 || view.getUint32(0) !== MAGIC) throw new RangeError('not a framed body');
  const headLength = view.getUint32(4);
  if (8 + headLength > bytes.length) throw new RangeError('a framed body is cut short');
  const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(8, 8 + headLength));
  const head = header.parse(parseJson(text));
  const parts: Parts = new Map();
  let at = 8 + headLength;
  for (const { id, length } of head.parts) {
    if (at + length > bytes.length) throw new RangeError(`part ${id} of a framed body is cut short`);
    parts.set(id, bytes.subarray(at, at + length));
    at += length;
  }
  if (at !== bytes.length) throw new RangeError('a framed body has bytes left over');
  return { body: head.body, parts };
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new RangeError('the header of a framed body is not JSON');
  }
}
