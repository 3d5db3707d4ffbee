import { contains, type Box } from '../../core/geometry/box';
import { apply, type Matrix } from '../../core/geometry/matrix';
import { viewMatrix, type Size, type View } from '../../core/geometry/view';
import { parseColour } from '../../core/raster/pixels';
import { levelFor, TILE } from '../../core/raster/tiles';
import type { Layer, SheetSettings } from '../../core/sheet/entities';
import { layerTree, withHeld } from '../../core/sheet/layer-tree';
import type { PaperSize } from '../../core/sheet/paper';
import { decodeSamples } from '../../core/stroke/codec';
import { decodePath, isPath, type StrokePath } from '../../core/stroke/path';
import type { Pen } from '../../core/stroke/pen';
import { handPointAt, type HandPoint, type Samples } from '../../core/stroke/samples';
import type { SheetClient } from '../../workers/sheet-client';
import { runTileKey, type PaintedTile, type RunTile } from '../../workers/sheet-protocol';
import { Camera, type Insets } from './camera';
import { layerRuns, type Looking } from './layer-runs';
import type { Divider } from './reference-painter';
import { PaperScreen, type Ground, type WetInk } from './paper-screen';
import type { PictureClient } from '../../workers/picture-client';
import type { Look } from './pane';
import { PictureStore } from './picture-store';
import { TileStore } from './tile-store';
import { WetStroke } from './wet-stroke';

export type { Insets } from './camera';

const MIN_LEVEL = -6;
const MAX_LEVEL = 7;
/** On fine screens pixels may be enlarged by so many powers of two: by 1.19, which nobody sees there. */
const FINE_SLACK_LOG2 = 0.25;
/** While fingers move the page, it is painted anew at most this often, ms. */
const GESTURE_REPAINT_MS = 120;
/** Scaled by more than this, what is painted is painted anew while the gesture goes on. */
const GESTURE_STRAIN = 1.6;

/** The tile level that shows the paper at a scale, on a screen of so many device px per CSS px. */
export function levelOnScreen(scale: number, pixelRatio: number): number {
  const slack = pixelRatio > 1.5 ? 2 ** -FINE_SLACK_LOG2 : 1;
  return Math.min(MAX_LEVEL, Math.max(MIN_LEVEL, levelFor(scale * pixelRatio * slack)));
}

/** Tiles in sight take at most about so much: where they are more, layers share canvases. */
const MOST_SEEN_BYTES = 256 * 1024 * 1024;
/** By so much fewer at a time. */
const FEWER = 0.7;
/** The layer that is drawn on, what is below, and what is above. */
const FEWEST_RUNS = 3;

/** A guess where the pen goes is gone after so long when the pen rests, ms. */
const GUESS_MS = 50;

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
  stage?(stage: Stage): void;
}

/** A stroke that is kept although its layer takes no ink. */
export interface HeldInk {
  /** Its packed samples, or its path. */
  bytes: Uint8Array;
  pen: Pen;
  colour: string;
}

/**
 * The paper on the screen: the camera, the canvases, wet ink, and tiles as the worker paints them.
 * Knows nothing of steps or of the interface around it.
 */
export class Stage {
  onComplete: () => void = () => {};
  /** Resolves when all that is in sight is painted for the first time. */
  readonly whenComplete: Promise<void>;
  private firstComplete: () => void = () => {};
  readonly camera: Camera;
  private readonly tiles = new TileStore();
  readonly pictures: PictureStore;
  private readonly screen: PaperScreen;
  /** How many canvases there may be at a level where the tiles of more took too much. */
  private readonly fewerRuns = new Map<number, number>();
  /** Finished strokes whose tiles do not show them yet. */
  private leftovers: WetInk[] = [];
  private held: HeldInk[] = [];
  private heldWet: WetStroke[] = [];
  private wet: (WetInk & { seen: number }) | undefined;
  /** What the stroke under the nib encloses, where that will be ink: its way, paper px. */
  private enclosed: Path2D | undefined;
  private guessing: ReturnType<typeof setTimeout> | undefined;
  private stack: Layer[] = [];
  private settings: SheetSettings;
  private looking: Looking = { peek: false, over: false };
  private look: Look = {};
  /** Where the last stroke lies, paper px. */
  private lastInk: Box | undefined;
  private repaintedAt = 0;
  private frameAsked = false;
  private viewDirty = true;
  private wantDirty = true;
  private wasComplete = false;
  /** Tiles that the worker was asked for and has not brought. */
  private outstanding = new Set<string>();
  private readonly inkListeners = new Set<() => void>();
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
    this.whenComplete = new Promise((resolve) => (this.firstComplete = resolve));
    const size = { width: paper.widthPx, height: paper.heightPx };
    this.camera = new Camera(size);
    this.camera.watch(() => {
      this.viewDirty = true;
      this.askFrame();
    });
    this.pictures = new PictureStore(() => this.picturesChanged(), onPictureFailed);
    this.screen = new PaperScreen(host, size, {
      tiles: this.tiles,
      pictures: this.pictures,
      wetInk: () => (this.wet && this.wet.layerId !== null ? [...this.leftovers, this.wet] : this.leftovers),
    });
    client.onTile = (tile) => this.receiveTile(tile);
    this.probe?.stage?.(this);
  }

  close(): void {
    this.closed = true;
    this.tiles.clear();
    this.pictures.close();
    this.screen.remove();
  }

  // ---- the view

  get view(): View {
    return this.camera.view;
  }

  /** Tells of every new view. @returns stops telling. */
  watchView(listener: (view: View) => void): () => void {
    return this.camera.watch(listener);
  }

  get size(): Size {
    return this.camera.viewport;
  }

  /** Device px per paper px, as tiles are rendered. */
  get deviceScale(): number {
    return this.view.scale * this.screen.pixelRatio;
  }

  setViewport(size: Size): void {
    this.screen.setSize(size, globalThis.devicePixelRatio || 1);
    this.camera.setViewport(size);
    this.fewerRuns.clear();
    this.refreshRuns();
    this.viewDirty = true;
  }

  fit(turnDeg?: number): void {
    this.camera.fit(turnDeg);
  }

  free(): Box {
    return this.camera.free();
  }

  /** The part of the stage that no bar covers, whatever the page is kept within. */
  unbarred(): Box {
    return this.camera.unbarred();
  }

  setInsets(insets: Insets): void {
    this.camera.setInsets(insets);
  }

  /** Something has opened over the paper from `top` (CSS px) down: the last stroke slides up into view. */
  cover(top: number): void {
    this.camera.cover(top, this.lastInk);
  }

  uncover(): void {
    this.camera.uncover();
  }

  /** Moves the page, but never under a pen that is drawing. See {@link Camera.set}. */
  setView(view: View, gesturing = false, anchor?: readonly [number, number]): void {
    if (!this.wet) this.camera.set(view, gesturing, anchor);
  }

  toPaper(x: number, y: number): [number, number] {
    return this.camera.toPaper(x, y);
  }

  /** Where a place of the paper is on the stage, CSS px. */
  toScreen(x: number, y: number): [number, number] {
    return apply(viewMatrix(this.view), x, y);
  }

  // ---- the sheet

  setSheet(stack: Layer[], settings: SheetSettings): void {
    const recolours = settings.paperColour !== this.settings.paperColour;
    this.stack = stack;
    this.settings = settings;
    this.refreshRuns();
    if (recolours) this.viewDirty = true;
  }

  /** Work on pictures off this thread. */
  get pictureWork(): Pick<PictureClient, 'develop' | 'edges' | 'page' | 'palette' | 'sharpness' | 'tones' | 'trace'> {
    return this.pictures.client;
  }

  /** Shows all ink moved (paper px to paper px), until it is moved or stays; undefined: where it lies. */
  driftInk(drift: Matrix | undefined): void {
    this.screen.driftInk(drift);
  }

  /** All ink has been moved so: what is painted of it goes along until it is painted anew. */
  carryInk(drift: Matrix): void {
    this.screen.carryInk(drift);
  }

  setLooking({ peek, over, solo, tones }: Looking): void {
    this.looking = { peek, over, solo, tones, inkOver: over && (this.looking.inkOver ?? false) };
    this.refreshRuns();
  }

  /** How all of it is looked at; see {@link PaperScreen.setLook}. Pictures that are looked at apart are full and true. */
  setLook(look: Look): void {
    const runsChange = (look.apart === undefined) !== (this.look.apart === undefined) || look.inkFilter !== this.look.inkFilter; // prettier-ignore
    this.look = look;
    this.screen.setLook(look);
    this.camera.keepWithin(look.within);
    if (runsChange) this.refreshRuns();
  }

  get isMirrored(): boolean {
    return this.look.mirrored === true;
  }

  /** A place of the stage as the view knows it, mirrored or in a window as it may be. @param like in the window of this one. */
  seen([x, y]: readonly [number, number], like = [x, y] as const): [number, number] {
    const { width } = this.size;
    const ink = this.look.apart?.ink;
    const [lx, ly] = [this.isMirrored ? width - like[0] : like[0], like[1]];
    const isMoved = ink !== undefined && contains(ink.box, lx, ly);
    return [(this.isMirrored ? width - x : x) - (isMoved ? ink.dx : 0), y - (isMoved ? ink.dy : 0)];
  }

  /** Where a place of the paper's ink is seen on the stage, mirrored or in a window as it may be, CSS px. */
  shown(x: number, y: number): [number, number] {
    const [sx, sy] = this.toScreen(x, y);
    const { dx, dy } = this.look.apart?.ink ?? { dx: 0, dy: 0 };
    return [this.isMirrored ? this.size.width - sx - dx : sx + dx, sy + dy];
  }

  /** Whether a layer is among what is looked at alone, if anything is. */
  isLookedAt(id: string): boolean {
    const alone = this.looking.solo === undefined ? [] : withHeld(this.looking.solo, layerTree(this.stack));
    return !alone.length || alone.some((layer) => layer.id === id);
  }

  /** Compares a picture with how it came. See {@link PaperScreen.setDivider}. */
  setDivider(divider: Divider | undefined): void {
    this.screen.setDivider(divider);
  }

  /** Shows something else than the paper beneath the ink; only for looking. */
  setGround(ground: Ground): void {
    this.screen.setGround(ground);
  }

  /**
   * Takes over what a step changed: tiles there are out of date until the worker has painted them anew.
   * @param tiles those that it had at hand.
   */
  applied(
    damage: readonly { layerId: string; box: Box }[],
    stepWet?: WetInk,
    tiles: readonly PaintedTile[] = [],
  ): void {
    this.tiles.spoil(damage, this.screen.inkRuns);
    this.screen.spoil(damage);
    if (stepWet) stepWet.isPending = false;
    for (const { address, bitmap } of tiles) {
      this.tiles.put(address, bitmap);
      this.screen.paintTile(address);
    }
    this.wasComplete = false;
    for (const listener of this.inkListeners) listener();
    // At once, without waiting for a frame: the worker has them nearly always at hand.
    if (this.viewDirty) this.wantDirty = true;
    else this.sendWants();
    this.askFrame();
  }

  /** Tells when any ink has changed. @returns stops telling. */
  watchInk(listener: () => void): () => void {
    this.inkListeners.add(listener);
    return () => void this.inkListeners.delete(listener);
  }

  /** Everything is drawn anew: the worker has read the sheet again. */
  repaintAll(): void {
    this.tiles.clear();
    this.leftovers = [];
    this.viewDirty = this.wantDirty = true;
    this.setSheet(this.stack, this.settings);
    for (const listener of this.inkListeners) listener();
  }

  // ---- wet ink

  beginStroke(pen: Pen, colour: string, target: WetTarget): void {
    // The nib and what is painted must mean the same view.
    if (this.camera.gesturing) this.camera.set(this.camera.view);
    if (this.viewDirty) this.showView();
    const stroke = new WetStroke(pen, parseColour(colour), this.screen.level, this.deviceScale);
    this.wet = { stroke, ...target, isPending: true, seen: 0 };
    this.enclosed = pen.fill && target.layerId !== null ? new Path2D() : undefined;
    if (this.looking.over && !this.looking.inkOver) {
      this.looking.inkOver = true;
      this.refreshRuns();
    }
  }

  /** @param guessed where the pen may go next; shown until it goes on or rests, never kept. */
  extendStroke(points: readonly HandPoint[], guessed: readonly HandPoint[] = []): void {
    if (!this.wet) return;
    for (const point of points) this.wet.stroke.add(point);
    for (const { x, y } of points) this.enclosed?.lineTo(x, y);
    this.wet.stroke.guess(guessed);
    this.askFrame();
    clearTimeout(this.guessing);
    if (guessed.length) this.guessing = setTimeout(() => this.dropGuess(), GUESS_MS);
  }

  /** The pen rests: what is shown ends where it is. */
  private dropGuess(): void {
    if (!this.wet || this.closed) return;
    this.wet.stroke.guess([]);
    this.wetFrame();
  }

  /** The stroke under the nib takes another way, from its beginning. */
  redrawStroke(points: readonly HandPoint[]): void {
    const { wet } = this;
    if (!wet) return;
    const { pen, colour, level } = wet.stroke;
    const stroke = new WetStroke(pen, colour, level, this.deviceScale);
    for (const point of points) stroke.add(point);
    if (this.enclosed) this.enclosed = new Path2D();
    for (const { x, y } of points) this.enclosed?.lineTo(x, y);
    this.replaceWet(stroke);
  }

  /** The stroke under the nib is this path, from its beginning. */
  redrawPath(path: StrokePath): void {
    if (!this.wet) return;
    // Of a path what it encloses is wet ink itself.
    this.hideEnclosed();
    const { pen, colour, level } = this.wet.stroke;
    this.replaceWet(new WetStroke(pen, colour, level, this.deviceScale, path));
  }

  private replaceWet(stroke: WetStroke): void {
    const { wet } = this;
    if (!wet) return;
    this.wet = { ...wet, stroke, seen: 0 };
    if (wet.layerId === null) this.screen.paintHeld(this.heldWet);
    else this.screen.unpaintWet(wet.layerId, wet.stroke);
    this.askFrame();
  }

  /** How many samples the stroke under the nib has. */
  get wetSamples(): number {
    return this.wet?.stroke.count ?? 0;
  }

  /** Ends the stroke; its pixels stay until tiles show them. `area`: paper px. Undefined when there was none. */
  endStroke(): { samples: Samples; path?: StrokePath; area: Box; leftover?: WetInk } | undefined {
    const { wet } = this;
    if (!wet || wet.stroke.count === 0) {
      this.discardStroke();
      return undefined;
    }
    this.wetFrame();
    this.wet = undefined;
    this.hideEnclosed();
    const { stroke, layerId, erases } = wet;
    const area = stroke.paperArea;
    this.lastInk = area;
    const samples = stroke.samples();
    const { path } = stroke;
    if (layerId === null) return { samples, path, area };
    const leftover: WetInk = { stroke, layerId, erases, isPending: true };
    this.leftovers.push(leftover);
    return { samples, path, area, leftover };
  }

  /** Takes the stroke away without a trace. */
  discardStroke(): void {
    const { wet } = this;
    this.wet = undefined;
    this.hideEnclosed();
    if (!wet) return;
    if (wet.layerId === null) this.screen.paintHeld(this.heldWet);
    else this.screen.unpaintWet(wet.layerId, wet.stroke);
  }

  private hideEnclosed(): void {
    if (this.enclosed) this.screen.paintHeld(this.heldWet);
    this.enclosed = undefined;
  }

  /** Takes away what a finished stroke left on the screen (it was refused or came to nothing). */
  forget(leftover: WetInk): void {
    this.leftovers = this.leftovers.filter((w) => w !== leftover);
    if (leftover.layerId !== null) this.screen.unpaintWet(leftover.layerId, leftover.stroke);
    this.wantDirty = true;
    this.askFrame();
  }

  get isInking(): boolean {
    return this.wet !== undefined;
  }

  setHeld(held: HeldInk[]): void {
    this.held = held;
    this.showHeld();
  }

  private showHeld(): void {
    const { sight, level } = this.screen;
    this.heldWet = this.held.map(({ bytes, pen, colour }) => {
      const path = isPath(bytes) ? decodePath(bytes) : undefined;
      const stroke = new WetStroke(pen, parseColour(colour), level, this.deviceScale, path);
      const samples = decodeSamples(bytes);
      for (let i = 0; !path && i < samples.count; i++) stroke.add(handPointAt(samples, i));
      stroke.frame(sight);
      return stroke;
    });
    this.screen.paintHeld(this.heldWet);
  }

  private wetFrame(): void {
    const { wet } = this;
    if (!wet) return;
    const began = this.probe ? performance.now() : 0;
    const dirty = wet.stroke.frame(this.screen.sight);
    if (dirty.x1 > dirty.x0) this.screen.paintWet(wet, dirty);
    if (this.enclosed) this.screen.paintEnclosed(this.enclosed, wet.stroke.colour, this.heldWet);
    if (this.probe?.wetFrame) this.probe.wetFrame(performance.now() - began, wet.stroke.count - wet.seen, 0);
    wet.seen = wet.stroke.count;
  }

  // ---- frames and tiles

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
    if (this.viewDirty) this.showView();
    if (this.wantDirty) this.sendWants();
    if (this.wet && this.wet.stroke.count > this.wet.seen) this.wetFrame();
    if (moved) this.probe?.viewFrame?.(performance.now() - began);
  }

  /** Shows the view: at rest painted in its own pixels, in a gesture what is painted, moved. */
  private showView(): void {
    this.viewDirty = false;
    const { view, gesturing } = this.camera;
    // How the paper lies, for whoever looks from outside.
    this.host.dataset.view = JSON.stringify(view);
    const now = performance.now();
    if (gesturing) {
      const { factor, uncovers } = this.screen.strain(view);
      const isStrained = uncovers || factor > GESTURE_STRAIN || factor < 1 / GESTURE_STRAIN;
      if (!isStrained || now - this.repaintedAt < GESTURE_REPAINT_MS) {
        this.screen.follow(view);
        if (!isStrained) return;
        this.viewDirty = true;
        return this.askFrame();
      }
    }
    this.repaintedAt = now;
    const before = this.mostRuns;
    this.screen.repaint(view, levelOnScreen(view.scale, this.screen.fittingRatio), this.settings.paperColour);
    if (before !== this.mostRuns) this.refreshRuns();
    this.wantDirty = true;
    this.wasComplete = false;
    if (this.held.length && !gesturing) this.showHeld();
  }

  /** Asks the worker for the tiles that are missing, those nearest to the middle of the screen first. */
  private sendWants(): void {
    this.wantDirty = false;
    const missing = this.screen.missing();
    this.outstanding = new Set(missing.map(runTileKey));
    const { level } = this.screen;
    const [px, py] = this.toPaper(this.size.width / 2, this.size.height / 2);
    const cx = (px * 2 ** level) / TILE - 0.5;
    const cy = (py * 2 ** level) / TILE - 0.5;
    const far = (t: RunTile) => (t.tx - cx) * (t.tx - cx) + (t.ty - cy) * (t.ty - cy);
    missing.sort((a, b) => far(a) - far(b));
    const runs = this.screen.inkRuns.map(({ key, parts }) => ({ key, parts }));
    this.client.want(runs, missing, { level, range: this.screen.tilesInSight });
    if (missing.length === 0) this.reportComplete();
  }

  private receiveTile({ address, bitmap }: PaintedTile): void {
    if (this.closed) return bitmap?.close();
    this.tiles.put(address, bitmap);
    this.probe?.tile?.();
    this.screen.paintTile(address);
    if (this.tiles.bytesInSight > MOST_SEEN_BYTES) this.shareMore();
    this.outstanding.delete(runTileKey(address));
    // Looked through again: something may have been spoilt or forgotten meanwhile.
    if (this.outstanding.size === 0 && !this.wantDirty) this.sendWants();
  }

  private reportComplete(): void {
    // Their tiles all show them now.
    if (this.leftovers.length) this.leftovers = this.leftovers.filter((w) => w.isPending);
    if (this.wasComplete) return;
    this.wasComplete = true;
    this.probe?.complete?.();
    this.firstComplete();
    this.onComplete();
  }

  /** Whether all that is in sight is painted as it is. */
  get isComplete(): boolean {
    const isPainted = this.wasComplete && !this.viewDirty && !this.pictures.isBusy;
    return isPainted && !this.leftovers.some(({ isPending }) => isPending);
  }

  private get mostRuns(): number {
    return Math.min(this.screen.mostRuns, this.fewerRuns.get(this.screen.level) ?? Infinity);
  }

  /** Layers share canvases until their tiles take less. */
  private shareMore(): void {
    const { runCount, level } = this.screen;
    if (runCount <= FEWEST_RUNS || (this.fewerRuns.get(level) ?? Infinity) < runCount) return;
    this.fewerRuns.set(level, Math.max(FEWEST_RUNS, Math.floor(FEWER * runCount)));
    this.refreshRuns();
  }

  private refreshRuns(): void {
    const looking = this.look.apart ? { ...this.looking, peek: true, over: true, inkOver: false } : this.looking;
    this.screen.setRuns(layerRuns(this.stack, this.settings, looking, this.mostRuns));
    if (this.screen.fittingRatio !== this.screen.pixelRatio) this.viewDirty = true;
    this.wantDirty = true;
    this.wasComplete = false;
    this.askFrame();
  }

  private picturesChanged(): void {
    if (!this.closed) this.screen.paintReferences();
  }

  /** What canvases, tiles and wet masks take, for tests and benches. */
  get memory() {
    const wet = [...this.leftovers.map((w) => w.stroke), ...this.heldWet, ...(this.wet ? [this.wet.stroke] : [])];
    return {
      ...this.screen.memory,
      tileBytes: this.tiles.bytes,
      maskBytes: wet.reduce((sum, stroke) => sum + stroke.maskBytes, 0),
    };
  }
}
