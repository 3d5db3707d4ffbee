import * as fc from 'fast-check';
import type { Pixels } from '../../core/raster/pixels';
import { KeptPixels } from '../../workers/kept-pixels';
import { ReadyBitmaps } from '../../workers/ready-bitmaps';

const TILE_BYTES = 400;
/** Pixels that say what they show. */
const showing = (what: string): Pixels =>
  ({ x0: 0, y0: 0, width: 10, height: 10, data: Object.assign(new Uint8ClampedArray(TILE_BYTES), { what }) }) as Pixels;
const shownBy = (pixels: Pixels | null | undefined) =>
  pixels ? (pixels.data as unknown as { what: string }).what : undefined;

describe('the pixels that steps covered', () => {
  it('come back with the undo, and those after it with the redo', () => {
    const kept = new KeptPixels(100 * TILE_BYTES);
    expect(kept.begin({ id: 'draw' })).toBeUndefined();
    kept.keep('a', showing('blank'));
    // The first of a tile is what was there before.
    kept.keep('a', showing('half way'));
    kept.end();
    const undo = kept.begin({ id: 'undo', undoes: 'draw' });
    expect(shownBy(undo?.get('a'))).toBe('blank');
    kept.keep('a', showing('drawn'));
    kept.end();
    const redo = kept.begin({ id: 'redo', undoes: 'undo' });
    expect(shownBy(redo?.get('a'))).toBe('drawn');
  });

  it('stay away once anything else has changed the ink', () => {
    const kept = new KeptPixels(100 * TILE_BYTES);
    kept.begin({ id: 'draw' });
    kept.keep('a', showing('blank'));
    kept.end();
    kept.begin(undefined);
    kept.end();
    expect(kept.begin({ id: 'undo', undoes: 'draw' })).toBeUndefined();
  });

  it('are those of the last twenty steps, within a limit of bytes', () => {
    const kept = new KeptPixels(1000 * TILE_BYTES);
    for (let i = 0; i < 25; i++) {
      kept.begin({ id: `s${i}` });
      kept.keep('a', showing(`${i}`));
      kept.end();
    }
    const backwards = (prefix: string, undoes: string, order: readonly number[]) =>
      order.flatMap((i) => {
        const what = shownBy(kept.begin({ id: `${prefix}${i}`, undoes: `${undoes}${i}` })?.get('a'));
        kept.keep('a', showing(`${prefix}${i}`));
        kept.end();
        return what ?? [];
      });
    const down = Array.from({ length: 25 }, (_, i) => 24 - i);
    // An undo keeps what a redo needs, in the place of the step that it takes back: no other is pushed out.
    expect(backwards('u', 's', down)).toEqual(down.slice(0, 20).map(String));
    const up = down.slice(0, 20).reverse();
    expect(backwards('r', 'u', up.slice(1))).toEqual([]);
    const again = new KeptPixels(1000 * TILE_BYTES);
    for (let i = 0; i < 20; i++) {
      again.begin({ id: `s${i}` });
      again.keep('a', showing(`before ${i}`));
      again.end();
    }
    const found: (string | undefined)[] = [];
    for (let round = 0; round < 2; round++) {
      const [from, to] = round ? ['r', 'v'] : ['s', 'u'];
      for (let i = 19; i >= 0; i--) {
        found.push(shownBy(again.begin({ id: `${to}${i}`, undoes: `${from}${i}` })?.get('a')));
        again.keep('a', showing(`after ${i}`));
        again.end();
      }
      for (let i = 0; i < 20; i++) {
        found.push(shownBy(again.begin({ id: `r${i}`, undoes: `${to}${i}` })?.get('a')));
        again.keep('a', showing(`before ${i}`));
        again.end();
      }
    }
    const [undone, redone] = [19, 0].map((from) => Array.from({ length: 20 }, (_, i) => Math.abs(from - i)));
    const round = [...undone.map((i) => `before ${i}`), ...redone.map((i) => `after ${i}`)];
    expect(found).toEqual([...round, ...round]);

    const small = new KeptPixels(3 * TILE_BYTES);
    small.begin({ id: 'large' });
    for (const key of 'abcd') small.keep(key, showing('x'));
    small.end();
    expect(small.begin({ id: 'u', undoes: 'large' })).toBeUndefined();
  });

  it('are always what a drawing from nothing would give, whatever happens in between', () => {
    const acts = fc.array(
      fc.oneof(
        { weight: 6, arbitrary: fc.record({ kind: fc.constant('draw' as const), tile: fc.nat(3) }) },
        fc.record({ kind: fc.constant('foreign' as const), tile: fc.nat(3) }),
        { weight: 4, arbitrary: fc.record({ kind: fc.constant('undo' as const) }) },
        { weight: 2, arbitrary: fc.record({ kind: fc.constant('redo' as const) }) },
        fc.record({ kind: fc.constant('forget' as const), tile: fc.nat(3) }),
      ),
      { minLength: 10, maxLength: 80 },
    );
    let given = 0;
    fc.assert(
      fc.property(acts, (list) => {
        const kept = new KeptPixels(12 * TILE_BYTES);
        const ink: { id: string; tile: number; stands: boolean }[] = [];
        const look = (tile: number) =>
          ink
            .filter((s) => s.stands && s.tile === tile)
            .map((s) => s.id)
            .join();
        const cache = new Map<string, string>();
        const undo: { step: string; stroke: string }[] = [];
        const redo: { step: string; stroke: string }[] = [];
        let n = 0;
        const change = (tile: number, step: { id: string; undoes?: string } | undefined, does: () => void) => {
          const before = kept.begin(step);
          const key = String(tile);
          const shown = cache.get(key);
          if (shown !== undefined) kept.keep(key, showing(shown));
          cache.delete(key);
          does();
          for (const [of, pixels] of before ?? []) {
            given++;
            expect(shownBy(pixels)).toBe(look(Number(of)));
            cache.set(of, shownBy(pixels)!);
          }
          kept.end();
          // The screen asks for the tile.
          cache.set(key, look(tile));
        };
        for (const act of list) {
          const id = `n${n++}`;
          if (act.kind === 'draw' || act.kind === 'foreign') {
            change(act.tile, act.kind === 'draw' ? { id } : undefined, () =>
              ink.push({ id, tile: act.tile, stands: true }),
            );
            if (act.kind === 'draw') {
              undo.push({ step: id, stroke: id });
              redo.length = 0;
            }
          } else if (act.kind === 'forget') cache.delete(String(act.tile));
          else {
            const [from, to] = act.kind === 'undo' ? [undo, redo] : [redo, undo];
            const last = from.pop();
            if (!last) continue;
            const stroke = ink.find((s) => s.id === last.stroke)!;
            change(stroke.tile, { id, undoes: last.step }, () => (stroke.stands = act.kind === 'redo'));
            to.push({ step: id, stroke: last.stroke });
          }
        }
      }),
      { numRuns: 400 },
    );
    expect(given).toBeGreaterThan(200);
  });
});

describe('what an undo would show', () => {
  const step = (kept: KeptPixels, id: string, before: string, undoes?: string) => {
    const given = kept.begin({ id, undoes });
    kept.keep('a', showing(before));
    kept.end();
    return given;
  };
  const next = (kept: KeptPixels) => [...kept.next()].map(([key, pixels]) => `${key}: ${shownBy(pixels)}`);

  it('is what the tiles showed before the step that is next, and after one that was taken back', () => {
    const kept = new KeptPixels(100 * TILE_BYTES);
    step(kept, 'first', 'blank');
    step(kept, 'second', 'one line');
    expect(next(kept)).toEqual(['a: one line']);
    step(kept, 'undo', 'two lines', 'second');
    expect(next(kept)).toEqual(['a: blank', 'a: two lines']);
    // Somebody else's step: nothing can be put back as it was.
    kept.begin(undefined);
    kept.end();
    expect(next(kept)).toEqual([]);
  });

  it('stands ready as bitmaps, each given away once; what is no longer next is let go of', async () => {
    const closed: (string | undefined)[] = [];
    const ready = new ReadyBitmaps(async (pixels) => {
      await Promise.resolve();
      return { of: shownBy(pixels), close: () => closed.push(shownBy(pixels)) } as unknown as ImageBitmap;
    });
    const [a, b, c] = ['a', 'b', 'c'].map(showing);
    await ready.prepare([a, b]);
    expect(ready.take(a)).toMatchObject({ of: 'a' });
    expect(ready.take(a)).toBeUndefined();
    await ready.prepare([b, c]);
    expect(closed).toEqual([]);
    // Overtaken while it works: what it was making is let go of.
    const slow = ready.prepare([a, b, c]);
    await ready.prepare([c]);
    await slow;
    expect(closed.sort()).toEqual(['a', 'b']);
    expect([ready.take(a), ready.take(b)]).toEqual([undefined, undefined]);
    expect(ready.take(c)).toMatchObject({ of: 'c' });
  });
});
