import { compose, lengthScale, scaling, type Matrix } from '../../core/geometry/matrix';
import { premultiply } from '../../core/raster/compose';
import { activeSteps } from '../../core/picture/recipe';
import { isPicture, type Layer } from '../../core/sheet/entities';
import { placementMatrix } from '../../core/sheet/placement';
import { shownSize } from '../../core/sheet/recipe-placement';
import { madeScale } from '../canvas/picture-store';
import { PictureClient } from '../../workers/picture-client';
import type { Need } from '../../workers/sheet-protocol';
import { setMatrix } from '../canvas/set-matrix';

/** What was made is let go, and its worker ended, when nothing was asked for as long. */
const IDLE_MS = 10000;

/** Makes the pixels of pictures that are sent, strip by strip, as finely as the strips are. */
export class LiftedPixels {
  private client: PictureClient | undefined;
  private made: { key: string; bitmap: Promise<ImageBitmap | undefined> } | undefined;
  private idle: ReturnType<typeof setTimeout> | undefined;

  /** @param find the sheet's layers by id. */
  constructor(private readonly find: (id: string) => Layer | undefined) {}

  /** @throws {Error} the picture cannot be had, or the layer is none. */
  async strip({ layerId, level, rect }: Extract<Need, { what: 'picture' }>): Promise<ArrayBuffer> {
    clearTimeout(this.idle);
    try {
      return await this.drawn(layerId, level, rect);
    } finally {
      this.idle = setTimeout(() => this.close(), IDLE_MS);
    }
  }

  close(): void {
    clearTimeout(this.idle);
    this.client?.close();
    this.client = undefined;
    void this.made?.bitmap.then((bitmap) => bitmap?.close()).catch(() => undefined);
    this.made = undefined;
  }

  private async drawn(
    layerId: string,
    level: number,
    { x0, y0, width, height }: Extract<Need, { what: 'picture' }>['rect'],
  ): Promise<ArrayBuffer> {
    const layer = this.find(layerId);
    if (!isPicture(layer)) throw new Error(`layer ${layerId} is no picture`);
    const size = shownSize(layer);
    const toGrid = compose(
      [1, 0, 0, 1, -x0, -y0] satisfies Matrix,
      compose(scaling(2 ** level), placementMatrix(layer.placement, size)),
    );
    const { picture } = layer;
    const recipe = activeSteps(layer.recipe);
    const scale = madeScale(picture, recipe, lengthScale(toGrid));
    const key = JSON.stringify([picture.hash, recipe, scale]);
    if (this.made?.key !== key) {
      void this.made?.bitmap.then((bitmap) => bitmap?.close()).catch(() => undefined);
      this.client ??= new PictureClient();
      this.made = { key, bitmap: this.client.develop({ picture, recipe }, scale).result };
    }
    const bitmap = await this.made.bitmap;
    if (!bitmap) throw new Error('the picture is not made any more');
    const canvas = document.createElement('canvas');
    Object.assign(canvas, { width, height });
    const ctx = canvas.getContext('2d', { willReadFrequently: true })!;
    ctx.imageSmoothingQuality = 'high';
    const onStrip = compose(toGrid, scaling(size.width / bitmap.width));
    setMatrix(ctx, onStrip);
    ctx.drawImage(bitmap, 0, 0);
    const { data } = ctx.getImageData(0, 0, width, height);
    // Some devices keep a canvas until its size is nothing.
    canvas.width = canvas.height = 0;
    premultiply(data);
    return data.buffer as ArrayBuffer;
  }
}
