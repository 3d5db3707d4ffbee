import { decodeFrame } from '../contract/frame';
import { readInk } from '../contract/ink-frame';
import type { LowTilesBody } from '../contract/low-tiles';
import { unpremultiply } from '../core/raster/compose';
import type { PictureSource } from '../core/formats/sheet-png';
import { idsOf, layParts } from '../core/raster/lay-parts';
import { lowLevels } from '../core/raster/low-tiles';
import { makePixels, type Pixels } from '../core/raster/pixels';
import { eachTile, TILE_SIDE, tileRect, type TileAddress } from '../core/raster/tiles';
import { finish, type Pause } from '../core/sheet/ink-work';
import type { Damage } from '../core/sheet/ink-damage';
import { hasStrokes } from '../core/sheet/entities';
import type { Change } from '../core/sheet/steps';
import { FIRST_ENGINE } from '../core/stroke/engines';
import { FollowedSheet } from './followed-sheet';
import { touchesTile, type LayerBox } from './damage-log';
import {
  runTileKey,
  type Answer,
  type FromWorker,
  type Need,
  type PaintedTile,
  type RunTile,
  type Sight,
  type TileRun,
  type ToWorker,
} from './sheet-protocol';
import type { ReadyBitmaps } from './ready-bitmaps';
import { breath, TileMaker } from './tile-maker';

type Message<T extends ToWorker['type']> = Extract<ToWorker, { type: T }>;

/** What could not be had from the server is asked for again after this. */
const AGAIN_MS = 3000;
/** The bitmaps of an undo are made once the hand has rested so long; so many at most. */
const READY_MS = 120;
const MOST_READY = 24;
/** Of more layers than this none of those that share a tile is kept by itself. */
const FEW_LAYERS = 6;

let wanted: RunTile[] = [];
let runs = new Map<string, TileRun['parts']>();
/** Whether there are more than {@link FEW_LAYERS} in them. */
let hasMany = false;
let sight: Sight = { level: 0, range: { x0: 0, y0: 0, x1: 0, y1: 0 } };
let painting = false;
let readyTimer: ReturnType<typeof setTimeout> | undefined;
let needs = 0;
/** Questions are answered in the order they came. */
let queue: Promise<void> = Promise.resolve();
/** Resolves when the strokes are there for the first time. */
let opened: () => void;
const whenOpen = new Promise<void>((resolve) => (opened = resolve));
const stopped = new Set<number>();
const asked = new Map<number, (frame: ArrayBuffer | undefined) => void>();

const post = (message: FromWorker, transfer: Transferable[] = []): void =>
  (self as unknown as Worker).postMessage(message, transfer);

/** Something cannot be had from the server now. */
class OutOfReach extends Error {}

/** Asks the page for something of the server's. @throws {OutOfReach} */
async function bring(of: Need): Promise<ArrayBuffer> {
  const need = ++needs;
  const frame = await new Promise<ArrayBuffer | undefined>((resolve) => {
    asked.set(need, resolve);
    post({ type: 'need', need, of });
  });
  if (!frame) throw new OutOfReach('a part of the drawing cannot be fetched now');
  return frame;
}

const maker = new TileMaker({
  samples: async (ids) => decodeFrame(new Uint8Array(await bring({ what: 'samples', ids }))).parts,
  lowTiles: async (tiles) => decodeFrame(new Uint8Array(await bring({ what: 'low-tiles', tiles }))).parts,
});

/** Its revision counts changes: a tile painted before one of them may be out of date by the time it is sent. */
const sheet = new FollowedSheet(maker, {
  unreadable: (count) => post({ type: 'trouble', what: `${count} ${count === 1 ? 'line' : 'lines'}` }),
  owed: () => post({ type: 'out-of-reach' }),
  settled: (damage) => post({ type: 'changed', damage: damage.map(({ layerId, box }) => ({ layerId, box })) }),
});

self.onmessage = ({ data }: MessageEvent<ToWorker>) => {
  switch (data.type) {
    case 'want':
      wanted = data.tiles;
      runs = new Map(data.runs.map((r) => [r.key, r.parts]));
      hasMany = idsOf(data.runs.flatMap((r) => r.parts)).length > FEW_LAYERS;
      sight = data.sight;
      readySoon();
      return void paintWanted();
    case 'low':
      return takeLow(data.frame);
    case 'brought':
      asked.get(data.need)?.(data.frame);
      return void asked.delete(data.need);
    case 'stop':
      return void stopped.add(data.n);
    case 'ahead':
      return void queue.then(() => maker.bringShapes(data.names)).catch(() => undefined);
  }
  const failed = (error: unknown) =>
    post({ type: 'failed', n: data.n, message: String(error), isOutOfReach: error instanceof OutOfReach });
  // What takes long stands in nobody's way, but shows what was done before it was asked.
  if (['png', 'svg', 'keep', 'check', 'colour'].includes(data.type)) queue.then(() => answer(data)).catch(failed);
  else queue = queue.then(() => answer(data)).catch(failed);
};

/** What makes files is not needed for the first stroke; it is fetched soon after, so that sending works without a server. */
const sending = () => import('./sending');
/** So is what picks, checks, colours, and draws ink of the first engine. */
const later = () =>
  import('./later').catch(() => {
    throw new OutOfReach('a part of the program cannot be fetched now');
  });
const FORMATS_AFTER_MS = 3000;

async function answer(
  message: Exclude<ToWorker, { type: 'want' | 'low' | 'brought' | 'stop' | 'ahead' }>,
): Promise<void> {
  const { n } = message;
  switch (message.type) {
    case 'open':
      setTimeout(() => void Promise.all([sending(), later()]).catch(() => undefined), FORMATS_AFTER_MS);
      await open(message);
      post({ type: 'answer', n, answer: { kind: 'opened' } });
      return void paintWanted();
    case 'apply':
      if (message.changes.some(isOfFirst)) await later();
      return answerApplied(n, await sheet.apply(message.changes, message.parts, message.step));
    case 'erased':
    case 'near':
    case 'line-at':
    case 'in-loop':
    case 'shape':
    case 'copies':
    case 'snips':
    case 'mend':
    case 'gap': {
      const { answerEditing } = await later();
      return post({ type: 'answer', n, answer: await answerEditing(maker, message) });
    }
    case 'check':
      await whenOpen;
      return post({
        type: 'answer',
        n,
        answer: { kind: 'checked', checked: await (await later()).answerCheck(maker, message) },
      });
    case 'colour': {
      await whenOpen;
      const { answerColour } = await later();
      return post({
        type: 'answer',
        n,
        answer: { kind: 'colour', answer: await answerColour(maker, sheet.paper, message.ask, () => !painting) },
      });
    }
    case 'preview':
      return answerApplied(n, await sheet.preview(message.changes));
    case 'png': {
      await whenOpen;
      const { sheetPng, fromTiles, platformDeflating } = await sending();
      const { isSmall, ...options } = message;
      const { model, paper } = sheet;
      const level = isSmall ? Math.max(message.level, lowLevels(paper)[0]) : message.level;
      const draw = isSmall ? fromTiles(maker, level) : undefined;
      const png = sheetPng(model, maker.ink, paper, { ...options, level }, picture, draw, platformDeflating());
      // A small picture is of one step, and of nothing that no step has made.
      return sendFile(n, png, (parts) => parts as BlobPart[], isSmall ? sheet.standsStill() : undefined);
    }
    case 'svg': {
      await whenOpen;
      const { model, paper } = sheet;
      return sendFile(n, (await sending()).sheetSvg(model, maker.ink, paper, message, picture), (text) => [text]);
    }
    case 'keep':
      return keep(message);
  }
}

function takeLow(frame: ArrayBuffer): void {
  try {
    const { body, parts } = decodeFrame(new Uint8Array(frame));
    maker.takeLow(body as LowTilesBody, parts);
  } catch (error) {
    // Without them the strokes are drawn.
    console.error(error);
  }
  void paintWanted();
}

async function open({ frame, ...opening }: Message<'open'>): Promise<void> {
  const ink = readInk(new Uint8Array(frame));
  const isOld =
    ink.strokes.hasEngine(FIRST_ENGINE) ||
    ink.erasures.some(({ erasure }) => erasure.engine === FIRST_ENGINE) ||
    opening.missed.some(({ changes }) => changes.some(isOfFirst));
  if (isOld) await later();
  sheet.open({ ink, ...opening });
  opened();
}

/** Whether a change brings ink of the first engine, whose formulas come with the later file. */
const isOfFirst = (change: Change): boolean =>
  change.op === 'put'
    ? change.rows.some((row) => 'engine' in row && row.engine === FIRST_ENGINE)
    : change.field === 'engine' && change.after.includes(FIRST_ENGINE);

async function answerApplied(n: number, damage: readonly Damage[]): Promise<void> {
  const tiles = await Promise.all(atHand(damage).map(paintedNow));
  const answer: Answer = { kind: 'applied', damage: damage.map(({ layerId, box }) => ({ layerId, box })), tiles };
  post(
    { type: 'answer', n, answer },
    tiles.flatMap(({ bitmap }) => bitmap ?? []),
  );
  readySoon();
}

/** Changed tiles in sight that can be shown without drawing: a step's pixels come with its answer. */
function atHand(damage: readonly LayerBox[]): RunTile[] {
  const tiles: RunTile[] = [];
  for (const run of runs.keys())
    eachTile(sight.range, (tx, ty) => {
      const own = layersOf({ run, level: sight.level, tx, ty });
      if (own.some((t) => damage.some((d) => touchesTile(d, t))) && own.every((t) => maker.isCurrent(t)))
        tiles.push({ run, level: sight.level, tx, ty });
    });
  return tiles;
}

async function paintedNow(address: RunTile): Promise<PaintedTile> {
  const pixels = await runPixels(address);
  return { address, bitmap: pixels && (ready?.take(pixels) ?? (await bitmapOf(pixels))) };
}

let ready: ReadyBitmaps | undefined;

/** Makes ready what an undo or a redo would show in sight. */
function readySoon(): void {
  clearTimeout(readyTimer);
  readyTimer = setTimeout(() => {
    if (painting) return readySoon();
    // Layers that share a canvas are laid over each other first.
    const alone = new Set([...runs.values()].flatMap((parts) => soleOf(parts) ?? []));
    const { level, range } = sight;
    const isInSight = ({ layerId, level: of, tx, ty }: TileAddress) =>
      alone.has(layerId) && of === level && tx >= range.x0 && tx < range.x1 && ty >= range.y0 && ty < range.y1;
    // Without them an undo makes its bitmaps itself.
    makeReady(maker.nextPixels(isInSight).slice(-MOST_READY)).catch(() => undefined);
  }, READY_MS);
}

async function makeReady(pixels: readonly Pixels[]): Promise<void> {
  if (pixels.length) ready ??= new (await later()).ReadyBitmaps(bitmapOf);
  await ready?.prepare(pixels);
}

/** Paints the wanted tiles one by one, newest wishes first, letting other messages in between. */
async function paintWanted(): Promise<void> {
  if (painting) return;
  painting = true;
  /** What cannot be had now holds up none of the others. */
  const away: RunTile[] = [];
  for (;;) {
    const at = wanted.findIndex((t) => layersOf(t).every((one) => maker.canMake(one)));
    if (at < 0) break;
    const [address] = wanted.splice(at, 1);
    maker.soon = (places) => [address, ...wanted.slice(0, places)].flatMap(layersOf);
    const before = sheet.revision;
    try {
      const pixels = await runPixels(address);
      // The next one is made while this one becomes a bitmap.
      void show(address, pixels, before);
    } catch (error) {
      if (error instanceof OutOfReach) away.push(address);
      else showNothing(address, error);
    }
    await breath();
  }
  painting = false;
  if (!away.length) return;
  post({ type: 'out-of-reach' });
  setTimeout(() => {
    const isWanted = (t: RunTile) => runs.has(t.run) && !wanted.some((w) => runTileKey(w) === runTileKey(t));
    wanted.push(...away.filter(isWanted));
    void paintWanted();
  }, AGAIN_MS);
}

/** Sends a painted tile, unless something has changed meanwhile: then it is wanted again. */
async function show(address: RunTile, pixels: Pixels | null, before: number): Promise<void> {
  try {
    const bitmap = pixels && (await bitmapOf(pixels));
    if (sheet.revision === before) return post({ type: 'tile', tile: { address, bitmap } }, bitmap ? [bitmap] : []);
    bitmap?.close();
    wanted.unshift(address);
    void paintWanted();
  } catch (error) {
    showNothing(address, error);
  }
}

function bitmapOf(pixels: Pixels): Promise<ImageBitmap> {
  const data = pixels.data.slice();
  unpremultiply(data);
  return createImageBitmap(new ImageData(data, TILE_SIDE, TILE_SIDE));
}

/** A tile that fails is blank, and told: it must not stop the painting of the others. */
function showNothing(address: RunTile, error: unknown): void {
  console.error(error);
  post({ type: 'trouble', what: 'A part of the drawing' });
  post({ type: 'tile', tile: { address, bitmap: null } });
}

const layersOf = ({ run, level, tx, ty }: RunTile): TileAddress[] =>
  idsOf(runs.get(run) ?? [], true).map((id) => ({ layerId: id, level, tx, ty }));

/** The layer whose pixels a run's are, as they are. */
const soleOf = (parts: TileRun['parts']): string | undefined =>
  parts.length === 1 && 'id' in parts[0] && parts[0].opacity === 1 && !parts[0].inside ? parts[0].id : undefined;

/** The pixels of all layers of a run, laid over each other. */
async function runPixels(address: RunTile): Promise<Pixels | null> {
  const parts = runs.get(address.run) ?? [];
  const drawn = new Map<string, Pixels>();
  const use = hasMany && soleOf(parts) === undefined ? 'shared' : 'screen';
  for (const one of layersOf(address)) {
    const pixels = await maker.pixels(one, use);
    if (pixels) drawn.set(one.layerId, pixels);
  }
  if (!idsOf(parts).some((id) => drawn.has(id))) return null;
  const sole = soleOf(parts);
  if (sole !== undefined) return drawn.get(sole)!;
  const { x0, y0, width, height } = tileRect(address);
  const out = makePixels(x0, y0, width, height);
  finish(
    layParts(out, parts, function* (id) {
      return drawn.get(id);
    }),
  );
  return out;
}

/** Pictures are made by the page. @throws {OutOfReach} */
const picture: PictureSource = async (layerId, level, { x0, y0, width, height }) =>
  new Uint8ClampedArray(await bring({ what: 'picture', layerId, level, rect: { x0, y0, width, height } }));

/** Leaves the low levels' tiles with the sheet, as the step left them. */
async function keep({ n, seq }: Message<'keep'>): Promise<void> {
  const leave = async (batch: Extract<Need, { what: 'keep' }>['batch']) => {
    try {
      await bring({ what: 'keep', seq, batch });
      return true;
    } catch {
      return false;
    }
  };
  const drop = async () => void (await bring({ what: 'drop-kept' }));
  const tools = await import('./keep-tiles').catch(() => undefined);
  const kept = tools ? await tools.keepTiles(sheet, { seq, leave, drop, isCalm: () => !painting }) : { isAll: false };
  if (kept.isWrong) post({ type: 'changed', damage: everywhere() });
  post({ type: 'answer', n, answer: { kind: 'kept', isAll: kept.isAll } });
}

/** All of every layer that holds ink. */
const everywhere = (): LayerBox[] =>
  sheet.model
    .stack()
    .filter(hasStrokes)
    .map(({ id }) => ({ layerId: id, box: { x0: -Infinity, y0: -Infinity, x1: Infinity, y1: Infinity } }));

/** @param isGood false: what is made is of no use any more. */
async function sendFile<T>(
  n: number,
  steps: Generator<Pause, T>,
  toParts: (result: T) => BlobPart[],
  isGood = () => true,
): Promise<void> {
  const isWanted = () => !stopped.has(n) && isGood();
  const made = await maker.run(steps, isWanted, (done) => post({ type: 'progress', n, done }));
  if (stopped.delete(n) || made === undefined || !isGood())
    return post({ type: 'answer', n, answer: { kind: 'stopped' } });
  post({ type: 'answer', n, answer: { kind: 'file', parts: toParts(made) } });
}
