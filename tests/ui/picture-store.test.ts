import type { Recipe } from '../../core/picture/recipe';
import { madeScale, PictureStore } from '../../ui/canvas/picture-store';

const PICTURE = { hash: 'abc', width: 2000, height: 1000 };
const closed: number[] = [];
const bitmapOf = (width: number, height: number) => ({ width, height, close: () => closed.push(width) });

beforeEach(() => {
  closed.length = 0;
  globalThis.createImageBitmap = ((_source: unknown, size?: { resizeWidth: number; resizeHeight: number }) =>
    Promise.resolve(size ? bitmapOf(size.resizeWidth, size.resizeHeight) : bitmapOf(2000, 1000))) as never;
});

const answering = (...answers: (number | 'never')[]) => {
  let calls = 0;
  globalThis.fetch = (() => {
    const status = answers[Math.min(calls++, answers.length - 1)];
    if (status === 'never') return new Promise(() => {});
    return Promise.resolve({ ok: status === 200, status, blob: () => Promise.resolve({}) });
  }) as never;
  return () => calls;
};
const settled = () => new Promise((done) => setTimeout(done, 5));

describe('how fine what a recipe makes is', () => {
  const lift: Recipe = [{ id: 'l', kind: 'lift', on: true, paper: 0.9, line: 0.3, keep: 0.5, specks: 0 }];
  const grey: Recipe = [{ id: 'g', kind: 'grey', on: true }];

  it.each([
    ['a small page, lifted, on finer paper', { width: 600, height: 400 }, lift, 5, 4],
    ['no finer than it is looked at', { width: 600, height: 400 }, lift, 1.5, 2],
    ['looked at from afar', { width: 600, height: 400 }, lift, 0.3, 0.5],
    ['a large one, no finer than its copy', { width: 8192, height: 4000 }, lift, 3, 0.5],
    ['what is not lifted, no finer than it is', { width: 600, height: 400 }, grey, 5, 1],
  ])('%s', (_name, size, recipe, wanted, scale) => {
    expect(madeScale({ hash: 'a', ...size }, recipe, wanted)).toBe(scale);
  });
});

describe('the store of pictures', () => {
  it('fetches each once, and makes it as fine as it is looked at, no finer', async () => {
    const calls = answering(200);
    let loads = 0;
    const store = new PictureStore(
      () => loads++,
      () => undefined,
    );
    const look = (scale: number) => store.get({ picture: PICTURE }, scale);
    for (let i = 0; i < 3; i++) expect(look(0.3)).toBeUndefined();
    await settled();
    expect([calls(), loads, look(0.3)!.bitmap.width, look(0.3)!.perPicturePx]).toEqual([1, 1, 1000, 0.5]);
    // Closer: what there is until the finer one is there.
    expect(look(0.8)!.bitmap.width).toBe(1000);
    await settled();
    expect([look(0.8)!.bitmap.width, look(4)!.bitmap.width]).toEqual([2000, 2000]);
    // Farther: a finer one will do meanwhile; never smaller than is worth it.
    expect(look(0.01)!.bitmap.width).toBe(1000);
    await settled();
    expect([look(0.01)!.bitmap.width, calls()]).toEqual([250, 1]);
    store.close();
    expect(closed.filter((w) => w !== 2000).sort()).toEqual([1000, 250]);
  });

  it('keeps of many pictures what was looked at lately', async () => {
    answering(200);
    globalThis.createImageBitmap = (() => Promise.resolve(bitmapOf(4000, 3000))) as never;
    const store = new PictureStore(
      () => undefined,
      () => undefined,
      false,
    );
    for (const hash of ['a', 'b', 'c', 'd', 'e']) {
      store.get({ picture: { hash, width: 4000, height: 3000 } }, 1);
      await settled();
    }
    // Three of 48 MB fit.
    expect(closed).toEqual([4000, 4000]);
    expect(store.get({ picture: { hash: 'e', width: 4000, height: 3000 } }, 1)).toBeDefined();
  });

  it('says when one cannot be loaded, and tries again when it is asked for again', async () => {
    const calls = answering(500, 200);
    const failed: string[] = [];
    const store = new PictureStore(
      () => undefined,
      (hash) => failed.push(hash),
    );
    store.get({ picture: PICTURE }, 1);
    await settled();
    expect(failed).toEqual(['abc']);
    store.get({ picture: PICTURE }, 1);
    await settled();
    expect(calls()).toBe(2);
    expect(store.get({ picture: PICTURE }, 1)?.bitmap.width).toBe(2000);
  });

  it('waits for an answer that never comes without asking twice', async () => {
    const calls = answering('never');
    const store = new PictureStore(
      () => undefined,
      () => undefined,
    );
    for (let i = 0; i < 5; i++) store.get({ picture: PICTURE }, 1);
    await settled();
    expect(calls()).toBe(1);
  });

  it('never lets go of what is in sight, however much that is: it would be made again and again', async () => {
    answering(200);
    let made = 0;
    globalThis.createImageBitmap = (() => {
      made++;
      return Promise.resolve(bitmapOf(4000, 3000));
    }) as never;
    const layers = ['a', 'b', 'c', 'd', 'e'].map((hash) => ({
      id: hash,
      picture: { hash, width: 4000, height: 3000 },
    }));
    const store: PictureStore = new PictureStore(
      () => paint(),
      () => undefined,
      false,
    );
    // As the screen does whenever something has come.
    const paint = () => layers.map((layer) => store.get(layer, 1));
    paint();
    for (let n = 0; n < 10; n++) await settled();
    expect([made, paint().every(Boolean), closed.length]).toEqual([5, true, 0]);
    // One is left on the paper: the others go with the next that comes.
    store.only(new Set(['a']));
    store.get({ id: 'f', picture: { hash: 'f', width: 4000, height: 3000 } }, 1);
    await settled();
    expect(closed.length).toBeGreaterThanOrEqual(2);
    expect(store.get(layers[0], 1)).toBeDefined();
  });

  it('takes the larger copy when someone looks closer than the usual one shows, on devices with room for it', async () => {
    const wide = { hash: 'abc', width: 8000, height: 6000 };
    const fetched: string[] = [];
    globalThis.fetch = ((address: string) => {
      fetched.push(address);
      const width = address.endsWith('large') ? 8000 : 4096;
      return Promise.resolve({ ok: true, status: 200, blob: () => Promise.resolve({ width }) });
    }) as never;
    globalThis.createImageBitmap = ((source: { width: number }, size?: { resizeWidth: number }) =>
      Promise.resolve(bitmapOf(size?.resizeWidth ?? source.width, 1))) as never;
    const make = (takesLarge: boolean) =>
      new PictureStore(
        () => undefined,
        () => undefined,
        takesLarge,
      );
    const desk = make(true);
    const look = (scale: number) => desk.get({ picture: wide }, scale)?.bitmap.width;
    look(0.5);
    await settled();
    expect([look(0.5), fetched]).toEqual([4096, ['/api/pictures/abc/working']]);
    // The first copy stays until the second one is there.
    expect(look(0.8)).toBe(4096);
    await settled();
    expect([look(0.8), fetched[1], fetched.length]).toEqual([8000, '/api/pictures/abc/large', 2]);
    const phone = make(false);
    phone.get({ picture: wide }, 1);
    await settled();
    phone.get({ picture: wide }, 4);
    await settled();
    expect(fetched.length).toBe(3);
  });

  it('closes what comes after it was closed', async () => {
    answering(200);
    const store = new PictureStore(
      () => undefined,
      () => undefined,
      false,
    );
    store.get({ picture: PICTURE }, 1);
    store.close();
    await settled();
    expect(closed).toEqual([2000]);
  });

  describe('with what was done to a picture', () => {
    const grey = (id: string) => ({ id, kind: 'grey' as const, on: true });
    const shown = (...recipe: object[]) => ({ id: 'photo', picture: PICTURE, recipe: recipe as never });
    interface Asked {
      scale: number;
      stopped: boolean;
      progress(part: number): void;
      answer(bitmap?: object): void;
      fail(): void;
    }
    function made() {
      const asked: Asked[] = [];
      let loads = 0;
      const failed: string[] = [];
      const client = {
        develop: (_made: object, scale: number, progress: (part: number) => void) => {
          const one = { scale, stopped: false, progress } as Asked;
          asked.push(one);
          const result = new Promise((resolve, reject) => {
            one.answer = resolve as never;
            one.fail = () => reject(new Error('away'));
          });
          return { result, stop: () => (one.stopped = true) };
        },
        close: () => undefined,
      };
      const store = new PictureStore(
        () => loads++,
        (hash) => failed.push(hash),
        false,
        client as never,
      );
      return { store, asked, failed, loads: () => loads };
    }

    it('asks for it once, as fine as it is looked at, and finer when someone comes closer', async () => {
      const { store, asked, loads } = made();
      const look = (scale: number) => store.get(shown(grey('a')), scale);
      expect([look(0.3), look(0.3)]).toEqual([undefined, undefined]);
      expect(asked.map((a) => a.scale)).toEqual([0.5]);
      asked[0].answer(bitmapOf(1000, 500));
      await settled();
      expect([look(0.3)!.perPicturePx, loads()]).toEqual([0.5, 1]);
      look(0.2);
      expect(asked).toHaveLength(1);
      // Coarser by far: less memory will do.
      look(0.05);
      expect(asked.map((a) => a.scale)).toEqual([0.5, 0.0625]);
      look(4);
      expect([asked[1].stopped, asked[2].scale]).toEqual([true, 1]);
      asked[1].answer(undefined);
      asked[2].answer(bitmapOf(2000, 1000));
      await settled();
      expect(look(4)!.bitmap.width).toBe(2000);
      expect(closed).toEqual([1000]);
    });

    it('does not make any more what a dial has left behind, and keeps what was made for going back', async () => {
      const { store, asked } = made();
      store.get(shown(grey('a')), 1);
      asked[0].answer(bitmapOf(2000, 1000));
      await settled();
      store.get(shown(grey('b')), 1);
      store.get(shown(grey('c')), 1);
      expect(asked.map((a) => a.stopped)).toEqual([false, true, false]);
      expect(store.get(shown(grey('a')), 1)!.bitmap.width).toBe(2000);
      expect(asked).toHaveLength(3);
      for (let i = 0; i < 20; i++) store.get(shown(grey(`x${i}`)), 1);
      expect(closed).toEqual([2000]);
    });

    it('keeps little of what is large, and never lets go of what is in sight', async () => {
      const { store, asked } = made();
      const large = { width: 4000, height: 3000 };
      for (const [n, id] of ['a', 'b', 'c'].entries()) {
        store.get(shown(grey(id)), 1);
        asked[n].answer(bitmapOf(large.width + n, large.height));
        await settled();
        store.get(shown(grey(id)), 1);
      }
      // Two of 48 MB fit, or nearly so; the latest is the one in sight.
      expect(closed).not.toContain(4002);
      expect(closed).toContain(4000);
    });

    it('stopped, makes something coarse, which is quick, until it is to be finished; what is there will do', async () => {
      const { store, asked } = made();
      const told: (number | undefined)[] = [];
      let stop = () => undefined as unknown;
      store.watchDeveloping((work) => {
        told.push(work?.part);
        if (work) stop = () => work.stop();
      });
      const look = (scale: number) => store.get(shown(grey('a')), scale);
      look(1);
      asked[0].progress(0.25);
      stop();
      asked[0].answer(undefined);
      look(1);
      await settled();
      expect([told, asked.map((a) => [a.scale, a.stopped])]).toEqual([
        [0.25, undefined],
        [
          [1, true],
          [0.25, false],
        ],
      ]);
      asked[1].answer(bitmapOf(500, 250));
      await settled();
      expect([look(1)!.perPicturePx, asked.length]).toEqual([0.25, 2]);
      // Finished it is as fine as ever; stopped again, what is there stays, and nothing is asked for.
      store.finish();
      look(1);
      asked[2].progress(0.5);
      stop();
      asked[2].answer(undefined);
      await settled();
      expect([look(1)!.perPicturePx, asked.map((a) => a.scale)]).toEqual([0.25, [1, 0.25, 1]]);
      store.finish();
      look(1);
      asked[3].answer(bitmapOf(2000, 1000));
      await settled();
      expect(look(1)!.perPicturePx).toBe(1);
      // A stop that comes late stops nothing.
      stop();
      look(1);
      expect(asked).toHaveLength(4);
    });

    it('another recipe knows nothing of a stop, and one that comes back neither', async () => {
      const { store, asked } = made();
      store.watchDeveloping((work) => work?.stop());
      store.get(shown(grey('a')), 1);
      asked[0].progress(0.1);
      store.get(shown(grey('b')), 1);
      store.get(shown(grey('a')), 1);
      expect(asked.map((a) => a.scale)).toEqual([1, 1, 1]);
    });

    it('steps that are off make nothing; what fails is said and asked for again', async () => {
      answering(200);
      const { store, asked, failed } = made();
      store.get(shown({ ...grey('a'), on: false }), 1);
      expect(asked).toHaveLength(0);
      store.get(shown(grey('a')), 1);
      asked[0].fail();
      await settled();
      expect(failed).toEqual(['abc']);
      store.get(shown(grey('a')), 1);
      expect(asked).toHaveLength(2);
    });
  });
});
