import 'fake-indexeddb/auto';
import { putRows } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/codec';
import { decodePath, encodePath } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';
import { smoothed, straightPath } from '../../core/stroke/pulls';
import { Bending } from '../../ui/session/bending';
import type { SheetSession } from '../../ui/session/session';
import { Browser, ink, inkOnServer, opened, savedOn, setUpWorld, world } from '../measures/devices';
import { strokeEntity } from '../measures/sheets';
import { handSamples } from '../measures/strokes';

setUpWorld();

const standing = (session: SheetSession) => [...session.model.strokes.values()].filter((s) => !s.deleted);
const placed = smoothed(straightPath({ x: 20, y: 40 }, { x: 120, y: 40 }));

async function ready(browser = new Browser('tablet')) {
  const { session } = await opened(browser);
  const said: string[] = [];
  return { session, said, bending: new Bending(session, (text) => said.push(text)) };
}

/** A line that was placed, in the hand. */
async function withLine() {
  const all = await ready();
  const line = strokeEntity('line', { pen: makePen('dip', 6, 30, true, 1), matrix: [1, 0, 0, 1, 0, 10] });
  await all.session.act('Ink line', [putRows('strokes', line)], { parts: [['line', encodePath(placed)]] });
  await all.bending.holdAt({ x: 70, y: 50 });
  return all;
}

async function pull(bending: Bending, from: [number, number], to: [number, number]): Promise<void> {
  bending.begin({ x: from[0], y: from[1] });
  bending.move({ x: to[0], y: to[1] });
  await bending.end();
}

describe('pulling a line', () => {
  it('takes it where it lies, keeps each pull as a step on the disk, and takes it again after an undo', async () => {
    const { session, bending } = await withLine();
    expect(bending.nodes).toMatchObject([
      { x: 20, y: 50 },
      { x: 120, y: 50 },
    ]);
    await pull(bending, [70, 50], [70, 20]);
    await pull(bending, [95, 32], [100, 90]);
    expect(bending.nodes).toHaveLength(4);
    expect(bending.nodes!.some(({ x, y }) => x === 70 && y === 20)).toBe(true);
    const [line] = standing(session);
    expect(line).toMatchObject({ matrix: [1, 0, 0, 1, 0, 0], order: strokeEntity('line').order });
    await session.undo();
    bending.refresh();
    expect(bending.nodes).toHaveLength(3);
    await session.redo();
    bending.refresh();
    expect(bending.nodes).toHaveLength(4);
    await savedOn(session);
    const kept = (await inkOnServer()).filter((s) => !s.deleted);
    expect(kept.map((s) => s.id)).toEqual([line.id]);
    const copies = await (await opened(new Browser('phone'))).session.client.copiesOf([line.id]);
    expect(decodePath(copies[0].bytes).nodes).toHaveLength(4);
  });

  it('is nothing when it is dropped, or when another device has deleted the line meanwhile', async () => {
    const { session, bending } = await withLine();
    bending.begin({ x: 70, y: 50 });
    bending.move({ x: 70, y: 90 });
    bending.drop();
    expect(bending.nodes).toHaveLength(2);
    expect(standing(session).map((s) => s.id)).toEqual(['line']);
    bending.begin({ x: 70, y: 50 });
    bending.move({ x: 70, y: 90 });
    await session.act('Delete', [
      { op: 'set', table: 'strokes', field: 'deleted', ids: ['line'], before: [false], after: [true] },
    ]);
    await bending.end();
    expect(standing(session)).toEqual([]);
    bending.refresh();
    expect(bending.nodes).toBeUndefined();
  });

  it('takes no line that was in the hand before the last one', async () => {
    const { session, bending } = await withLine();
    const other = strokeEntity('other', { order: 'a2', matrix: [1, 0, 0, 1, 0, 60] });
    await session.act('Ink line', [putRows('strokes', other)], { parts: [['other', encodePath(placed)]] });
    await bending.holdLine('line');
    await bending.holdLine('other');
    await session.act('Delete', [
      { op: 'set', table: 'strokes', field: 'deleted', ids: ['other'], before: [false], after: [true] },
    ]);
    bending.refresh();
    expect(bending.nodes).toBeUndefined();
  });

  it('says things of one point, taps one out after another, and closes the line', async () => {
    const { session, bending } = await withLine();
    bending.goOn({ x: 60, y: 120 }, 'corner');
    await bending.end();
    expect(bending.nodes!.map((n) => n.kind)).toEqual(['auto', 'auto', 'corner']);
    await bending.change({ width: 0.5 }, 'Narrower');
    await bending.nudge(5, 0);
    expect(bending.nodes![2]).toMatchObject({ x: 65, width: 0.5 });
    await bending.close();
    expect(bending.nodes).toBeUndefined();
    await bending.holdAt({ x: 65, y: 120 });
    bending.begin({ x: 65, y: 120 });
    await bending.end();
    await bending.takeAway();
    expect(bending.nodes).toHaveLength(2);
    await bending.takeAway();
    expect(standing(session)).toHaveLength(1);
  });

  it('keeps the width of a pencil that lay down', async () => {
    const { session, bending } = await ready();
    const flat = handSamples((u) => [20 + 200 * u, 60], { ms: 500 });
    flat.altitude.fill(15);
    const pencil = makePen('pencil', 8, 20, true, 1);
    await session.act('Ink line', [putRows('strokes', strokeEntity('flat', { pen: pencil }))], {
      parts: [['flat', encodeSamples(flat)]],
    });
    const widest = async (id: string) => {
      const { lines } = await session.client.shapeOf([id], 0, 1);
      return Math.max(...lines[0].filter((_, i) => i % 3 === 2));
    };
    const before = await widest('flat');
    expect(before).toBeGreaterThan(8);
    await bending.holdLine('flat');
    await pull(bending, [120, 60], [120, 66]);
    expect(Math.abs((await widest(standing(session)[0].id)) - before)).toBeLessThan(0.6);
  });

  it('makes few points of a line that was drawn by hand, and says why a cut one is not pulled', async () => {
    const { session, said, bending } = await ready();
    await ink(session, 'hand');
    await bending.holdAt({ x: 70, y: 40 });
    expect(bending.nodes!.length).toBeLessThan(8);
    await pull(bending, [70, 40], [70, 70]);
    expect(standing(session)).toMatchObject([{ pen: { taperInPx: 0, taperOutPx: 0 } }]);
    await session.undo();
    expect(standing(session).map((s) => s.id)).toEqual(['hand']);
    const part = strokeEntity('part', { stands: { samples: 'hand', of: 'hand', from: 0, to: 9 } });
    await session.act('Cut', [
      putRows('strokes', part),
      { op: 'set', table: 'strokes', field: 'deleted', ids: ['hand'], before: [false], after: [true] },
    ]);
    bending.release();
    await bending.holdAt({ x: 24, y: 40 });
    expect(said).toEqual([expect.stringContaining('has been cut')]);
    await bending.holdAt({ x: 500, y: 400 });
    expect(bending.nodes).toBeUndefined();
    world.away = false;
  });
});
