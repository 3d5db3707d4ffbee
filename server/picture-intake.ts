import { readFile } from 'node:fs/promises';
import sharp, { type Metadata } from 'sharp';
import type { ErrorCode } from '../contract/errors';
import { LARGE_SIDE_PX, MAX_PICTURE_PIXELS, WORKING_SIDE_PX } from '../contract/limits';
import { inTurn } from '../core/in-turn';
import { ApiError } from './api-error';
import { DecodeFailure, type LayerOfFile } from './decoding/decoded';
import { copyElsewhere, decodeElsewhere } from './decoding/elsewhere';
import { isDecoded, kindOf, MEDIA_TYPES, type FileKind, type RasterKind } from './decoding/kinds';
import { isHeavy, plainCopy, type PlainCopy } from './decoding/plain-copy';

/** A picture made ready: what it is, its size once upright, and the copy that devices show. */
export interface Prepared {
  type: string;
  width: number;
  height: number;
  frames: number;
  working: Uint8Array;
  workingType: string;
}

/** What was in a file: one picture, or its layers, bottom first. */
export interface TakenIn {
  pictures: { original: Uint8Array; prepared: Prepared; layer?: LayerOfFile }[];
  /** The size of the file whose layers they are, px. */
  canvas?: { width: number; height: number };
}

// One picture at a time.
sharp.concurrency(2);
const preparing = inTurn();
/** Files that are decoded elsewhere wait for each other, not for what can be read at once. */
const decoding = inTurn();

/**
 * Takes a file in: what it is by its bytes, its pictures upright by their orientation and in sRGB, each with a copy whose
 * longest side is at most 4096 px. Decoding runs on threads of its own, or in a process of its own.
 * @throws {ApiError} empty, not a picture of a known kind, too many pixels, cut short, or made to take too much.
 */
export async function takeIn(bytes: Uint8Array): Promise<TakenIn> {
  if (bytes.length === 0) throw refusal('picture-empty');
  const kind = kindOf(bytes);
  if (!kind) throw refusal('not-a-picture');
  if (!isDecoded(kind)) return { pictures: [{ original: bytes, prepared: await prepare(bytes, kind) }] };
  const file = await decoding(() => decodeElsewhere(kind, bytes)).catch((error: unknown) => {
    throw asRefusal(error);
  });
  const pictures: TakenIn['pictures'] = [];
  for (const { bytes: found, layer } of file.pictures) {
    const own = layer ? kindOf(found) : kind;
    if (!own || (layer && isDecoded(own))) throw refusal('picture-cut-short', `the layer ${layer?.name}`);
    const prepared = await prepare(found, own);
    pictures.push({ original: layer ? found : bytes, prepared: { ...prepared, frames: file.frames }, layer });
  }
  return { pictures, canvas: file.canvas };
}

/** The copy of a stored picture for paper and devices that need more pixels than the usual one has. @throws {ApiError} */
export const largeCopy = async (original: string, kind: RasterKind): Promise<Uint8Array> =>
  (await copyOf(original, kind, await readMeta(original), LARGE_SIDE_PX)).bytes;

async function prepare(bytes: Uint8Array, kind: FileKind): Promise<Prepared> {
  const meta = await readMeta(bytes);
  if (!meta.width || !meta.height) throw refusal('not-a-picture');
  const pixels = meta.width * meta.height;
  if (pixels > MAX_PICTURE_PIXELS)
    throw refusal('picture-too-many-pixels', `${Math.round(pixels / 1e6)} million pixels`);
  const lying = (meta.orientation ?? 1) >= 5;
  // What other kinds were made into are PNGs, which are read in strips.
  const copy = await copyOf(bytes, isDecoded(kind) ? 'png' : kind, meta, WORKING_SIDE_PX);
  return {
    type: MEDIA_TYPES[kind],
    width: lying ? meta.height : meta.width,
    height: lying ? meta.width : meta.height,
    frames: meta.pages ?? 1,
    working: copy.bytes,
    workingType: copy.type,
  };
}

async function readMeta(source: Uint8Array | string): Promise<Metadata> {
  try {
    return await sharp(source, { limitInputPixels: false, failOn: 'none' }).metadata();
  } catch (error) {
    throw refusal('picture-cut-short', String(error));
  }
}

/** Here, or in a process of its own what would take much memory here. @throws {ApiError} */
async function copyOf(source: Uint8Array | string, kind: RasterKind, meta: Metadata, side: number): Promise<PlainCopy> {
  const frames = meta.pages ?? 1;
  try {
    if (!isHeavy(kind, meta)) return await preparing(() => plainCopy(source, side, frames));
    const bytes = typeof source === 'string' ? await readFile(source) : source;
    return await decoding(() => copyElsewhere(bytes, side, frames));
  } catch (error) {
    throw asRefusal(error);
  }
}

const MESSAGES: Partial<Record<ErrorCode, string>> = {
  'picture-empty': 'This file is empty. Choose another picture.',
  'not-a-picture':
    'This file is not a picture that can be opened. JPEG, PNG, WebP, AVIF, HEIC, GIF, TIFF, BMP, SVG, OpenRaster and PDF files can.',
  'picture-too-many-pixels':
    'This picture has too many pixels: at most 100 million fit. Make it smaller and add it again.',
  'picture-cut-short':
    'This picture is damaged or cut short and could not be read to its end. Send or save it again, then add it.',
  'picture-too-complex':
    'This picture takes more time or memory than there is. Save it as a PNG in the program that it comes from, then add it.',
  'picture-has-entities':
    'This picture names parts of itself in a way that can make it endless (entities). Save it without them, or as a PNG, then add it.',
  'picture-locked': 'This file is locked with a password. Save it without one, then add it.',
};

const refusal = (code: ErrorCode, detail?: string) => new ApiError(422, code, MESSAGES[code] ?? code, detail);

const asRefusal = (error: unknown): unknown =>
  error instanceof DecodeFailure ? refusal(error.code, error.detail) : error;
