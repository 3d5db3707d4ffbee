import { grow, intersection, isEmpty, outward, scaled, transformBox, type Box } from '../../core/geometry/box';
import { apply, compose, lengthScale, scaling, type Matrix } from '../../core/geometry/matrix';
import { TILE, TILE_APRON, TILE_SIDE, tileBox } from '../../core/raster/tiles';
import type { RunTile } from '../../workers/sheet-protocol';
import type { InkRun } from './layer-runs';
import { WetImage } from './wet-image';
import type { WetStroke } from './wet-stroke';
import { setMatrix } from './set-matrix';

/** Ink that lies over the tiles of a layer until they show it. */
export interface WetInk {
  stroke: WetStroke;
  layerId: string | null;
  erases: boolean;
  /** The worker has not been told yet: tiles that are fresh do not show it either. */
  isPending: boolean;
}

/** Grid px of a wet stroke's level per grid px of `level`. */
export const wetScale = ({ stroke }: WetInk, level: number): number => 2 ** (stroke.level - level);

/** Whether wet ink belongs to one of a run's layers. */
export const isOver = (run: InkRun, wet: WetInk): boolean => wet.layerId !== null && run.ids.includes(wet.layerId);

/** What is known of a tile. */
export interface KnownTile {
  /** With its apron; null: nothing lies there. */
  bitmap: CanvasImageSource | null;
  /** It shows all finished ink. */
  fresh: boolean;
}

/** What stands in a tile's place: an image with its apron, wet ink alone, one colour all over, or nothing. */
type TileImage = CanvasImageSource | { wet: HTMLCanvasElement; part: Box } | string | null;

/** How far tiles of a turned page reach over their edges, device px. */
const SOFT_PX = 0.75;

/** Puts tiles, and the wet ink that they do not show yet, onto canvases. */
export class TilePainter {
  private readonly wetImage = new WetImage();
  /** One tile with wet ink laid over it. */
  private readonly composed = document.createElement('canvas');
  /** What wet ink is kept inside of, laid together. */
  private readonly bounding = document.createElement('canvas');

  constructor() {
    for (const canvas of [this.composed, this.bounding]) canvas.width = canvas.height = TILE_SIDE;
  }

  /** The canvases that it works with. */
  get canvases(): HTMLCanvasElement[] {
    return [this.wetImage.canvas, this.composed, this.bounding];
  }

  /**
   * What a tile shows: as it is stored, or with wet ink laid over it in its own pixels.
   * @param part grid px of the tile's level: what of it is looked at; the rest may lack wet ink.
   * @param wets the ink over the tile's run.
   * @param bounds tiles that it is kept inside of; undefined: it lies everywhere.
   * @returns an image holds until the next call.
   */
  imageOf(
    stored: KnownTile,
    { level, tx, ty }: RunTile,
    part: Box,
    wets: readonly WetInk[],
    bounds?: readonly KnownTile[],
  ): TileImage {
    const whole = grow(tileBox(tx, ty), TILE_APRON);
    const unseen = wets.filter(
      (w) => (w.isPending || !stored.fresh) && !isEmpty(intersection(w.stroke.area, scaled(whole, wetScale(w, level)))),
    );
    if (!unseen.length) return stored.bitmap;
    const top = unseen[unseen.length - 1];
    if (!bounds && top.stroke.level === level && top.stroke.covers(tx, ty))
      return top.erases ? null : `rgb(${top.stroke.colour.join(' ')})`;
    const near = intersection(whole, grow(part, TILE_APRON));
    if (!bounds && !stored.bitmap && unseen.length === 1 && top.stroke.level === level && !top.erases) {
      const wet = this.wetImage.of(top.stroke, outward(near));
      return wet ? { wet: this.wetImage.canvas, part: wet } : null;
    }
    const ctx = this.composed.getContext('2d')!;
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.clearRect(0, 0, TILE_SIDE, TILE_SIDE);
    const layAll = () => {
      for (const wet of unseen) this.layWet(ctx, wet, near, level, [1, 0, 0, 1, -whole.x0, -whole.y0]);
    };
    // What is stored lies inside already; what takes away from it need not.
    if (bounds && !unseen.some((wet) => wet.erases)) {
      layAll();
      this.keepInside(ctx, bounds);
      ctx.globalCompositeOperation = 'destination-over';
      if (stored.bitmap) ctx.drawImage(stored.bitmap, 0, 0);
      ctx.globalCompositeOperation = 'source-over';
      return this.composed;
    }
    if (stored.bitmap) ctx.drawImage(stored.bitmap, 0, 0);
    layAll();
    return this.composed;
  }

  /** Keeps of a tile what lies over any of some others. */
  private keepInside(ctx: CanvasRenderingContext2D, bounds: readonly KnownTile[]): void {
    const all = this.bounding.getContext('2d')!;
    all.clearRect(0, 0, TILE_SIDE, TILE_SIDE);
    for (const { bitmap } of bounds) if (bitmap) all.drawImage(bitmap, 0, 0);
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.globalCompositeOperation = 'destination-in';
    ctx.drawImage(this.bounding, 0, 0);
  }

  /**
   * Puts an image in the place of a tile. Tiles carry an apron: a level page cuts them to whole device
   * px, where neighbours join exactly; a turned one lets them overlap by a soft edge, mixed so that two
   * of one colour stay that colour.
   * @param m from the tile's grid to the canvas.
   */
  layTile(ctx: CanvasRenderingContext2D, m: Matrix, { tx, ty }: RunTile, image: TileImage): void {
    const isLevel = m[1] === 0 || m[0] === 0;
    ctx.save();
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    if (isLevel && (image === null || typeof image === 'string')) {
      flat(ctx, transformBox(tileBox(tx, ty), m), image);
      return ctx.restore();
    }
    ctx.beginPath();
    if (isLevel) rectangle(ctx, transformBox(tileBox(tx, ty), m));
    else polygon(ctx, grow(tileBox(tx, ty), SOFT_PX / lengthScale(m)), m);
    ctx.clip();
    // What was there goes by as much as the clip covers, and the tile is added by as much: by the same
    // clip, since paths are covered a little differently when they are filled.
    const { width, height } = ctx.canvas;
    ctx.globalCompositeOperation = 'destination-out';
    ctx.fillRect(0, 0, width, height);
    ctx.globalCompositeOperation = 'lighter';
    if (typeof image === 'string') {
      ctx.fillStyle = image;
      ctx.fillRect(0, 0, width, height);
    } else if (image) {
      setMatrix(ctx, m);
      if ('wet' in image) drawCorner(ctx, image.wet, image.part);
      else ctx.drawImage(image, tx * TILE - TILE_APRON, ty * TILE - TILE_APRON);
    }
    ctx.restore();
  }

  /** Draws the wet ink of `box` (grid px of `level`) over what is there. @param to from there to the canvas. */
  layWet(ctx: CanvasRenderingContext2D, wet: WetInk, box: Box, level: number, to: Matrix): void {
    const by = wetScale(wet, level);
    const part = this.wetImage.of(wet.stroke, outward(scaled(box, by)));
    if (!part) return;
    setMatrix(ctx, compose(to, scaling(1 / by)));
    ctx.globalCompositeOperation = wet.erases ? 'destination-out' : 'source-over';
    drawCorner(ctx, this.wetImage.canvas, part);
    ctx.globalCompositeOperation = 'source-over';
  }
}

/** Draws the upper left corner of a canvas where `part` lies. */
function drawCorner(ctx: CanvasRenderingContext2D, canvas: HTMLCanvasElement, { x0, y0, x1, y1 }: Box): void {
  ctx.drawImage(canvas, 0, 0, x1 - x0, y1 - y0, x0, y0, x1 - x0, y1 - y0);
}

/** Fills a box, its sides on whole px, with one colour or nothing: no path, no clip. */
function flat(ctx: CanvasRenderingContext2D, { x0, y0, x1, y1 }: Box, colour: string | null): void {
  const [left, top] = [Math.round(x0), Math.round(y0)];
  const [width, height] = [Math.round(x1) - left, Math.round(y1) - top];
  if (colour === null) return ctx.clearRect(left, top, width, height);
  ctx.fillStyle = colour;
  ctx.fillRect(left, top, width, height);
}

/** Adds a box to the path, its sides on whole px. */
export function rectangle(ctx: CanvasRenderingContext2D, { x0, y0, x1, y1 }: Box): void {
  const [left, top] = [Math.round(x0), Math.round(y0)];
  ctx.rect(left, top, Math.round(x1) - left, Math.round(y1) - top);
}

/** Adds a turned box to the path. */
function polygon(ctx: CanvasRenderingContext2D, { x0, y0, x1, y1 }: Box, m: Matrix): void {
  ctx.moveTo(...apply(m, x0, y0));
  ctx.lineTo(...apply(m, x1, y0));
  ctx.lineTo(...apply(m, x1, y1));
  ctx.lineTo(...apply(m, x0, y1));
  ctx.closePath();
}
