import { grow, intersection, isEmpty, outward, scaled, transformBox, type Box } from '../../core/geometry/box';
import { apply, compose, invert, lengthScale, scaling, type Matrix } from '../../core/geometry/matrix';
import { gridMatrix, viewMatrix, type Size, type View } from '../../core/geometry/view';
import { eachTile, TILE_APRON, TILE_SIDE, tileBox, tileRect, tilesOver, type TileRange } from '../../core/raster/tiles';
import type { Rgb } from '../../core/raster/pixels';
import { runTileKey, type RunTile } from '../../workers/sheet-protocol';
import { canvasesOf, type InkRun, type ReferenceRun, type Run } from './layer-runs';
import { paintReferences, type Divider, type DividerOnDevice } from './reference-painter';
import { Pane, type Look } from './pane';
import type { PictureStore } from './picture-store';
import type { StoredTile, TileStore } from './tile-store';
import { isOver, rectangle, TilePainter, wetScale, type KnownTile, type WetInk } from './tile-painter';
import { WET_PART_PX } from './wet-image';
import type { WetStroke } from './wet-stroke';
import { setMatrix } from './set-matrix';

export type { WetInk } from './tile-painter';

/** Device px per CSS px that are drawn at most. */
const MOST_RATIO = 2;
/** No canvas is longer: many tablets refuse more. */
const MAX_SIDE_PX = 4096;
/** All canvases together, in screens of 2 device px per CSS px; one is kept for scratch. */
const SCREENS = 6;
const SPARE_SCREENS = 2;

export interface ScreenSources {
  tiles: TileStore;
  pictures: PictureStore;
  wetInk(): readonly WetInk[];
}

/** Device px per CSS px that are drawn on a screen of this size. */
export const drawnRatio = ({ width, height }: Size, devicePixelRatio: number): number =>
  Math.min(MOST_RATIO, devicePixelRatio || 1, MAX_SIDE_PX / Math.max(1, width, height));

/** What lies beneath while looking at the lines: the paper, something dark, something loud, or squares: nothing. */
export const GROUNDS = ['paper', 'dark', 'loud', 'clear'] as const;
export type Ground = (typeof GROUNDS)[number];

const plain = (colour: string): string => `linear-gradient(${colour}, ${colour})`;
const GROUND_IMAGES: Record<Ground, string> = {
  paper: '',
  dark: plain('#23272f'),
  loud: plain('#b5ee4f'),
  // White and grey squares, as many programs and the web show what is transparent.
  clear: 'repeating-conic-gradient(#d8d8d8 0 25%, #ffffff 0 50%)',
};

interface RunCanvas {
  run: ReferenceRun | InkRun;
  canvas: HTMLCanvasElement;
  /** Tiles that this canvas shows, fresh, at the painted view. */
  painted: Set<string>;
  /** What the reference canvas was painted from. */
  look: string;
}

/**
 * The canvases that show the sheet: one for each run of layers, each as large as the screen and
 * painted in its own pixels, however the page is turned or zoomed. While a gesture moves the page
 * they are moved as they are, by one CSS transform; repainted, they keep what they showed, moved
 * along, until better pixels cover it tile by tile.
 */
export class PaperScreen {
  /** Everything, as it is looked at. */
  private readonly room = document.createElement('div');
  private readonly main = new Pane();
  /** Pictures, where they are looked at apart from the ink. */
  private aside: Pane | undefined;
  private look: Look = {};
  private readonly veil = document.createElement('div');
  private canvases: RunCanvas[] = [];
  /** Of groups that are mixed as a whole, by the keys of their runs. */
  private readonly groups = new Map<string, HTMLElement>();
  private overlay: HTMLCanvasElement | undefined;
  private spare: HTMLCanvasElement | undefined;
  private readonly painter = new TilePainter();
  private size: Size = { width: 1, height: 1 };
  /** Device px per CSS px, as drawn, and as drawn where few canvases are needed. */
  private ratio = 1;
  private fullRatio = 1;
  /** The view that the canvases show. */
  private painted: View = { scale: 1, turnDeg: 0, x: 0, y: 0 };
  /** The view that they are moved to. */
  private followed: View = this.painted;
  private divider: Divider | undefined;
  private levelNow = 0;
  private needed: TileRange = { x0: 0, y0: 0, x1: 0, y1: 0 };
  /** What canvases showed in the place of tiles that are missing, before wet ink came over it; by their keys. */
  private readonly standIns = new Map<string, KnownTile>();

  constructor(
    host: HTMLElement,
    private readonly paper: Size,
    private readonly sources: ScreenSources,
  ) {
    Object.assign(this.room.style, { position: 'absolute', inset: '0' });
    Object.assign(this.veil.style, { position: 'absolute', inset: '-200%', background: '#ffffff', display: 'none' });
    this.element.append(this.veil);
    this.room.append(this.main.frame);
    host.appendChild(this.room);
  }

  private get element(): HTMLElement {
    return this.main.element;
  }

  /** The most canvases for runs that the limit allows. */
  get mostRuns(): number {
    const { width, height } = this.size;
    const each = Math.ceil(width * this.fullRatio) * Math.ceil(height * this.fullRatio);
    return Math.max(3, Math.floor((SCREENS * 4 * width * height) / Math.max(1, each)) - SPARE_SCREENS);
  }

  get level(): number {
    return this.levelNow;
  }

  /** Device px per CSS px as drawn. */
  get pixelRatio(): number {
    return this.ratio;
  }

  /** Pixels of all canvases, the longest side, for tests and benches. */
  get memory(): { canvasPx: number; longestSide: number; canvases: number } {
    const shown = [...this.canvases.map((c) => c.canvas), this.overlay, this.spare].filter((c) => c !== undefined);
    const all = [...shown, ...this.painter.canvases];
    return {
      canvasPx: all.reduce((sum, c) => sum + c.width * c.height, 0),
      longestSide: Math.max(...all.map((c) => Math.max(c.width, c.height))),
      canvases: all.length,
    };
  }

  remove(): void {
    this.room.remove();
    this.canvases = [];
  }

  setSize(size: Size, devicePixelRatio: number): void {
    this.size = size;
    this.setLook(this.look);
    this.fullRatio = drawnRatio(size, devicePixelRatio);
    this.spare = undefined;
  }

  /**
   * Device px per CSS px as the next {@link repaint} draws. Layers whose blending alternates cannot share: where there are too
   * many of them all is drawn less finely.
   */
  get fittingRatio(): number {
    const most = Math.sqrt((4 * SCREENS) / (this.canvases.length + SPARE_SCREENS));
    return this.canvases.length > this.mostRuns ? Math.min(this.fullRatio, most) : this.fullRatio;
  }

  /** What is shown in the place of the paper's colour. */
  setGround(ground: Ground): void {
    Object.assign(this.main.ground.style, { backgroundImage: GROUND_IMAGES[ground], backgroundSize: '16px 16px' });
    this.aside?.follow(this.main);
  }

  /** How all of it is looked at. Nothing is painted for that; the runs are {@link setRuns} anew after it. */
  setLook(look: Look): void {
    this.look = look;
    const { apart, filter = '', mirrored } = look;
    Object.assign(this.room.style, { filter, transform: mirrored ? 'scaleX(-1)' : '' });
    this.main.open(apart?.ink, this.size);
    if (apart && !this.aside) {
      this.aside = new Pane();
      this.aside.follow(this.main);
      this.room.prepend(this.aside.frame);
    } else if (!apart) {
      this.aside?.frame.remove();
      this.aside = undefined;
    }
    this.aside?.open(apart?.pictures, this.size);
  }

  // ---- runs

  /** Shows these runs, bottom first; canvases that stay keep their pixels. Where {@link fittingRatio} changes all is to be repainted. */
  setRuns(runs: readonly Run[]): void {
    const before = new Map(this.canvases.map((c) => [c.run.key, c]));
    const after = canvasesOf(runs).map((run) => {
      const known = before.get(run.key);
      if (known) known.run = run;
      return known ?? { run, canvas: this.makeCanvas(run.key), painted: new Set<string>(), look: '' };
    });
    const gone = this.canvases.filter((c) => !after.includes(c));
    for (const fresh of after.filter((c) => !before.has(c.run.key))) this.seed(fresh, gone);
    for (const { canvas } of gone) canvas.remove();
    this.canvases = after;
    const groups = new Set<HTMLElement>();
    const isApart = (run: Run) => this.aside !== undefined && run.kind === 'reference' && !run.isWork;
    if (this.aside) this.arrange(runs.filter(isApart), this.aside.element, groups);
    this.arrange(
      runs.filter((run) => !isApart(run)),
      this.element,
      groups,
    );
    for (const [key, element] of this.groups)
      if (!groups.has(element)) {
        element.remove();
        this.groups.delete(key);
      }
    this.veil.style.display = runs.some((r) => r.kind === 'veil') ? '' : 'none';
    const references = after.flatMap(({ run }) => (run.kind === 'reference' ? run.layers : []));
    this.sources.pictures.only(new Set(references.map(({ layer }) => layer.id)));
    for (const c of after) if (c.run.kind === 'reference') this.paintReference(c, c.run);
    this.seeTiles();
    for (const c of after) if (c.run.kind === 'ink' && !before.has(c.run.key)) this.paintTiles(c, c.run);
  }

  /** How many canvases show runs. */
  get runCount(): number {
    return this.canvases.length;
  }

  // ---- ink that goes along with something

  /** Shows all ink moved by `drift` (paper px to paper px), as it is painted; undefined: where it lies. */
  driftInk(drift: Matrix | undefined): void {
    const view = viewMatrix(this.painted);
    const onScreen = drift && compose(view, compose(drift, invert(view)));
    for (const { canvas } of this.inkCanvases)
      Object.assign(canvas.style, {
        transformOrigin: '0 0',
        transform: onScreen ? `matrix(${onScreen.join(',')})` : '',
      });
  }

  /** Ink has moved by `drift`: what is painted of it goes there, until its own tiles come. */
  carryInk(drift: Matrix): void {
    this.driftInk(undefined);
    const toDevice = compose(scaling(this.ratio), viewMatrix(this.painted));
    const carry = compose(toDevice, compose(drift, invert(toDevice)));
    for (const c of this.inkCanvases) this.carryOver(c, carry);
  }

  /** Puts the runs' elements over each other, as they are mixed with what is below. */
  private arrange(runs: readonly Run[], parent: HTMLElement, groups: Set<HTMLElement>): void {
    runs.forEach((run, i) => {
      const element = this.elementOf(run);
      if (element.parentElement !== parent) parent.appendChild(element);
      element.style.zIndex = String(i + 1);
      element.style.opacity = String(run.opacity);
      if (run.kind === 'veil') return;
      element.style.mixBlendMode = run.blend;
      if (run.kind === 'group') {
        groups.add(element);
        this.arrange(run.runs, element, groups);
      } else element.style.visibility = run.shown ? '' : 'hidden';
      element.style.filter = run.kind === 'ink' ? (this.look.inkFilter ?? '') : '';
    });
  }

  private elementOf(run: Run): HTMLElement {
    if (run.kind === 'veil') return this.veil;
    if (run.kind !== 'group') return this.canvases.find((c) => c.run === run)!.canvas;
    const known = this.groups.get(run.key) ?? document.createElement('div');
    Object.assign(known.style, { position: 'absolute', inset: '0', isolation: 'isolate', pointerEvents: 'none' });
    this.groups.set(run.key, known);
    return known;
  }

  /** A new run begins with the pixels of those whose layers it took over, until its own tiles come. */
  private seed({ run, canvas }: RunCanvas, gone: readonly RunCanvas[]): void {
    if (run.kind !== 'ink') return;
    const ctx = canvas.getContext('2d')!;
    for (const old of gone) {
      if (old.run.kind !== 'ink' || !run.ids.includes(old.run.ids[0])) continue;
      ctx.globalAlpha = run.ids.length > 1 ? old.run.unhushed : 1;
      ctx.drawImage(old.canvas, 0, 0);
    }
    ctx.globalAlpha = 1;
  }

  private wetOver(run: InkRun): WetInk[] {
    return this.sources.wetInk().filter((wet) => isOver(run, wet));
  }

  /** The tiles that wet ink of a run is kept inside of, where each of these layers has a canvas of its own. */
  private boundsOf({ parts: [part, ...others] }: InkRun, tx: number, ty: number): StoredTile[] | undefined {
    if (others.length || !('id' in part) || !part.inside) return undefined;
    const tiles = part.inside.map((run) => this.sources.tiles.get({ run, level: this.levelNow, tx, ty }));
    return tiles.every((tile) => tile !== undefined) ? tiles : undefined;
  }

  private get inkCanvases(): (RunCanvas & { run: InkRun })[] {
    return this.canvases.filter((c): c is RunCanvas & { run: InkRun } => c.run.kind === 'ink');
  }

  get inkRuns(): InkRun[] {
    return this.inkCanvases.map((c) => c.run);
  }

  // ---- the view

  /** Moves what is painted to where `view` has it, without painting anything. */
  follow(view: View): void {
    const moved = compose(viewMatrix(view), invert(viewMatrix(this.painted)));
    this.element.style.transform = isNearIdentity(moved) ? '' : `matrix(${moved.join(',')})`;
    this.aside?.moveAlong(this.main);
    this.followed = view;
    if (this.divider) this.paintReferences();
  }

  /** How much larger `view` shows things than what is painted, and whether it shows more than that. */
  strain(view: View): { factor: number; uncovers: boolean } {
    const toPainted = compose(viewMatrix(this.painted), invert(viewMatrix(view)));
    const seen = transformBox({ x0: 0, y0: 0, x1: this.size.width, y1: this.size.height }, toPainted);
    const { x0, y0, x1, y1 } = intersection(seen, transformBox(this.paperBox, viewMatrix(this.painted)));
    return {
      factor: view.scale / this.painted.scale,
      uncovers: x0 < -1 || y0 < -1 || x1 > this.size.width + 1 || y1 > this.size.height + 1,
    };
  }

  private get paperBox(): Box {
    return { x0: 0, y0: 0, x1: this.paper.width, y1: this.paper.height };
  }

  /** From grid px of the level to device px of the canvases. */
  private toDevice(level = this.levelNow): Matrix {
    return compose(scaling(this.ratio), gridMatrix(this.painted, level, 0, 0));
  }

  /** What of the level's grid is in sight, cut to the paper. */
  get sight(): Box {
    const seen = transformBox(
      { x0: 0, y0: 0, x1: this.size.width, y1: this.size.height },
      invert(gridMatrix(this.painted, this.levelNow, 0, 0)),
    );
    return outward(intersection(seen, scaled(this.paperBox, 2 ** this.levelNow)));
  }

  /** The tiles of the level that the screen shows. */
  get tilesInSight(): TileRange {
    return this.needed;
  }

  /** Paints everything for a view: what was shown stays, moved along, where nothing better is known yet. */
  repaint(view: View, level: number, paperColour: string): void {
    const toBefore = invert(compose(scaling(this.ratio), viewMatrix(this.painted)));
    this.ratio = this.fittingRatio;
    const carry = compose(compose(scaling(this.ratio), viewMatrix(view)), toBefore);
    this.painted = this.followed = view;
    this.levelNow = level;
    this.element.style.transform = '';
    const { sight } = this;
    this.needed = isEmpty(sight) ? { x0: 0, y0: 0, x1: 0, y1: 0 } : tilesOver(sight);
    this.clipToPaper(paperColour);
    for (const c of this.canvases) {
      c.painted.clear();
      if (c.run.kind === 'reference') {
        c.look = '';
        this.shape(c.canvas);
        this.paintReference(c, c.run);
      } else this.carryOver(c, carry);
    }
    this.seeTiles();
    for (const c of this.inkCanvases) this.paintTiles(c, c.run);
    if (this.overlay) this.shape(this.overlay);
  }

  /** Puts a run's pixels where they belong now, in another canvas that takes the place of its own. */
  private carryOver(c: RunCanvas, carry: Matrix): void {
    const { x1: width, y1: height } = this.deviceBox;
    const isStill = isNearIdentity(carry) && c.canvas.width === width && c.canvas.height === height;
    if (isStill) return;
    const next = this.spare ?? this.makeCanvas('');
    this.shape(next);
    const ctx = next.getContext('2d')!;
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.clearRect(0, 0, width, height);
    setMatrix(ctx, carry);
    ctx.drawImage(c.canvas, 0, 0);
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    next.dataset.run = c.run.key;
    const { zIndex, opacity, visibility, mixBlendMode, transform, transformOrigin, filter } = c.canvas.style;
    Object.assign(next.style, { zIndex, opacity, visibility, mixBlendMode, transform, transformOrigin, filter });
    c.canvas.replaceWith(next);
    this.spare = c.canvas;
    c.canvas = next;
  }

  private clipToPaper(colour: string): void {
    const m = viewMatrix(this.painted);
    const { x1, y1 } = this.paperBox;
    const corners = [
      [0, 0],
      [x1, 0],
      [x1, y1],
      [0, y1],
    ].map(([x, y]) =>
      apply(m, x, y)
        .map((v) => `${v}px`)
        .join(' '),
    );
    this.element.style.clipPath = `polygon(${corners.join(',')})`;
    this.main.ground.style.backgroundColor = colour;
    this.aside?.follow(this.main);
  }

  // ---- tiles

  /** What shows ink now keeps its tiles. */
  private seeTiles(): void {
    this.standIns.clear();
    const tiles: RunTile[] = [];
    for (const { run } of this.inkCanvases)
      if (run.shown) eachTile(this.needed, (tx, ty) => tiles.push({ run: run.key, level: this.levelNow, tx, ty }));
    this.sources.tiles.see(tiles);
  }

  /** A missing tile, as its canvas shows it now: ink is seen while it is drawn, whatever has not come yet. */
  private standIn({ canvas }: RunCanvas, tile: RunTile): KnownTile {
    const key = runTileKey(tile);
    const known = this.standIns.get(key);
    if (known) return known;
    const bitmap = document.createElement('canvas');
    bitmap.width = bitmap.height = TILE_SIDE;
    const { x0, y0 } = tileRect(tile);
    const ctx = bitmap.getContext('2d')!;
    setMatrix(ctx, compose([1, 0, 0, 1, -x0, -y0], invert(this.toDevice())));
    ctx.drawImage(canvas, 0, 0);
    const made = { bitmap, fresh: false };
    this.standIns.set(key, made);
    return made;
  }

  /** Tiles in sight of shown runs that are neither painted as they are now nor at hand; those at hand are painted. */
  missing(): RunTile[] {
    const out: RunTile[] = [];
    for (const c of this.inkCanvases)
      if (c.run.shown)
        eachTile(this.needed, (tx, ty) => {
          const tile = { run: c.run.key, level: this.levelNow, tx, ty };
          if (c.painted.has(runTileKey(tile))) return;
          if (this.sources.tiles.get(tile)?.fresh) this.replaceTile(c, tx, ty);
          else out.push(tile);
        });
    return out;
  }

  /** What a step changed is no longer shown as it is. */
  spoil(damage: readonly { layerId: string; box: Box }[]): void {
    for (const c of this.inkCanvases)
      for (const d of damage) {
        if (!c.run.deciding.includes(d.layerId)) continue;
        const hit = intersection(tilesOver(outward(grow(scaled(d.box, 2 ** this.levelNow), 1))), this.needed);
        if (!isEmpty(hit))
          eachTile(hit, (tx, ty) => c.painted.delete(runTileKey({ run: c.run.key, level: this.levelNow, tx, ty })));
      }
  }

  /** A tile has come. @returns whether it is shown. */
  paintTile({ run, level, tx, ty }: RunTile): boolean {
    const c = this.inkCanvases.find((one) => one.run.key === run);
    const { x0, y0, x1, y1 } = this.needed;
    this.standIns.delete(runTileKey({ run, level, tx, ty }));
    if (!c || level !== this.levelNow || tx < x0 || tx >= x1 || ty < y0 || ty >= y1) return false;
    this.replaceTile(c, tx, ty);
    return true;
  }

  private paintTiles(c: RunCanvas, run: InkRun): void {
    if (run.shown) eachTile(this.needed, (tx, ty) => this.replaceTile(c as RunCanvas & { run: InkRun }, tx, ty));
  }

  /** Lays a stored tile, with the wet ink that it does not show, in the place of what its canvas has there. */
  private replaceTile(c: RunCanvas & { run: InkRun }, tx: number, ty: number): void {
    const tile = { run: c.run.key, level: this.levelNow, tx, ty };
    const stored = this.sources.tiles.get(tile);
    if (!stored) return;
    const image = this.painter.imageOf(
      stored,
      tile,
      tileBox(tx, ty),
      this.wetOver(c.run),
      this.boundsOf(c.run, tx, ty),
    );
    this.painter.layTile(c.canvas.getContext('2d')!, this.toDevice(), tile, image);
    if (stored.fresh) c.painted.add(runTileKey(tile));
  }

  // ---- wet ink

  /** Shows wet ink where it changed: `dirty` in grid px of its level. What lies under it is laid anew. */
  paintWet(wet: WetInk, dirty: Box): void {
    const grid = outward(grow(scaled(dirty, 1 / wetScale(wet, this.levelNow)), 1));
    if (wet.layerId === null) return this.paintPale(wet, grid);
    const c = this.inkCanvases.find((one) => isOver(one.run, wet));
    const isSameGrid = wet.stroke.level === this.levelNow;
    if (c) this.relay(c, grid, isSameGrid ? (tx, ty) => wet.stroke.hasChanged(tx, ty) : undefined);
  }

  /** Ink without a layer: it lies on a canvas of its own. */
  private paintPale(wet: WetInk, grid: Box): void {
    const ctx = this.overlayCanvas().getContext('2d')!;
    const device = outward(grow(transformBox(grid, this.toDevice()), 1));
    for (const part of inStrips(intersection(device, this.deviceBox))) {
      ctx.save();
      ctx.setTransform(1, 0, 0, 1, 0, 0);
      ctx.beginPath();
      rectangle(ctx, part);
      ctx.clip();
      ctx.clearRect(part.x0, part.y0, part.x1 - part.x0, part.y1 - part.y0);
      const around = grow(transformBox(part, invert(this.toDevice())), TILE_APRON);
      this.painter.layWet(ctx, wet, around, this.levelNow, this.toDevice());
      ctx.restore();
    }
  }

  private get deviceBox(): Box {
    return { x0: 0, y0: 0, x1: Math.ceil(this.size.width * this.ratio), y1: Math.ceil(this.size.height * this.ratio) };
  }

  /** Lays tiles with their wet ink anew where they lie in `grid`, if `isWanted`. */
  private relay(
    c: RunCanvas & { run: InkRun },
    grid: Box,
    isWanted: (tx: number, ty: number) => boolean = () => true,
  ): void {
    const over = intersection(tilesOver(grid), this.needed);
    if (isEmpty(over)) return;
    const ctx = c.canvas.getContext('2d')!;
    ctx.save();
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.beginPath();
    rectangle(ctx, outward(grow(transformBox(grid, this.toDevice()), 1)));
    ctx.clip();
    // What the clip shows, and what its pixels are mixed from.
    const shown = grow(grid, 2 / lengthScale(this.toDevice()) + TILE_APRON);
    const wet = this.wetOver(c.run);
    eachTile(over, (tx, ty) => {
      if (!isWanted(tx, ty)) return;
      const tile = { run: c.run.key, level: this.levelNow, tx, ty };
      const stored = this.sources.tiles.get(tile) ?? this.standIn(c, tile);
      const image = this.painter.imageOf(stored, tile, shown, wet, this.boundsOf(c.run, tx, ty));
      this.painter.layTile(ctx, this.toDevice(), tile, image);
    });
    ctx.restore();
  }

  /** Lays everything anew where a wet stroke was. */
  unpaintWet(layerId: string, stroke: WetStroke): void {
    const c = this.inkCanvases.find((one) => one.run.ids.includes(layerId));
    if (c) this.relay(c, outward(grow(scaled(stroke.area, 2 ** (this.levelNow - stroke.level)), 1)));
  }

  /** Shows strokes that have no layer, pale, on top of everything; none takes the canvas away. */
  paintHeld(held: readonly WetStroke[]): void {
    if (!held.length) {
      this.overlay?.remove();
      this.overlay = undefined;
      return;
    }
    const canvas = this.overlayCanvas();
    const ctx = canvas.getContext('2d')!;
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.clearRect(0, 0, canvas.width, canvas.height);
    for (const stroke of held) {
      const wet = { stroke, layerId: null, erases: false, isPending: true };
      const by = 1 / wetScale(wet, this.levelNow);
      for (const area of inStrips(stroke.area))
        this.painter.layWet(ctx, wet, scaled(area, by), this.levelNow, this.toDevice());
    }
  }

  /** Shows what a way (paper px) encloses, pale, with the strokes that are {@link paintHeld}. */
  paintEnclosed(way: Path2D, [r, g, b]: Rgb, held: readonly WetStroke[]): void {
    const canvas = this.overlayCanvas();
    if (held.length) this.paintHeld(held);
    const ctx = canvas.getContext('2d')!;
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    if (!held.length) ctx.clearRect(0, 0, canvas.width, canvas.height);
    setMatrix(ctx, compose(scaling(this.ratio), viewMatrix(this.painted)));
    ctx.fillStyle = `rgb(${r},${g},${b})`;
    ctx.fill(way, 'nonzero');
  }

  private overlayCanvas(): HTMLCanvasElement {
    if (this.overlay) return this.overlay;
    const canvas = this.makeCanvas('overlay');
    canvas.style.zIndex = '1000';
    canvas.style.opacity = '0.4';
    return (this.overlay = canvas);
  }

  // ---- references

  private paintReference(c: RunCanvas, run: ReferenceRun): void {
    const toDevice = compose(scaling(this.ratio), viewMatrix(this.painted));
    c.look = paintReferences(c.canvas, run, this.sources.pictures, toDevice, this.dividerOnDevice(), c.look);
  }

  /** Shows of a picture, to the left of a place of the screen, how it came; undefined: of none. */
  setDivider(divider: Divider | undefined): void {
    this.divider = divider;
    this.paintReferences();
  }

  /** The divider as it lies over what is painted, however that is moved now. */
  private dividerOnDevice(): DividerOnDevice | undefined {
    if (!this.divider) return undefined;
    const { layerId, x } = this.divider;
    const far = 4 * (this.size.width + this.size.height);
    const fromScreen = compose(
      scaling(this.ratio),
      compose(viewMatrix(this.painted), invert(viewMatrix(this.followed))),
    );
    const corners = [[-far, -far], [x, -far], [x, this.size.height + far], [-far, this.size.height + far]] as const; // prettier-ignore
    return { layerId, before: corners.map(([px, py]) => apply(fromScreen, px, py)) };
  }

  paintReferences(): void {
    for (const c of this.canvases) if (c.run.kind === 'reference') this.paintReference(c, c.run);
  }

  /** Makes a canvas as large as the screen, in its own px and in CSS px; one that is so keeps its pixels. */
  private shape(canvas: HTMLCanvasElement): void {
    const { x1, y1 } = this.deviceBox;
    if (canvas.width !== x1) canvas.width = x1;
    if (canvas.height !== y1) canvas.height = y1;
    Object.assign(canvas.style, { width: `${x1 / this.ratio}px`, height: `${y1 / this.ratio}px` });
  }

  private makeCanvas(key: string): HTMLCanvasElement {
    const canvas = document.createElement('canvas');
    this.shape(canvas);
    Object.assign(canvas.style, { position: 'absolute', left: '0', top: '0', pointerEvents: 'none' });
    canvas.dataset.run = key;
    if (key) this.element.appendChild(canvas);
    return canvas;
  }
}

const isNearIdentity = ([a, b, c, d, e, f]: Matrix): boolean =>
  Math.abs(a - 1) + Math.abs(b) + Math.abs(c) + Math.abs(d - 1) < 1e-9 && Math.abs(e) + Math.abs(f) < 1e-6;

/** A box in parts of at most `WET_PART_PX`. */
function* inStrips(box: Box): Generator<Box> {
  if (isEmpty(box)) return;
  const rows = Math.max(1, Math.floor(WET_PART_PX / (box.x1 - box.x0)));
  for (let y = box.y0; y < box.y1; y += rows) yield { ...box, y0: y, y1: Math.min(box.y1, y + rows) };
}
