import { putRows } from '../../core/sheet/steps';
import type { Layer } from '../../core/sheet/entities';
import { hasColourBelow, keepTargetInside, takeShade } from '../../ui/session/shading';
import type { SheetSession } from '../../ui/session/session';
import { Browser, openedInTurn, savedOn, setUpWorld } from '../measures/devices';
import { inkLayer } from '../measures/sheets';

setUpWorld();

const colour = (id: string, order: string) => inkLayer(id, { kind: 'colour', order } as Partial<Layer>);
const stackOf = (session: SheetSession) =>
  session.model.stack().map((l) => [l.name, 'blend' in l ? (l.blend ?? '') : '', 'inside' in l && l.inside === true]);
const targetOf = ({ model }: SheetSession) => model.layers.get(model.settings.target!)!.name;

async function withFlats(device = 'one') {
  const { session } = await openedInTurn(new Browser(device));
  await session.act('Flats', [putRows('layers', colour('sea', 'Zx'), colour('boat', 'Zz'))]);
  return session;
}

describe('shadow and light', () => {
  it('are layers over the flats, kept inside, made by one step each; beneath the lines', async () => {
    const session = await withFlats();
    expect(await takeShade(session, 'light')).toBe(true);
    expect(targetOf(session)).toBe('Light');
    await takeShade(session, 'shadow');
    expect(targetOf(session)).toBe('Shadow');
    expect(stackOf(session)).toEqual([
      ['sea', '', false],
      ['boat', '', false],
      ['Shadow', 'multiply', true],
      ['Light', 'screen', true],
      ['Lines', '', false],
    ]);
    await session.undo();
    expect(stackOf(session).map(([name]) => name)).toEqual(['sea', 'boat', 'Light', 'Lines']);
    expect(targetOf(session)).toBe('Light');
  });

  it('are taken again where they are there, and made anew where they were deleted', async () => {
    const session = await withFlats();
    await takeShade(session, 'shadow');
    await takeShade(session, 'light');
    const { length } = session.model.stack();
    await takeShade(session, 'shadow');
    expect([targetOf(session), session.model.stack()]).toEqual(['Shadow', expect.objectContaining({ length })]);
    const shadow = session.model.layers.get(session.model.settings.target!)!;
    await session.act('Delete', [{ op: 'set', table: 'layers', field: 'deleted', ids: [shadow.id], before: [false], after: [true] }]); // prettier-ignore
    await takeShade(session, 'shadow');
    expect(session.model.settings.target).not.toBe(shadow.id);
    expect(targetOf(session)).toBe('Shadow');
  });

  it('need colour to lie on', async () => {
    const { session } = await openedInTurn(new Browser('one'));
    const before = session.model.stack();
    expect(await takeShade(session, 'shadow')).toBe(false);
    expect(session.model.stack()).toEqual(before);
  });
});

describe('keeping inside', () => {
  it('is a field of the target where colour lies beneath it', async () => {
    const session = await withFlats();
    const lines = session.model.layers.get('lines')!;
    expect(hasColourBelow(session.model.stack(), lines as never)).toBe(true);
    await keepTargetInside(session, true);
    expect(session.model.layers.get('lines')).toMatchObject({ inside: true });
    await keepTargetInside(session, false);
    expect(session.model.layers.get('lines')).toMatchObject({ inside: false });
    await session.undo();
    await session.undo();
    expect(stackOf(session).at(-1)).toEqual(['Lines', '', false]);
  });

  it('makes a layer above the lowest colour: painted on, that is what it is kept inside of', async () => {
    const session = await withFlats();
    await session.act('Take', [{ op: 'set', table: 'sheet', field: 'target', ids: ['sheet'], before: ['lines'], after: ['sea'] }]); // prettier-ignore
    await keepTargetInside(session, true);
    expect(stackOf(session).slice(0, 3)).toEqual([
      ['sea', '', false],
      ['Colour', '', true],
      ['boat', '', false],
    ]);
    expect(targetOf(session)).toBe('Colour');
  });

  it('reaches other devices, and the sheet that is opened anew', async () => {
    const one = await withFlats();
    await takeShade(one, 'shadow');
    await savedOn(one);
    const two = (await openedInTurn(new Browser('two'))).session;
    expect(stackOf(two)).toEqual(stackOf(one));
  });
});
