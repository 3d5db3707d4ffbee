import type { SheetClient } from '../../workers/sheet-client';
import { Keeping, type SheetState } from '../../ui/session/keeping';

const CARD = {
  id: 's',
  name: 'Reeds',
  widthPx: 3000,
  heightPx: 2000,
  ppi: 300,
  updatedAt: 0,
  seq: 4,
  overviewSeq: null,
};

/** A worker whose pictures are done when they are told to be, and the numbers of the steps whose pictures were put. */
function watched(state: { isWhole: boolean; shownSeq: number } = { isWhole: true, shownSeq: 4 }) {
  const making: (() => void)[] = [];
  const client = {
    png: () => ({ result: new Promise((done) => making.push(() => done([new Uint8Array([1])]))), stop() {} }),
    keep: () => Promise.resolve(true),
  } as unknown as SheetClient;
  const put: string[] = [];
  globalThis.fetch = ((address: string) => {
    put.push(new URL(address, 'http://hush.test').searchParams.get('seq')!);
    return Promise.resolve(new Response('{}', { status: 200 }));
  }) as typeof fetch;
  return { keeping: new Keeping(CARD, client, state as SheetState), state, making, put };
}

const soon = () => new Promise((done) => setTimeout(done, 5));

describe('the small picture of a sheet', () => {
  it('is left once after a change, and not without one', async () => {
    const { keeping, making, put } = watched();
    await keeping.keepPicture();
    expect([keeping.isDue, making.length]).toEqual([false, 0]);
    keeping.allSoon();
    const kept = keeping.keepPicture();
    await soon();
    making[0]();
    await kept;
    await keeping.keepPicture();
    expect([put, keeping.isDue, making.length]).toEqual([['4'], false, 1]);
    keeping.close();
  });

  it('waits on leaving for the one that is being made, and makes another if ink came meanwhile', async () => {
    const { keeping, state, making, put } = watched();
    keeping.allSoon();
    void keeping.keepPicture();
    await soon();
    expect(keeping.isDue).toBe(true);

    let isLeft = false;
    const leaving = keeping.keepPicture().then(() => (isLeft = true));
    await soon();
    expect(isLeft).toBe(false);
    keeping.allSoon();
    state.shownSeq = 5;
    making[0]();
    await soon();
    making[1]();
    await leaving;
    expect([put, keeping.isDue]).toEqual([['4', '5'], false]);
    keeping.close();
  });

  it('stays due while steps wait', async () => {
    const { keeping, state, making } = watched({ isWhole: false, shownSeq: 4 });
    keeping.allSoon();
    await keeping.keepPicture();
    expect([keeping.isDue, making.length]).toEqual([true, 0]);
    state.isWhole = true;
    void keeping.keepPicture();
    await soon();
    expect(making.length).toBe(1);
    keeping.close();
  });
});
