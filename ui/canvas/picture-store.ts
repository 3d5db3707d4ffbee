import type { PictureRef } from '../../core/sheet/entities';

/** A picture's working copy in halving sizes; `levels[k]` has 1 / 2^k of its pixels a side. */
interface Pyramid {
  levels: ImageBitmap[];
}

/** Pictures as the page shows them, loaded once each. */
export class PictureStore {
  private readonly loaded = new Map<string, Pyramid>();
  private readonly loading = new Map<string, Promise<void>>();

  /** @param onLoad a picture can be painted now; @param onFail it could not be loaded. */
  constructor(
    private readonly onLoad: () => void,
    private readonly onFail: (hash: string) => void,
  ) {}

  /** The copy to paint at `gridPxPerPicturePx`, with its own px per picture px; starts loading it when new. */
  get(picture: PictureRef, gridPxPerPicturePx: number): { bitmap: ImageBitmap; perPicturePx: number } | undefined {
    const pyramid = this.loaded.get(picture.hash);
    if (!pyramid) {
      this.load(picture.hash);
      return undefined;
    }
    const { levels } = pyramid;
    let k = 0;
    while (k + 1 < levels.length && levels[k + 1].width / picture.width >= gridPxPerPicturePx) k++;
    return { bitmap: levels[k], perPicturePx: levels[k].width / picture.width };
  }

  private load(hash: string): void {
    if (this.loading.has(hash)) return;
    const job = fetchPyramid(hash).then(
      (pyramid) => {
        this.loaded.set(hash, pyramid);
        this.onLoad();
      },
      () => {
        this.loading.delete(hash);
        this.onFail(hash);
      },
    );
    this.loading.set(hash, job);
  }

  close(): void {
    for (const { levels } of this.loaded.values()) for (const bitmap of levels) bitmap.close();
    this.loaded.clear();
  }
}

async function fetchPyramid(hash: string): Promise<Pyramid> {
  const answer = await fetch(`/api/pictures/${hash}/working`);
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
