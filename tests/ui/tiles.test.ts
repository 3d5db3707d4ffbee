import { createCanvas, ImageData, type Canvas } from '@napi-rs/canvas';
import { TILE, TILE_APRON } from '../../core/raster/tiles';
import type { InkRun } from '../../ui/canvas/layer-runs';
import { TilePainter } from '../../ui/canvas/tile-painter';
import { TileStore } from '../../ui/canvas/tile-store';
import type { WetStroke } from '../../ui/canvas/wet-stroke';

Object.assign(globalThis, { ImageData, document: { createElement: () => createCanvas(300, 150) } });

const tile = (run: string, level = 0, tx = 0, ty = 0) => ({ run, level, tx, ty });
const run = (key: string, ...ids: string[]) => ({ key, ids, deciding: ids }) as unknown as InkRun;
const bitmap = (onClose = () => {}) => ({ close: onClose }) as ImageBitmap;

describe('the store of tiles', () => {
  it('shows a tile as stale from a change in its box until the next one comes', () => {
    const store = new TileStore();
    store.put(tile('lines'), bitmap());
    store.put(tile('lines', 0, 5, 5), bitmap());
    store.put(tile('other'), bitmap());
    const damage = [{ layerId: 'lines', box: { x0: 10, y0: 10, x1: 20, y1: 20 } }];
    store.spoil(damage, [run('lines', 'lines'), run('other', 'other')]);
    expect(store.get(tile('lines'))?.fresh).toBe(false);
    expect(store.get(tile('lines', 0, 5, 5))?.fresh).toBe(true);
    expect(store.get(tile('other'))?.fresh).toBe(true);
    store.put(tile('lines'), bitmap());
    expect(store.get(tile('lines'))?.fresh).toBe(true);
  });

  it('finds what a change touches at every level, and drops tiles of runs that are not in use', () => {
    const store = new TileStore();
    store.put(tile('lines', 2, 4, 4), bitmap());
    store.put(tile('lines', -2), bitmap());
    store.put(tile('lines+more'), bitmap());
    // At level 2 this box begins at 1040 px: in the fifth tile of 256.
    store.spoil([{ layerId: 'lines', box: { x0: 260, y0: 260, x1: 270, y1: 270 } }], [run('lines', 'lines')]);
    expect(store.get(tile('lines', 2, 4, 4))?.fresh).toBe(false);
    expect(store.get(tile('lines', -2))?.fresh).toBe(false);
    store.put(tile('lines', 2, 4, 4), bitmap());
    store.spoil([{ layerId: 'lines', box: { x0: 5, y0: 5, x1: 9, y1: 9 } }], [run('lines', 'lines')]);
    expect(store.get(tile('lines', 2, 4, 4))?.fresh).toBe(true);
    expect(store.get(tile('lines+more'))).toBeUndefined();
  });

  it('lets the least recently used go beyond its memory, and closes their bitmaps', () => {
    const store = new TileStore();
    const closed: number[] = [];
    const bytes = 4 * TILE * TILE;
    const most = Math.floor((96 * 1024 * 1024) / bytes);
    for (let i = 0; i < most; i++)
      store.put(
        tile('lines', 0, i, 0),
        bitmap(() => closed.push(i)),
      );
    store.get(tile('lines', 0, 0, 0));
    for (let i = 0; i < 3; i++) store.put(tile('lines', 0, i, 1), bitmap());
    expect(closed).toEqual([1, 2, 3]);
    expect(store.bytes).toBeLessThanOrEqual(96 * 1024 * 1024);
    // Empty tiles take next to nothing.
    for (let i = 0; i < 5; i++) store.put(tile('lines', 0, i, 2), null);
    expect(closed.length).toBeLessThanOrEqual(4);
  });
});

describe('tiles in sight', () => {
  it('stay however many there are, and go as the others do once they are out of sight', () => {
    const store = new TileStore();
    const closed: number[] = [];
    const bytes = 4 * TILE * TILE;
    const many = Math.ceil((120 * 1024 * 1024) / bytes);
    const all = Array.from({ length: many }, (_, i) => tile('lines', 0, i, 0));
    store.put(tile('lines', 0, -1, 0), bitmap());
    store.see(all);
    all.forEach((t, i) =>
      store.put(
        t,
        bitmap(() => closed.push(i)),
      ),
    );
    expect(closed).toEqual([]);
    expect(all.every((t) => store.get(t)?.fresh)).toBe(true);
    expect(store.bytesInSight).toBe(many * bytes);
    // Of what cannot be seen some is kept all the same.
    expect(store.get(tile('lines', 0, -1, 0))).toBeDefined();

    store.see(all.slice(0, 2));
    expect(store.bytesInSight).toBe(2 * bytes);
    expect(store.bytes).toBeLessThanOrEqual(96 * 1024 * 1024);
    expect(closed).toEqual(Array.from({ length: closed.length }, (_, i) => i + 2));
    expect(closed.length).toBeGreaterThan(0);
    // A new tile takes the place of the old one, which is closed.
    store.put(all[0], bitmap());
    expect(closed[closed.length - 1]).toBe(0);
    store.spoil([{ layerId: 'lines', box: { x0: 10, y0: 10, x1: 20, y1: 20 } }], [run('lines', 'lines')]);
    expect(store.get(all[0])?.fresh).toBe(false);
    store.clear();
    expect([store.bytes, store.get(all[0]), store.get(all[1])]).toEqual([0, undefined, undefined]);
  });
});

describe('the painter of tiles', () => {
  const SIDE = TILE + 2 * TILE_APRON;
  const painted = (colour: string): Canvas => {
    const canvas = createCanvas(SIDE, SIDE);
    const ctx = canvas.getContext('2d');
    ctx.fillStyle = colour;
    ctx.fillRect(0, 0, SIDE, SIDE);
    return canvas;
  };
  const wetOf = (more: object) => ({
    stroke: {
      level: 0,
      colour: [10, 20, 30],
      area: { x0: 0, y0: 0, x1: TILE, y1: TILE },
      covers: () => false,
      paint: (part: { x0: number; y0: number; x1: number; y1: number }, data: Uint8ClampedArray) => {
        for (let i = 0; i < 4 * (part.x1 - part.x0) * (part.y1 - part.y0); i += 4) data.set([10, 20, 30, 255], i);
      },
      ...more,
    } as unknown as WetStroke,
    layerId: 'lines',
    erases: false,
    isPending: false,
  });
  const all = { x0: 0, y0: 0, x1: TILE, y1: TILE };
  const stored = (fresh: boolean, image: Canvas | null = null) => ({ bitmap: image as unknown as ImageBitmap, fresh });

  it('lays wet ink over a tile that does not show it yet, and over no other', () => {
    const painter = new TilePainter();
    const image = painted('red');
    expect(painter.imageOf(stored(true, image), tile('lines'), all, [wetOf({})])).toBe(image);
    const composed = painter.imageOf(stored(false, image), tile('lines'), all, [wetOf({})]) as unknown as Canvas;
    expect(composed).not.toBe(image);
    expect([...composed.getContext('2d').getImageData(100, 100, 1, 1).data]).toEqual([10, 20, 30, 255]);
    // What the worker has not heard of lies over fresh tiles too.
    expect(painter.imageOf(stored(true, image), tile('lines'), all, [{ ...wetOf({}), isPending: true }])).not.toBe(
      image,
    );
  });

  it('knows a tile that wet ink covers whole by its colour alone, and one that is erased whole as nothing', () => {
    const painter = new TilePainter();
    const whole = wetOf({ covers: () => true });
    expect(painter.imageOf(stored(false), tile('lines'), all, [whole])).toBe('rgb(10 20 30)');
    expect(painter.imageOf(stored(false), tile('lines'), all, [{ ...whole, erases: true }])).toBeNull();
  });

  it('keeps wet ink inside what its layer is kept inside of, over what is stored', () => {
    const painter = new TilePainter();
    const left = createCanvas(SIDE, SIDE);
    left.getContext('2d').fillRect(0, 0, SIDE / 2, SIDE);
    const right = createCanvas(SIDE, SIDE);
    right.getContext('2d').fillRect(SIDE - 40, 0, 40, SIDE);
    const at = (image: unknown, x: number) => [...(image as Canvas).getContext('2d').getImageData(x, 100, 1, 1).data];
    const ink = [10, 20, 30, 255];
    const covering = wetOf({ covers: () => true });
    for (const wet of [wetOf({}), covering]) {
      const bounds = [stored(true, left), stored(true), stored(true, right)];
      const shown = painter.imageOf(stored(false), tile('shade'), all, [wet], bounds);
      expect([20, SIDE / 2 + 20, SIDE - 10].map((x) => at(shown, x))).toEqual([ink, [0, 0, 0, 0], ink]);
      expect(at(painter.imageOf(stored(false), tile('shade'), all, [wet], [stored(true)]), 20)).toEqual([0, 0, 0, 0]);
    }
    const over = painter.imageOf(stored(false, painted('red')), tile('shade'), all, [covering], [stored(true, left)]);
    expect([at(over, 20), at(over, SIDE - 20)]).toEqual([ink, [255, 0, 0, 255]]);
    // What is erased goes everywhere.
    const erased = painter.imageOf(stored(false, painted('red')), tile('shade'), all, [{ ...wetOf({}), erases: true }], [stored(true, left)]); // prettier-ignore
    expect(at(erased, SIDE - 20)).toEqual([0, 0, 0, 0]);
  });

  it('joins tiles without a seam, level and turned', () => {
    const painter = new TilePainter();
    const colours = (turn: number) => {
      const canvas = createCanvas(400, 400);
      const ctx = canvas.getContext('2d') as unknown as CanvasRenderingContext2D;
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      for (const tx of [-1, 0])
        for (const ty of [-1, 0])
          painter.layTile(
            ctx,
            [c, s, -s, c, 200, 200],
            tile('lines', 0, tx, ty),
            painted('black') as unknown as CanvasImageSource,
          );
      const { data } = canvas.getContext('2d').getImageData(120, 120, 160, 160);
      let least = 255;
      for (let i = 3; i < data.length; i += 4) least = Math.min(least, data[i]);
      return least;
    };
    expect(colours(0)).toBe(255);
    for (const turn of [0.1, 0.5236, 1.2]) expect(colours(turn)).toBeGreaterThanOrEqual(253);
  });

  it('leaves nothing of what was there before on a level page', () => {
    const painter = new TilePainter();
    const canvas = createCanvas(TILE, TILE);
    const ctx = canvas.getContext('2d') as unknown as CanvasRenderingContext2D;
    painter.layTile(ctx, [1, 0, 0, 1, 0, 0], tile('lines'), painted('red') as unknown as CanvasImageSource);
    painter.layTile(ctx, [1, 0, 0, 1, 0, 0], tile('lines'), null);
    expect(
      canvas
        .getContext('2d')
        .getImageData(0, 0, TILE, TILE)
        .data.some((v) => v > 0),
    ).toBe(false);
  });
});
