import * as fc from 'fast-check';
import { type Parts } from '../../contract/frame';
import type { LowTilesBody } from '../../contract/low-tiles';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { copyInto, makePixels } from '../../core/raster/pixels';
import { TILE_SIDE, tileAddress, tileKey, tileRect, type TileAddress } from '../../core/raster/tiles';
import { FIRST_LAYER, newSettings, type Erasure, type Stroke } from '../../core/sheet/entities';
import { PackedStrokes } from '../../core/sheet/packed-strokes';
import { SheetModel } from '../../core/sheet/sheet-model';
import { assign, putRows, type Change } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { DamageLog } from '../../workers/damage-log';
import { keepLow } from '../../workers/keep-tiles';
import { TileMaker, type TileBatch } from '../../workers/tile-maker';
import { openedInk, packedStrokes, strokeEntity } from '../measures/sheets';
import { handSamples, random } from '../measures/strokes';
import { unpackTile } from '../../workers/unpack-tile';

jest.setTimeout(60000);
/** A sheet of so few strokes has its tiles kept here. */
const FEWEST = 60;
const PAPER = { widthPx: 500, heightPx: 500, ppi: 150 };
const LAYERS = ['lines'];
const tile = (level: number, tx: number, ty: number): TileAddress => ({ layerId: 'lines', level, tx, ty });
const EVERYWHERE = [tile(0, 0, 0), tile(0, 1, 0), tile(0, 1, 1), tile(-1, 0, 0), tile(1, 2, 1)];
const work = new RasterWorkspace(TILE_SIDE, TILE_SIDE);

/** A sheet as a server has it, and what a device asks of it. */
class Kept {
  readonly model = new SheetModel(newSettings(300), [FIRST_LAYER]);
  readonly parts = new Map<string, Uint8Array>();
  readonly erasures: Erasure[] = [];
  readonly tiles = new Map<string, [Uint8Array, number]>();
  seq = 1;
  away = false;
  asked: string[] = [];
  askedTiles = 0;
  packedBefore = PackedStrokes.NONE;

  constructor(count: number) {
    const rnd = random(count);
    const strokes = Array.from({ length: count }, (_, i): Stroke => {
      const id = `k${i}`;
      const [x, y, l] = [rnd() * 460, rnd() * 460, 30 + rnd() * 60];
      this.parts.set(
        id,
        encodeSamples(handSamples((u) => [x + l * u, y + 20 * Math.sin(4 * u)], { ms: 90, seed: i + 1 })),
      );
      return strokeEntity(id, {
        order: `a${String(i).padStart(5, '0')}`,
        pen: makePen('dip', 2 + rnd() * 8, 30, true, 1),
      });
    });
    this.model.strokes.open(packedStrokes(strokes, this.parts));
  }

  /** A device that has opened it. @param asOf what it was told of the kept tiles, with what changed since. */
  open(damage: LowTilesBody['damage'] = [], isOpen = true) {
    const maker = new TileMaker(
      {
        samples: (ids) => {
          if (this.away) return Promise.reject(new Error('away'));
          this.asked.push(...ids);
          const stored = (name: string) => this.parts.get(name.replace('~', ''));
          return Promise.resolve(new Map(ids.flatMap((id) => (stored(id) ? [[id, stored(id)!]] : []))));
        },
        lowTiles: (addresses) => {
          this.askedTiles += addresses.length;
          const found = addresses.flatMap((a) =>
            this.tiles.has(tileKey(a)) ? [[tileKey(a), this.tiles.get(tileKey(a))![0]] as const] : [],
          );
          return Promise.resolve(new Map(found));
        },
      },
      FEWEST,
    );
    maker.takeLow(this.told(damage), new Map());
    const model = new SheetModel(newSettings(300), [FIRST_LAYER]);
    const strokes = packedStrokes([...this.model.strokes.values()], this.parts);
    this.packedBefore = strokes;
    model.strokes.open(strokes);
    if (isOpen) maker.open({ seq: this.seq, strokes, erasures: [], damage: [] });
    const follow = (changes: Change[], parts: Parts = new Map(), id?: string, undoes?: string) => {
      for (const [key, bytes] of parts) this.parts.set(key, bytes);
      const damage = maker.ink.follow(model.apply(changes), parts);
      this.model.apply(changes);
      maker.follow(damage, id ? { id, undoes } : undefined);
      return damage;
    };
    return { maker, follow, model };
  }

  /** What a device is told of the kept tiles. */
  told(damage: LowTilesBody['damage'] = []): LowTilesBody {
    return {
      seq: this.seq,
      tiles: [...this.tiles].flatMap(([key, [bytes, seq]]): LowTilesBody['tiles'] => {
        const { layerId, level, tx, ty } = tileAddress(key);
        return bytes.length ? [[layerId, level, tx, ty, seq]] : [];
      }),
      blank: [...this.tiles].flatMap(([key, [bytes, seq]]): LowTilesBody['blank'] => {
        const { layerId, level, tx, ty } = tileAddress(key);
        return bytes.length ? [] : [[layerId, level, seq, [tx, ty]]];
      }),
      damage,
    };
  }

  /** Takes in what a device leaves. */
  readonly take = (batch: TileBatch): Promise<boolean> => {
    for (const [address, bytes] of batch) this.tiles.set(tileKey(address), [bytes, this.seq]);
    return Promise.resolve(true);
  };

  /** The pixels of a tile drawn from all strokes as they stand. */
  truth(address: TileAddress): Buffer | null {
    const ink = openedInk([...this.model.strokes.values()], [...this.model.erasures.values()], this.parts);
    const pixels = ink.draw(address.layerId, address.level, tileRect(address), work);
    return pixels ? Buffer.from(pixels.data) : null;
  }
}

const bufferOf = async (maker: TileMaker, address: TileAddress): Promise<Buffer | null> => {
  const pixels = await maker.pixels(address);
  return pixels && Buffer.from(pixels.data);
};

async function expectTrue(kept: Kept, maker: TileMaker): Promise<void> {
  for (const address of EVERYWHERE) {
    const [is, should] = [await bufferOf(maker, address), kept.truth(address)];
    // What was erased to nothing may stand as blank pixels.
    expect([tileKey(address), (is ?? Buffer.alloc(0)).equals(should ?? Buffer.alloc(is?.length ?? 0))]).toEqual([
      tileKey(address),
      true,
    ]);
  }
}

const keepAll = async (kept: Kept, maker: TileMaker, calm = () => true) =>
  keepLow(maker, { layerIds: LAYERS, paper: PAPER, seq: 1 }, kept.take, calm);

describe('tiles of a sheet', () => {
  it('are drawn from samples that are asked for as they are needed, and none twice', async () => {
    const kept = new Kept(60);
    const { maker } = kept.open();
    await expectTrue(kept, maker);
    expect(kept.asked.length).toBeGreaterThan(30);
    expect(new Set(kept.asked).size).toBe(kept.asked.length);
  });

  it('are the same, whatever was done, in whatever order tiles were looked at: mended, laid over, undone', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(5), fc.nat(39), fc.nat(4)), { minLength: 4, maxLength: 12 }),
        async (acts) => {
          const kept = new Kept(40);
          const { maker, follow } = kept.open();
          let n = 0;
          for (const [what, which, look] of acts) {
            const id = `k${which}`;
            const stroke = kept.model.strokes.get(id)!;
            if (what === 0) follow([assign('strokes', stroke, 'deleted', !stroke.deleted)]);
            else if (what === 1) follow([assign('strokes', stroke, 'matrix', [1, 0, 0, 1, 7 * look, 3 * which])]);
            else if (what === 2) follow([assign('strokes', stroke, 'order', `a${String(which).padStart(5, '0')}V`)]);
            else if (what === 3) {
              const erasure: Erasure = {
                id: `e${n++}`,
                deleted: false,
                layerId: 'lines',
                pen: makePen('fineliner', 20, 0, false, 1),
                strokeIds: ['k1', 'k2', id],
                engine: 3,
              };
              const bytes = encodeSamples(handSamples((u) => [300 * u, 9 * which + 100 * u], { ms: 90 }));
              follow([putRows('erasures', erasure)], new Map([[erasure.id, bytes]]));
            } else {
              const added = strokeEntity(`n${n}`, { order: `b${String(n++).padStart(4, '0')}` });
              const bytes = encodeSamples(handSamples((u) => [400 * u, 10 * which], { ms: 90 }));
              follow([putRows('strokes', added)], new Map([[added.id, bytes]]));
            }
            await maker.pixels(EVERYWHERE[look]);
          }
          await expectTrue(kept, maker);
        },
      ),
      { numRuns: 12 },
    );
  });

  it('wait for what cannot be had now, and are made when it can', async () => {
    const kept = new Kept(30);
    const { maker } = kept.open();
    kept.away = true;
    await expect(maker.pixels(EVERYWHERE[0])).rejects.toThrow('away');
    kept.away = false;
    await expectTrue(kept, maker);
  });
});

describe('tiles that are kept with a sheet', () => {
  const many = FEWEST + 20;

  it('are left there whole, come back to the byte, before the strokes are there, and ask for none', async () => {
    const kept = new Kept(many);
    expect(await keepAll(kept, kept.open().maker)).toBe(true);
    expect(kept.tiles.size).toBe(1 + 4);
    for (const [key, [bytes]] of kept.tiles) {
      if (!bytes.length) continue;
      const [, level, tx, ty] = key.split('/').map(Number);
      expect(Buffer.from((await unpackTile(bytes, { tx, ty })).data).equals(kept.truth(tile(level, tx, ty))!)).toBe(
        true,
      );
    }
    kept.asked = [];
    const { maker } = kept.open([], false);
    const low = EVERYWHERE.filter((t) => t.level <= 0);
    for (const address of low) {
      expect(maker.canMake(address)).toBe(true);
      expect((await bufferOf(maker, address))!.equals(kept.truth(address)!)).toBe(true);
    }
    expect(kept.asked).toEqual([]);
    expect(maker.canMake(tile(1, 0, 0))).toBe(false);
  });

  it('are left once: nothing more is sent while nothing changes, and then only what did', async () => {
    const kept = new Kept(many);
    const { maker, follow } = kept.open();
    await keepAll(kept, maker);
    const sent: string[] = [];
    const watch = (batch: TileBatch) => {
      sent.push(...batch.map(([address]) => tileKey(address)));
      return kept.take(batch);
    };
    const again = () => keepLow(maker, { layerIds: LAYERS, paper: PAPER, seq: 1 }, watch, () => true);
    expect([await again(), sent]).toEqual([true, []]);
    const bytes = encodeSamples(handSamples((u) => [20 + 40 * u, 30], { ms: 90 }));
    follow([putRows('strokes', strokeEntity('new', { order: 'b' }))], new Map([['new', bytes]]));
    kept.seq++;
    expect([await again(), sent]).toEqual([true, ['lines/-1/0/0', 'lines/0/0/0']]);
    const left = Buffer.from((await unpackTile(kept.tiles.get('lines/0/0/0')![0], tile(0, 0, 0))).data);
    expect(left.equals(kept.truth(tile(0, 0, 0))!)).toBe(true);
  });

  it('are mended by what has changed since, and by no more', async () => {
    const kept = new Kept(many);
    await keepAll(kept, kept.open().maker);
    // Another device has moved a line and deleted one; no tiles were left after that.
    const other = kept.open();
    const damage = [
      ...other.follow([assign('strokes', kept.model.strokes.get('k3')!, 'matrix', [1, 0, 0, 1, 30, 12])]),
      ...other.follow([assign('strokes', kept.model.strokes.get('k9')!, 'deleted', true)]),
    ].map(({ layerId, box }): LowTilesBody['damage'][number] => [++kept.seq, layerId, box.x0, box.y0, box.x1, box.y1]);
    kept.asked = [];
    const { maker } = kept.open(damage);
    await expectTrue(kept, maker);
    const whole = new Set(kept.asked).size;
    expect(whole).toBeGreaterThan(0);
    const again = kept.open(damage);
    kept.asked = [];
    await again.maker.pixels(tile(-1, 0, 0));
    expect(kept.asked.length).toBeLessThan(many / 2);
  });

  it('do not show a stroke twice whose step comes after them', async () => {
    const kept = new Kept(many);
    const { maker, follow } = kept.open();
    const added = strokeEntity('late', { order: 'b' });
    const bytes = encodeSamples(handSamples((u) => [20 + 200 * u, 60], { ms: 90 }));
    const put = [putRows('strokes', added)];
    // This device has what was packed before the stroke, and tiles that were kept after it.
    const behind = kept.open();
    follow(put, new Map([['late', bytes]]));
    kept.seq++;
    await keepAll(kept, maker);
    behind.maker.takeLow(kept.told(), new Map());
    behind.maker.open({ seq: 1, strokes: kept.packedBefore, erasures: [], damage: [] });
    await behind.maker.pixels(tile(0, 0, 0));
    behind.maker.follow(behind.maker.ink.follow(behind.model.apply(put), new Map([['late', bytes]])), undefined);
    await expectTrue(kept, behind.maker);
  });

  it('are not shown without their strokes where they have fallen behind', async () => {
    const kept = new Kept(many);
    await keepAll(kept, kept.open().maker);
    const { maker } = kept.open([[2, 'lines', 10, 10, 60, 60]], false);
    expect([maker.canMake(tile(0, 0, 0)), maker.canMake(tile(0, 1, 1))]).toEqual([false, true]);
  });

  it('are drawn from the strokes where what was kept is gone or broken', async () => {
    const kept = new Kept(many);
    await keepAll(kept, kept.open().maker);
    const { maker } = kept.open();
    kept.tiles.delete('lines/0/0/0');
    kept.tiles.set('lines/-1/0/0', [Uint8Array.of(1, 2, 3), 1]);
    await expectTrue(kept, maker);
  });

  it('stop being made when the ink changes, and none is left that shows half of it', async () => {
    const kept = new Kept(many);
    const { maker, follow } = kept.open();
    let batches = 0;
    const making = keepLow(maker, { layerIds: LAYERS, paper: PAPER, seq: 1 }, kept.take, () => {
      if (++batches === 3) follow([assign('strokes', kept.model.strokes.get('k5')!, 'deleted', true)]);
      return true;
    });
    expect(await making).toBe(false);
    expect(kept.tiles.size).toBeLessThan(5);
    kept.seq++;
    expect(await keepAll(kept, maker)).toBe(true);
    for (const [key, [bytes]] of kept.tiles) {
      const [, level, tx, ty] = key.split('/').map(Number);
      expect(Buffer.from((await unpackTile(bytes, { tx, ty })).data).equals(kept.truth(tile(level, tx, ty))!)).toBe(
        true,
      );
    }
  });

  it('are tried again another time when they cannot be left', async () => {
    const kept = new Kept(many);
    const { maker } = kept.open();
    const refuse = () => Promise.resolve(false);
    expect(await keepLow(maker, { layerIds: LAYERS, paper: PAPER, seq: 1 }, refuse, () => true)).toBe(false);
    expect(await keepAll(kept, maker)).toBe(true);
    expect(kept.tiles.size).toBe(5);
  });

  it('are not kept for a sheet that is drawn as quickly', async () => {
    const kept = new Kept(20);
    expect(await keepAll(kept, kept.open().maker)).toBe(true);
    expect(kept.tiles.size).toBe(0);
  });

  it('are known to be blank where nothing lies on a layer', async () => {
    const kept = new Kept(many);
    await maker1(kept);
    const { maker } = kept.open([], false);
    const nowhere = { ...tile(0, 0, 0), layerId: 'second' };
    expect(maker.canMake(nowhere)).toBe(true);
    expect(await maker.pixels(nowhere)).toBeNull();
  });
});

const maker1 = (kept: Kept) =>
  keepLow(kept.open().maker, { layerIds: ['lines', 'second'], paper: PAPER, seq: 1 }, kept.take, () => true);

describe('a layer that shares its tile with many', () => {
  it('is no larger than its ink, and shows what it shows alone: before anything is kept, after, and after a step', async () => {
    const kept = new Kept(30);
    const { maker, follow } = kept.open();
    const same = async () => {
      for (const address of EVERYWHERE) {
        const [shared, alone] = [await maker.pixels(address, 'shared'), await maker.pixels(address)];
        const laid = makePixels(tileRect(address).x0, tileRect(address).y0, TILE_SIDE, TILE_SIDE);
        if (shared) copyInto(laid, shared);
        expect(Buffer.from(laid.data).equals(Buffer.from(alone?.data ?? new Uint8Array(laid.data.length)))).toBe(true);
      }
    };
    await same();
    const bytes = encodeSamples(handSamples((u) => [30 + 90 * u, 200 + 30 * u], { ms: 90, seed: 5 }));
    follow([putRows('strokes', strokeEntity('new', { order: 'b0V' }))], new Map([['new', bytes]]));
    await same();
    const few = new Kept(1).open().maker;
    const { width, height } = (await few.pixels(tile(-1, 0, 0), 'shared'))!;
    expect(width * height).toBeGreaterThan(0);
    expect(width * height).toBeLessThan((TILE_SIDE * TILE_SIDE) / 4);
  });
});

describe('the log of damage', () => {
  const box = (x0: number, y0: number, x1: number, y1: number) => ({ layerId: 'lines', box: { x0, y0, x1, y1 } });

  it('says what of a tile has changed since, apart from each other, and nothing of other layers and tiles', () => {
    const log = new DamageLog();
    log.add([box(10, 10, 20, 20), box(900, 900, 910, 910)]);
    const place = log.end;
    log.add([box(30, 30, 40, 40), box(35, 35, 60, 60), { ...box(0, 0, 9, 9), layerId: 'other' }]);
    expect(log.since(0, tile(0, 0, 0))).toHaveLength(2);
    expect(log.since(place, tile(0, 0, 0))).toEqual([{ x0: 30, y0: 30, x1: 60, y1: 60 }]);
    expect(log.since(place, tile(0, 3, 3))).toEqual([]);
    expect(log.since(0, tile(0, 3, 3))).toHaveLength(1);
    expect(log.since(log.end, tile(-2, 0, 0))).toEqual([]);
  });

  it('makes one of very many', () => {
    const log = new DamageLog();
    for (let i = 0; i < 40; i++) log.add([box(6 * i, 6 * i, 6 * i + 3, 6 * i + 3)]);
    const parts = log.since(0, tile(0, 0, 0));
    expect(parts.length).toBeLessThan(14);
    const all = parts.reduce((a, b) => ({
      x0: Math.min(a.x0, b.x0),
      y0: Math.min(a.y0, b.y0),
      x1: Math.max(a.x1, b.x1),
      y1: Math.max(a.y1, b.y1),
    }));
    expect(all).toEqual({ x0: 0, y0: 0, x1: 237, y1: 237 });
  });
});
