import type { Pixels } from '../core/raster/pixels';

/**
 * Bitmaps of pixels that may be shown next: making them takes longer than all else that an undo does. Each is given away
 * once.
 */
export class ReadyBitmaps {
  private bitmaps = new Map<Pixels, ImageBitmap>();
  private round = 0;

  /** @param make makes the bitmap of a tile. */
  constructor(private readonly make: (pixels: Pixels) => Promise<ImageBitmap>) {}

  /** Makes these ready, and lets go of all others; what is asked for later stops it. */
  async prepare(wanted: readonly Pixels[]): Promise<void> {
    const round = ++this.round;
    const before = this.bitmaps;
    this.bitmaps = new Map(wanted.flatMap((p) => (before.has(p) ? [[p, before.get(p)!] as const] : [])));
    for (const [pixels, bitmap] of before) if (!this.bitmaps.has(pixels)) bitmap.close();
    for (const pixels of wanted) {
      if (this.bitmaps.has(pixels)) continue;
      const bitmap = await this.make(pixels);
      if (round !== this.round) return bitmap.close();
      this.bitmaps.set(pixels, bitmap);
    }
  }

  /** The bitmap of these very pixels, if it is ready; it belongs to the caller from then on. */
  take(pixels: Pixels): ImageBitmap | undefined {
    const bitmap = this.bitmaps.get(pixels);
    this.bitmaps.delete(pixels);
    return bitmap;
  }
}
