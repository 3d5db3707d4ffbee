import type { PictureRef } from '../../core/sheet/entities';

/** A picture's working copy in halving sizes; `levels[k]` has 1 / 2^k of its pixels a side. */
interface Pyramid {
  levels: ImageBitmap[];
}

/** Pictures as the page shows them, loaded once each. */
export class PictureStore {
  private readonly loaded = new Map<string, Pyramid>();
  private readonly loading = new Set<string>();
  /** Pictures whose larger copy is here, on its way, or cannot be had. */
  private readonly enlarged = new Set<string>();
  private closed = false;

  /**
   * @param onLoad a picture can be painted now, or better than before; @param onFail it could not be loaded.
   * @param takesLarge whether this device has room for more than the usual copy.
   */
  constructor(
    private readonly onLoad: () => void,
    private readonly onFail: (hash: string) => void,
    private readonly takesLarge = hasRoom(),
  ) {}

  /** The copy to paint at `gridPxPerPicturePx`, with its own px per picture px; starts loading it when new. */
  get(picture: PictureRef, gridPxPerPicturePx: number): { bitmap: ImageBitmap; perPicturePx: number } | undefined {
    const pyramid = this.loaded.get(picture.hash);
    if (!pyramid) {
      this.load(picture.hash);
      return undefined;
    }
    const { levels } = pyramid;
    const finest = levels[0].width / picture.width;
    if (this.takesLarge && finest < Math.min(0.99, gridPxPerPicturePx)) this.enlarge(picture.hash);
    let k = 0;
    while (k + 1 < levels.length && levels[k + 1].width / picture.width >= gridPxPerPicturePx) k++;
    return { bitmap: levels[k], perPicturePx: levels[k].width / picture.width };
  }

  private load(hash: string): void {
    if (this.loading.has(hash)) return;
    this.loading.add(hash);
    this.fetch(hash, 'working').catch(() => {
      this.loading.delete(hash);
      if (!this.closed) this.onFail(hash);
    });
  }

  /** Someone looks closer than the usual copy shows. What cannot be had stays as it is. */
  private enlarge(hash: string): void {
    if (this.enlarged.has(hash)) return;
    this.enlarged.add(hash);
    void this.fetch(hash, 'large').catch(() => undefined);
  }

  private async fetch(hash: string, copy: 'working' | 'large'): Promise<void> {
    const pyramid = await fetchPyramid(hash, copy);
    if (this.closed) return close(pyramid);
    const before = this.loaded.get(hash);
    this.loaded.set(hash, pyramid);
    this.onLoad();
    if (before) close(before);
  }

  close(): void {
    this.closed = true;
    for (const pyramid of this.loaded.values()) close(pyramid);
    this.loaded.clear();
  }
}

/** A picture of 8192 px a side takes 270 MB with its smaller sizes: that is for a desk, and not for a small machine. */
function hasRoom(): boolean {
  const { deviceMemory = 8 } = navigator as { deviceMemory?: number };
  return deviceMemory >= 4 && typeof matchMedia === 'function' && matchMedia('(pointer: fine)').matches;
}

function close({ levels }: Pyramid): void {
  for (const bitmap of levels) bitmap.close();
}

async function fetchPyramid(hash: string, copy: 'working' | 'large'): Promise<Pyramid> {
  const answer = await fetch(`/api/pictures/${hash}/${copy}`);
  if (!answer.ok) throw new Error(`picture ${hash}: ${answer.status}`);
  const levels = [await createImageBitmap(await answer.blob())];
  for (let last = levels[0]; Math.max(last.width, last.height) > 256; last = levels[levels.length - 1])
    levels.push(
      await createImageBitmap(last, {
        resizeWidth: Math.max(1, Math.round(last.width / 2)),
        resizeHeight: Math.max(1, Math.round(last.height / 2)),
        resizeQuality: 'high',
      }),
    );
  return { levels };
}
