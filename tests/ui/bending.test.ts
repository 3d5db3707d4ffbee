import 'fake-indexeddb/auto';
import { nanoid } from 'nanoid';
import { erasingChanges } from '../../core/sheet/erasing';
import { putRows } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { decodeSamples } from '../../core/stroke/codec';
import { encodePath } from '../../core/stroke/pack-path';
import { decodePath } from '../../core/stroke/path';
import { ENGINE, makePen } from '../../core/stroke/pen';
import { smoothed, straightPath } from '../../core/stroke/pulls';
import { Bending } from '../../ui/session/bending';
import type { SheetSession } from '../../ui/session/session';
import { Browser, ink, inkOnServer, opened, savedOn, setUpWorld } from '../measures/devices';
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

  it('makes few points of a line that was drawn by hand', async () => {
    const { session, said, bending } = await ready();
    await ink(session, 'hand');
    await bending.holdAt({ x: 70, y: 40 });
    expect(bending.nodes!.length).toBeLessThan(8);
    await pull(bending, [70, 40], [70, 70]);
    expect(standing(session)).toMatchObject([{ pen: { taperInPx: 0, taperOutPx: 0 } }]);
    await session.undo();
    expect(standing(session).map((s) => s.id)).toEqual(['hand']);
    await bending.holdAt({ x: 500, y: 400 });
    expect([bending.nodes, said]).toEqual([undefined, []]);
  });

  it('pulls what is left of a cut line: it ends straight where it was cut, and stays erased', async () => {
    const { session, bending } = await ready();
    await ink(session, 'hand');
    const bytes = encodeSamples(handSamples((u) => [70, 30 + 20 * u], { ms: 100 }));
    const mark = { id: 'mark', layerId: 'lines', pen: makePen('fineliner', 10, 0, false, 1), engine: ENGINE };
    const erased = await session.client.erased('lines', bytes, mark.pen);
    const changes = erasingChanges(erased, mark, (id) => session.model.strokes.get(id), nanoid);
    await session.act('Erase', changes, { parts: [['mark', bytes]] });
    const wayOf = async (id: string) => [...(await session.client.shapeOf([id], 0, 1)).lines[0]];
    const endOf = (way: number[]) => way.slice(-3);
    const left = standing(session).find((s) => s.stands!.from === 0)!;
    const before = await wayOf(left.id);
    await bending.holdLine(left.id);
    expect(bending.nodes!.length).toBeLessThan(8);
    const [first] = bending.nodes!;
    await pull(bending, [first.x, first.y], [first.x, first.y + 12]);
    const made = standing(session).find((s) => s.id !== left.id && s.stands!.of === s.id)!;
    expect(made.stands).toMatchObject({ samples: made.id, from: 0 });
    endOf(await wayOf(made.id)).forEach((v, i) => expect(Math.abs(v - endOf(before)[i])).toBeLessThan(0.6));
    const erases = [...session.model.erasures.values()].filter((e) => e.strokeIds.includes(made.id));
    expect(erases).toHaveLength(1);
    // Cut it is, and stays so when it is taken again: on this device, and on another.
    await savedOn(session);
    const other = await ready(new Browser('phone'));
    for (const { bending: again, session: there } of [{ bending, session }, other]) {
      await again.holdLine(made.id);
      const count = again.nodes!.length;
      again.chooseNext();
      await again.nudge(0, 0);
      const now = standing(there).find((s) => s.stands!.of === s.id)!;
      expect([again.nodes!.length, now.stands!.from]).toEqual([count, 0]);
      const samples = decodeSamples((await there.client.copiesOf([now.id]))[0].bytes);
      expect(now.stands!.to).toBeLessThan(samples.count - 1);
      await there.undo();
    }
    await session.undo();
    expect(standing(session).map((s) => s.id)).toContain(left.id);
  });
});
