import { decodeFrame, encodeFrame } from '../../contract/frame';
import { LruCache } from '../../core/raster/lru-cache';
import { eachTile, levelFor, TILE, tileBox, tileKey, tilesOver } from '../../core/raster/tiles';
import { spinesTouch } from '../../core/sheet/touching';
import { Simplifier } from '../../core/stroke/simplifier';
import { Spine, spineFrom } from '../../core/stroke/spine';
import { exactUnion } from '../measures/stroke-error';
import { random, randomSpine } from '../measures/strokes';

describe('tiles', () => {
  it('are taken from the coarsest level that is no coarser than the screen', () => {
    expect([0.24, 0.25, 0.26, 0.5, 0.99, 1, 1.01, 64, 128].map(levelFor)).toEqual([-2, -2, -1, -1, 0, 0, 1, 6, 7]);
  });

  it('cover a box whole, each once, row by row', () => {
    const seen: string[] = [];
    eachTile(tilesOver({ x0: -1, y0: 255, x1: 257, y1: 256 }), (tx, ty) => seen.push(`${tx},${ty}`));
    expect(seen).toEqual(['-1,0', '0,0', '1,0']);
    expect(tileBox(-1, 2)).toEqual({ x0: -TILE, y0: 2 * TILE, x1: 0, y1: 3 * TILE });
    expect(tileKey({ layerId: 'lines', level: -2, tx: 3, ty: 0 })).toBe('lines/-2/3/0');
  });
});

describe('the cache', () => {
  it('lets the least recently used go when it is full, and tells', () => {
    const gone: string[] = [];
    const cache = new LruCache<string>(30, (v) => gone.push(v));
    for (const key of ['a', 'b', 'c']) cache.set(key, key.toUpperCase(), 10);
    cache.get('a');
    cache.set('d', 'D', 10);
    expect([gone, cache.keys(), cache.bytes]).toEqual([['B'], ['c', 'a', 'd'], 30]);
    cache.set('a', 'A2', 20);
    expect([gone, cache.keys(), cache.bytes]).toEqual([['B', 'A', 'C'], ['d', 'a'], 30]);
    cache.clear();
    expect([gone.slice(3), cache.bytes, cache.get('a')]).toEqual([['D', 'A2'], 0, undefined]);
  });

  it('keeps a value that is larger than the limit as long as it is the only one', () => {
    const cache = new LruCache<number>(10);
    cache.set('large', 1, 50);
    expect(cache.has('large')).toBe(true);
    cache.set('small', 2, 5);
    expect(cache.keys()).toEqual(['small']);
  });
});

describe('whether strokes touch, against their exact unions', () => {
  const RECT = { x0: 0, y0: 0, width: 64, height: 64 };

  it('says yes whenever they share a point, and no when they lie apart', () => {
    const rnd = random(21);
    let touching = 0;
    for (let i = 0; i < 150; i++) {
      const [a, b] = [randomSpine(rnd, 64, 14, 8), randomSpine(rnd, 64, 14, 8)];
      const [ua, ub] = [exactUnion(a, RECT), exactUnion(b, RECT)];
      const overlap = ua.some((v, p) => v === 1 && ub[p] > 0);
      if (overlap) {
        expect(spinesTouch(a, b)).toBe(true);
        touching++;
      }
      // Grown by 3 px they share nothing: then they certainly do not touch.
      const grown = new Spine();
      for (let k = 0; k < a.count; k++) grown.push(a.data[3 * k], a.data[3 * k + 1], a.data[3 * k + 2] + 3);
      if (!exactUnion(grown, RECT).some((v, p) => v > 0 && ub[p] > 0)) expect(spinesTouch(a, b)).toBe(false);
      expect(spinesTouch(b, a)).toBe(spinesTouch(a, b));
    }
    expect(touching).toBeGreaterThan(20);
  });

  it('knows crossing centrelines however thin, dots, and empty strokes', () => {
    const cross = spineFrom([
      [0, 0, 0.01],
      [10, 10, 0.01],
    ]);
    const other = spineFrom([
      [0, 10, 0.01],
      [10, 0, 0.01],
    ]);
    expect(spinesTouch(cross, other)).toBe(true);
    expect(spinesTouch(cross, spineFrom([[5, 6, 1]]))).toBe(true);
    expect(spinesTouch(cross, spineFrom([[5, 8, 1]]))).toBe(false);
    expect(spinesTouch(cross, new Spine())).toBe(false);
  });
});

describe('simplifying', () => {
  it('keeps every dropped point within the tolerance of the line that stays, ends bit for bit', () => {
    const rnd = random(8);
    for (let round = 0; round < 20; round++) {
      const points = Array.from({ length: 60 }, (_, i) => [
        i * 2 + rnd() * 0.3,
        20 * Math.sin(i / 9) + rnd() * 0.3,
        2 + Math.sin(i / 5),
      ]);
      const simplifier = new Simplifier();
      simplifier.restart(0.2);
      const out = new Spine();
      points.forEach(([x, y, r], place) => simplifier.add(x, y, r, out, place));
      simplifier.flush(out);
      expect(out.count).toBeLessThan(points.length);
      expect([...out.data.slice(0, 3)]).toEqual(points[0]);
      expect([...out.data.slice(3 * out.count - 3, 3 * out.count)]).toEqual(points[points.length - 1]);
      for (const [x, y, r] of points) expect(offBy(out, x, y, r)).toBeLessThanOrEqual(0.2 + 1e-9);
    }
  });

  /** How far a point lies from the nearest cone's axis, and its radius from the cone's there: the larger. */
  function offBy({ data, count }: Spine, x: number, y: number, r: number): number {
    let best = Infinity;
    for (let a = 0; a + 3 < 3 * count; a += 3) {
      const [dx, dy] = [data[a + 3] - data[a], data[a + 4] - data[a + 1]];
      const u = Math.min(1, Math.max(0, ((x - data[a]) * dx + (y - data[a + 1]) * dy) / (dx * dx + dy * dy)));
      const aside = Math.hypot(x - data[a] - u * dx, y - data[a + 1] - u * dy);
      best = Math.min(best, Math.max(aside, Math.abs(r - data[a + 2] - u * (data[a + 5] - data[a + 2]))));
    }
    return best;
  }
});

describe('framed bodies', () => {
  const parts = new Map([
    ['a', Uint8Array.of(1, 2, 3)],
    ['b', new Uint8Array()],
    ['ç', Uint8Array.of(9)],
  ]);

  it('give back body and parts, from a view into a larger buffer too', () => {
    const frame = encodeFrame({ name: 'Ferry bell', n: [1, 2] }, parts);
    const larger = new Uint8Array(frame.length + 20);
    larger.set(frame, 7);
    const { body, parts: found } = decodeFrame(larger.subarray(7, 7 + frame.length));
    expect(body).toEqual({ name: 'Ferry bell', n: [1, 2] });
    expect([...found].map(([id, bytes]) => [id, [...bytes]])).toEqual([
      ['a', [1, 2, 3]],
      ['b', []],
      ['ç', [9]],
    ]);
  });

  it('refuse what is no frame, cut short, or too long', () => {
    const frame = encodeFrame({}, parts);
    expect(() => decodeFrame(Uint8Array.of(1, 2))).toThrow(RangeError);
    expect(() => decodeFrame(frame.subarray(0, frame.length - 1))).toThrow(/cut short/);
    expect(() => decodeFrame(frame.subarray(0, 20))).toThrow(RangeError);
    expect(() => decodeFrame(Uint8Array.of(...frame, 0))).toThrow(/left over/);
    const noJson = frame.slice();
    noJson[8] = 0x7d;
    expect(() => decodeFrame(noJson)).toThrow(/not JSON/);
  });
});
