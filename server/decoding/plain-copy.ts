import sharp, { type Metadata } from 'sharp';
import { MAX_PICTURE_PIXELS } from '../../contract/limits';
import { DecodeFailure } from './decoded';
import type { RasterKind } from './kinds';

/** A picture that takes longer is made to. */
const MOST_SECONDS = 60;
/** What takes more memory is decoded in a process of its own: an upright JPEG of 100 million pixels passes by in strips. */
const HEAVY_BYTES = 120e6;

/** The copy of a picture: upright, in sRGB, no longer than a side, without what the file says of its origin. */
export interface PlainCopy {
  bytes: Uint8Array;
  type: 'image/webp' | 'image/jpeg';
}

/**
 * Copies a plain picture. Ink of a press that a file does not name (CMYK without a profile) is taken for that of a common
 * coated paper, as the library's own profile has it.
 * @param frames how many the file has. Where there is a second one the first is whole, whatever becomes of the others.
 * @throws {DecodeFailure}
 */
export async function plainCopy(source: Uint8Array | string, side: number, frames: number): Promise<PlainCopy> {
  const image = sharp(source, { failOn: frames > 1 ? 'none' : 'error', limitInputPixels: MAX_PICTURE_PIXELS });
  try {
    const hasAlpha = (await image.metadata()).hasAlpha === true;
    const shown = image
      .timeout({ seconds: MOST_SECONDS })
      .rotate()
      .resize(side, side, { fit: 'inside', withoutEnlargement: true })
      .toColourspace('srgb');
    const encoded = hasAlpha
      ? shown.webp({ lossless: true, effort: 1 })
      : shown.jpeg({ quality: 92, chromaSubsampling: '4:4:4' });
    return { bytes: await encoded.toBuffer(), type: hasAlpha ? 'image/webp' : 'image/jpeg' };
  } catch (error) {
    throw new DecodeFailure(
      /timeout/i.test(String(error)) ? 'picture-too-complex' : 'picture-cut-short',
      String(error),
    );
  }
}

/** Whether a picture has to be held as a whole to be read, and is large then. */
export function isHeavy(kind: RasterKind, meta: Metadata): boolean {
  const { width = 0, height = 0, channels = 4, depth, isProgressive, orientation = 1 } = meta;
  const inStrips = (kind === 'jpeg' || kind === 'png') && !isProgressive && orientation === 1;
  const perSample = depth === 'uchar' && !isProgressive ? 1 : 2;
  return !inStrips && width * height * channels * perSample > HEAVY_BYTES;
}
