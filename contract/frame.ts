/** Binary parts by name. */
export type Parts = Map<string, Uint8Array>;

const MAGIC = 0x48534831;

interface Header {
  body: unknown;
  parts: { id: string; length: number }[];
}

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
 * @throws {RangeError} not a frame, cut short, with bytes left over, or with a header that is none.
 */
export function decodeFrame(bytes: Uint8Array): { body: unknown; parts: Parts } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 8 || view.getUint32(0) !== MAGIC) throw new RangeError('not a framed body');
  const headLength = view.getUint32(4);
  if (8 + headLength > bytes.length) throw new RangeError('a framed body is cut short');
  const head = readHeader(bytes.subarray(8, 8 + headLength));
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

/** By hand: workers read frames too, and need no library for these two fields. */
function readHeader(text: Uint8Array): Header {
  let head: Partial<Header> | null;
  try {
    head = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(text)) as Partial<Header> | null;
  } catch {
    throw new RangeError('the header of a framed body is not JSON');
  }
  const isPart = (p: Partial<Header['parts'][number]> | null) =>
    typeof p?.id === 'string' && Number.isInteger(p.length) && p.length! >= 0;
  if (typeof head !== 'object' || !Array.isArray(head?.parts) || !head.parts.every(isPart))
    throw new RangeError('the header of a framed body lists no parts');
  return { body: head.body, parts: head.parts };
}
