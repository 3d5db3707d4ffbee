import type { Picture } from '../core/picture/warp';
import type { PictureRef } from '../core/sheet/entities';

/** Pixels that are kept for the next question, bytes: a picture of 12 megapixels, and some smaller ones. */
const MOST_BYTES = 64e6;

interface Kept {
  key: string;
  picture: Picture;
}

/** Pictures' pixels as devices show them, at halving sizes; the latest are kept. */
export class PictureSources {
  private readonly files = new Map<string, Promise<Blob>>();
  /** The latest last. */
  private kept: Kept[] = [];

  /**
   * A picture made smaller by `scale`, or less: no larger than the copy that the server gives.
   * @throws {Error} the server cannot be reached, or does not have it.
   */
  async get(picture: PictureRef, scale: number): Promise<Picture> {
    const key = `${picture.hash}:${scale}`;
    const known = this.kept.find((k) => k.key === key);
    if (known) {
      this.kept = [...this.kept.filter((k) => k !== known), known];
      return known.picture;
    }
    const found = await pixelsOf(await this.file(picture.hash), picture, scale);
    this.kept.push({ key, picture: found });
    let bytes = this.kept.reduce((sum, k) => sum + k.picture.data.length, 0);
    while (this.kept.length > 1 && bytes > MOST_BYTES) bytes -= this.kept.shift()!.picture.data.length;
    return found;
  }

  private file(hash: string): Promise<Blob> {
    const known = this.files.get(hash);
    if (known) return known;
    const file = fetch(`/api/pictures/${hash}/working`).then((answer) => {
      if (!answer.ok) throw new Error(`picture ${hash}: ${answer.status}`);
      return answer.blob();
    });
    this.files.set(hash, file);
    file.catch(() => this.files.delete(hash));
    return file;
  }
}

async function pixelsOf(file: Blob, { width, height }: PictureRef, scale: number): Promise<Picture> {
  const whole = await createImageBitmap(file);
  const k = Math.min(1, (scale * Math.max(width, height)) / Math.max(whole.width, whole.height));
  const [w, h] = [Math.max(1, Math.round(whole.width * k)), Math.max(1, Math.round(whole.height * k))];
  const bitmap =
    k < 1 ? await createImageBitmap(whole, { resizeWidth: w, resizeHeight: h, resizeQuality: 'high' }) : whole;
  const canvas = new OffscreenCanvas(w, h);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  // Older browsers give it in full, whatever size was asked for.
  context.drawImage(bitmap, 0, 0, w, h);
  if (bitmap !== whole) whole.close();
  bitmap.close();
  const { data } = context.getImageData(0, 0, w, h);
  // Some devices keep a canvas until its size is nothing.
  canvas.width = canvas.height = 0;
  return { width: w, height: h, data };
}
