import 'fake-indexeddb/auto';
import { nanoid } from 'nanoid';
import { isInkable, type GroupLayer, type InkableLayer, type Layer } from '../../core/sheet/entities';
import { erasingChanges } from '../../core/sheet/erasing';
import { assign, putRows } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { eraserPen } from '../../core/stroke/eraser';
import { ENGINE, makePen } from '../../core/stroke/pen';
import type { SheetSession } from '../../ui/session/session';
import { landing } from '../../ui/session/inking';
import { pickableLayers } from '../../ui/session/pickable';
import { setLocked, setVisible } from '../../ui/session/stack-actions';
import { actsOn } from '../measures/layer-acts';
import { Browser, BYTES, ink, opened, savedOn, serverLayers, serverStrokes, setUpWorld } from '../measures/devices';
import { strokeEntity } from '../measures/sheets';
import { handSamples } from '../measures/strokes';

setUpWorld();

async function start() {
  const { session, told } = await opened(new Browser('tablet'));
  return { session, told, ...actsOn(session) };
}

const named = (session: SheetSession, name: string): Layer => session.model.stack().find((l) => l.name === name)!;
const inkable = (session: SheetSession, name: string): InkableLayer => {
  const found = named(session, name);
  if (!isInkable(found)) throw new Error(`${name} takes no ink`);
  return found;
};
/** Bottom first. */
const names = (session: SheetSession) => session.model.stack().map((l) => l.name);
const linesOn = (session: SheetSession, name: string) => session.model.strokes.countOn([named(session, name).id]);

/** A line on a layer. */
const inkOn = (session: SheetSession, layer: Layer, id: string, pen = makePen('dip', 9, 30, true, 1)) =>
  session.act('Ink line', [putRows('strokes', strokeEntity(id, { layerId: layer.id, pen }))], { parts: [[id, BYTES]] });

describe('layers', () => {
  it('are added above the one that is inked on, colour below the lines; ink lands on them', async () => {
    const { session, acts } = await start();
    await acts.add('ink');
    await acts.add('rough');
    await acts.add('colour');
    expect(names(session)).toEqual(['Colour', 'Lines', 'Lines 2', 'Rough']);
    expect(landing(session).layer?.name).toBe('Colour');
    // In the group of the one that is inked on.
    await acts.group([named(session, 'Colour').id], 'Flats');
    await acts.add('ink');
    expect(names(session)).toEqual(['Colour', 'Lines 3', 'Flats', 'Lines', 'Lines 2', 'Rough']);
    await savedOn(session);
    expect(serverLayers().find((l) => l.name === 'Lines 3')).toMatchObject({ parent: named(session, 'Flats').id });
  });

  it('say what goes when they are deleted, and come back, by the message or by undo', async () => {
    const { session, acts, said } = await start();
    await ink(session, 'a');
    await acts.add('ink');
    const upper = named(session, 'Lines 2');
    await inkOn(session, upper, 'b');
    await inkOn(session, upper, 'c');
    await acts.group(['lines', upper.id]);
    const group = named(session, 'Group');
    expect(acts.goesWith([group.id])).toBe('Group, with 2 layers and 3 lines');
    expect(acts.goesWith(['lines'])).toBe('Lines, with 1 line');
    await acts.delete([group.id]);
    expect([names(session), said[0].text, said[0].wayBack?.label]).toEqual([
      [],
      'Group, with 2 layers and 3 lines deleted.',
      'Bring them back',
    ]);
    said[0].wayBack!.does();
    await savedOn(session);
    expect(names(session)).toEqual(['Lines', 'Lines 2', 'Group']);
    await acts.delete(['lines']);
    await session.undo();
    expect([names(session), linesOn(session, 'Lines')]).toEqual([['Lines', 'Lines 2', 'Group'], 1]);
  });

  it('merge down with their lines, or stay together in a group where that would change the look', async () => {
    const { session, acts, said } = await start();
    await ink(session, 'a');
    await acts.add('ink');
    await inkOn(session, named(session, 'Lines 2'), 'b');
    await acts.mergeDown(named(session, 'Lines 2'));
    expect([names(session), linesOn(session, 'Lines'), session.model.settings.target]).toEqual([['Lines'], 2, 'lines']);
    await session.undo();
    await acts.setBlend(named(session, 'Lines 2'), 'multiply');
    await acts.mergeDown(named(session, 'Lines 2'));
    expect(names(session)).toEqual(['Lines', 'Lines 2', 'Lines and Lines 2']);
    expect(said.map((s) => s.text)).toEqual([
      'One of them mixes with what is below, so merging would change the look. They are together in a group instead.',
    ]);
    await acts.mergeDown(named(session, 'Lines'));
    expect(said[1].text).toBe('refused: Nothing was merged. There is nothing right below to merge with.');
    await savedOn(session);
    expect(serverLayers().find((l) => l.name === 'Lines 2')).toMatchObject({ blend: 'multiply', deleted: false });
  });

  it('are neither merged nor grouped in silence where a shade would lose colour that it is kept inside of', async () => {
    const { session, acts, said } = await start();
    for (let i = 0; i < 3; i++) await acts.add('colour');
    const ids = session.model.stack().map(({ id }) => id);
    const shade = names(session)[2];
    await session.act('Keep inside', [assign('layers', inkable(session, shade), 'inside', true)]);
    await acts.merge(ids.slice(1, 3));
    expect(said.map((s) => s.text)).toEqual([
      `refused: Nothing was merged. Merged or in a group, they would change what ${shade} is kept inside of.`,
    ]);
    await acts.group(ids.slice(1, 3));
    expect(said[1].text).toContain(`${shade} is kept inside of other colour now`);
  });

  it('say so where a group that is taken apart looked otherwise', async () => {
    const { session, acts, said } = await start();
    await acts.group(['lines']);
    await acts.ungroup(named(session, 'Group') as GroupLayer);
    expect([names(session), said]).toEqual([['Lines'], []]);
    await acts.group(['lines']);
    await acts.setBlend(named(session, 'Group'), 'screen');
    await acts.ungroup(named(session, 'Group') as GroupLayer);
    expect(said[0].text).toContain("The group's own mixing (screen) went with it");
  });

  it('are copied with all that is on them: lines, cut parts, what erases them, what fades them', async () => {
    const { session, acts } = await start();
    await ink(session, 'a');
    await ink(session, 'b');
    const bytes = encodeSamples(handSamples((u) => [60, 20 + 40 * u], { ms: 100 }));
    const mark = { id: nanoid(), layerId: 'lines', pen: makePen('fineliner', 14, 0, false, 1), engine: ENGINE };
    const erased = await session.client.erased('lines', bytes, mark.pen);
    await session.act(
      'Erase',
      erasingChanges(erased, mark, (id) => session.model.strokes.get(id), nanoid),
      {
        parts: [[mark.id, bytes]],
      },
    );
    const soft = eraserPen({ kind: 'soft', sizePx: 9, pressed: false, softness: 0.5, strength: 0.5 }, true, 1);
    await inkOn(session, named(session, 'Lines'), 'fade', soft);
    await acts.group(['lines']);
    await acts.duplicate([named(session, 'Group').id]);
    expect(names(session)).toEqual(['Lines', 'Group', 'Lines', 'Group copy']);
    const [first, copy] = session.model.stack().filter((l) => l.name === 'Lines');
    const shapes = (layer: Layer) =>
      [...session.model.strokes.values()]
        .filter((s) => !s.deleted && s.layerId === layer.id)
        .map((s) => JSON.stringify([s.pen, s.stands?.from, s.stands?.to]))
        .sort();
    expect(shapes(first)).toHaveLength(5);
    expect(shapes(copy)).toEqual(shapes(first));
    await savedOn(session);
    // What is done to the copy is not done to what it was made of.
    await acts.recolour([copy.id], '#c2185b');
    const colours = (layer: Layer) =>
      [...session.model.strokes.values()].filter((s) => !s.deleted && s.layerId === layer.id).map((s) => s.colour);
    expect([new Set(colours(first)), colours(copy).filter((c) => c === '#c2185b').length]).toEqual([
      new Set(['#000000']),
      4,
    ]);
    await session.undo();
    await session.undo();
    expect(names(session)).toEqual(['Lines', 'Group']);
  });

  it('that are locked, themselves or by a group, are left as they are, and that is said', async () => {
    const { session, acts, said } = await start();
    await ink(session, 'a');
    await acts.group(['lines']);
    await setLocked(session, [named(session, 'Group')], true);
    expect(landing(session).obstacle).toBe('locked');
    expect(pickableLayers(session)).toEqual([]);
    await acts.delete(['lines']);
    await acts.recolour(['lines'], '#ffffff');
    await acts.setKind(inkable(session, 'Lines'), 'rough');
    await acts.twoPasses(inkable(session, 'Lines'));
    expect(said.map((s) => s.text)).toEqual(
      ['deleted', 'coloured', 'changed', 'changed'].map(
        (what) => `refused: Lines is locked, so nothing was ${what}. Unlock it first.`,
      ),
    );
    expect(session.model.strokes.get('a')!.colour).toBe('#000000');
    await setLocked(session, [named(session, 'Group')], false);
    await setVisible(session, [named(session, 'Group')], false);
    expect([landing(session).obstacle, pickableLayers(session)]).toEqual(['hidden', []]);
  });

  it('begin a second pass in one step, which one undo takes back', async () => {
    const { session, acts } = await start();
    await acts.twoPasses(inkable(session, 'Lines'));
    expect(session.model.stack().map((l) => [l.name, l.kind])).toEqual([
      ['Lines', 'rough'],
      ['Lines 2', 'ink'],
    ]);
    expect(landing(session).layer?.name).toBe('Lines 2');
    await session.undo();
    expect(session.model.stack().map((l) => l.kind)).toEqual(['ink']);
    expect(landing(session).layer?.name).toBe('Lines');
  });

  it('are seen by another device as they are here, folded groups, kinds and all', async () => {
    const { session, acts } = await start();
    await acts.add('colour');
    await acts.group(['lines']);
    await acts.setFolded(named(session, 'Group') as GroupLayer, true);
    await acts.setKind(inkable(session, 'Lines'), 'rough');
    await ink(session, 'a');
    await savedOn(session);
    const other = await opened(new Browser('phone'));
    const known = (s: SheetSession) => s.model.stack().map((l) => [l.name, l.kind, 'folded' in l && l.folded]);
    expect(known(other.session)).toEqual(known(session));
    expect(known(session)).toContainEqual(['Group', 'group', true]);
    expect(await serverStrokes()).toEqual([['a', false]]);
  });

  it('of the longest name can be copied, grouped and merged', async () => {
    const { session, acts } = await start();
    await acts.rename(named(session, 'Lines'), 'x'.repeat(120));
    await acts.duplicate(['lines']);
    await acts.duplicate(['lines']);
    await acts.setBlend(session.model.stack()[1], 'multiply');
    await acts.merge(session.model.stack().map(({ id }) => id));
    await savedOn(session);
    expect(new Set(names(session)).size).toBe(4);
    expect(serverLayers()).toHaveLength(4);
    expect(names(session).every((name) => name.length <= 120)).toBe(true);
  });
});
