import 'fake-indexeddb/auto';
import { putRows } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import type { Place } from '../../core/stroke/met-ends';
import { makePen } from '../../core/stroke/pen';
import { Catching } from '../../ui/session/catching';
import { Browser, opened, savedOn, setUpWorld } from '../measures/devices';
import { strokeEntity } from '../measures/sheets';
import { handPoints, handSamples } from '../measures/strokes';

setUpWorld();

const upright = handSamples((u) => [100, 20 + 200 * u], { ms: 400, tremorPx: 0 });

/** A session with an upright line at x = 100, 10 px wide, and what catches there. */
async function ready() {
  const { session } = await opened(new Browser('tablet'));
  const wall = strokeEntity('wall', { pen: makePen('fineliner', 10, 0, false, 1) });
  await session.act('Ink line', [putRows('strokes', wall)], { parts: [['wall', encodeSamples(upright)]] });
  await savedOn(session);
  const shown: (Place | undefined)[] = [];
  const catching = new Catching(session, (at) => shown.push(at));
  return { session, catching, shown };
}

/** Draws a line to (x, y), frame by frame. */
async function drawTo(catching: Catching, x: number, y: number) {
  const samples = handSamples((u) => [20 + (x - 20) * u, y], { ms: 300, tremorPx: 0 });
  for (const p of handPoints(samples)) {
    catching.follow(p);
    await Promise.resolve();
  }
  await new Promise((resolve) => setTimeout(resolve, 20));
  return samples;
}

const end = (samples: { x: Int32Array; y: Int32Array; count: number }) => [
  samples.x[samples.count - 1] / 32,
  samples.y[samples.count - 1] / 32,
];

describe('catch', () => {
  it('lets an end that almost touches a line meet it, shows where while it happens, and no more after', async () => {
    const { catching, shown } = await ready();
    catching.begin('strong', 'lines');
    const samples = await drawTo(catching, 86, 90);
    const last = shown[shown.length - 1];
    expect([Math.round(last!.x), Math.round(last!.y)]).toEqual([100, 90]);
    const met = await catching.met(samples);
    expect(Math.abs(end(met)[0] - 100)).toBeLessThan(0.1);
    expect([met.x[0], met.y[0]]).toEqual([samples.x[0], samples.y[0]]);
    expect(shown[shown.length - 1]).toBeUndefined();
  });

  it('reaches less far when it is gentle, and does nothing when it is off, or when the end is there already', async () => {
    const { catching, shown } = await ready();
    for (const [how, x] of [
      ['gentle', 86],
      ['off', 90],
      ['strong', 97],
      ['strong', 60],
    ] as const) {
      catching.begin(how, 'lines');
      const samples = await drawTo(catching, x, 90);
      expect(end(await catching.met(samples))).toEqual(end(samples));
    }
    expect(shown[shown.length - 1]).toBeUndefined();
    catching.begin('gentle', 'lines');
    expect(Math.abs(end(await catching.met(await drawTo(catching, 91, 90)))[0] - 100)).toBeLessThan(0.1);
  });

  it('lets a line come back to its own beginning', async () => {
    const { catching } = await ready();
    catching.begin('strong', 'lines');
    const loop = handSamples((u) => [200 + 60 * Math.cos(u * 6.1), 120 + 60 * Math.sin(u * 6.1)], {
      ms: 600,
      tremorPx: 0,
    });
    for (const p of handPoints(loop)) catching.follow(p);
    const met = await catching.met(loop);
    expect(end(met)).toEqual([loop.x[0] / 32, loop.y[0] / 32]);
    // A line that has only just begun does not: it would end where it starts.
    catching.begin('strong', 'lines');
    const short = handSamples((u) => [200 + 8 * u, 60], { ms: 60, tremorPx: 0 });
    for (const p of handPoints(short)) catching.follow(p);
    expect(end(await catching.met(short))).toEqual(end(short));
  });

  it('leaves the end where it is when no answer comes', async () => {
    const { session, catching } = await ready();
    session.client.linesNear = () => new Promise(() => {});
    catching.begin('strong', 'lines');
    const samples = await drawTo(catching, 86, 90);
    expect(await catching.met(samples)).toBe(samples);
    session.client.linesNear = () => Promise.reject(new Error('out of reach'));
    catching.begin('strong', 'lines');
    const again = await drawTo(catching, 86, 90);
    expect(end(await catching.met(again))).toEqual(end(again));
  });

  it('gives strokes back in the order in which they were drawn, however late their answers come', async () => {
    const { session, catching } = await ready();
    const { linesNear } = session.client;
    const order: number[] = [];
    const draw = async (n: number) => {
      catching.begin('strong', 'lines');
      const samples = await drawTo(catching, 86, 60 + n);
      return catching.met(samples).then(() => order.push(n));
    };
    session.client.linesNear = () => new Promise(() => {});
    const first = draw(1);
    await new Promise((resolve) => setTimeout(resolve, 30));
    session.client.linesNear = linesNear;
    await Promise.all([first, draw(2), new Promise((resolve) => setTimeout(resolve, 40)).then(() => draw(3))]);
    expect(order).toEqual([1, 2, 3]);
  });
});
