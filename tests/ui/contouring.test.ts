import { shownInks } from '../../core/sheet/sent-layers';
import { putRows } from '../../core/sheet/steps';
import { encodePath } from '../../core/stroke/pack-path';
import { plainNode } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';
import { Contouring } from '../../ui/session/contouring';
import type { SheetSession } from '../../ui/session/session';
import { Browser, inkOnServer, openedInTurn, savedOn, setUpWorld } from '../measures/devices';
import { inkLayer, strokeEntity } from '../measures/sheets';

setUpWorld();

const WAYS = { widthPx: 6, uneven: 0.5, gapPx: 4 };

async function setUp() {
  const { session } = await openedInTurn(new Browser('one'));
  const said: string[] = [];
  const contouring = new Contouring(session, (text) => said.push(text), (text) => said.push(`warning: ${text}`)); // prettier-ignore
  return { session, said, contouring, draw: (ids: string[]) => contouring.draw(ids, WAYS, '#112233') };
}

function box(session: SheetSession, id: string, x0: number, x1: number, layerId = 'lines'): Promise<void> {
  const nodes = [[x0, 40], [x1, 40], [x1, 120], [x0, 120]].map(([x, y]) => plainNode(x, y, 'corner')); // prettier-ignore
  const stroke = strokeEntity(id, { layerId, order: `a1${id}`, pen: makePen('fineliner', 4, 0, false, 1) });
  return session.act('Ink', [putRows('strokes', stroke)], { parts: [[id, encodePath({ closed: true, nodes })]] });
}

describe('a contour', () => {
  it('is closed lines, picked together, on a layer right beneath; one step, that undo takes back', async () => {
    const { session, said, draw } = await setUp();
    await box(session, 'a', 40, 100);
    await box(session, 'b', 160, 220);
    expect(await draw(['lines'])).toBe(true);
    expect(session.model.stack().map(({ name }) => name)).toEqual(['Contour', 'Lines']);
    const layer = session.model.stack()[0];
    const lines = [...session.model.strokes.values()].filter((s) => s.layerId === layer.id);
    expect(lines.map(({ colour, group }) => [colour, group])).toEqual([['#112233', lines[0].group], ['#112233', lines[0].group]]); // prettier-ignore
    expect(lines[0].group).toBeTruthy();
    // As wide as it is where it is widest, and a little over what it goes around.
    expect(lines[0].pen.sizePx).toBeCloseTo(6 * 1.5 + 1.5, 6);
    expect(said).toEqual([expect.stringMatching(/^2 lines on Contour now/)]);
    // Ink lands where it did.
    expect(session.model.settings.target).toBe('lines');
    await savedOn(session);
    expect((await inkOnServer()).filter((s) => s.layerId === layer.id)).toHaveLength(2);
    await session.undo();
    expect(session.model.stack().map(({ name }) => name)).toEqual(['Lines']);
  });

  it('of what is on several layers lies beneath the lowest; of nothing there is none, which is said', async () => {
    const { session, said, draw } = await setUp();
    await session.act('Layer', [putRows('layers', inkLayer('more', { order: 'a5' }))]);
    expect(await draw(['lines', 'more'])).toBe(false);
    expect(said).toEqual(['Nothing is inked there that a contour could go around.']);
    await box(session, 'a', 40, 100);
    await box(session, 'b', 90, 220, 'more');
    expect(await draw(['lines', 'more'])).toBe(true);
    expect(session.model.stack().map(({ name }) => name)).toEqual(['Contour', 'Lines', 'more']);
    const [layer] = session.model.stack();
    // Both touch: one line.
    expect([...session.model.strokes.values()].filter((s) => s.layerId === layer.id)).toHaveLength(1);
  });

  it('is drawn once, however often it is asked for meanwhile; what fails is said, and it can be asked for again', async () => {
    const { session, said, contouring, draw } = await setUp();
    await box(session, 'a', 40, 100);
    expect(await Promise.all([draw(['lines']), draw(['lines'])])).toEqual([true, false]);
    expect(session.model.stack()).toHaveLength(2);
    const quiet = jest.spyOn(console, 'error').mockImplementation(() => {});
    const asked = jest.spyOn(session.client, 'colour').mockRejectedValueOnce(new Error('lost'));
    expect(await draw(['lines'])).toBe(false);
    expect(said.at(-1)).toBe('warning: The contour could not be worked out, so none was drawn. Try again.');
    expect([quiet.mock.calls.length, contouring.busy.now()]).toEqual([1, false]);
    quiet.mockRestore();
    asked.mockRestore();
    expect(await draw(['lines'])).toBe(true);
  });

  it('goes around what is work and shown', async () => {
    const { session } = await setUp();
    await session.act('Layers', [putRows('layers', inkLayer('rough', { kind: 'rough' as never, order: 'a4' }), inkLayer('off', { visible: false, order: 'a5' }))]); // prettier-ignore
    expect(shownInks(session.model).map(({ id }) => id)).toEqual(['lines']);
  });
});
