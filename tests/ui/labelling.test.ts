import { labelsOf, middleOf } from '../../core/sheet/labels';
import { decodePath } from '../../core/stroke/path';
import { outlineWidth } from '../../core/text/label-pens';
import { LabelFonts } from '../../ui/session/label-fonts';
import { Labelling, type LabelHand } from '../../ui/session/labelling';
import { Picking } from '../../ui/session/picking';
import type { SheetSession } from '../../ui/session/session';
import { assign } from '../../core/sheet/steps';
import { Browser, inkOnServer, openedInTurn, savedOn, serverLayers, setUpWorld } from '../measures/devices';
import { until } from '../measures/until';
import { lettersIn } from '../measures/label-fonts';

setUpWorld();

const HAND: LabelHand = { font: 'hand', align: 'left', spacing: 1.2, colour: '#112233', sizePx: 32 };

async function setUp(
  source = (font: LabelHand['font']) => Promise.resolve(lettersIn(font)),
  browser = new Browser('one'),
) {
  const { session } = await openedInTurn(browser);
  const warned: string[] = [];
  const labelling = new Labelling(session, (text) => warned.push(text), new LabelFonts(source));
  /** Types a new label at a place, and waits until it stands. */
  const write = async (text: string, hand: Partial<LabelHand> = {}, at = [60, 100] as const) => {
    labelling.beginAt(...at);
    labelling.type(text, { ...HAND, ...hand });
    await labelling.keepTyped();
  };
  return { session, warned, labelling, write };
}

const texts = (session: SheetSession) => labelsOf(session.model).map(({ letters }) => letters.label.text);
const names = (session: SheetSession) => session.model.stack().map(({ name }) => name);
const undoLabel = async (session: SheetSession) => (await session.undo(), names(session));

describe('a text that is written', () => {
  it('is no line that Edit picks, which says so where it is touched, and not beside it', async () => {
    const { session, write } = await setUp();
    await write('Ring for the ferry at Tern & Tide');
    const [{ letters }] = labelsOf(session.model);
    const said: string[] = [];
    const picking = new Picking(session, (text) => said.push(text));
    const [x, y] = middleOf(letters);
    await picking.pickAt(x, y, 4, false);
    expect([picking.count, said]).toEqual([
      0,
      [expect.stringMatching(/^“Ring for the ferry at T.*…” is a text\. .* on Colour, under Text/)],
    ]);
    await picking.pickAt(x, y + 300, 4, false);
    expect(said).toHaveLength(1);
  });

  it('is a layer of its own on top of all, named by what it says; one step, that undo takes back', async () => {
    const { session, labelling, write } = await setUp();
    await write('Ring for\nthe ferry');
    expect(names(session)).toEqual(['Lines', 'Ring for the ferry']);
    const [{ layer, letters, outline }] = labelsOf(session.model);
    expect([layer.kind, letters.colour, outline]).toEqual(['text', '#112233', undefined]);
    expect(labelling.chosen.now()).toBe(layer.id);
    // Ink lands where it did.
    expect(session.model.settings.target).toBe('lines');
    await savedOn(session);
    expect(
      serverLayers()
        .map(({ kind }) => kind)
        .sort(),
    ).toEqual(['ink', 'text']);
    expect((await inkOnServer()).map(({ label }) => label?.text)).toEqual(['Ring for\nthe ferry']);
    expect(await undoLabel(session)).toEqual(['Lines']);
    labelling.follow();
    expect([labelling.chosen.now(), labelling.text.now()]).toEqual([undefined, '']);
  });

  it('is typed on: what rests is kept, the layer is named anew, nothing is written twice', async () => {
    const { session, labelling } = await setUp();
    labelling.beginAt(60, 100);
    labelling.type('T', HAND);
    const first = labelling.keepTyped();
    // The first letter is being kept still.
    labelling.type('Tern', HAND);
    await Promise.all([first, labelling.keepTyped()]);
    expect(texts(session)).toEqual(['Tern']);
    labelling.type('Tern & Tide', HAND);
    await until(() => texts(session)[0] === 'Tern & Tide', 'typing rests');
    expect(names(session)).toEqual(['Lines', 'Tern & Tide']);
    await session.undo();
    labelling.follow();
    expect([texts(session), labelling.text.now(), names(session)[1]]).toEqual([['Tern'], 'Tern', 'Tern']);
    // A name that was given stays.
    await session.act('Rename', [assign('layers', labelsOf(session.model)[0].layer as never, 'name' as never, 'Tern sign' as never)]); // prettier-ignore
    labelling.type('Low water', HAND);
    await labelling.keepTyped();
    expect(names(session)).toEqual(['Lines', 'Tern sign']);
  });

  it('says what it said after the sheet was opened anew, and undo finds the letters it had at first', async () => {
    const browser = new Browser('one');
    const { session, labelling, write } = await setUp(undefined, browser);
    await write('Tern');
    const bytes = async (of: SheetSession) => {
      const [copy] = await of.client.copiesOf([labelsOf(of.model)[0].letters.id]);
      return decodePath(copy.bytes).nodes.length;
    };
    const before = await bytes(session);
    await labelling.change({ text: 'Low water' });
    const after = await bytes(session);
    expect(after).not.toBe(before);
    await savedOn(session);
    const again = await setUp(undefined, browser);
    await again.session.ready;
    expect([texts(again.session), await bytes(again.session)]).toEqual([['Low water'], after]);
    await again.session.undo();
    expect([texts(again.session), await bytes(again.session)]).toEqual([['Tern'], before]);
  });

  it('of blanks is none; emptied it stays as it was; control characters are left out', async () => {
    const { session, labelling, write, warned } = await setUp();
    await write('  \n ');
    expect(texts(session)).toEqual([]);
    await write('a\u0007b');
    expect(texts(session)).toEqual(['ab']);
    labelling.type('', HAND);
    await labelling.keepTyped();
    expect([texts(session), warned]).toEqual([['ab'], []]);
    // Something that has no shape at all.
    expect(await labelling.change({ text: '\u00a0' })).toBe(false);
    expect([texts(session), warned.length]).toEqual([['ab'], 1]);
  });

  it('whose font cannot be had is told and not kept; asked for again it is', async () => {
    let isAway = true;
    const source = (font: LabelHand['font']) =>
      isAway ? Promise.reject(new Error('away')) : Promise.resolve(lettersIn(font));
    const { session, labelling, write, warned } = await setUp(source);
    const quiet = jest.spyOn(console, 'error').mockImplementation(() => {});
    await write('Tern');
    expect([texts(session), labelling.text.now(), warned.length]).toEqual([[], 'Tern', 1]);
    isAway = false;
    labelling.type('Tern', HAND);
    await labelling.keepTyped();
    expect(texts(session)).toEqual(['Tern']);
    expect(quiet).toHaveBeenCalledTimes(1);
    quiet.mockRestore();
  });

  it('says which letters its font lacks', async () => {
    const { labelling, write } = await setUp();
    await write('Tern 漢');
    expect(labelling.lacking.now()).toEqual(['漢']);
    // Chosen again it is told again.
    const id = labelling.chosen.now();
    labelling.choose(undefined);
    expect(labelling.lacking.now()).toEqual([]);
    labelling.choose(id);
    await until(() => labelling.lacking.now().length === 1, 'it is told');
    await labelling.change({ text: 'Tern' });
    expect(labelling.lacking.now()).toEqual([]);
  });
});

describe('a text that stands', () => {
  const boxMiddle = (session: SheetSession) => {
    const [{ letters }] = labelsOf(session.model);
    const [x0, , x1] = letters.label.box;
    return letters.matrix[0] * ((x0 + x1) / 2) + letters.matrix[4];
  };

  it('is chosen by a touch, dragged in one step, let go of beside; a touch that trembles moves nothing', async () => {
    const { session, labelling, write } = await setUp();
    await write('Tern');
    labelling.choose(undefined);
    const before = labelsOf(session.model)[0].letters.matrix;
    const press = (...places: [number, number][]) => {
      labelling.down(...places[0]);
      for (const at of places.slice(1)) labelling.drag(...at);
      labelling.up();
    };
    press([70, 100], [71, 101]);
    expect(labelling.chosen.now()).toBe(labelsOf(session.model)[0].layer.id);
    expect(labelsOf(session.model)[0].letters.matrix).toEqual(before);
    press([70, 100], [90, 100], [100, 130]);
    await until(() => labelsOf(session.model)[0].letters.matrix[4] !== before[4], 'it is moved');
    const { matrix } = labelsOf(session.model)[0].letters;
    expect([matrix[4] - before[4], matrix[5] - before[5]]).toEqual([30, 30]);
    press([300, 280]);
    expect([labelling.chosen.now(), labelling.place.now()]).toEqual([undefined, undefined]);
    press([300, 280]);
    expect(labelling.place.now()).toEqual([300, 280]);
    await session.undo();
    expect(labelsOf(session.model)[0].letters.matrix).toEqual(before);
  });

  it('keeps its middle when its lines begin elsewhere', async () => {
    const { session, labelling, write } = await setUp();
    await write('Tern\nand tide');
    const middle = boxMiddle(session);
    await labelling.change({ align: 'right' });
    expect(labelsOf(session.model)[0].letters.label.align).toBe('right');
    expect(boxMiddle(session)).toBeCloseTo(middle, 6);
  });

  it('has an outline beneath its letters, that says, moves and is taken away as they do', async () => {
    const { session, labelling, write } = await setUp();
    await write('Tern');
    await labelling.setOutline({ width: 0.1, colour: '#ffffff' });
    const standing = () => labelsOf(session.model)[0];
    expect([standing().outline!.colour, outlineWidth(standing().outline!.pen)]).toEqual(['#ffffff', expect.closeTo(0.1, 9)]); // prettier-ignore
    expect(standing().outline!.order < standing().letters.order).toBe(true);
    await labelling.setOutline(undefined);
    expect(standing().outline!.deleted).toBe(true);
    // What is not seen goes along.
    await labelling.change({ text: 'Low water' });
    labelling.show({ dx: 20, factor: 1.5 });
    await labelling.keepShown();
    await labelling.setOutline({ width: 0.05, colour: '#a03b22' });
    const { letters, outline } = standing();
    expect([outline!.deleted, outline!.colour, outline!.label.text]).toEqual([false, '#a03b22', 'Low water']);
    expect(outline!.matrix).toEqual(letters.matrix);
    const [a, b] = await session.client.copiesOf([letters.id, outline!.id]);
    expect([...a.bytes]).toEqual([...b.bytes]);
    await savedOn(session);
    await session.undo();
    expect(standing().outline!.deleted).toBe(true);
  });

  it('an outline of another device that says something else is set right when it is changed', async () => {
    const { session, labelling, write } = await setUp();
    await write('Tern', { outline: { width: 0.1, colour: '#ffffff' } });
    const { outline } = labelsOf(session.model)[0];
    await session.act('Other', [assign('strokes', outline as never, 'label' as never, { ...outline!.label, text: 'Old' } as never)]); // prettier-ignore
    await labelling.setOutline({ width: 0.2, colour: '#ffffff' });
    expect(labelsOf(session.model)[0].outline!.label).toMatchObject({ text: 'Tern', isOutline: true });
  });

  it('comes to rest level where it is nearly so', async () => {
    const { session, labelling, write } = await setUp();
    await write('Tern');
    labelling.showOn({ turnDeg: 40 });
    labelling.showOn({ turnDeg: 49 });
    await labelling.keepTurned();
    const [a, b] = labelsOf(session.model)[0].letters.matrix;
    expect([a, b]).toEqual([expect.closeTo(0, 9), expect.closeTo(32 / 512, 9)]);
  });

  it('locked changes nothing, which is said', async () => {
    const { session, labelling, write, warned } = await setUp();
    await write('Tern');
    const { layer } = labelsOf(session.model)[0];
    await session.act('Lock', [assign('layers', layer as never, 'locked' as never, true as never)]);
    await labelling.recolour('#ff0000', layer.id);
    expect(await labelling.change({ text: 'Low water' })).toBe(false);
    labelling.show({ dx: 10 });
    await labelling.keepShown();
    expect([texts(session), labelsOf(session.model)[0].letters.colour]).toEqual([['Tern'], '#112233']);
    expect(warned[0]).toBe('Tern is locked, so nothing was changed. Unlock it in the stack.');
    // Locked in the middle of a drag it lies where it did, and is shown there.
    await session.act('Unlock', [assign('layers', labelsOf(session.model)[0].layer as never, 'locked' as never, false as never)]); // prettier-ignore
    const before = labelsOf(session.model)[0].letters.matrix;
    labelling.show({ dx: 10 });
    await session.act('Lock', [assign('layers', labelsOf(session.model)[0].layer as never, 'locked' as never, true as never)]); // prettier-ignore
    const previewed = jest.spyOn(session, 'preview');
    await labelling.keepShown();
    expect(labelsOf(session.model)[0].letters.matrix).toEqual(before);
    expect(previewed.mock.lastCall![0][0].after).toEqual([before]);
    expect(labelling.shown.now()).toBeUndefined();
  });

  it('becomes lines, a letter each and its outline beneath, on an ink layer in its place; undo brings the text back', async () => {
    const { session, labelling, write } = await setUp();
    await write('Ti g', { outline: { width: 0.1, colour: '#ffffff' } });
    await labelling.toLines();
    expect(labelsOf(session.model)).toEqual([]);
    expect(session.model.stack().map(({ kind, name }) => [kind, name])).toEqual([['ink', 'Lines'], ['ink', 'Ti g']]); // prettier-ignore
    const id = session.model.stack()[1].id;
    const lines = [...session.model.strokes.values()].filter((s) => s.layerId === id);
    expect(lines.map(({ colour, label }) => [colour, label])).toEqual([...Array(3).fill(['#ffffff', undefined]), ...Array(3).fill(['#112233', undefined])]); // prettier-ignore
    expect(new Set(lines.map(({ group }) => group)).size).toBe(1);
    await savedOn(session);
    await session.undo();
    expect(texts(session)).toEqual(['Ti g']);
  });
});

it('two devices that write into one text end with one: the later word, and its letters', async () => {
  const one = await setUp();
  await one.write('Tern');
  await savedOn(one.session);
  const two = await setUp(undefined, new Browser('two'));
  await two.session.ready;
  two.labelling.choose(labelsOf(two.session.model)[0].layer.id);
  await two.labelling.change({ text: 'Tide' });
  await savedOn(two.session);
  await one.labelling.change({ text: 'Heron' });
  await savedOn(one.session);
  await until(() => texts(two.session)[0] === 'Heron' && texts(one.session)[0] === 'Heron', 'both say the same');
  const bytes = async ({ session }: typeof one) => [...(await session.client.copiesOf([labelsOf(session.model)[0].letters.id]))[0].bytes]; // prettier-ignore
  expect(await bytes(one)).toEqual(await bytes(two));
});
