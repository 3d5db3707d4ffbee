import { InkLines } from '../../core/areas/ink-lines';
import { AreaFinder } from '../../core/fill/area-finder';
import { pourTarget, type PourTarget } from '../../core/fill/pouring';
import type { Followed } from '../../core/fill/following';
import { finish } from '../../core/sheet/ink-work';
import { plainNode } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';
import { answerColour, type ColourAsk } from '../../workers/colouring';
import { TileMaker } from '../../workers/tile-maker';
import { PouredSheet } from '../measures/poured';

const SIDE = 400;
const away = () => Promise.reject(new Error('nothing is asked for'));
const pen = makePen('fineliner', 3, 0, false, 1);

function poured() {
  const sheet = new PouredSheet(SIDE);
  const way = (closed: boolean, ...xy: [number, number][]) =>
    sheet.path({ closed, nodes: xy.map(([x, y]) => plainNode(x, y, 'corner')) }, pen);
  const box = (x0: number, y0: number, x1: number, y1: number) => way(true, [x0, y0], [x1, y0], [x1, y1], [x0, y1]);
  for (const [x, y] of [
    [40, 40],
    [220, 40],
    [40, 220],
    [220, 220],
  ])
    box(x, y, x + 140, y + 140);
  for (const at of [
    [100, 100],
    [300, 100],
    [100, 300],
  ] as const)
    sheet.pour([...at]);
  const maker = new TileMaker({ samples: away, lowTiles: away });
  maker.ink = sheet.ink;
  const ask = (one: ColourAsk, isCalm?: () => boolean) => answerColour(maker, sheet.paper, one, isCalm);
  const follow = (isCalm?: () => boolean) =>
    ask(
      {
        what: 'follow',
        layerIds: ['flats'],
        changed: [{ layerId: 'lines', box: { x0: 0, y0: 0, x1: SIDE, y1: SIDE } }],
      },
      isCalm,
    ) as Promise<Followed[] | undefined>;
  const target = (at: [number, number]) =>
    ask({ what: 'target', bounds: sheet.bounds, layerId: 'flats', at }) as Promise<PourTarget | undefined>;
  /** What it is when all is looked at anew. */
  const anew = (at: [number, number]) =>
    finish(pourTarget(sheet.ink, new AreaFinder(new InkLines()), sheet.paper, sheet.bounds, 'flats', at));
  return { way, ask, follow, target, anew };
}
const hex = (one: PourTarget | undefined) => one && Buffer.from(one.shape.bytes).toString('hex');

describe('what is asked about colour at once', () => {
  it('is looked for one thing after the other: lines that come in between change nothing under it', async () => {
    const { way, follow, target, anew } = poured();
    const places: [number, number][] = [
      [300, 300],
      [20, 200],
      [100, 300],
      [200, 20],
    ];
    for (let n = 0; n < 12; n++) {
      const following = follow();
      // It is under way when the next line comes.
      await Promise.resolve();
      way(false, [30 + 28 * n, 20], [380 - 25 * n, 380]);
      const found = await Promise.all(places.map(target));
      expect(found.map(hex)).toEqual(places.map(anew).map(hex));
      // The hand's own question comes first.
      expect(await following).toBeUndefined();
    }
    const settled = await follow();
    expect(settled!.length).toBeGreaterThan(0);
  });

  it('what follows rests while the screen waits for something, and is left off when it is told', async () => {
    const { way, ask, follow } = poured();
    way(false, [100, 20], [100, 200]);
    let isCalm = false;
    let isDone = false;
    const resting = follow(() => isCalm).then((found) => {
      isDone = true;
      return found;
    });
    for (let n = 0; n < 20; n++) await new Promise((done) => setImmediate(done));
    expect(isDone).toBe(false);
    isCalm = true;
    expect((await resting)!.map(({ kind }) => kind)).toContain('part');
    const left = follow();
    await ask({ what: 'leave-off' });
    expect(await left).toBeUndefined();
  });
});
