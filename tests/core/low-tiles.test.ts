import { decode } from 'fast-png';
import sharp from 'sharp';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { lowLevels, tilesOfPaper } from '../../core/raster/low-tiles';
import { packTile } from '../../core/raster/pack-tile';
import { copyInto, makePixels } from '../../core/raster/pixels';
import { TILE_SIDE, tileAddress, tileKey, tileRect } from '../../core/raster/tiles';
import { StrokeTable } from '../../core/sheet/stroke-table';
import { handSamples, random } from '../measures/strokes';
import { packedStrokes, strokeEntity, TestSheet } from '../measures/sheets';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { unpackTile } from '../../workers/unpack-tile';

describe('the low levels of a sheet', () => {
  it('reach from one tile up to as many as are kept', () => {
    const phone = { widthPx: 2400, heightPx: 3200 };
    expect(lowLevels(phone)).toEqual([-4, -3, -2, -1, 0]);
    expect(tilesOfPaper(phone, 0)).toEqual({ x0: 0, y0: 0, x1: 10, y1: 13 });
    const large = { widthPx: 6000, heightPx: 6000 };
    expect(lowLevels(large)).toEqual([-5, -4, -3, -2, -1]);
    expect(lowLevels({ widthPx: 100, heightPx: 80 })).toEqual([0]);
    for (const level of lowLevels({ widthPx: 20000, heightPx: 20000 })) {
      const { x1, y1 } = tilesOfPaper({ widthPx: 20000, heightPx: 20000 }, level);
      expect(x1 * y1).toBeLessThanOrEqual(144);
    }
  });

  it('have tiles that come out of their packing as they went in, whatever their pixels', async () => {
    const rnd = random(3);
    const noise = makePixels(252, -4, TILE_SIDE, TILE_SIDE);
    noise.data.forEach((_, i) => (noise.data[i] = rnd() * 256));
    const blank = makePixels(252, -4, TILE_SIDE, TILE_SIDE);
    for (const { data, ...place } of [noise, blank]) {
      const { data: read, ...where } = await unpackTile(packTile({ data, ...place }), { tx: 1, ty: 0 });
      expect(where).toEqual(place);
      expect(Buffer.from(read).equals(Buffer.from(data))).toBe(true);
    }
  });

  it('are packed smaller than as PNG, drawn by hand', async () => {
    const sheet = new TestSheet();
    const rnd = random(8);
    for (let i = 0; i < 60; i++) {
      const [x, y] = [rnd() * 256, rnd() * 256];
      sheet.ink1(handSamples((u) => [x + 90 * u, y + 40 * Math.sin(5 * u)], { ms: 200, seed: i + 1 }));
    }
    const tile = sheet.ink.draw('lines', 0, tileRect({ tx: 0, ty: 0 }), new RasterWorkspace(TILE_SIDE, TILE_SIDE))!;
    const raw = { width: TILE_SIDE, height: TILE_SIDE, channels: 4 as const };
    const png = await sharp(Buffer.from(tile.data), { raw }).png({ compressionLevel: 6 }).toBuffer();
    // The reference is what sharp (libpng) makes of the same pixels.
    expect(decode(png).width).toBe(TILE_SIDE);
    expect(packTile(tile).length).toBeLessThan(1.1 * png.length);
  });

  it.each([
    ['nothing', new Uint8Array()],
    ['noise', Uint8Array.from({ length: 200 }, (_, i) => i * 37)],
    ['half a tile', packTile(makePixels(0, 0, TILE_SIDE, TILE_SIDE / 2))],
    ['more than a tile', packTile(makePixels(0, 0, TILE_SIDE, TILE_SIDE * 2))],
    ['too much', new Uint8Array(4 * TILE_SIDE * TILE_SIDE + 5000)],
    ['a tile cut short', packTile(makePixels(0, 0, TILE_SIDE, TILE_SIDE)).subarray(0, 20)],
  ])('are refused when there is %s', async (_what, bytes) => {
    await expect(unpackTile(bytes, { tx: 0, ty: 0 })).rejects.toThrow(RangeError);
  });

  it('are unpacked, and refused, by a script where the platform cannot do it', async () => {
    const own = globalThis.DecompressionStream;
    const tile = makePixels(0, 0, TILE_SIDE, TILE_SIDE);
    tile.data.forEach((_, i) => (tile.data[i] = i % 251));
    const packed = packTile(tile);
    const refuses = class {
      constructor() {
        throw new TypeError('no such format');
      }
    };
    try {
      for (const without of [undefined, refuses]) {
        globalThis.DecompressionStream = without as unknown as typeof own;
        expect(Buffer.from((await unpackTile(packed, { tx: 0, ty: 0 })).data).equals(Buffer.from(tile.data))).toBe(
          true,
        );
        for (const side of [TILE_SIDE / 2, TILE_SIDE * 2])
          await expect(unpackTile(packTile(makePixels(0, 0, TILE_SIDE, side)), { tx: 0, ty: 0 })).rejects.toThrow(
            RangeError,
          );
        await expect(unpackTile(packed.subarray(0, 20), { tx: 0, ty: 0 })).rejects.toThrow(RangeError);
      }
    } finally {
      globalThis.DecompressionStream = own;
    }
  });

  it('name their tiles so that the place can be read back', () => {
    const address = { layerId: 'Ab_-9', level: -3, tx: 11, ty: 0 };
    expect(tileAddress(tileKey(address))).toEqual(address);
  });
});

describe('pixels that are put in the place of others', () => {
  it('replace where both lie, and nothing else', () => {
    const target = makePixels(0, 0, 4, 3);
    target.data.fill(9);
    const source = makePixels(2, -1, 4, 3);
    source.data.forEach((_, i) => (source.data[i] = i));
    copyInto(target, source);
    const at = (x: number, y: number) => target.data[4 * (4 * y + x)];
    expect([at(1, 0), at(2, 0), at(3, 0), at(2, 1), at(2, 2)]).toEqual([9, 16, 20, 32, 9]);
    copyInto(target, makePixels(9, 9, 2, 2));
    expect(at(3, 2)).toBe(9);
  });
});

describe('a table of strokes', () => {
  const bytes = encodeSamples(handSamples((u) => [20 + 80 * u, 40], { ms: 200 }));
  const of = (...strokes: [id: string, order: string, layerId?: string][]) =>
    strokes.map(([id, order, layerId = 'lines']) => strokeEntity(id, { order, layerId }));

  function opened(...strokes: Parameters<typeof of>): StrokeTable {
    const table = new StrokeTable();
    const all = of(...strokes);
    table.open(packedStrokes(all, new Map(all.map((s) => [s.id, bytes]))));
    return table;
  }

  it('reads like a map of what it was opened with and what came since', () => {
    const table = opened(['a', 'a1'], ['b', 'a2']);
    expect([table.size, table.has('a'), table.has('c'), table.get('c')]).toEqual([2, true, false, undefined]);
    table.set('a', { ...table.get('a')!, deleted: true });
    table.set('c', strokeEntity('c'));
    table.set('c', strokeEntity('c', { colour: '#c2185b' }));
    expect([...table].map(([id, s]) => [id, s.id, s.deleted, s.colour])).toEqual([
      ['a', 'a', true, '#000000'],
      ['b', 'b', false, '#000000'],
      ['c', 'c', false, '#c2185b'],
    ]);
    expect([table.size, [...table.keys()]]).toEqual([3, ['a', 'b', 'c']]);
    table.open(packedStrokes([], new Map()));
    expect([table.size, table.has('c')]).toEqual([0, false]);
  });

  it('counts what stands on layers, as changed since, no further than it is asked', () => {
    const table = opened(['a', 'a1'], ['b', 'a2'], ['r', 'a1', 'rough']);
    expect([table.countOn(['lines']), table.countOn(['rough', 'lines']), table.countOn(['none'])]).toEqual([2, 3, 0]);
    table.set('a', { ...table.get('a')!, deleted: true });
    table.set('r', { ...table.get('r')!, layerId: 'lines' });
    table.set('n', strokeEntity('n', { layerId: 'new' }));
    expect([table.countOn(['lines']), table.countOn(['rough']), table.countOn(['new'])]).toEqual([2, 0, 1]);
    expect(opened(['a', 'a1'], ['b', 'a2'], ['c', 'a3']).countOn(['lines'], 1)).toBe(1);
  });

  it('knows the lowest of each layer as well', () => {
    const table = opened(['a', 'a1'], ['b', 'a3'], ['r', 'a9', 'rough']);
    expect([table.bottomOrderOf('lines'), table.bottomOrderOf('rough'), table.bottomOrderOf('new')]).toEqual([
      'a1',
      'a9',
      undefined,
    ]);
    table.set('c', strokeEntity('c', { order: 'a2' }));
    expect(table.bottomOrderOf('lines')).toBe('a1');
    table.set('d', strokeEntity('d', { order: 'Zz' }));
    expect(table.bottomOrderOf('lines')).toBe('Zz');
    table.set('d', strokeEntity('d', { order: 'Zz', layerId: 'rough' }));
    table.set('a', { ...table.get('a')!, order: 'a8' });
    expect([table.bottomOrderOf('lines'), table.bottomOrderOf('rough')]).toEqual(['a2', 'Zz']);
  });

  it('knows the top of each layer, whether it was there before or came since', () => {
    const table = opened(['a', 'a1'], ['b', 'a3'], ['r', 'a9', 'rough']);
    expect([table.topOrderOf('lines'), table.topOrderOf('rough'), table.topOrderOf('new')]).toEqual([
      'a3',
      'a9',
      undefined,
    ]);
    table.set('c', strokeEntity('c', { order: 'a2' }));
    expect(table.topOrderOf('lines')).toBe('a3');
    table.set('d', strokeEntity('d', { order: 'a5' }));
    expect(table.topOrderOf('lines')).toBe('a5');
    table.set('d', strokeEntity('d', { order: 'a5', layerId: 'rough' }));
    table.set('b', { ...table.get('b')!, order: 'a0' });
    expect(table.topOrderOf('lines')).toBe('a2');
  });
});
