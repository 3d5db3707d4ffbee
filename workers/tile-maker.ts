import type { Ink } from '../contract/ink-frame';
import type { Parts } from '../contract/frame';
import { damageBox, type KeptTile, type LowTilesBody } from '../contract/low-tiles';
import { intersection, isEmpty, type Box } from '../core/geometry/box';
import { drawStroke, gridArea, RasterWorkspace } from '../core/raster/draw-stroke';
import { LruCache } from '../core/raster/lru-cache';
import { boxOfPixels, copyInto, makePixels, type Pixels } from '../core/raster/pixels';
import { TILE_SIDE, tileAddress, tileKey, tileRect, type TileAddress } from '../core/raster/tiles';
import { drawingOf, type SpineUse } from '../core/sheet/ink-drawing';
import { InkStore } from '../core/sheet/ink-store';
import type { Damage } from '../core/sheet/ink-damage';
import type { Lacking, Pause } from '../core/sheet/ink-work';
import { storedName } from '../core/sheet/entities';
import { DamageLog, touchesTile } from './damage-log';
import { KeptPixels, type StepName } from './kept-pixels';
import { LowTiles } from './low-tiles';
import { unpackTile } from './unpack-tile';

/** Painted tiles kept here as plain pixels, so that a new stroke only needs to be laid over them. */
const TILE_CACHE_BYTES = 40 * 1024 * 1024;
/** Pixels of the last steps, for their undo. */
const KEPT_BYTES = 32 * 1024 * 1024;
const TILE_BYTES = 4 * TILE_SIDE * TILE_SIDE;
/** A tile of which more than this part has changed is drawn from nothing. */
const MOST_MENDED = 0.6;
/** Places after the one that is made whose samples are brought along with its own. */
const SOON = 12;
/** Ids and tiles that are asked for at a time. */
const MOST_IDS = 2000;
const MOST_TILES = 64;
/** A sheet of fewer strokes is drawn as quickly as its tiles are fetched. */
export const FEWEST_STROKES = 500;

/** Where what is not here comes from. Rejects when it cannot be reached. */
export interface Supply {
  /** @param names as `storedName` makes them. */
  samples(names: readonly string[]): Promise<ReadonlyMap<string, Uint8Array>>;
  lowTiles(tiles: readonly KeptTile[]): Promise<Parts>;
}

/** Tiles for the sheet to keep: packed, those without bytes blank. */
export type TileBatch = [TileAddress, Uint8Array][];

/**
 * What a tile is made for: the screen; one of many layers that share a tile there; a small picture, which will be wanted
 * again after the next step; or to be left with the sheet. Those that are many push out nothing that the others use.
 */
export type TileUse = 'screen' | 'shared' | 'small' | 'low';
const spineUse = (use: TileUse): SpineUse => (use === 'screen' ? 'keep' : 'exact');

interface CachedTile {
  pixels: Pixels;
  /** Where in the log of damage they are right. */
  at: number;
}

/** Lets waiting messages in between two pieces of long work; timers would wait 4 ms each time. */
export const breath = (): Promise<void> => new Promise((resolve) => nextTurn(resolve));

const nextTurn: (then: () => void) => void =
  typeof setImmediate === 'function'
    ? setImmediate
    : (then) => {
        const { port1, port2 } = new MessageChannel();
        port1.onmessage = () => then();
        port2.postMessage(null);
      };

/**
 * Makes the pixels of tiles: from those that were made before, from those that are kept with the sheet, mended where
 * something has changed since, or from the strokes. Before the strokes have come it makes what the kept tiles show.
 */
export class TileMaker {
  /** As those do that work with it in files of their own. */
  readonly breath = breath;
  ink = new InkStore();
  isOpen = false;
  readonly low = new LowTiles();
  readonly log = new DamageLog();
  private readonly cache = new LruCache<CachedTile>(TILE_CACHE_BYTES);
  private readonly kept = new KeptPixels(KEPT_BYTES);
  readonly work = new RasterWorkspace(TILE_SIDE, TILE_SIDE);
  /** Samples that are under way, so that nothing is asked for twice. */
  private readonly underWay = new Map<string, Promise<ReadonlyMap<string, Uint8Array>>>();
  /** Counts changes: what was begun before one of them may be out of date. */
  revision = 0;

  /** @param fewestStrokes of a sheet whose tiles are kept. */
  constructor(
    private readonly supply: Supply,
    readonly fewestStrokes = FEWEST_STROKES,
  ) {}

  /** Takes in what is kept with a sheet that is about to be opened. */
  takeLow(body: LowTilesBody, parts: Parts): void {
    this.isOpen = false;
    this.revision++;
    this.ink = new InkStore();
    this.cache.clear();
    this.kept.clear();
    this.low.clear();
    this.log.clear();
    const steps = [...body.damage].sort((a, b) => a[0] - b[0]);
    this.log.add(steps.map(damageBox));
    this.low.take(body, parts, (seq) => {
      const first = steps.findIndex((d) => d[0] > seq);
      return first < 0 ? steps.length : first;
    });
  }

  /**
   * Takes in all strokes, with what has changed since the kept tiles were asked for.
   * @param bringUp follows the steps that the strokes lack, but not the kept tiles: nothing has to be mended for them.
   */
  open({ strokes, erasures, damage }: Ink, bringUp: (ink: InkStore) => void = () => {}): void {
    this.revision++;
    this.ink = new InkStore();
    this.ink.open(strokes, erasures);
    bringUp(this.ink);
    this.log.add(damage.map(damageBox));
    this.isOpen = true;
  }

  /**
   * Follows a change of the ink. Tiles are brought up to date at once where that is little work: an undo puts back what
   * was there, the artist's own stroke on top is laid over. Others are mended when they are wanted: a kept tile may show
   * what another device has added before its step comes.
   * @param step names the artist's own: what its tiles showed before is kept.
   */
  follow(damage: readonly Damage[], step: StepName | undefined): void {
    this.revision++;
    if (!damage.length) return;
    const { end } = this.log;
    const before = this.kept.begin(step);
    const current: [string, TileAddress, CachedTile, Damage[]][] = [];
    for (const key of this.cache.keys()) {
      const address = tileAddress(key);
      const hits = damage.filter((d) => touchesTile(d, address));
      const tile = hits.length ? this.cache.peek(key) : undefined;
      if (tile && !this.log.since(tile.at, address).length) current.push([key, address, tile, hits]);
    }
    this.log.add(damage);
    for (const [key, address, { pixels }, hits] of current) {
      this.kept.keep(key, pixels);
      // What is kept is not drawn on any more.
      const laid = step && !before?.has(key) ? this.laidOver(pixels, hits, address.level) : undefined;
      this.cache.set(key, laid ? { pixels: laid, at: this.log.end } : { pixels, at: end }, TILE_BYTES);
    }
    for (const [key, pixels] of before ?? []) this.cache.set(key, { pixels, at: this.log.end }, TILE_BYTES);
    this.kept.end();
  }

  /** The pixels that an undo or redo would put back on these tiles. */
  nextPixels(isWanted: (address: TileAddress) => boolean): Pixels[] {
    return [...this.kept.next()].flatMap(([key, pixels]) => (isWanted(tileAddress(key)) ? [pixels] : []));
  }

  /** A copy of a tile with strokes laid over it, if that is all that happened there. */
  private laidOver(pixels: Pixels, hits: readonly Damage[], level: number): Pixels | undefined {
    const strokes = hits.map((d) => (d.added ? this.ink.drawableOf(d.added, level) : undefined));
    if (!strokes.every((stroke) => stroke !== undefined)) return undefined;
    const copy = { ...pixels, data: pixels.data.slice() };
    for (const stroke of strokes) drawStroke(copy, stroke, 2 ** level, this.work);
    return copy;
  }

  /** Whether a tile can be made now: before the strokes have come, those that are kept as they are. */
  canMake(address: TileAddress): boolean {
    if (this.isOpen) return true;
    const found = this.low.find(address);
    return found !== undefined && !this.log.since(found.at, address).length;
  }

  /** Whether a tile is at hand as it is now. */
  isCurrent(address: TileAddress): boolean {
    const cached = this.cache.peek(tileKey(address));
    return cached !== undefined && !this.log.since(cached.at, address).length;
  }

  /**
   * The pixels of one layer's tile with its apron, as the ink is when this resolves, of a shared one those at least that
   * are inked; null: nothing lies there. They are not to be drawn on.
   * @throws what the supply rejects with.
   */
  async pixels(address: TileAddress, use: TileUse = 'screen'): Promise<Pixels | null> {
    for (;;) {
      const { revision } = this;
      const pixels = await this.run(this.making(address, use), () => revision === this.revision);
      if (revision === this.revision) return pixels ?? null;
    }
  }

  /**
   * Runs work to its end, bringing what is lacking, with breaths between.
   * @param isWanted false: it is left where it is, and undefined returned.
   * @throws what the supply rejects with.
   */
  async run<T>(
    work: Generator<Pause, T>,
    isWanted: () => boolean = () => true,
    onProgress: (done: number) => void = () => {},
  ): Promise<T | undefined> {
    try {
      for (;;) {
        const { done, value } = work.next();
        if (done) return value;
        if (typeof value === 'number') onProgress(value);
        if (value instanceof Promise) await value;
        else if (typeof value === 'object' && value.length) await this.bringSamples(value);
        else await breath();
        if (!isWanted()) return undefined;
      }
    } finally {
      work.return(undefined as T);
    }
  }

  private *making(address: TileAddress, use: TileUse): Generator<Pause, Pixels | null> {
    const { layerId, level } = address;
    const key = tileKey(address);
    const end = this.log.end;
    const rect = tileRect(address);
    // Of most of many layers few strokes lie on a tile: they are drawn sooner than what is kept is unpacked.
    if (
      use === 'shared' &&
      this.isOpen &&
      (!this.low.find(address) || !this.ink.lackingIn(layerId, level, rect).length)
    )
      return (yield* drawingOf(this.ink, layerId, level, rect, this.work, 'keep', true)) ?? null;
    const known = this.cache.get(key) ?? (yield* this.fromKept(address));
    const parts = known ? this.log.since(known.at, address) : [];
    // What was kept is gone from the sheet: only the strokes can tell.
    while (!this.isOpen && (!known || parts.length)) yield [];
    if (known && !parts.length) {
      this.remember(key, known.pixels, end, use);
      return known.pixels;
    }
    const pixels =
      known && isLittle(parts, address)
        ? yield* this.mending(known.pixels, address, parts, use)
        : ((yield* this.ink.drawing(layerId, level, rect, this.work, spineUse(use))) ?? null);
    this.remember(key, pixels, end, use);
    return pixels;
  }

  private remember(key: string, pixels: Pixels | null, at: number, use: TileUse): void {
    if (!pixels) this.cache.delete(key);
    else if (use === 'screen' || use === 'small' || this.cache.has(key))
      this.cache.set(key, { pixels, at }, TILE_BYTES);
  }

  /** What is kept in a tile's place with the sheet, unpacked. */
  *fromKept(address: TileAddress): Generator<Pause, { pixels: Pixels | null; at: number } | undefined> {
    let found = this.low.find(address);
    if (found?.bytes === 'away') {
      yield this.bringTile(address);
      found = this.low.find(address);
    }
    if (!found || found.bytes === 'away') return undefined;
    if (found.bytes === 'blank') return { pixels: null, at: found.at };
    let pixels: Pixels | undefined;
    yield unpackTile(found.bytes, address).then(
      (unpacked) => (pixels = unpacked),
      (error: unknown) => {
        if (!(error instanceof RangeError)) throw error;
        // Another one may have been left in its place meanwhile.
        if (this.low.find(address)?.bytes === found.bytes) this.low.drop(tileKey(address));
      },
    );
    return pixels && { pixels, at: found.at };
  }

  /** A copy of a tile in which what has changed is drawn anew. */
  *mending(
    pixels: Pixels | null,
    address: TileAddress,
    parts: readonly Box[],
    use: TileUse,
  ): Generator<Lacking, Pixels> {
    const { layerId, level } = address;
    const { x0, y0, width, height } = tileRect(address);
    const mended = pixels ? { ...pixels, data: pixels.data.slice() } : makePixels(x0, y0, width, height);
    for (const part of parts) {
      const grid = partOfTile(part, address);
      if (isEmpty(grid)) continue;
      const rect = { x0: grid.x0, y0: grid.y0, width: grid.x1 - grid.x0, height: grid.y1 - grid.y0 };
      const drawn = yield* this.ink.drawing(layerId, level, rect, this.work, spineUse(use));
      copyInto(mended, drawn ?? makePixels(rect.x0, rect.y0, rect.width, rect.height));
    }
    return mended;
  }

  private async bringTile(address: TileAddress): Promise<void> {
    const all = new Map([address, ...this.soon(MOST_TILES)].map((t) => [tileKey(t), t]));
    const parts = await this.supply.lowTiles([...all.values()].flatMap((t) => this.low.away(t)).slice(0, MOST_TILES));
    this.low.takeBytes(parts);
    if (!parts.has(tileKey(address))) this.low.drop(tileKey(address));
  }

  /**
   * Gives the layers' tiles of what is made now, and of so many places after it: what they lack is brought along. Asked only
   * where something is lacking.
   */
  soon: (places: number) => readonly TileAddress[] = () => [];

  /**
   * Asks for samples, and on the way for those that the tiles after need: by the names of what the ink has now, which is
   * not what the server has while a step is under way.
   */
  async bringSamples(ids: Lacking): Promise<void> {
    const { ink } = this;
    const wanted = new Map(ids.map((id) => [id, ink.nameOf(id)]));
    for (const tile of this.soon(SOON)) {
      if (wanted.size >= MOST_IDS) break;
      if (this.cache.has(tileKey(tile)) || this.low.find(tile)) continue;
      for (const id of ink.lackingIn(tile.layerId, tile.level, tileRect(tile))) wanted.set(id, ink.nameOf(id));
    }
    const fresh = [...new Set(wanted.values())].filter((name) => !this.underWay.has(name));
    if (fresh.length) {
      const under = this.supply.samples(fresh).finally(() => fresh.forEach((name) => this.underWay.delete(name)));
      under.catch(() => undefined);
      for (const name of fresh) this.underWay.set(name, under);
    }
    const waits = [...new Set([...wanted.values()].flatMap((name) => this.underWay.get(name) ?? []))];
    const brought = await Promise.all(waits);
    if (ink !== this.ink) return;
    const found = new Map<string, Uint8Array>();
    // A stroke may have been given another shape meanwhile: then it is asked for that.
    const asked = [...wanted].filter(([id, name]) => ink.nameOf(id) === name);
    for (const [id, name] of asked)
      for (const samples of brought) if (samples.has(name)) found.set(id, samples.get(name)!);
    ink.provide(
      asked.map(([id]) => id),
      found,
    );
  }

  /** Brings shapes ahead that strokes may get again: without the server they could not be had. */
  async bringShapes(names: readonly string[]): Promise<void> {
    const lacking = names.filter((name) => !this.ink.hasShape(name));
    if (lacking.length) await this.bringSamples(lacking);
  }

  /** Brings shapes that could not be had when strokes got them. @returns where that shows. */
  async settleShapes(): Promise<Damage[]> {
    const { ink } = this;
    if (!ink.owed.size) return [];
    const shapes = await this.supply.samples([...new Set([...ink.owed.values()].map(storedName))]);
    const damage = ink === this.ink ? ink.settle(shapes) : [];
    this.follow(damage, undefined);
    return damage;
  }

  /** Nothing that was kept with the sheet is used any more, nor what was made of it. */
  forgetKept(): void {
    this.revision++;
    this.low.clear();
    this.cache.clear();
    this.kept.clear();
  }
}

/** What of a part (paper px) lies on a tile with its apron, whole grid px. */
function partOfTile(part: Box, address: TileAddress): Box {
  return intersection(gridArea(part, 2 ** address.level), boxOfPixels(tileRect(address)));
}

/** Whether it is less work to draw these parts of a tile anew than all of it. */
function isLittle(parts: readonly Box[], address: TileAddress): boolean {
  let area = 0;
  for (const part of parts) {
    const { x0, y0, x1, y1 } = partOfTile(part, address);
    area += Math.max(0, x1 - x0) * Math.max(0, y1 - y0);
  }
  return area <= MOST_MENDED * TILE_SIDE * TILE_SIDE;
}
