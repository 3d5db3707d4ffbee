import { grow, intersection, isEmpty, outward, overlaps, transformBox, type Box } from '../../core/geometry/box';
import { invert } from '../../core/geometry/matrix';
import {
  bounded,
  fitted,
  gridMatrix,
  settledView,
  toPaper,
  viewMatrix,
  type Size,
  type View,
} from '../../core/geometry/view';
import { drawStroke, gridArea, RasterWorkspace, type DrawableStroke } from '../../core/raster/draw-stroke';
import { LruCache } from '../../core/raster/lru-cache';
import { makePixels, parseColour } from '../../core/raster/pixels';
import { unpremultiply } from '../../core/raster/compose';
import { levelFor, TILE, tileBox, tileKey, tilesOver, type TileAddress, type TileRange } from '../../core/raster/tiles';
import type { Layer, SheetSettings } from '../../core/sheet/entities';
import { LEVEL_TOLERANCE_PX } from '../../core/sheet/ink-store';
import type { PaperSize } from '../../core/sheet/paper';
import type { Pen } from '../../core/stroke/pen';
import type { HandPoint, Samples } from '../../core/stroke/samples';
import { spineOf } from '../../core/stroke/spine-maker';
import { spineBox } from '../../core/raster/draw-stroke';
import type { SheetClient } from '../../workers/sheet-client';
import type { PaintedTile } from '../../workers/sheet-protocol';
import { layerRuns, type Looking } from './layer-runs';
import { PaperWindow, showsTile, type WetLeftover } from './paper-window';
import { PictureStore } from './picture-store';
import { WetStroke } from './wet-stroke';

const TILE_CACHE_BYTES = 56 * 1024 * 1024;
const TILE_BYTES = 4 * TILE * TILE;
const MIN_LEVEL = -6;
const MAX_LEVEL = 7;
/** A window of another level waits this long for its tiles before it is shown without them. */
const SWAP_WAIT_MS = 350;
/** While fingers move the page, windows are made anew at most this often. */
const GESTURE_REBUILD_MS = 150;

/** A revealed stroke keeps this far from what covers the rest, CSS px. */
const REVEAL_MARGIN_PX = 12;

/** Where a stroke goes while it is drawn: onto a layer, or pale on top when the layer takes none. */
export interface WetTarget {
  layerId: string | null;
  erases: boolean;
}

/** Counts for the benches: set on `globalThis.hushProbe` before a sheet opens. */
export interface StageProbe {
  wetFrame?(ms: number, samples: number, behind: number): void;
  viewFrame?(ms: number): void;
  tile?(): void;
  complete?(): void;
}

/** CSS px at each side that bars cover. */
export interface Insets {
  top: number;
  right: number;
  bottom: number;
  left: number;
}

/** A stroke that is kept although its layer takes no ink. */
export interface HeldInk {
  samples: Samples;
  pen: Pen;
  colour: string;
}

/**
 * The paper on the screen: the view, the window of canvases around it, wet ink, and tiles as the
 * worker paints them. Knows nothing of steps or of the interface around it.
 */
export class Stage {
  private readonly viewListeners = new Set<(view: View) => void>();
  onComplete: () => void = () => {};
  private viewNow: View = { scale: 1, turnDeg: 0, x: 0, y: 0 };
  private viewport: Size = { width: 1, height: 1 };
  private window: PaperWindow | undefined;
  private next: { window: PaperWindow; since: number } | undefined;
  private readonly tiles = new LruCache<ImageBitmap | null>(TILE_CACHE_BYTES, (bitmap) => bitmap?.close());
  private readonly pictures: PictureStore;
  private leftovers: WetLeftover[] = [];
  private held: HeldInk[] = [];
  private wet: { stroke: WetStroke; target: WetTarget; seen: number } | undefined;
  private readonly scratch = document.createElement('canvas');
  private stack: Layer[] = [];
  private settings: SheetSettings;
  private insets: Insets = { top: 0, right: 0, bottom: 0, left: 0 };
  private isFitted = true;
  /** What lies over the paper for a while, and the slide that it caused. */
  private covered: { top: number; slide?: { before: View; after: View; wasFitted: boolean } } | undefined;
  /** Where the last stroke lies, paper px. */
  private lastInk: Box | undefined;
  private looking: Looking = { peek: false, over: false };
  private gesturing = false;
  private rebuiltAt = 0;
  private frameAsked = false;
  private viewDirty = true;
  private wantDirty = true;
  private wasComplete = false;
  private closed = false;
  private readonly probe = (globalThis as { hushProbe?: StageProbe }).hushProbe;

  constructor(
    private readonly host: HTMLElement,
    private readonly client: SheetClient,
    readonly paper: PaperSize,
    settings: SheetSettings,
    onPictureFailed: (hash: string) => void,
  ) {
    this.settings = settings;
    this.pictures = new PictureStore(() => this.picturesChanged(), onPictureFailed);
    client.onTile = (tile) => this.receiveTile(tile);
  }

  close(): void {
    this.closed = true;
    this.tiles.clear();
    this.pictures.close();
    this.window?.remove();
    this.next?.window.remove();
  }

  get view(): View {
    return this.viewNow;
  }

  /** Tells of every new view. @returns stops telling. */
  watchView(listener: (view: View) => void): () => void {
    this.viewListeners.add(listener);
    return () => void this.viewListeners.delete(listener);
  }

  get size(): Size {
    return this.viewport;
  }

  private get devicePixelRatio(): number {
    return Math.min(2, globalThis.devicePixelRatio || 1);
  }

  /** Device px per paper px, as tiles are rendered. */
  get deviceScale(): number {
    return this.viewNow.scale * this.devicePixelRatio;
  }

  setSheet(stack: Layer[], settings: SheetSettings): void {
    this.stack = stack;
    this.settings = settings;
    this.refreshRuns();
  }

  setLooking(looking: Looking): void {
    this.looking = looking;
    this.refreshRuns();
  }

  /** The viewport's size changed: the middle of the paper stays in the middle. */
  setViewport(size: Size): void {
    const first = this.viewport.width === 1;
    const before = this.viewport;
    this.viewport = size;
    if (first || this.isFitted) return this.fit();
    this.setView({
      ...this.viewNow,
      x: this.viewNow.x + (size.width - before.width) / 2,
      y: this.viewNow.y + (size.height - before.height) / 2,
    });
  }

  /** Shows the whole paper in the part of the viewport that no bar covers. */
  fit(turnDeg = this.viewNow.turnDeg): void {
    const { x0, y0, x1, y1 } = this.free();
    const free = { width: x1 - x0, height: y1 - y0 };
    const view = fitted({ width: this.paper.widthPx, height: this.paper.heightPx }, free, turnDeg);
    this.setView({ ...view, x: view.x + x0, y: view.y + y0 });
    this.isFitted = true;
  }

  /** The part of the viewport that no bar covers, CSS px. */
  free(): Box {
    const { top, right, bottom, left } = this.insets;
    const y1 = Math.min(this.viewport.height - bottom, this.covered?.top ?? Infinity);
    return { x0: left, y0: top, x1: this.viewport.width - right, y1 };
  }

  /** Sets what the bars cover; a paper that still lies fitted is fitted anew. */
  setInsets(insets: Insets): void {
    const before = JSON.stringify(this.insets);
    this.insets = insets;
    if (this.isFitted && before !== JSON.stringify(insets)) this.fit();
  }

  /** Something has opened over the paper from `top` (CSS px) down: the last stroke slides up into view. */
  cover(top: number): void {
    this.covered = { top };
    if (!this.lastInk) return;
    const onScreen = transformBox(this.lastInk, viewMatrix(this.viewNow));
    const hidden = onScreen.y1 + REVEAL_MARGIN_PX - top;
    // A stroke taller than the free part keeps its upper end in sight.
    const by = Math.min(hidden, onScreen.y0 - this.insets.top - REVEAL_MARGIN_PX);
    if (by <= 0) return;
    const slide = { before: this.viewNow, wasFitted: this.isFitted };
    this.setView({ ...this.viewNow, y: this.viewNow.y - by });
    this.covered = { top, slide: { ...slide, after: this.viewNow } };
  }

  /** It has closed: the page slides back, unless it was moved in the meantime. */
  uncover(): void {
    const slide = this.covered?.slide;
    this.covered = undefined;
    if (slide?.after !== this.viewNow) return;
    this.setView(slide.before);
    this.isFitted = slide.wasFitted;
  }

  /**
   * Moves the page. While `gesturing`, tiles are scaled as they are and repainted after.
   * @param anchor CSS px: what the movement is about, should its scale have to be held back.
   */
  setView(view: View, gesturing = false, anchor?: readonly [number, number]): void {
    this.gesturing = gesturing;
    this.isFitted = false;
    const within = bounded(view, { width: this.paper.widthPx, height: this.paper.heightPx }, this.free(), anchor);
    this.viewNow = gesturing ? within : settledView(within, globalThis.devicePixelRatio || 1);
    this.viewDirty = true;
    for (const listener of this.viewListeners) listener(this.viewNow);
    this.askFrame();
  }

  toPaper(x: number, y: number): [number, number] {
    return toPaper(this.viewNow, x, y);
  }

  /** Tiles on the screen, for the worker to bring up to date with a step. */
  showing(): TileAddress[] {
    return this.window?.addresses() ?? [];
  }

  /** Takes over what a step changed: fresh tiles, and the boxes where others are out of date. */
  applied(
    damage: readonly { layerId: string; box: Box }[],
    tiles: readonly PaintedTile[],
    stepWet?: WetLeftover,
  ): void {
    for (const key of this.tiles.keys()) {
      const [layerId, level, tx, ty] = key.split('/');
      for (const d of damage)
        if (d.layerId === layerId && overlaps(gridArea(d.box, 2 ** Number(level)), tileBox(Number(tx), Number(ty))))
          this.tiles.delete(key);
    }
    for (const tile of tiles) this.keep(tile);
    if (stepWet) this.leftovers = this.leftovers.filter((w) => w !== stepWet);
    for (const w of [this.window, this.next?.window])
      if (w) for (const d of damage) w.paintLayer(d.layerId, gridArea(d.box, 2 ** w.level));
    this.repaintWet();
    this.wantDirty = true;
    this.askFrame();
  }

  /** Everything is drawn anew: the worker has read the sheet again. */
  repaintAll(): void {
    this.tiles.clear();
    this.setSheet(this.stack, this.settings);
  }

  // ---- wet ink

  beginStroke(pen: Pen, colour: string, target: WetTarget): void {
    if (!this.window) return;
    const { level, masks } = this.window;
    const stroke = new WetStroke(pen, parseColour(colour), level, masks, this.deviceScale);
    this.wet = { stroke, target, seen: 0 };
  }

  extendStroke(points: readonly HandPoint[]): void {
    if (!this.wet) return;
    for (const point of points) this.wet.stroke.add(point);
    this.askFrame();
  }

  /** Ends the stroke; its pixels stay until tiles show them. Undefined when there was none. */
  endStroke(): { samples: Samples; leftover?: WetLeftover } | undefined {
    const { wet, window } = this;
    if (!wet || !window || wet.stroke.recorder.count === 0) {
      this.discardStroke();
      return undefined;
    }
    this.wetFrame();
    const samples = wet.stroke.samples();
    const paperPx = 2 ** -window.level;
    const { x0, y0, x1, y1 } = wet.stroke.area;
    this.lastInk = { x0: x0 * paperPx, y0: y0 * paperPx, x1: x1 * paperPx, y1: y1 * paperPx };
    const leftover = wet.target.layerId === null ? undefined : this.leaveBehind(wet.stroke, wet.target, window);
    wet.stroke.clean();
    this.wet = undefined;
    return { samples, leftover };
  }

  /** Takes the stroke away without a trace. */
  discardStroke(): void {
    const { wet, window } = this;
    this.wet = undefined;
    if (!wet || !window) return;
    wet.stroke.clean();
    if (wet.target.layerId === null) this.paintHeld();
    else window.paintLayer(wet.target.layerId, wet.stroke.area);
  }

  /** Takes away what a finished stroke left on the screen (it was refused or came to nothing). */
  forget(leftover: WetLeftover): void {
    this.leftovers = this.leftovers.filter((w) => w !== leftover);
    if (this.window?.level === leftover.level) this.window.paintLayer(leftover.layerId, leftover.box);
  }

  get isInking(): boolean {
    return this.wet !== undefined;
  }

  setHeld(held: HeldInk[]): void {
    this.held = held;
    this.paintHeld();
  }

  private leaveBehind(stroke: WetStroke, target: WetTarget, window: PaperWindow): WetLeftover | undefined {
    const box = intersection(stroke.area, window.box);
    if (isEmpty(box)) return undefined;
    const canvas = document.createElement('canvas');
    canvas.width = box.x1 - box.x0;
    canvas.height = box.y1 - box.y0;
    putWet(canvas, stroke, box);
    const leftover = { layerId: target.layerId!, box, level: window.level, canvas, erases: target.erases };
    this.leftovers.push(leftover);
    return leftover;
  }

  private wetFrame(): void {
    const { wet, window } = this;
    if (!wet || !window) return;
    const began = this.probe ? performance.now() : 0;
    const dirty = intersection(wet.stroke.frame(), window.box);
    if (!isEmpty(dirty)) this.paintWet(dirty);
    if (this.probe?.wetFrame) this.probe.wetFrame(performance.now() - began, wet.stroke.recorder.count - wet.seen, 0);
    wet.seen = wet.stroke.recorder.count;
  }

  private paintWet(box: Box): void {
    const { wet, window, scratch } = this;
    if (!wet || !window) return;
    const w = box.x1 - box.x0;
    const h = box.y1 - box.y0;
    if (scratch.width < w || scratch.height < h) {
      scratch.width = Math.max(scratch.width, w, 256);
      scratch.height = Math.max(scratch.height, h, 256);
    }
    putWet(scratch, wet.stroke, box);
    if (wet.target.layerId === null) window.paintPale(box, scratch, true);
    else window.paintWet(wet.target.layerId, box, scratch, wet.target.erases);
  }

  private repaintWet(): void {
    if (!this.wet || !this.window || this.wet.target.layerId === null) return;
    const box = intersection(this.wet.stroke.area, this.window.box);
    if (!isEmpty(box)) this.paintWet(box);
  }

  private paintHeld(): void {
    const { window } = this;
    if (!window) return;
    window.paintPale(window.box, undefined, true);
    for (const { samples, pen, colour } of this.held) {
      const spine = spineOf(samples, pen, LEVEL_TOLERANCE_PX / 2 ** window.level);
      const stroke: DrawableStroke = { spine, box: spineBox(spine), colour: parseColour(colour), holes: [] };
      const box = intersection(gridArea(stroke.box, 2 ** window.level), window.box);
      if (isEmpty(box)) continue;
      const pixels = makePixels(box.x0, box.y0, box.x1 - box.x0, box.y1 - box.y0);
      drawStroke(pixels, stroke, 2 ** window.level, new RasterWorkspace(pixels.width, pixels.height));
      unpremultiply(pixels.data);
      const canvas = document.createElement('canvas');
      canvas.width = pixels.width;
      canvas.height = pixels.height;
      canvas.getContext('2d')!.putImageData(new ImageData(pixels.data, pixels.width, pixels.height), 0, 0);
      window.paintPale(box, canvas, false);
    }
  }

  // ---- frames, windows and tiles

  private askFrame(): void {
    if (this.frameAsked || this.closed) return;
    this.frameAsked = true;
    requestAnimationFrame(() => {
      this.frameAsked = false;
      if (!this.closed) this.frame();
    });
  }

  private frame(): void {
    const began = this.probe ? performance.now() : 0;
    const moved = this.viewDirty;
    if (this.viewDirty) {
      this.viewDirty = false;
      this.ensureWindow();
      this.window?.place(this.viewNow);
      this.next?.window.place(this.viewNow);
    }
    if (this.wantDirty) this.sendWants();
    this.trySwap();
    if (this.wet && this.wet.stroke.recorder.count > this.wet.seen) this.wetFrame();
    if (moved) this.probe?.viewFrame?.(performance.now() - began);
  }

  private ensureWindow(): void {
    const level = Math.min(MAX_LEVEL, Math.max(MIN_LEVEL, levelFor(this.deviceScale)));
    const current = this.next?.window ?? this.window;
    const sight = this.sight(level);
    if (isEmpty(sight)) return;
    const need = tilesOver(sight);
    if (current && current.level === level && rangeHolds(current.range, need)) return;
    const now = performance.now();
    if (current && this.gesturing && now - this.rebuiltAt < GESTURE_REBUILD_MS) {
      this.viewDirty = true;
      return this.askFrame();
    }
    this.rebuiltAt = now;
    this.buildWindow(level, this.withMargin(need, level));
  }

  private buildWindow(level: number, range: TileRange): void {
    this.next?.window.remove();
    const window = new PaperWindow(this.host, this.paper, level, range, {
      tile: (address) => this.tiles.get(tileKey(address)),
      missing: () => (this.wantDirty = true),
      leftovers: () => this.leftovers,
      pictures: this.pictures,
    });
    window.hidden = true;
    window.setRuns(layerRuns(this.stack, this.settings, this.looking), this.settings.paperColour);
    this.next = { window, since: performance.now() };
    this.wantDirty = true;
    this.wasComplete = false;
    // Another stretch of the same level is shown at once: most of its tiles are there.
    if (!this.window || this.window.level === level) this.swap();
  }

  private trySwap(): void {
    if (!this.next) return;
    const ready = this.missingIn(this.next.window).length === 0;
    if (ready || performance.now() - this.next.since > SWAP_WAIT_MS) this.swap();
    else setTimeout(() => this.askFrame(), 50);
  }

  private swap(): void {
    if (!this.next) return;
    const { window } = this.next;
    const old = this.window;
    window.place(this.viewNow);
    this.window = window;
    this.next = undefined;
    this.leftovers = this.leftovers.filter((w) => w.level === window.level || w.level === old?.level);
    if (this.wet) {
      this.wet.stroke.rebase(window.level, window.masks);
      this.repaintWet();
    }
    this.paintHeld();
    window.hidden = false;
    old?.remove();
  }

  /** What of the paper is in sight, grid px. */
  private sight(level: number): Box {
    const toGrid = invert(gridMatrix(this.viewNow, level, 0, 0));
    const seen = transformBox({ x0: 0, y0: 0, x1: this.viewport.width, y1: this.viewport.height }, toGrid);
    const scale = 2 ** level;
    return outward(
      intersection(seen, { x0: 0, y0: 0, x1: this.paper.widthPx * scale, y1: this.paper.heightPx * scale }),
    );
  }

  private withMargin(range: TileRange, level: number): TileRange {
    const scale = 2 ** level;
    const paper = tilesOver({ x0: 0, y0: 0, x1: this.paper.widthPx * scale, y1: this.paper.heightPx * scale });
    return intersection(grow(range, 1), paper);
  }

  private missingIn(window: PaperWindow): TileAddress[] {
    return window.addresses().filter((t) => !this.tiles.has(tileKey(t)));
  }

  /** Asks the worker for the tiles that are missing, those nearest to the middle of the screen first. */
  private sendWants(): void {
    this.wantDirty = false;
    const window = this.next?.window ?? this.window;
    if (!window) return;
    const [px, py] = this.toPaper(this.viewport.width / 2, this.viewport.height / 2);
    const cx = (px * 2 ** window.level) / TILE - 0.5;
    const cy = (py * 2 ** window.level) / TILE - 0.5;
    const far = (t: TileAddress) => (t.tx - cx) * (t.tx - cx) + (t.ty - cy) * (t.ty - cy);
    const missing = this.missingIn(window).sort((a, b) => far(a) - far(b));
    this.client.want(missing);
    if (missing.length === 0) this.reportComplete();
  }

  private receiveTile(tile: PaintedTile): void {
    this.keep(tile);
    this.probe?.tile?.();
    const grid = tileBox(tile.address.tx, tile.address.ty);
    for (const w of [this.window, this.next?.window])
      if (w && showsTile(w, tile.address)) {
        w.paintLayer(tile.address.layerId, grid);
        if (w === this.window && this.wet?.target.layerId === tile.address.layerId) this.repaintWet();
      }
    const shown = this.next?.window ?? this.window;
    if (shown && this.missingIn(shown).length === 0) this.reportComplete();
    this.askFrame();
  }

  private reportComplete(): void {
    if (this.wasComplete) return;
    this.wasComplete = true;
    this.probe?.complete?.();
    this.onComplete();
  }

  private keep({ address, bitmap }: PaintedTile): void {
    this.tiles.set(tileKey(address), bitmap, bitmap ? TILE_BYTES : 64);
  }

  private refreshRuns(): void {
    const runs = layerRuns(this.stack, this.settings, this.looking);
    for (const w of [this.window, this.next?.window]) w?.setRuns(runs, this.settings.paperColour);
    this.repaintWet();
    this.wantDirty = true;
    this.wasComplete = false;
    this.askFrame();
  }

  private picturesChanged(): void {
    if (this.closed) return;
    for (const w of [this.window, this.next?.window]) w?.paintReferences();
  }
}

const rangeHolds = (outer: TileRange, inner: TileRange): boolean =>
  inner.x0 >= outer.x0 && inner.y0 >= outer.y0 && inner.x1 <= outer.x1 && inner.y1 <= outer.y1;

/** Puts the wet pixels of `box` at the top left of a canvas. */
function putWet(canvas: HTMLCanvasElement, stroke: WetStroke, box: Box): void {
  const image = new ImageData(box.x1 - box.x0, box.y1 - box.y0);
  stroke.paint(box, image.data);
  canvas.getContext('2d')!.putImageData(image, 0, 0);
}
