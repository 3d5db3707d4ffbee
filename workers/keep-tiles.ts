import { MOST_PUT_TILES } from '../contract/limits';
import { paperArea } from '../core/raster/draw-stroke';
import { lowLevels, tilesOfPaper } from '../core/raster/low-tiles';
import { packTile } from '../core/raster/pack-tile';
import type { Pixels } from '../core/raster/pixels';
import { eachTile, tileAddress, tileRect, type TileAddress } from '../core/raster/tiles';
import { hasStrokes } from '../core/sheet/entities';
import type { Pause } from '../core/sheet/ink-work';
import type { PaperSize } from '../core/sheet/paper';
import type { FollowedSheet } from './followed-sheet';
import { rest } from './resting';
import type { TileBatch, TileMaker } from './tile-maker';

// What keeps tiles with a sheet, in a file of its own: nothing waits for it.

/** Kept tiles that are drawn anew after a sheet was opened, to see whether they are right. */
const LOOKED_AT = 4;
/** Tiles are left with the sheet in batches of so many bytes. */
const BATCH_BYTES = 512 * 1024;
/** A kept tile that shows more strokes than this is not drawn anew to be looked at. */
const MOST_LOOKED_AT = 4000;

/** What became of keeping the tiles. */
export interface Kept {
  /** All are with the sheet as they are. */
  isAll: boolean;
  /** Some that were with the sheet are not what its steps give. */
  isWrong?: true;
}

/**
 * Makes the low tiles that the sheet does not have as they are now, and leaves them with it. Once after the opening some
 * of those that it has are drawn anew and compared.
 * @param how `leave` keeps a batch (false: it could not be kept); `drop` lets go of all that is kept of the sheet;
 *   `isCalm`, false while the screen waits for something.
 */
export async function keepTiles(
  sheet: FollowedSheet,
  how: {
    /** The step that the ink shows. */
    seq: number;
    leave(batch: TileBatch): Promise<boolean>;
    drop(): Promise<void>;
    isCalm(): boolean;
  },
): Promise<Kept> {
  if (!sheet.isTrue) return { isAll: false };
  const { maker, paper } = sheet;
  const layerIds = sheet.model
    .stack()
    .filter(hasStrokes)
    .map(({ id }) => id);
  if (!sheet.isLookedAt) {
    const looked = await lookAtKept(maker, LOOKED_AT, Math.random, how.isCalm);
    if (looked === 'changed') return { isAll: false };
    sheet.isLookedAt = true;
    if (looked === 'wrong') {
      await how.drop();
      sheet.forgetKept();
      return { isAll: false, isWrong: true };
    }
  }
  return { isAll: await keepLow(maker, { layerIds, paper, seq: how.seq }, how.leave, how.isCalm) };
}

/**
 * Draws some of the tiles that are kept with the sheet anew, and compares.
 * @param rnd 0 to 1, to choose them by.
 * @returns whether they are what the ink gives; `changed`: it has changed meanwhile.
 */
async function lookAtKept(
  maker: TileMaker,
  count: number,
  rnd: () => number,
  isCalm: () => boolean,
): Promise<'right' | 'wrong' | 'changed'> {
  const { revision } = maker;
  const keys = maker.low.keys();
  for (let n = 0; n < count && keys.length; n++) {
    const [key] = keys.splice(Math.floor(rnd() * keys.length), 1);
    const address = tileAddress(key);
    const { layerId, level } = address;
    const rect = tileRect(address);
    if (maker.ink.find(layerId, paperArea(rect, 2 ** level)).length > MOST_LOOKED_AT) continue;
    while (!isCalm()) await rest();
    const looked = await maker.run(comparing(maker, address), () => revision === maker.revision);
    if (looked === undefined || revision !== maker.revision) return 'changed';
    if (!looked) return 'wrong';
    await maker.breath();
  }
  return 'right';
}

/** Whether what is kept of a tile, brought up to date, is what is drawn of it. */
function* comparing(maker: TileMaker, address: TileAddress): Generator<Pause, boolean> {
  const { layerId, level } = address;
  const known = yield* maker.fromKept(address);
  if (!known) return true;
  const parts = maker.log.since(known.at, address);
  const mended = parts.length ? yield* maker.mending(known.pixels, address, parts, 'low') : known.pixels;
  const drawn = yield* maker.ink.drawing(layerId, level, tileRect(address), maker.work, 'exact');
  return samePixels(mended ?? undefined, drawn);
}

/**
 * Makes the low tiles that the sheet does not have as they are now, and leaves them with it.
 * @param layerIds of the layers that take ink.
 * @param seq the step that the ink shows.
 * @param leave keeps a batch; false: it could not be kept.
 * @param isCalm false while the screen waits for something: then this rests.
 * @returns whether all is kept; false when the ink has changed meanwhile, or a batch could not be kept.
 */
export async function keepLow(
  maker: TileMaker,
  { layerIds, paper, seq }: { layerIds: readonly string[]; paper: PaperSize; seq: number },
  leave: (batch: TileBatch) => Promise<boolean>,
  isCalm: () => boolean,
): Promise<boolean> {
  if (!maker.isOpen || maker.ink.size < maker.fewestStrokes) return true;
  const { revision } = maker;
  const at = maker.log.end;
  let batch: TileBatch = [];
  let bytes = 0;
  const isLeft = async () => {
    if (!batch.length) return true;
    const gone = batch;
    [batch, bytes] = [[], 0];
    if (!(await leave(gone))) return false;
    for (const [address, packed] of gone) maker.low.kept(address, { at, seq }, packed);
    return true;
  };
  for (const level of lowLevels(paper))
    for (const layerId of layerIds) {
      for (const address of dueTiles(maker, layerId, level, paper)) {
        while (!isCalm()) await rest();
        const pixels = await maker.pixels(address, 'low');
        if (revision !== maker.revision) {
          await isLeft();
          return false;
        }
        const packed = pixels ? packTile(pixels) : new Uint8Array(0);
        batch.push([address, packed]);
        bytes += packed.length;
        if ((bytes >= BATCH_BYTES || batch.length >= MOST_PUT_TILES) && !(await isLeft())) return false;
        if (revision !== maker.revision) return false;
        await maker.breath();
      }
    }
  return (await isLeft()) && revision === maker.revision;
}

/** Tiles of a layer on the paper that the sheet does not have as they are. */
function dueTiles(maker: TileMaker, layerId: string, level: number, paper: PaperSize): TileAddress[] {
  const due: TileAddress[] = [];
  eachTile(tilesOfPaper(paper, level), (tx, ty) => {
    const address = { layerId, level, tx, ty };
    const found = maker.low.find(address);
    if (!found || maker.log.since(found.at, address).length) due.push(address);
  });
  return due;
}

/** Whether two tiles show the same; undefined shows nothing. */
function samePixels(a: Pixels | undefined, b: Pixels | undefined): boolean {
  const [one, other] = [a?.data, b?.data];
  if (one && other) return one.every((v, i) => v === other[i]);
  return (one ?? other)?.every((v) => v === 0) ?? true;
}
