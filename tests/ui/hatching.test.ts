import { putRows } from '../../core/sheet/steps';
import type { Layer } from '../../core/sheet/entities';
import { hatchPen } from '../../core/stroke/hatch';
import { makePen } from '../../core/stroke/pen';
import { Hatching, hatchOf, type HatchHand } from '../../ui/session/hatching';
import { Pouring } from '../../ui/session/pouring';
import { Browser, inkOnServer, openedInTurn, savedOn, setUpWorld, world } from '../measures/devices';
import { inkLayer } from '../measures/sheets';

setUpWorld();

const HAND: HatchHand = {
  pen: hatchPen(makePen('dip', 4, 0, false, 1), 0.5),
  colour: '#334455',
  dials: { apart: 2.5, lean: 0, wave: 0.2, crosses: false, taper: 0.5 },
};

async function setUp(withFlats = true) {
  const { session } = await openedInTurn(new Browser('one'));
  if (withFlats)
    await session.act('Flats', [
      putRows('layers', inkLayer('flats', { kind: 'colour', order: 'Zz' } as Partial<Layer>)),
    ]);
  const said: string[] = [];
  const pouring = new Pouring(session, (text) => said.push(text), (text) => said.push(text)); // prettier-ignore
  pouring.begin();
  const hatching = new Hatching(session, (text) => said.push(text));
  const guide = (...places: number[]) => {
    hatching.start();
    for (let i = 0; i < places.length; i += 2) hatching.move(places[i], places[i + 1]);
    hatching.end();
  };
  const laid = () => [...session.model.strokes.values()].filter((s) => s.group && !s.deleted);
  return { session, said, pouring, hatching, guide, laid };
}

describe('hatching', () => {
  it('is nothing of the sheet before it is kept; then its strokes are one step, one group, on the target', async () => {
    const { session, pouring, hatching, guide, laid } = await setUp();
    guide(20, 20, 120, 20);
    expect(await hatching.keep(HAND, pouring)).toBe(true);
    expect(laid()).toEqual([]);
    guide(20, 20, 120, 20);
    guide(20, 60, 120, 60);
    const looked = hatchOf(hatching.guides.now(), HAND);
    expect(looked).toHaveLength(11);
    await savedOn(session);
    const { seq: before } = world.store.sheets.head('sheet')!.card;
    expect(await hatching.keep(HAND, pouring)).toBe(true);
    await savedOn(session);
    expect(world.store.sheets.head('sheet')!.card.seq).toBe(before + 1);
    const strokes = laid();
    expect(strokes).toHaveLength(11);
    expect(new Set(strokes.map((s) => `${s.layerId} ${s.group} ${s.colour}`))).toEqual(new Set([`flats ${strokes[0].group} #334455`])); // prettier-ignore
    expect((await inkOnServer()).map(({ id }) => id).sort()).toEqual(strokes.map(({ id }) => id).sort());
    await session.undo();
    expect(laid()).toEqual([]);
    await session.redo();
    expect(laid()).toHaveLength(11);
  });

  it('makes the colour layer where there is none', async () => {
    const { session, pouring, hatching, guide, laid } = await setUp(false);
    guide(20, 20, 120, 20);
    guide(20, 60, 120, 60);
    await hatching.keep(HAND, pouring);
    expect(session.model.layers.get(laid()[0].layerId)).toMatchObject({ kind: 'colour', name: 'Colour' });
  });

  it('stays where it is looked at while its layer is locked, and says so', async () => {
    const { session, said, pouring, hatching, guide, laid } = await setUp();
    await session.act('Lock', [{ op: 'set', table: 'layers', field: 'locked', ids: ['flats'], before: [false], after: [true] }]); // prettier-ignore
    guide(20, 20, 120, 20);
    guide(20, 60, 120, 60);
    expect(await hatching.keep(HAND, pouring)).toBe(false);
    expect(said).toEqual(['flats is locked, so nothing was hatched; the guides are still there. Unlock it in the stack to hatch there.']); // prettier-ignore
    expect([hatching.guides.now().length, laid().length]).toEqual([2, 0]);
  });

  it('of too many strokes is said, and nothing is lost', async () => {
    const { said, pouring, hatching, guide } = await setUp();
    guide(0, 0, 9000, 0);
    guide(0, 60, 9000, 60);
    const fine = { ...HAND, pen: { ...HAND.pen, sizePx: 1 }, dials: { ...HAND.dials, apart: 1.2 } };
    expect(await hatching.keep(fine, pouring)).toBe(false);
    expect(said[0]).toMatch(/^These would be more strokes/);
    expect(hatching.guides.now()).toHaveLength(2);
  });

  it('is kept when something else is done, and one guide alone goes', async () => {
    const { pouring, hatching, guide, laid } = await setUp();
    hatching.keepBy(() => void hatching.keep(HAND, pouring));
    guide(20, 20, 120, 20);
    hatching.leave();
    expect(hatching.guides.now()).toEqual([]);
    guide(20, 20, 120, 20);
    guide(20, 60, 120, 60);
    hatching.leave();
    // The next pair may begin at once.
    guide(20, 80, 120, 80);
    expect(hatching.guides.now()).toHaveLength(1);
    await new Promise((done) => setTimeout(done, 50));
    expect(laid()).toHaveLength(11);
  });
});
