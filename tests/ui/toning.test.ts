import {
  asCropped,
  stepOf,
  stepsBefore,
  TONE_PRESETS,
  toneSetOf,
  withStep,
  withToneSet,
} from '../../core/picture/recipe-steps';
import type { Recipe } from '../../core/picture/recipe';
import { histogramOf, toneAt, tonesOf } from '../../core/picture/tones';
import { Toning } from '../../ui/session/toning';
import { pictureSession } from '../measures/picture-session';

/** Left half at a tone of 0.2, right half at 0.8. */
const TONES = { width: 30, height: 40, data: Uint8Array.from({ length: 1200 }, (_, i) => (i % 30 < 15 ? 51 : 204)) };

function opened(recipe: Recipe | null = null) {
  const asked: Recipe[] = [];
  const placement = { cx: 300, cy: 400, scale: 2, turnDeg: 0, mirrored: false };
  const sheet = pictureSession(
    { placement, ...(recipe ? { recipe } : {}) },
    {
      tones: ({ recipe: of }: { recipe: Recipe }) => {
        asked.push(of);
        return { result: Promise.resolve(TONES), stop: () => undefined };
      },
    },
  );
  const warned: string[] = [];
  const toning = new Toning(sheet.session, (text) => warned.push(text));
  const kinds = (of: Recipe | null | undefined = sheet.picture().recipe) => (of ?? []).map(({ kind }) => kind);
  return { ...sheet, toning, warned, asked, kinds };
}

describe('changing the tones of a picture', () => {
  it('shows what a control does while it moves, and keeps it as one step', async () => {
    const { toning, picture, seen, labels, kinds } = opened();
    for (const stops of [0.5, 1, 1.5]) toning.show(picture(), 'exposure', { stops });
    expect([kinds(seen().recipe), labels, kinds()]).toEqual([['exposure'], [], []]);
    expect(stepOf(seen().recipe!, 'exposure')!.stops).toBe(1.5);
    await toning.keep('Exposure');
    expect([labels, kinds()]).toEqual([['Exposure'], ['exposure']]);
    await toning.keep('Nothing');
    expect(labels).toEqual(['Exposure']);
  });

  it('puts steps where they belong, whatever came first, and takes them away again', async () => {
    const { toning, picture, kinds } = opened();
    await toning.set(picture(), 'blur', { px: 2 }, 'Blur');
    await toning.set(picture(), 'curve', { points: [[0, 0], [1, 1]] }, 'Curve'); // prettier-ignore
    await toning.set(picture(), 'grey', {}, 'Grey');
    await toning.set(picture(), 'exposure', { stops: 1 }, 'Exposure');
    expect(kinds()).toEqual(['exposure', 'grey', 'curve', 'blur']);
    const id = stepOf(picture().recipe!, 'grey')!.id;
    await toning.set(picture(), 'grey', {}, 'Grey');
    expect(stepOf(picture().recipe!, 'grey')!.id).toBe(id);
    await toning.set(picture(), 'grey', undefined, 'In colour');
    expect(kinds()).toEqual(['exposure', 'curve', 'blur']);
  });

  it('makes what is touched shadow, and light, by the tones before the curve', async () => {
    const { toning, picture, asked, labels } = opened();
    await toning.set(picture(), 'grey', {}, 'Grey');
    await toning.measure(picture(), 'curve');
    await toning.measure(picture(), 'curve');
    expect(asked.map((r) => r.map(({ kind }) => kind))).toEqual([['grey']]);
    toning.touch.set('shadow');
    await toning.takeTone(picture(), 100, 400);
    toning.touch.set('light');
    await toning.takeTone(picture(), 500, 400);
    const { points } = stepOf(picture().recipe!, 'curve')!;
    expect(points.map(([x]) => x)).toEqual([expect.closeTo(0.2, 6), expect.closeTo(0.5, 6), expect.closeTo(0.8, 6)]);
    expect(labels).toEqual(['Grey', 'Shadow', 'Light']);
    expect(toning.touch.now()).toBeUndefined();
  });

  it('says when a touch misses the picture, and changes nothing', async () => {
    const { toning, picture, warned, labels } = opened();
    await toning.measure(picture(), 'curve');
    toning.touch.set('light');
    await toning.takeTone(picture(), 5000, 5000);
    expect([warned.length, labels]).toEqual([1, []]);
  });

  it('looks at the picture as it came, but for its crop, only while that is held; given up, all is as it was', () => {
    const crop = { id: 'c', kind: 'crop', on: true, corners: [[0, 0], [1, 0], [1, 1], [0, 1]], width: 300, height: 400 } as const; // prettier-ignore
    const { toning, picture, seen, kinds } = opened([crop, { id: 'g', kind: 'grey', on: true }]);
    toning.lookBefore(true);
    expect(kinds(seen().recipe)).toEqual(['crop']);
    toning.lookBefore(false);
    expect(kinds(seen().recipe)).toEqual(['crop', 'grey']);
    toning.show(picture(), 'blur', { px: 3 });
    toning.drop();
    expect([seen(), kinds()]).toEqual([picture(), ['crop', 'grey']]);
  });

  it('takes a touched paper and a touched line for a lift; one that was there keeps what else it has', async () => {
    const { toning, picture, labels } = opened();
    await toning.measure(picture(), 'lift');
    toning.touch.set('paper');
    await toning.takeTone(picture(), 500, 400);
    const first = stepOf(picture().recipe!, 'lift')!;
    expect(first.paper).toBeCloseTo((204 - 8) / 255, 6);
    await toning.set(picture(), 'lift', { ...first, keep: 0.9, specks: 7 }, 'Keep');
    await toning.measure(picture(), 'lift');
    toning.touch.set('line');
    await toning.takeTone(picture(), 100, 400);
    expect(stepOf(picture().recipe!, 'lift')).toMatchObject({
      line: 51 / 255,
      paper: first.paper,
      keep: 0.9,
      specks: 7,
    });
    expect(labels).toEqual(['Paper', 'Keep', 'Line']);
  });

  it('parts the screen where the picture is compared, never beyond it, until other work begins', () => {
    const { toning, picture, dividers } = opened();
    toning.part(0.5, picture());
    toning.part(7, picture());
    expect(toning.divider.now()).toBe(0.98);
    toning.drop();
    expect(toning.divider.now()).toBeUndefined();
    expect(dividers).toEqual([
      { layerId: 'photo', x: 195 },
      { layerId: 'photo', x: expect.closeTo(382.2, 3) },
      undefined,
    ]);
  });

  it('does not write to a picture that is gone', async () => {
    const { toning, picture, model, labels } = opened();
    toning.show(picture(), 'blur', { px: 3 });
    model.layers.set('photo', { ...picture(), deleted: true });
    await toning.keep('Blur');
    expect(labels).toEqual([]);
  });
});

describe('steps of a recipe', () => {
  const crop = { id: 'c', kind: 'crop', on: true, corners: [[0, 0], [1, 0], [1, 1], [0, 1]], width: 3, height: 4 } as const; // prettier-ignore
  let n = 0;
  const id = () => `s${n++}`;
  it('set by a preset replace all tones, and leave crops', () => {
    const first = withStep([crop], 'blur', { px: 9 }, id());
    const set = withToneSet(first, TONE_PRESETS['pencil-page'], id);
    expect(set.map(({ kind }) => kind)).toEqual(['crop', 'grey', 'curve']);
    expect(withToneSet(set, [], id)).toEqual([crop]);
    expect(withToneSet([], TONE_PRESETS['dark-photo'], id).map(({ kind }) => kind)).toEqual(['exposure', 'curve']);
  });

  it('kept as a set and set again are the same, in their order, without what is switched off; ids are new', () => {
    const recipe = [
      crop,
      { id: 'b', kind: 'blur', on: true, px: 2 },
      { id: 'g', kind: 'grey', on: false },
      { id: 'e', kind: 'exposure', on: true, stops: 1 },
    ] as Recipe;
    const again = withToneSet([crop], toneSetOf(recipe), id);
    expect(again.map(({ id: _, ...step }) => step)).toEqual(
      recipe.filter(({ on }) => on).map(({ id: _, ...step }) => step),
    );
    expect(new Set([...again, ...recipe].map((s) => s.id)).size).toBe(6);
    expect(asCropped(recipe)).toEqual([crop]);
    expect(asCropped(null)).toEqual([]);
  });

  it('that come before a kind are those that stand before it, also where it is not there yet', () => {
    const recipe = withStep(
      withStep(withStep([crop], 'grey', {}, id()), 'blur', { px: 1 }, id()),
      'exposure',
      { stops: 1 },
      id(),
    );
    expect(stepsBefore(recipe, 'curve').map(({ kind }) => kind)).toEqual(['crop', 'exposure', 'grey']);
    expect(stepsBefore(recipe, 'grey').map(({ kind }) => kind)).toEqual(['crop', 'exposure']);
    expect(stepsBefore([], 'blur')).toEqual([]);
  });
});

describe('tones', () => {
  it('are counted, and averaged around a place', () => {
    const counts = histogramOf(TONES);
    expect([counts[51], counts[204], counts.reduce((a, b) => a + b)]).toEqual([600, 600, 1200]);
    expect(toneAt(TONES, 0.2, 0.5)).toBeCloseTo(0.2, 9);
    expect(toneAt(TONES, 0.5, 0.5)).toBeGreaterThan(0.5);
    expect([toneAt(TONES, -0.1, 0.5), toneAt(TONES, 0.5, 1)]).toEqual([undefined, undefined]);
    const white = { width: 2, height: 1, data: new Uint8ClampedArray([255, 255, 255, 255, 0, 0, 0, 0]) };
    expect([...tonesOf(white).data]).toEqual([255, 255]);
  });
});
