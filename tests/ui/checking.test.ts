import { Checking, firstCheckDials } from '../../ui/session/checking';
import type { FoundLeak } from '../../core/check/found-leak';
import type { Checked } from '../../workers/checking';
import { inkLayer, strokeEntity } from '../measures/sheets';

const leak = (n: number, layerId = 'ink'): FoundLeak => ({
  ...{ id: `s${n}`, layerId, otherId: 's9', otherLayerId: 'ink', gapPx: 4 + n, runsOut: true, areaPx: 100 },
  ...{ x: 10 * n, y: 5 },
  bridge: {
    sizePx: 3,
    path: { closed: false, nodes: [0, 4].map((x) => ({ x, y: 0, kind: 'smooth', width: 1, inX: 0, inY: 0, outX: 0, outY: 0 })) as never },
  },
}); // prettier-ignore

function setUp(found: Partial<Checked>, locked: string[] = []) {
  const layers = new Map(['ink', 'shut'].map((id) => [id, inkLayer(id, { name: id, locked: locked.includes(id) })])); // prettier-ignore
  const strokes = new Map([1, 2, 3].map((n) => [`s${n}`, strokeEntity(`s${n}`, { layerId: n === 3 ? 'shut' : 'ink' })])); // prettier-ignore
  const acts: { label: string; changes: { rows?: { layerId: string; id: string }[]; after?: { sizePx: number }[] }[] }[] = []; // prettier-ignore
  const told: string[] = [];
  const asked: object[] = [];
  const session = {
    paper: { widthPx: 100, heightPx: 100, ppi: 300 },
    model: { layers, strokes, stack: () => [...layers.values()] },
    topOrderOf: () => 'a0',
    client: {
      check: (wish: object) => {
        asked.push(wish);
        return Promise.resolve({ leaks: [], thin: [], widths: new Float64Array(1), lines: 3, ...found });
      },
    },
    act: (label: string, changes: never) => {
      acts.push({ label, changes });
      return Promise.resolve();
    },
    stage: { watchInk: () => () => undefined },
  };
  const checking = new Checking(session as never, (text) => told.push(text), (text) => told.push(text)); // prettier-ignore
  return { checking, acts, told, asked, layers };
}
const settled = () => new Promise((done) => setTimeout(done, 10));

describe('checking', () => {
  it('begins with what print asks for: hairlines under 0.09 mm (common practice, no source), at any resolution', () => {
    expect(firstCheckDials({ ppi: 300 }).thinPx).toBeCloseTo(1.05, 2);
    expect(firstCheckDials({ ppi: 600 }).thinPx).toBeCloseTo(2.1, 1);
    // On a screen half a pixel is the least.
    expect(firstCheckDials({ ppi: 72 }).thinPx).toBe(0.5);
  });

  it('looks through the ink that is shown, and bridges in one step, on the layer of the loose end', async () => {
    const { checking, acts, asked, told, layers } = setUp({ leaks: [leak(1), leak(2)] });
    layers.get('shut')!.visible = false;
    const end = checking.begin();
    await settled();
    expect(asked).toEqual([expect.objectContaining({ layerIds: ['ink'], gapPx: 8 })]);
    checking.choose('leaks');
    expect(checking.findings().map(({ words }) => words)[0]).toBe(
      '5.0 px (0.42 mm) on ink: colour would run out of the shape',
    );
    await checking.bridge(checking.found.now()!.leaks);
    expect(acts.map(({ label }) => label)).toEqual(['Bridge 2 gaps']);
    expect(acts[0].changes[0].rows!.map(({ layerId }) => layerId)).toEqual(['ink', 'ink']);
    expect(new Set(acts[0].changes[0].rows!.map(({ id }) => id)).size).toBe(2);
    expect(told[0]).toMatch(/Undo takes all of them back/);
    // A second tap, before it was looked through again.
    await checking.bridge(checking.found.now()!.leaks);
    expect(acts).toHaveLength(1);
    end();
  });

  it('what lies on a locked layer stays, which is said; the rest is done', async () => {
    const { checking, acts, told } = setUp({ leaks: [leak(1), leak(3, 'shut')], thin: [{ id: 's3', layerId: 'shut', x: 0, y: 0, widthPx: 0.5, lengthPx: 9, factor: 2 }] }, ['shut']); // prettier-ignore
    const end = checking.begin();
    await settled();
    await checking.bridge(checking.found.now()!.leaks);
    expect(acts[0].changes[0].rows).toHaveLength(1);
    expect(told).toEqual([expect.stringMatching(/^One gap lies on a locked layer and stayed open/)]);
    await checking.bolder(['s3']);
    expect(acts).toHaveLength(1);
    expect(told[1]).toMatch(/^1 line lies on a locked layer and stayed as thin/);
    end();
  });

  it('makes each thin line wider by what it lacks, and no other', async () => {
    const thin = (n: number, factor: number) => ({ id: `s${n}`, layerId: 'ink', x: 0, y: 0, widthPx: 0.5, lengthPx: 9, factor }); // prettier-ignore
    const { checking, acts } = setUp({ thin: [thin(1, 2), thin(2, 3)] });
    const end = checking.begin();
    await settled();
    const before = strokeEntity('s1', {}).pen.sizePx;
    await checking.bolder(['s1', 's2', 'gone']);
    const sizes = acts[0].changes[0].after!.map(({ sizePx }) => sizePx / before);
    expect(sizes).toEqual([expect.closeTo(2.06, 1), expect.closeTo(3.09, 1)]);
    await checking.bolder(['s1', 's2']);
    expect(acts).toHaveLength(1);
    end();
  });

  it('an answer that a later question has overtaken is dropped, and one that cannot be had is said', async () => {
    const { checking, told } = setUp({ leaks: [leak(1)] });
    const waiting: ((found: Checked) => void)[] = [];
    const { client } = (checking as unknown as { session: { client: { check: unknown } } }).session;
    client.check = () => new Promise((resolve) => waiting.push(resolve));
    const end = checking.begin();
    checking.turn({ gapPx: 3 });
    await new Promise((done) => setTimeout(done, 200));
    const answer = (n: number): Checked => ({ leaks: [leak(n)], thin: [], widths: new Float64Array(1), lines: n });
    waiting[1](answer(2));
    waiting[0](answer(1));
    await settled();
    expect(checking.found.now()!.lines).toBe(2);
    client.check = () => Promise.reject(new Error('away'));
    checking.turn({ gapPx: 4 });
    await new Promise((done) => setTimeout(done, 200));
    expect(told[0]).toMatch(/could not be looked through now/);
    expect(checking.found.now()!.lines).toBe(2);
    end();
  });
});
