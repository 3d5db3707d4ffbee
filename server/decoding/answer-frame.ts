import type { ErrorCode } from '../../contract/errors';
import type { DecodedFile, LayerOfFile } from './decoded';

// What the decoding process answers: the length of a JSON head (uint32, big endian), the head, then the pictures' bytes.

interface Head {
  failed?: { code: ErrorCode; detail?: string };
  frames?: number;
  canvas?: { width: number; height: number };
  pictures?: { bytes: number; layer?: LayerOfFile }[];
}

export function framedFile({ pictures, frames, canvas }: DecodedFile): Uint8Array[] {
  const head: Head = {
    frames,
    canvas,
    pictures: pictures.map(({ bytes, layer }) => ({ bytes: bytes.length, layer })),
  };
  return [...framedHead(head), ...pictures.map(({ bytes }) => bytes)];
}

export const framedFailure = (code: ErrorCode, detail?: string): Uint8Array[] =>
  framedHead({ failed: { code, detail } });

function framedHead(head: Head): Uint8Array[] {
  const text = Buffer.from(JSON.stringify(head));
  const length = Buffer.alloc(4);
  length.writeUInt32BE(text.length);
  return [length, text];
}

/** Reads what `framedFile` or `framedFailure` wrote; undefined where it is not whole. */
export function readAnswer(bytes: Buffer): DecodedFile | Required<Pick<Head, 'failed'>> | undefined {
  if (bytes.length < 4) return undefined;
  let at = 4 + bytes.readUInt32BE(0);
  if (at > bytes.length) return undefined;
  const { failed, frames, canvas, pictures } = JSON.parse(bytes.toString('utf8', 4, at)) as Head;
  if (failed) return { failed };
  if (!pictures || at + pictures.reduce((sum, p) => sum + p.bytes, 0) !== bytes.length) return undefined;
  return {
    frames: frames ?? 1,
    canvas,
    pictures: pictures.map(({ bytes: size, layer }) => ({ bytes: bytes.subarray(at, (at += size)), layer })),
  };
}
