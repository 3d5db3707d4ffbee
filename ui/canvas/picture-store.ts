import { LARGE_SIDE_PX, WORKING_SIDE_PX } from '../../contract/limits';
import { activeSteps, type Recipe } from '../../core/picture/recipe';
import { shownSize } from '../../core/sheet/recipe-placement';
import type { PictureRef, PictureLayer } from '../../core/sheet/entities';
import { PictureClient, type PictureTask } from '../../workers/picture-client';

/** A picture as it came, at one of its halving sizes. */
interface Level {
  bitmap: ImageBitmap;
  seen: number;
}

/** A picture as it came: its file, and the sizes that were looked at lately. */
interface Plain {
  copy: 'working' | 'large';
  file?: Blob;
  /** By how often they were halved; 0 is the file's own size. */
  levels: Map<number, Level>;
  loading: Set<number>;
}

/** What a recipe makes of a picture, as fine as it was last wanted. */
interface Developed {
  bitmap?: ImageBitmap;
  /** Its px to a px of the original. */
  scale: number;
  wanted: number;
  /** Not to be made finer than this for now. */
  most?: number;
  task?: PictureTask<ImageBitmap>;
  /** When it was last looked at. */
  seen: number;
}

type Shown = Pick<PictureLayer, 'picture' | 'recipe'> & { id?: string };

/** A bitmap and its own px to a px of the picture as it lies on the paper. */
export interface Found {
  bitmap: ImageBitmap;
  perPicturePx: number;
}

/** Of what recipes made so much is kept for going back, besides what is in sight. */
const MOST_DEVELOPED = 6;
const MOST_DEVELOPED_BYTES = 96e6;
/** Of pictures as they came so much is kept, besides what was looked at last. */
const MOST_PLAIN_BYTES = 160e6;
/** Smaller than this on its longer side nothing is made smaller. */
const LEAST_SIDE_PX = 256;

/** What a recipe makes of a picture, on its way. */
export interface Developing {
  /** 0 to 1. */
  part: number;
  /** What there is will do, or something coarse, which is quick, until `finish` or another recipe. */
  stop(): void;
}

/** Pictures as the page shows them: loaded once each, and made as their recipes say, as fine as they are looked at. */
export class PictureStore {
  private readonly plains = new Map<string, Plain>();
  private readonly developed = new Map<string, Developed>();
  /** Pictures whose larger copy is here, on its way, or cannot be had. */
  private readonly enlarged = new Set<string>();
  /** The size of each layer that was last given out as it came. */
  private readonly inSight = new Map<string, Level>();
  /** What recipe's result each other layer was last given. */
  private readonly current = new Map<string, string>();
  private looks = 0;
  private closed = false;
  private onDeveloping: ((work: Developing | undefined) => void) | undefined;

  /**
   * @param onLoad a picture can be painted now, or better than before; @param onFail it could not be loaded.
   * @param takesLarge whether this device has room for more than the usual copy.
   */
  constructor(
    private readonly onLoad: () => void,
    private readonly onFail: (hash: string) => void,
    private readonly takesLarge = hasRoom(),
    readonly client: Pick<
      PictureClient,
      'develop' | 'edges' | 'page' | 'palette' | 'sharpness' | 'tones' | 'trace' | 'close'
    > = new PictureClient(),
  ) {}

  /**
   * The bitmap to paint at `gridPxPerPicturePx`; starts to make it when it is new. Until then the best that there is of
   * the same picture: what another recipe made of it is not, but for one that is being changed.
   */
  get(shown: Shown, gridPxPerPicturePx: number): Found | undefined {
    const recipe = activeSteps(shown.recipe);
    if (!recipe.length) this.looksAt(shown.id, undefined);
    return recipe.length ? this.made(shown, recipe, gridPxPerPicturePx) : this.plain(shown, gridPxPerPicturePx);
  }

  /** Made as fine as it is looked at, from the file, which stays: what is seen small takes little. */
  private plain({ id, picture }: Shown, gridPxPerPicturePx: number): Found | undefined {
    const plain = this.plains.get(picture.hash) ?? { copy: 'working', levels: new Map(), loading: new Set() };
    this.plains.set(picture.hash, plain);
    const longest = Math.max(picture.width, picture.height);
    const finest = Math.min(1, (plain.copy === 'large' ? LARGE_SIDE_PX : WORKING_SIDE_PX) / longest);
    if (plain.copy === 'working' && this.takesLarge && finest < Math.min(0.99, gridPxPerPicturePx))
      this.enlarge(picture);
    let wanted = 0;
    const isSmall = (k: number) => (longest * finest) / 2 ** k <= LEAST_SIDE_PX;
    while (!isSmall(wanted) && finest / 2 ** (wanted + 1) >= gridPxPerPicturePx) wanted++;
    if (!plain.levels.has(wanted)) void this.load(picture, plain, wanted);
    // The one that is wanted; until it is there a finer one, or the finest of the coarser ones.
    const there = [...plain.levels.keys()].sort((a, b) => a - b);
    const best = there.findLast((k) => k <= wanted) ?? there[0];
    const level = best === undefined ? undefined : plain.levels.get(best);
    if (!level) return undefined;
    level.seen = ++this.looks;
    if (id !== undefined) this.inSight.set(id, level);
    return { bitmap: level.bitmap, perPicturePx: level.bitmap.width / picture.width };
  }

  private made(shown: Shown, recipe: Recipe, gridPxPerPicturePx: number): Found | undefined {
    const { picture } = shown;
    const key = `${picture.hash}:${JSON.stringify(recipe)}`;
    const known = this.developed.get(key);
    const made: Developed = known ?? { scale: 0, wanted: 0, seen: 0 };
    made.seen = ++this.looks;
    this.looksAt(shown.id, key);
    if (!known) {
      this.developed.set(key, made);
      this.forgetOld();
    }
    // By halves: a little nearer needs nothing new.
    const scale = Math.min(made.most ?? Infinity, madeScale(picture, recipe, gridPxPerPicturePx));
    const isTooCoarse = made.scale < scale * 0.999;
    const isFarTooFine = made.scale > scale * 4.001;
    if ((isTooCoarse || isFarTooFine) && made.wanted !== scale) this.develop(shown, recipe, made, scale);
    if (!made.bitmap) return undefined;
    return { bitmap: made.bitmap, perPicturePx: made.bitmap.width / shownSize(shown).width };
  }

  private develop({ picture }: Shown, recipe: Recipe, made: Developed, scale: number): void {
    made.task?.stop();
    made.wanted = scale;
    const task = this.client.develop({ picture, recipe }, scale, (part) => this.onDeveloping?.({ part, stop }));
    const stop = () => {
      if (made.task !== task) return;
      task.stop();
      made.most = made.bitmap ? made.scale : scale / 4;
      made.wanted = made.scale;
      this.onLoad();
    };
    made.task = task;
    const ends = () => {
      if (made.task === task) made.task = undefined;
      this.onDeveloping?.(undefined);
    };
    task.result.then(
      (bitmap) => {
        ends();
        if (!bitmap) return;
        if (this.closed || made.wanted !== scale) return bitmap.close();
        const before = made.bitmap;
        Object.assign(made, { bitmap, scale });
        this.forgetOld();
        this.onLoad();
        before?.close();
      },
      () => {
        if (made.task === task) made.wanted = 0;
        ends();
        if (!this.closed) this.onFail(picture.hash);
      },
    );
  }

  /** Something is on its way that will look otherwise than what there is. */
  get isBusy(): boolean {
    const isLoading = [...this.plains.values()].some(({ loading }) => loading.size > 0);
    return isLoading || [...this.current.values()].some((key) => this.developed.get(key)?.task !== undefined);
  }

  /** @param tell how far what is to be seen has come; undefined: nothing is on its way. @returns ends it. */
  watchDeveloping(tell: (work: Developing | undefined) => void): () => void {
    this.onDeveloping = tell;
    return () => (this.onDeveloping = undefined);
  }

  /** Makes what was stopped as fine as it is looked at. */
  finish(): void {
    for (const made of this.developed.values()) made.most = undefined;
    this.onLoad();
  }

  /** Only these layers are on the paper now: what others looked like may go. (An id before a colon is the layer's.) */
  only(ids: ReadonlySet<string>): void {
    const isOn = (id: string) => ids.has(id.split(':')[0]);
    for (const id of this.inSight.keys()) if (!isOn(id)) this.inSight.delete(id);
    for (const id of this.current.keys()) if (!isOn(id)) this.looksAt(id, undefined);
  }

  /** What a layer looks like now; undefined: as it came. What is on its way to how it looked before is not wanted any more. */
  private looksAt(id: string | undefined, key: string | undefined): void {
    if (id === undefined) return;
    const before = this.current.get(id);
    if (key === undefined) this.current.delete(id);
    else {
      this.current.set(id, key);
      this.inSight.delete(id);
    }
    if (before === undefined || before === key || [...this.current.values()].includes(before)) return;
    const left = this.developed.get(before);
    if (!left) return;
    left.most = undefined;
    if (!left.task) return;
    left.task.stop();
    left.task = undefined;
    left.wanted = 0;
  }

  /** Forgets what was not looked at for long. */
  private forgetOld(): void {
    const shown = new Set(this.current.values());
    const latestFirst = [...this.developed].sort((a, b) => b[1].seen - a[1].seen);
    let bytes = 0;
    for (const [n, [key, { bitmap, task }]] of latestFirst.entries()) {
      bytes += bitmap ? 4 * bitmap.width * bitmap.height : 0;
      if (shown.has(key) || (n < MOST_DEVELOPED && bytes <= MOST_DEVELOPED_BYTES)) continue;
      task?.stop();
      bitmap?.close();
      this.developed.delete(key);
    }
  }

  private async load({ hash }: PictureRef, plain: Plain, level: number): Promise<void> {
    if (plain.loading.has(level)) return;
    plain.loading.add(level);
    try {
      plain.file ??= await fetchCopy(hash, plain.copy);
      const bitmap = await halved(plain.file, level);
      if (this.closed || this.plains.get(hash) !== plain) return bitmap.close();
      plain.levels.set(level, { bitmap, seen: ++this.looks });
      this.letGo();
      this.onLoad();
    } catch {
      if (!this.closed && this.plains.get(hash) === plain) this.onFail(hash);
    } finally {
      plain.loading.delete(level);
    }
  }

  /** Someone looks closer than the usual copy shows. What there is stays until the larger one is there, or for good. */
  private enlarge(picture: PictureRef): void {
    const { hash } = picture;
    if (this.enlarged.has(hash)) return;
    this.enlarged.add(hash);
    void (async () => {
      const file = await fetchCopy(hash, 'large');
      const before = this.plains.get(hash);
      const plain: Plain = { copy: 'large', file, levels: new Map(), loading: new Set() };
      const bitmap = await halved(file, 0);
      if (this.closed) return bitmap.close();
      plain.levels.set(0, { bitmap, seen: ++this.looks });
      this.plains.set(hash, plain);
      this.onLoad();
      for (const level of before?.levels.values() ?? []) level.bitmap.close();
    })().catch(() => undefined);
  }

  /** Lets go of sizes that were not looked at for long, never of one in sight: it would only be made again. */
  private letGo(): void {
    const all = [...this.plains.values()].flatMap(({ levels }) =>
      [...levels].map(([k, level]) => ({ levels, k, level })),
    );
    all.sort((a, b) => b.level.seen - a.level.seen);
    const kept = new Set(this.inSight.values());
    let bytes = 0;
    for (const [n, { levels, k, level }] of all.entries()) {
      bytes += 4 * level.bitmap.width * level.bitmap.height;
      if (n === 0 || kept.has(level) || bytes <= MOST_PLAIN_BYTES) continue;
      level.bitmap.close();
      levels.delete(k);
    }
  }

  close(): void {
    this.closed = true;
    this.client.close();
    for (const { levels } of this.plains.values()) for (const { bitmap } of levels.values()) bitmap.close();
    for (const { bitmap } of this.developed.values()) bitmap?.close();
    this.plains.clear();
    this.developed.clear();
  }
}

/**
 * How fine what a recipe makes of a picture has to be, px to a px of the original: no finer than the copy that the server
 * gives, but for lines that are lifted off a small one. Those have sharp edges of their own, which would be stairs.
 * @param recipe what is switched on of it.
 */
export function madeScale({ width, height }: PictureRef, recipe: Recipe, wanted: number): number {
  const longest = Math.max(width, height);
  let scale = Math.min(1, WORKING_SIDE_PX / longest);
  while (scale / 2 >= wanted) scale /= 2;
  if (recipe.some(({ kind }) => kind === 'lift'))
    while (scale >= 1 && scale < wanted && 2 * scale * longest <= WORKING_SIDE_PX) scale *= 2;
  return scale;
}

/** A picture of 8192 px a side takes 270 MB with its smaller sizes: that is for a desk, and not for a small machine. */
function hasRoom(): boolean {
  const { deviceMemory = 8 } = (globalThis.navigator ?? {}) as { deviceMemory?: number };
  return deviceMemory >= 4 && typeof matchMedia === 'function' && matchMedia('(pointer: fine)').matches;
}

async function fetchCopy(hash: string, copy: 'working' | 'large'): Promise<Blob> {
  const answer = await fetch(`/api/pictures/${hash}/${copy}`);
  if (!answer.ok) throw new Error(`picture ${hash}: ${answer.status}`);
  return answer.blob();
}

/** A picture at its file's size halved so often. */
async function halved(file: Blob, times: number): Promise<ImageBitmap> {
  const whole = await createImageBitmap(file);
  if (times === 0) return whole;
  const small = await createImageBitmap(whole, {
    resizeWidth: Math.max(1, Math.round(whole.width / 2 ** times)),
    resizeHeight: Math.max(1, Math.round(whole.height / 2 ** times)),
    resizeQuality: 'high',
  });
  whole.close();
  return small;
}
