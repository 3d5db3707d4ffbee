import 'fake-indexeddb/auto';
import { putRows } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { MEND, SNIP, WayEdit } from '../../ui/session/way-edit';
import type { SheetSession } from '../../ui/session/session';
import { OutOfReach } from '../../workers/sheet-client';
import { Browser, ink, inkOnServer, opened, savedOn, setUpWorld, world } from '../measures/devices';
import { strokeEntity } from '../measures/sheets';
import { handSamples } from '../measures/strokes';

setUpWorld();

const standing = (session: SheetSession) => [...session.model.strokes.values()].filter((s) => !s.deleted);

/** Goes along a way, and lifts the pen. */
async function go(edit: WayEdit<never>, ...way: number[]): Promise<void> {
  for (let i = 0; i < way.length; i += 2) edit.follow({ x: way[i], y: way[i + 1] });
  await edit.end();
}

/** A session with a line across at y = 40, and one down through it at x = 80; and what was said in it. */
async function ready(browser = new Browser('tablet')) {
  const { session } = await opened(browser);
  const said: string[] = [];
  const edits = {
    snip: new WayEdit(session, (text) => said.push(text), SNIP) as WayEdit<never>,
    mend: new WayEdit(session, (text) => said.push(text), MEND) as WayEdit<never>,
  };
  return { session, said, ...edits };
}

async function drawCross(session: SheetSession): Promise<void> {
  await ink(session, 'across');
  const down = encodeSamples(handSamples((u) => [80, 80 * u], { ms: 300, tremorPx: 0 }));
  const wall = strokeEntity('wall', { order: 'a9', pen: makePen('fineliner', 4, 0, false, 1) });
  await session.act('Ink line', [putRows('strokes', wall)], { parts: [['wall', down]] });
}

describe('going along lines', () => {
  it('snips and mends while the server is away, and is found so, and kept, when it is back', async () => {
    const tablet = new Browser('tablet');
    const { session, snip, mend } = await ready(tablet);
    await drawCross(session);
    await savedOn(session);
    world.away = true;
    await go(snip, 105, 40);
    expect(standing(session).map((s) => s.stands?.of)).toEqual(expect.arrayContaining([undefined, 'across']));
    // The part that is left is drawn anew in its middle: its end stays cut.
    await go(mend, 35, 40, 45, 50, 55, 50, 65, 40);
    const [made] = standing(session).filter((s) => s.id !== 'wall');
    expect(made.stands).toMatchObject({ samples: made.id, of: made.id });
    session.close();
    world.away = false;
    const again = await opened(tablet);
    expect(
      standing(again.session)
        .map((s) => s.id)
        .sort(),
    ).toEqual(['wall', made.id].sort());
    await savedOn(again.session);
    expect(await again.session.setAside()).toEqual([]);
    expect((await inkOnServer()).filter((s) => !s.deleted).map((s) => s.stands)).toContainEqual(made.stands);
    // Another device has its samples, too.
    const phone = await opened(new Browser('phone'));
    const shape = await phone.session.client.shapeOf([made.id], 0, 1);
    expect(shape.lines[0].filter((_, i) => i % 3 === 1).some((y) => y > 46)).toBe(true);
  });

  it('shows what would change while the pen is down, nothing after, and nothing of what was dropped', async () => {
    const { session, snip } = await ready();
    await drawCross(session);
    const shown: number[] = [];
    snip.watchShown(() => shown.push(snip.shown.length));
    snip.follow({ x: 105, y: 40 });
    for (let i = 0; i < 50 && !snip.shown.length; i++) await new Promise((resolve) => setTimeout(resolve, 5));
    expect(snip.shown).toHaveLength(1);
    expect(snip.shown[0][0]).toBeCloseTo(80, 0);
    snip.drop();
    expect(snip.shown).toEqual([]);
    await snip.end();
    expect(standing(session)).toHaveLength(2);
    await go(snip, 105, 40);
    expect(snip.shown).toEqual([]);
    expect(session.nextLabel('undo')).toBe('Snip 1 line');
    expect(shown[shown.length - 1]).toBe(0);
  });

  it('leaves alone what is locked, says where there is no line to mend, and that lines are out of reach', async () => {
    const { session, said, snip, mend } = await ready();
    await drawCross(session);
    await go(mend, 300, 300, 340, 320);
    expect(said).toEqual([expect.stringContaining('No line is near')]);
    const ask = session.client.snipsAlong.bind(session.client);
    session.client.snipsAlong = () => Promise.reject(new OutOfReach('away'));
    await go(snip, 105, 40);
    expect(said.slice(1)).toEqual([expect.stringContaining('cannot be reached')]);
    session.client.snipsAlong = ask;
    const [layer] = session.model.stack();
    await session.act('Lock', [
      { op: 'set', table: 'layers', field: 'locked', ids: [layer.id], before: [false], after: [true] },
    ]);
    await go(snip, 105, 40);
    expect(standing(session)).toHaveLength(2);
  });
});
