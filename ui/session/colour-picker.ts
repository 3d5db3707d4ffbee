import { apply, invert } from '../../core/geometry/matrix';
import { asCropped } from '../../core/picture/recipe-steps';
import { hexOf } from '../../core/picture/oklab';
import { isPicture, type PictureLayer } from '../../core/sheet/entities';
import { isVisible } from '../../core/sheet/layer-tree';
import { placementMatrix } from '../../core/sheet/placement';
import { shownSize } from '../../core/sheet/recipe-placement';
import type { PictureTask } from '../../workers/picture-client';
import type { SheetSession } from './session';
import { Watched } from './watched';

/** How large a sample is, px of the picture. */
export const SAMPLE_SIZES = [1, 5, 15] as const;

/** What is under the pen. */
export interface Sample {
  x: number;
  y: number;
  /** None: nothing that has a colour lies there. */
  colour?: string;
}

/** A picture's own pixels, as they are before it is toned. */
interface TruePixels {
  key: string;
  image: ImageData;
  scale: number;
}

/** Pictures are read at most so large: a sample needs no more. */
const MOST_SIDE_PX = 2000;

/** Takes colours: of a picture as it truly is, however it is toned and hushed, or of what is drawn. */
export class ColourPicker {
  readonly sample = new Watched<Sample | undefined>(undefined);
  readonly size = new Watched<number>(SAMPLE_SIZES[1]);
  private pixels: TruePixels | undefined;
  private task: { key: string; task: PictureTask<ImageBitmap> } | undefined;
  private asked = 0;

  constructor(
    private readonly session: SheetSession,
    private readonly warn: (text: string) => void,
  ) {}

  /** Reads the picture, so that its colours are at hand. */
  begin(): void {
    void this.read(this.picture());
  }

  /** Lets go of the picture. */
  end(): void {
    this.task?.task.stop();
    this.task = this.pixels = undefined;
    this.sample.set(undefined);
  }

  /** The pen is there, paper px. */
  async move(x: number, y: number, source: 'picture' | 'sheet'): Promise<void> {
    const own = ++this.asked;
    this.sample.set({ x, y, colour: this.sample.now()?.colour });
    const colour = (source === 'picture' && (await this.ofPicture(x, y))) || (await this.ofSheet(x, y));
    if (own === this.asked && this.sample.now()) this.sample.set({ x, y, colour });
  }

  drop(): void {
    this.asked++;
    this.sample.set(undefined);
  }

  private async ofSheet(x: number, y: number): Promise<string | undefined> {
    const { session } = this;
    const { model } = session;
    const shown = model.stack().filter((layer) => !isPicture(layer) && layer.kind !== 'group' && isVisible(layer, model.layers)); // prettier-ignore
    const ask = { what: 'colour-at', layerIds: shown.map(({ id }) => id), at: [x, y] as [number, number] } as const;
    const found = await session.client.colour<'colour-at'>(ask).catch(() => undefined);
    return found ?? model.settings.paperColour;
  }

  private async ofPicture(x: number, y: number): Promise<string | undefined> {
    const layer = this.picture(x, y);
    if (!layer) return undefined;
    const pixels = await this.read(layer);
    if (!pixels) return undefined;
    const size = trueSize(layer);
    const [u, v] = apply(invert(placementMatrix(layer.placement, size)), x, y);
    return averageOf(pixels.image, u * pixels.scale, v * pixels.scale, this.size.now());
  }

  /** The topmost picture that is shown, at a place or anywhere. */
  private picture(x?: number, y?: number): PictureLayer | undefined {
    const { model } = this.session;
    return model.stack().findLast((layer): layer is PictureLayer => {
      if (!isPicture(layer) || layer.beside || !isVisible(layer, model.layers)) return false;
      if (x === undefined || y === undefined) return true;
      const { width, height } = trueSize(layer);
      const [u, v] = apply(invert(placementMatrix(layer.placement, { width, height })), x, y);
      return u >= 0 && v >= 0 && u < width && v < height;
    });
  }

  private async read(layer: PictureLayer | undefined): Promise<TruePixels | undefined> {
    const { stage } = this.session;
    if (!layer || !stage) return undefined;
    const recipe = asCropped(layer.recipe);
    const key = JSON.stringify([layer.picture.hash, recipe]);
    if (this.pixels?.key === key) return this.pixels;
    const { width, height } = trueSize(layer);
    const scale = Math.min(1, MOST_SIDE_PX / Math.max(width, height));
    if (this.task?.key !== key) {
      this.task?.task.stop();
      this.task = { key, task: stage.pictureWork.develop({ picture: layer.picture, recipe }, scale) };
      this.task.task.result.then(
        (bitmap) => {
          if (bitmap && this.task?.key === key) this.pixels = { key, image: imageOf(bitmap), scale };
          bitmap?.close();
        },
        () => this.warn('The picture could not be read, so its colours cannot be taken. Try again.'),
      );
    }
    await this.task.task.result.catch(() => undefined);
    return this.pixels;
  }
}

/** The size that a picture has on the paper before its placement: cropping is all of its recipe that changes that. */
const trueSize = (layer: PictureLayer) => shownSize({ picture: layer.picture, recipe: asCropped(layer.recipe) });

function imageOf(bitmap: ImageBitmap): ImageData {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [bitmap.width, bitmap.height];
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  return context.getImageData(0, 0, bitmap.width, bitmap.height);
}

/** The mean colour of a square around a place, px; undefined: all of it is clear. */
export function averageOf(
  { data, width, height }: Pick<ImageData, 'data' | 'width' | 'height'>,
  x: number,
  y: number,
  side: number,
): string | undefined {
  const [x0, y0] = [Math.floor(x - (side - 1) / 2), Math.floor(y - (side - 1) / 2)];
  const sums = [0, 0, 0, 0];
  for (let j = Math.max(0, y0); j < Math.min(height, y0 + side); j++)
    for (let i = Math.max(0, x0); i < Math.min(width, x0 + side); i++) {
      const at = 4 * (j * width + i);
      const alpha = data[at + 3];
      for (let c = 0; c < 3; c++) sums[c] += data[at + c] * alpha;
      sums[3] += alpha;
    }
  return sums[3] > 0 ? hexOf(sums.slice(0, 3).map((sum) => Math.round(sum / sums[3]))) : undefined;
}
