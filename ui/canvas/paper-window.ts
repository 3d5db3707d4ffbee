import { intersection, outward, type Box } from '../../core/geometry/box';
import { compose, lengthScale, type Matrix } from '../../core/geometry/matrix';
import { gridMatrix, type View } from '../../core/geometry/view';
import { eachTile, TILE, tileBox, tilesOver, type TileAddress, type TileRange } from '../../core/raster/tiles';
import type { PaperSize } from '../../core/sheet/paper';
import { placementMatrix } from '../../core/sheet/placement';
import { makeWetMasks, type WetMasks } from './wet-stroke';
import type { Run } from './layer-runs';
import type { PictureStore } from './picture-store';

/** A finished stroke whose tiles are not painted yet: its pixels as they were drawn. */
export interface WetLeftover {
  layerId: string;
  /** Grid px of `level`. */
  box: Box;
  level: number;
  canvas: HTMLCanvasElement;
  erases: boolean;
}

/** What the window's canvases are painted from. */
export interface PaintSources {
  tile(address: TileAddress): ImageBitmap | null | undefined;
  missing(address: TileAddress): void;
  leftovers(): readonly WetLeftover[];
  pictures: PictureStore;
}

/**
 * The part of the paper around the screen, in the grid of one tile level: a canvas for each run of
 * layers, all moved together by one CSS transform, so that moving the page paints nothing.
 */
export class PaperWindow {
  /** Grid px that the canvases show: whole tiles, cut to the paper. */
  readonly box: Box;
  readonly masks: WetMasks;
  private readonly element = document.createElement('div');
  private readonly canvases = new Map<string, HTMLCanvasElement>();
  private runs: Run[] = [];
  private overlay: HTMLCanvasElement | undefined;

  constructor(
    host: HTMLElement,
    private readonly paper: PaperSize,
    readonly level: number,
    readonly range: TileRange,
    private readonly sources: PaintSources,
  ) {
    this.box = windowBox(paper, level, range);
    this.masks = makeWetMasks(this.box.x0, this.box.y0, this.box.x1 - this.box.x0, this.box.y1 - this.box.y0);
    Object.assign(this.element.style, {
      position: 'absolute',
      left: '0',
      top: '0',
      transformOrigin: '0 0',
      willChange: 'transform',
    });
    // Where the canvases lie in the grid, for whoever looks from outside.
    Object.assign(this.element.dataset, { level, x0: this.box.x0, y0: this.box.y0 });
    host.appendChild(this.element);
  }

  place(view: View): void {
    this.element.style.transform = `matrix(${gridMatrix(view, this.level, this.box.x0, this.box.y0).join(',')})`;
  }

  set hidden(hidden: boolean) {
    this.element.style.visibility = hidden ? 'hidden' : '';
  }

  remove(): void {
    this.element.remove();
  }

  /** Shows these runs; canvases that stay keep their pixels. @returns whether any was new. */
  setRuns(runs: Run[], paperColour: string): boolean {
    this.runs = runs;
    const keys = new Set(['paper', ...runs.map((r) => r.key)]);
    for (const [key, canvas] of this.canvases)
      if (!keys.has(key)) {
        canvas.remove();
        this.canvases.delete(key);
      }
    this.paintPaper(paperColour);
    let anyNew = false;
    runs.forEach((run, i) => {
      const isNew = !this.canvases.has(run.key);
      const canvas = this.canvas(run.key);
      canvas.style.zIndex = String(i + 1);
      canvas.style.opacity = String(run.opacity);
      canvas.style.visibility = run.kind === 'veil' || run.shown ? '' : 'hidden';
      if (isNew || run.kind === 'reference' || run.kind === 'veil') this.paintRun(run, this.box);
      anyNew ||= isNew;
    });
    return anyNew;
  }

  /** Tiles of all shown ink that lie in the window. */
  addresses(): TileAddress[] {
    const out: TileAddress[] = [];
    for (const run of this.runs)
      if (run.kind === 'ink')
        for (const { id } of run.layers)
          eachTile(this.range, (tx, ty) => out.push({ layerId: id, level: this.level, tx, ty }));
    return out;
  }

  /** Repaints `grid` (grid px) of the run that shows the layer. */
  paintLayer(layerId: string, grid: Box): void {
    const run = this.runs.find((r) => r.kind === 'ink' && r.layers.some((l) => l.id === layerId));
    if (run) this.paintRun(run, intersection(grid, this.box));
  }

  paintReferences(): void {
    for (const run of this.runs) if (run.kind === 'reference') this.paintRun(run, this.box);
  }

  /** Lays the wet pixels of `box` over the layer's canvas, once its own pixels are painted there. */
  paintWet(layerId: string, box: Box, pixels: HTMLCanvasElement, erases: boolean): void {
    const run = this.runs.find((r) => r.kind === 'ink' && r.layers.some((l) => l.id === layerId));
    if (!run) return;
    this.paintRun(run, box);
    drawPart(this.context(run.key), pixels, box, this.box, erases);
  }

  /** The same on top of everything, pale: ink that has no layer to land on. */
  paintPale(box: Box, pixels: HTMLCanvasElement | undefined, clear: boolean): void {
    this.overlay ??= this.canvas('overlay');
    this.overlay.style.zIndex = '1000';
    this.overlay.style.opacity = '0.4';
    const ctx = this.overlay.getContext('2d')!;
    const { x0, y0 } = this.box;
    if (clear) ctx.clearRect(box.x0 - x0, box.y0 - y0, box.x1 - box.x0, box.y1 - box.y0);
    if (pixels) drawPart(ctx, pixels, box, this.box, false);
  }

  private paintPaper(colour: string): void {
    const isNew = !this.canvases.has('paper');
    const canvas = this.canvas('paper');
    if (!isNew && canvas.dataset.colour === colour) return;
    canvas.dataset.colour = colour;
    canvas.style.zIndex = '0';
    const ctx = canvas.getContext('2d')!;
    ctx.fillStyle = colour;
    const { x0, y0, x1, y1 } = this.paperInGrid();
    ctx.fillRect(x0 - this.box.x0, y0 - this.box.y0, x1 - x0, y1 - y0);
  }

  private paintRun(run: Run, grid: Box): void {
    if (!(grid.x1 > grid.x0 && grid.y1 > grid.y0)) return;
    if (run.kind === 'ink') this.paintInk(run, grid);
    else if (run.kind === 'reference') this.paintReference(run);
    else this.paintVeil();
  }

  private paintInk(run: Extract<Run, { kind: 'ink' }>, grid: Box): void {
    const ctx = this.context(run.key);
    eachTile(tilesOver(grid), (tx, ty) => {
      const part = intersection(grid, tileBox(tx, ty));
      const bitmaps = run.layers.map(({ id }) => this.tileOf(id, tx, ty));
      // Pixels stay as they are until every tile is known; a blank would flicker.
      if (bitmaps.includes(undefined)) return;
      ctx.clearRect(part.x0 - this.box.x0, part.y0 - this.box.y0, part.x1 - part.x0, part.y1 - part.y0);
      run.layers.forEach(({ id, opacity }, i) => {
        ctx.globalAlpha = opacity;
        const bitmap = bitmaps[i];
        if (bitmap) drawPart(ctx, bitmap, part, this.box, false, tx * TILE, ty * TILE);
        for (const wet of this.sources.leftovers()) if (wet.layerId === id) this.paintLeftover(ctx, wet, part);
      });
      ctx.globalAlpha = 1;
    });
  }

  private tileOf(layerId: string, tx: number, ty: number): ImageBitmap | null | undefined {
    const address = { layerId, level: this.level, tx, ty };
    const bitmap = this.sources.tile(address);
    if (bitmap === undefined) this.sources.missing(address);
    return bitmap;
  }

  private paintLeftover(ctx: CanvasRenderingContext2D, wet: WetLeftover, part: Box): void {
    if (wet.level !== this.level) return;
    const box = intersection(part, wet.box);
    if (box.x1 > box.x0 && box.y1 > box.y0)
      drawPart(ctx, wet.canvas, box, this.box, wet.erases, wet.box.x0, wet.box.y0);
  }

  private paintReference({ key, layer }: Extract<Run, { kind: 'reference' }>): void {
    const toGrid: Matrix = [2 ** this.level, 0, 0, 2 ** this.level, -this.box.x0, -this.box.y0];
    const matrix = compose(toGrid, placementMatrix(layer.placement, layer.picture));
    const found = this.sources.pictures.get(layer.picture, lengthScale(matrix));
    const ctx = this.context(key);
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.clearRect(0, 0, ctx.canvas.width, ctx.canvas.height);
    if (!found) return;
    const k = 1 / found.perPicturePx;
    ctx.save();
    const paper = this.paperInGrid();
    ctx.beginPath();
    ctx.rect(paper.x0 - this.box.x0, paper.y0 - this.box.y0, paper.x1 - paper.x0, paper.y1 - paper.y0);
    ctx.clip();
    ctx.setTransform(...(compose(matrix, [k, 0, 0, k, 0, 0]) as [number, number, number, number, number, number]));
    ctx.imageSmoothingQuality = 'high';
    ctx.drawImage(found.bitmap, 0, 0);
    ctx.restore();
  }

  private paintVeil(): void {
    const ctx = this.context('veil');
    const { x0, y0, x1, y1 } = this.paperInGrid();
    ctx.fillStyle = '#ffffff';
    ctx.clearRect(0, 0, ctx.canvas.width, ctx.canvas.height);
    ctx.fillRect(x0 - this.box.x0, y0 - this.box.y0, x1 - x0, y1 - y0);
  }

  private paperInGrid(): Box {
    const scale = 2 ** this.level;
    return { x0: 0, y0: 0, x1: this.paper.widthPx * scale, y1: this.paper.heightPx * scale };
  }

  private context(key: string): CanvasRenderingContext2D {
    return this.canvas(key).getContext('2d')!;
  }

  private canvas(key: string): HTMLCanvasElement {
    const known = this.canvases.get(key) ?? (key === 'overlay' ? this.overlay : undefined);
    if (known) return known;
    const canvas = document.createElement('canvas');
    canvas.width = this.box.x1 - this.box.x0;
    canvas.height = this.box.y1 - this.box.y0;
    Object.assign(canvas.style, { position: 'absolute', left: '0', top: '0', pointerEvents: 'none' });
    canvas.dataset.run = key;
    this.element.appendChild(canvas);
    if (key !== 'overlay') this.canvases.set(key, canvas);
    return canvas;
  }
}

/** Whether the address lies in the window. */
export const showsTile = (w: PaperWindow, t: TileAddress): boolean =>
  t.level === w.level && t.tx >= w.range.x0 && t.tx < w.range.x1 && t.ty >= w.range.y0 && t.ty < w.range.y1;

/** Whole grid px of a tile range, cut to the paper. */
function windowBox(paper: PaperSize, level: number, range: TileRange): Box {
  const scale = 2 ** level;
  const paperBox = outward({ x0: 0, y0: 0, x1: paper.widthPx * scale, y1: paper.heightPx * scale });
  return intersection(paperBox, { x0: range.x0 * TILE, y0: range.y0 * TILE, x1: range.x1 * TILE, y1: range.y1 * TILE });
}

/** Copies `box` (grid px) of an image that begins at grid (ox, oy) onto a canvas that begins at `origin`. */
function drawPart(
  ctx: CanvasRenderingContext2D,
  image: CanvasImageSource,
  box: Box,
  origin: Box,
  erases: boolean,
  ox = box.x0,
  oy = box.y0,
): void {
  const w = box.x1 - box.x0;
  const h = box.y1 - box.y0;
  ctx.globalCompositeOperation = erases ? 'destination-out' : 'source-over';
  ctx.drawImage(image, box.x0 - ox, box.y0 - oy, w, h, box.x0 - origin.x0, box.y0 - origin.y0, w, h);
  ctx.globalCompositeOperation = 'source-over';
}
