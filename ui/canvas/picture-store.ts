import { WORKING_SIDE_PX } from '../../contract/limits';
import { activeSteps, type Recipe } from '../../core/picture/recipe';
import { shownSize } from '../../core/sheet/recipe-placement';
import type { PictureRef, ReferenceLayer } from '../../core/sheet/entities';
import { PictureClient, type PictureTask } from '../../workers/picture-client';

/** A picture's working copy in halving sizes; `levels[k]` has 1 / 2^k of its pixels a side. */
interface Pyramid {
  levels: ImageBitmap[];
}

/** What a recipe makes of a picture, as fine as it was last wanted. */
interface Developed {
  bitmap?: ImageBitmap;
  /** Its px to a px of the original. */
  scale: number;
  wanted: number;
  task?: PictureTask<ImageBitmap>;
  /** When it was last looked at. */
  seen: number;
}

type Shown = Pick<ReferenceLayer, 'picture' | 'recipe'> & { id?: string };

/** A bitmap and its own px to a px of the picture as it lies on the paper. */
export interface Found {
  bitmap: ImageBitmap;
  perPicturePx: number;
}

/** Of what recipes made so much is kept for going back, besides what is in sight. */
const MOST_DEVELOPED = 6;
const MOST_DEVELOPED_BYTES = 96e6;

/** Pictures as the page shows them: loaded once each, and made as their recipes say, as fine as they are looked at. */
export class PictureStore {
  private readonly loaded = new Map<string, Pyramid>();
  private readonly loading = new Set<string>();
  /** Pictures whose larger copy is here, on its way, or cannot be had. */
  private readonly enlarged = new Set<string>();
  private readonly developed = new Map<string, Developed>();
  /** How each layer looked last. */
  private readonly current = new Map<string, string>();
  private looks = 0;
  private closed = false;

  /**
   * @param onLoad a picture can be painted now, or better than before; @param onFail it could not be loaded.
   * @param takesLarge whether this device has room for more than the usual copy.
   */
  constructor(
    private readonly onLoad: () => void,
    private readonly onFail: (hash: string) => void,
    private readonly takesLarge = hasRoom(),
    readonly client: Pick<PictureClient, 'develop' | 'page' | 'sharpness' | 'tones' | 'close'> = new PictureClient(),
  ) {}

  /**
   * The bitmap to paint at `gridPxPerPicturePx`; starts to make it when it is new. Until then the best that there is of
   * the same picture: what another recipe made of it is not, but for one that is being changed.
   */
  get(shown: Shown, gridPxPerPicturePx: number): Found | undefined {
    const recipe = activeSteps(shown.recipe);
    return recipe.length ? this.made(shown, recipe, gridPxPerPicturePx) : this.plain(shown.picture, gridPxPerPicturePx);
  }

  private plain(picture: PictureRef, gridPxPerPicturePx: number): Found | undefined {
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

  private made(shown: Shown, recipe: Recipe, gridPxPerPicturePx: number): Found | undefined {
    const { picture } = shown;
    const key = `${picture.hash}:${JSON.stringify(recipe)}`;
    const made: Developed = this.developed.get(key) ?? { scale: 0, wanted: 0, seen: 0 };
    this.developed.set(key, made);
    made.seen = ++this.looks;
    this.leave(shown.id, key);
    // No finer than the copy that the server gives, and by halves: a little nearer needs nothing new.
    const finest = Math.min(1, WORKING_SIDE_PX / Math.max(picture.width, picture.height));
    let scale = finest;
    while (scale / 2 >= gridPxPerPicturePx) scale /= 2;
    const isTooCoarse = made.scale < scale * 0.999;
    const isFarTooFine = made.scale > scale * 4.001;
    if ((isTooCoarse || isFarTooFine) && made.wanted !== scale) this.develop(shown, recipe, made, scale);
    this.forgetOld();
    if (!made.bitmap) return undefined;
    return { bitmap: made.bitmap, perPicturePx: made.bitmap.width / shownSize(shown).width };
  }

  private develop({ picture }: Shown, recipe: Recipe, made: Developed, scale: number): void {
    made.task?.stop();
    made.wanted = scale;
    const task = this.client.develop({ picture, recipe }, scale);
    made.task = task;
    task.result.then(
      (bitmap) => {
        if (made.task === task) made.task = undefined;
        if (!bitmap) return;
        if (this.closed || made.wanted !== scale) return bitmap.close();
        const before = made.bitmap;
        Object.assign(made, { bitmap, scale });
        this.onLoad();
        before?.close();
      },
      () => {
        if (made.task === task) Object.assign(made, { task: undefined, wanted: 0 });
        if (!this.closed) this.onFail(picture.hash);
      },
    );
  }

  /** A layer looks otherwise now: what is on its way to how it looked before is not wanted any more. */
  private leave(id: string | undefined, key: string): void {
    if (id === undefined) return;
    const before = this.current.get(id);
    this.current.set(id, key);
    if (before === undefined || before === key || [...this.current.values()].includes(before)) return;
    const left = this.developed.get(before);
    if (!left?.task) return;
    left.task.stop();
    left.task = undefined;
    left.wanted = 0;
  }

  /** Forgets what was not looked at for long. */
  private forgetOld(): void {
    const inSight = new Set(this.current.values());
    const latestFirst = [...this.developed].sort((a, b) => b[1].seen - a[1].seen);
    let bytes = 0;
    for (const [n, [key, { bitmap, task }]] of latestFirst.entries()) {
      bytes += bitmap ? 4 * bitmap.width * bitmap.height : 0;
      if (inSight.has(key) || (n < MOST_DEVELOPED && bytes <= MOST_DEVELOPED_BYTES)) continue;
      task?.stop();
      bitmap?.close();
      this.developed.delete(key);
    }
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
    if (this.closed) return closeAll(pyramid);
    const before = this.loaded.get(hash);
    this.loaded.set(hash, pyramid);
    this.onLoad();
    if (before) closeAll(before);
  }

  close(): void {
    this.closed = true;
    this.client.close();
    for (const pyramid of this.loaded.values()) closeAll(pyramid);
    for (const { bitmap } of this.developed.values()) bitmap?.close();
    this.loaded.clear();
    this.developed.clear();
  }
}

/** A picture of 8192 px a side takes 270 MB with its smaller sizes: that is for a desk, and not for a small machine. */
function hasRoom(): boolean {
  const { deviceMemory = 8 } = (globalThis.navigator ?? {}) as { deviceMemory?: number };
  return deviceMemory >= 4 && typeof matchMedia === 'function' && matchMedia('(pointer: fine)').matches;
}

function closeAll({ levels }: Pyramid): void {
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
