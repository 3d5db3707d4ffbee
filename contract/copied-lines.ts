import { z } from 'zod';
import type { CopiedLine } from '../core/sheet/picking';
import { usesLean } from '../core/stroke/lean';
import { decodeSamples } from '../core/stroke/codec';
import { erasure, id, matrix, stroke } from './entities';
import { decodeFrame, encodeFrame, type Parts } from './frame';

/** Lines that were copied, as a clipboard carries them from one window or browser to another. */
export interface CopiedLines {
  /** Of this copying; the same lines copied again are another. */
  id: string;
  sheetId: string;
  /** When, ms since 1970. */
  at: number;
  /** Where they lie on their sheet, paper px. */
  box: { x0: number; y0: number; x1: number; y1: number };
  copies: readonly CopiedLine[];
}

const place = z.number().min(-1e7).max(1e7);
const body = z.strictObject({
  id,
  sheetId: id,
  at: z.number().min(0).max(1e15),
  box: z.strictObject({ x0: place, y0: place, x1: place, y1: place }),
  strokes: z
    .array(z.strictObject({ stroke, erasedBy: z.array(z.strictObject({ id, then: matrix })).max(10000) }))
    .min(1),
  erasures: z.array(erasure),
});

const part = (kind: 'stroke' | 'erasure', of: string) => `${kind}:${of}`;

/** A frame: the lines, and what erases them once each; samples as parts. */
export function packCopiedLines({ copies, box: { x0, y0, x1, y1 }, ...head }: CopiedLines): Uint8Array<ArrayBuffer> {
  const parts: Parts = new Map();
  const erasures = new Map<string, unknown>();
  const strokes = copies.map((line) => {
    parts.set(part('stroke', line.stroke.id), line.bytes);
    for (const { erasure: by, bytes } of line.erasures) {
      erasures.set(by.id, by);
      parts.set(part('erasure', by.id), bytes);
    }
    return { stroke: line.stroke, erasedBy: line.erasures.map(({ erasure: by, then }) => ({ id: by.id, then })) };
  });
  return encodeFrame({ ...head, box: { x0, y0, x1, y1 }, strokes, erasures: [...erasures.values()] }, parts);
}

/**
 * Reads a frame of {@link packCopiedLines}; it may come from anywhere, so all of it is looked at.
 * @throws {RangeError} what is none, or names what it does not bring.
 */
export function unpackCopiedLines(bytes: Uint8Array): CopiedLines {
  const frame = decodeFrame(bytes);
  const { success, data } = body.safeParse(frame.body);
  if (!success) throw new RangeError('copied lines are not as they should be');
  const erasures = new Map(data.erasures.map((by) => [by.id, by]));
  const samplesOf = (name: string, pen: CopiedLine['stroke']['pen']): Uint8Array => {
    const samples = frame.parts.get(name);
    if (!samples) throw new RangeError('copied lines lack samples');
    decodeSamples(samples, usesLean(pen));
    return samples.slice();
  };
  const copies = data.strokes.map(({ stroke: line, erasedBy }): CopiedLine => ({
    stroke: line,
    bytes: samplesOf(part('stroke', line.id), line.pen),
    erasures: erasedBy.map(({ id: by, then }) => {
      const found = erasures.get(by);
      if (!found) throw new RangeError('copied lines lack what erases them');
      return { erasure: found, bytes: samplesOf(part('erasure', by), found.pen), then };
    }),
  }));
  const { id: of, sheetId, at, box } = data;
  return { id: of, sheetId, at, box, copies };
}
