import { readInk } from '../contract/ink-frame';
import { grow, overlaps } from '../core/geometry/box';
import { layOver, unpremultiply } from '../core/raster/compose';
import { drawStroke, gridArea, RasterWorkspace } from '../core/raster/draw-stroke';
import { LruCache } from '../core/raster/lru-cache';
import { makePixels, type Pixels } from '../core/raster/pixels';
import { TILE, tileBox, tileKey, type TileAddress } from '../core/raster/tiles';
import { InkStore, type Damage } from '../core/sheet/ink-store';
import type { PaperSize } from '../core/sheet/paper';
import { SheetModel } from '../core/sheet/sheet-model';
import { KeptPixels, type StepName } from './kept-pixels';
import {
  TILE_APRON,
  type FromWorker,
  type PaintedTile,
  type RunTile,
  type TileRun,
  type ToWorker,
} from './sheet-protocol';

/** Painted tiles kept here as plain pixels, so that a new stroke only needs to be laid over them. */
const TILE_CACHE_BYTES = 40 * 1024 * 1024;
/** Pixels of the last steps, for their undo. */
const KEPT_BYTES = 32 * 1024 * 1024;
const SIDE = TILE + 2 * TILE_APRON;
const TILE_BYTES = 4 * SIDE * SIDE;

type Message<T extends ToWorker['type']> = Extract<ToWorker, { type: T }>;

let model: SheetModel | undefined;
let ink = new InkStore();
let paper: PaperSize = { widthPx: 1, heightPx: 1, ppi: 300 };
let wanted: RunTile[] = [];
let runs = new Map<string, TileRun['layers']>();
let painting = false;
/** Counts applied steps: a tile painted before one of them may be out of date by the time it is sent. */
let revision = 0;
/** Questions are answered in the order they came. */
let queue: Promise<void> = Promise.resolve();
const work = new RasterWorkspace(SIDE, SIDE);
const cache = new LruCache<Pixels>(TILE_CACHE_BYTES);
const kept = new KeptPixels(KEPT_BYTES);
const stopped = new Set<number>();

const post = (message: FromWorker, transfer: Transferable[] = []): void =>
  (self as unknown as Worker).postMessage(message, transfer);

/** Lets waiting messages in between two pieces of long work. */
const breath = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));

self.onmessage = ({ data }: MessageEvent<ToWorker>) => {
  if (data.type === 'want') {
    wanted = data.tiles;
    runs = new Map(data.runs.map((r) => [r.key, r.layers]));
    void paintWanted();
    return;
  }
  const failed = (error: unknown) => post({ type: 'failed', n: data.n, message: String(error) });
  if (data.type === 'stop') stopped.add(data.n);
  else if (data.type === 'png' || data.type === 'svg') answer(data).catch(failed);
  else queue = queue.then(() => answer(data)).catch(failed);
};

/** What makes files is not needed for the first stroke; it is fetched soon after, so that sending works without a server. */
const formats = () => import('../core/formats');
const FORMATS_AFTER_MS = 3000;

async function answer(message: Exclude<ToWorker, { type: 'want' | 'stop' }>): Promise<void> {
  const { n } = message;
  switch (message.type) {
    case 'open':
      setTimeout(() => void formats().catch(() => undefined), FORMATS_AFTER_MS);
      open(message);
      return post({ type: 'answer', n, answer: { kind: 'opened' } });
    case 'apply':
      return applyStep(message);
    case 'touched':
      return post({
        type: 'answer',
        n,
        answer: { kind: 'touched', ids: ink.touchedBy(message.layerId, message.bytes, message.pen) },
      });
    case 'png':
      return sendFile(n, (await formats()).sheetPng(standing(), ink, paper, message), (parts) => parts as BlobPart[]);
    case 'svg':
      return sendFile(n, (await formats()).sheetSvg(standing(), ink, paper, message), (text) => [text]);
  }
}

function open({ frame, settings, layers, paper: size, level }: Message<'open'>): void {
  const { strokes, erasures, samples } = readInk(new Uint8Array(frame));
  model = new SheetModel(settings, layers);
  for (const stroke of strokes) model.strokes.set(stroke.id, stroke);
  for (const erasure of erasures) model.erasures.set(erasure.id, erasure);
  ink = new InkStore(level);
  ink.load(strokes, erasures, samples);
  paper = size;
  cache.clear();
  kept.clear();
  if (ink.unreadable.length) post({ type: 'trouble', what: counted(ink.unreadable.length, 'line') });
}

const counted = (n: number, what: string): string => `${n} ${what}${n === 1 ? '' : 's'}`;

function standing(): SheetModel {
  if (!model) throw new Error('no sheet is open');
  return model;
}

function applyStep({ n, changes, parts, step }: Message<'apply'>): void {
  const unreadable = ink.unreadable.length;
  const damage = ink.follow(standing().apply(changes), new Map(parts));
  if (ink.unreadable.length > unreadable)
    post({ type: 'trouble', what: counted(ink.unreadable.length - unreadable, 'line') });
  revision++;
  if (damage.length) freshen(damage, step);
  post({
    type: 'answer',
    n,
    answer: { kind: 'applied', damage: damage.map(({ layerId, box }) => ({ layerId, box })) },
  });
}

/**
 * Brings cached tiles up to date: an undo puts back what was there, a stroke added on top is laid over them, anything
 * else drops them.
 */
function freshen(damage: readonly Damage[], step: StepName | undefined): void {
  const before = kept.begin(step);
  for (const key of cache.keys()) {
    const address = addressOf(key);
    const hits = damage.filter((d) => touches(d, address));
    if (!hits.length) continue;
    const pixels = cache.peek(key);
    if (!pixels) continue;
    kept.keep(key, pixels);
    cache.delete(key);
    if (!before?.has(key)) laidOver(key, pixels, hits, address.level);
  }
  for (const [key, pixels] of before ?? []) cache.set(key, pixels, TILE_BYTES);
  kept.end();
}

/** Caches a copy of a tile with strokes laid over it, if that is all that happened there. */
function laidOver(key: string, pixels: Pixels, hits: readonly Damage[], level: number): void {
  const strokes = hits.map((d) => (d.added ? ink.drawableOf(d.added, level) : undefined));
  if (!strokes.every((stroke) => stroke !== undefined)) return;
  const copy = { ...pixels, data: pixels.data.slice() };
  for (const stroke of strokes) drawStroke(copy, stroke, 2 ** level, work);
  cache.set(key, copy, TILE_BYTES);
}

const touches = (d: Damage, t: TileAddress): boolean =>
  d.layerId === t.layerId && overlaps(gridArea(d.box, 2 ** t.level), grow(tileBox(t.tx, t.ty), TILE_APRON));

function addressOf(key: string): TileAddress {
  const [layerId, level, tx, ty] = key.split('/');
  return { layerId, level: Number(level), tx: Number(tx), ty: Number(ty) };
}

/** Paints the wanted tiles one by one, newest wishes first, letting other messages in between. */
async function paintWanted(): Promise<void> {
  if (painting) return;
  painting = true;
  while (wanted.length) {
    const address = wanted.shift()!;
    const before = revision;
    const tile = await paintedOrBlank(address);
    if (revision !== before) {
      wanted.unshift(address);
      continue;
    }
    post({ type: 'tile', tile }, tile.bitmap ? [tile.bitmap] : []);
    await breath();
  }
  painting = false;
}

/** A tile that fails is blank, and told: it must not stop the painting of the others. */
async function paintedOrBlank(address: RunTile): Promise<PaintedTile> {
  try {
    return await painted(address);
  } catch (error) {
    console.error(error);
    post({ type: 'trouble', what: 'A part of the drawing' });
    return { address, bitmap: null };
  }
}

async function painted(address: RunTile): Promise<PaintedTile> {
  const pixels = runPixels(address);
  if (!pixels) return { address, bitmap: null };
  const data = pixels.data.slice();
  unpremultiply(data);
  return { address, bitmap: await createImageBitmap(new ImageData(data, SIDE, SIDE)) };
}

/** The pixels of all layers of a run, laid over each other. */
function runPixels({ run, level, tx, ty }: RunTile): Pixels | null {
  const layers = (runs.get(run) ?? []).flatMap(({ id, opacity }) => {
    const pixels = tilePixels({ layerId: id, level, tx, ty });
    return pixels ? [{ pixels, opacity }] : [];
  });
  if (!layers.length) return null;
  if (layers.length === 1 && layers[0].opacity === 1) return layers[0].pixels;
  const { x0, y0, width, height } = layers[0].pixels;
  const out = makePixels(x0, y0, width, height);
  for (const { pixels, opacity } of layers) layOver(out, pixels, opacity);
  return out;
}

/** The pixels of one layer's tile, with its apron. */
function tilePixels(address: TileAddress): Pixels | null {
  const key = tileKey(address);
  const known = cache.get(key);
  if (known !== undefined) return known;
  const { layerId, level, tx, ty } = address;
  const rect = { x0: tx * TILE - TILE_APRON, y0: ty * TILE - TILE_APRON, width: SIDE, height: SIDE };
  const pixels = ink.draw(layerId, level, rect, work) ?? null;
  // An empty tile is kept as blank pixels only once something is laid over it.
  if (pixels) cache.set(key, pixels, TILE_BYTES);
  return pixels;
}

async function sendFile<T>(n: number, steps: Generator<number, T>, toParts: (result: T) => BlobPart[]): Promise<void> {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return post({ type: 'answer', n, answer: { kind: 'file', parts: toParts(value as T) } });
    post({ type: 'progress', n, done: value as number });
    await breath();
    if (stopped.delete(n)) return post({ type: 'answer', n, answer: { kind: 'stopped' } });
  }
}
