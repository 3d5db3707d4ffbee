import type { PictureAnswer } from '../../contract/answers';
import { MAX_PICTURE_BYTES } from '../../contract/limits';
import { ApiFailure, sendPicture } from './api';

/** How far bringing a picture has come: sending it (0 to 1), then preparing it on the server. */
export type PictureProgress = { stage: 'sending'; part: number } | { stage: 'preparing' };

/** Brings a picture to the server. @throws {ApiFailure} with what was wrong, for the artist. */
export async function bringPicture(
  file: File,
  progress: (p: PictureProgress) => void,
  signal: AbortSignal,
): Promise<PictureAnswer> {
  if (file.size > MAX_PICTURE_BYTES)
    throw new ApiFailure(
      `This file has ${Math.round(file.size / 1048576)} MB; a picture may have 50 MB. Save it smaller and add it again.`,
      'too-large',
    );
  progress({ stage: 'sending', part: 0 });
  return sendPicture(file, (part) => progress(part < 1 ? { stage: 'sending', part } : { stage: 'preparing' }), signal);
}
