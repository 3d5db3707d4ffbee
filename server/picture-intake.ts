import sharp, { type Metadata } from 'sharp';
import { MAX_PICTURE_PIXELS, WORKING_SIDE_PX } from '../contract/limits';
import { ApiError } from './api-error';

/** A picture made ready: what it is, its size once upright, and the copy that devices show. */
export interface Prepared {
  type: string;
  width: number;
  height: number;
  frames: number;
  working: Uint8Array;
  workingType: string;
}

const TYPES: Record<string, string> = {
  jpeg: 'image/jpeg',
  png: 'image/png',
  webp: 'image/webp',
  gif: 'image/gif',
};

// One picture at a time: a decoded 100-megapixel picture takes 400 MB.
sharp.concurrency(2);
let queue: Promise<unknown> = Promise.resolve();

/**
 * Checks a picture and makes its working copy: upright by its EXIF orientation, sRGB, longest side
 * at most 4096 px. Decoding runs on threads of its own, one picture after another.
 * @throws {ApiError} empty, not a picture of a known kind, too many pixels, cut short.
 */
export function preparePicture(bytes: Uint8Array): Promise<Prepared> {
  const turn = queue.then(() => prepare(bytes));
  queue = turn.catch(() => undefined);
  return turn;
}

async function prepare(bytes: Uint8Array): Promise<Prepared> {
  if (bytes.length === 0) throw new ApiError(422, 'picture-empty', 'This file is empty. Choose another picture.');
  const meta = await readMeta(bytes);
  const type = TYPES[meta.format ?? ''];
  if (!type || !meta.width || !meta.height) throw notAPicture();
  if (meta.width * meta.height > MAX_PICTURE_PIXELS)
    throw new ApiError(
      422,
      'picture-too-many-pixels',
      `This picture has ${Math.round((meta.width * meta.height) / 1e6)} million pixels; at most 100 million fit. Make it smaller and add it again.`,
    );
  const lying = (meta.orientation ?? 1) >= 5;
  const { data } = await workingCopy(bytes, meta.hasAlpha === true);
  return {
    type,
    width: lying ? meta.height : meta.width,
    height: lying ? meta.width : meta.height,
    frames: meta.pages ?? 1,
    working: data,
    workingType: meta.hasAlpha ? 'image/webp' : 'image/jpeg',
  };
}

async function readMeta(bytes: Uint8Array): Promise<Metadata> {
  try {
    return await sharp(bytes, { limitInputPixels: false }).metadata();
  } catch {
    throw notAPicture();
  }
}

async function workingCopy(bytes: Uint8Array, hasAlpha: boolean) {
  const image = sharp(bytes, { failOn: 'error', limitInputPixels: MAX_PICTURE_PIXELS })
    .rotate()
    .resize(WORKING_SIDE_PX, WORKING_SIDE_PX, { fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb');
  const encoded = hasAlpha
    ? image.webp({ lossless: true, effort: 1 })
    : image.jpeg({ quality: 92, chromaSubsampling: '4:4:4' });
  try {
    return await encoded.toBuffer({ resolveWithObject: true });
  } catch (error) {
    throw new ApiError(
      422,
      'picture-cut-short',
      'This picture is damaged or cut short and could not be read to its end. Send or save it again, then add it.',
      String(error),
    );
  }
}

const notAPicture = () =>
  new ApiError(
    422,
    'not-a-picture',
    'This file is not a picture that can be opened. JPEG, PNG, WebP and still GIF pictures can.',
  );
