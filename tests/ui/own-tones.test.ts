import { layer } from '../../contract/entities';
import { TONE_PRESETS, toneSetOf, withToneSet } from '../../core/picture/recipe-steps';
import { LEAST_LIFT_SPAN } from '../../core/picture/lift';
import type { Recipe } from '../../core/picture/recipe';
import {
  firstSpecks,
  MOST_BLUR_PX,
  MOST_EDGE_PX,
  MOST_SPECKS_PX,
  MOST_STOPS,
  mostSpecks,
} from '../../core/picture/recipe-bounds';
import { ownTones } from '../../ui/store/own-tones';
import { readTones } from '../../ui/store/tones-file';
import { referenceEntity } from '../measures/sheets';

const RECIPE: Recipe = [
  { id: '1', on: true, kind: 'invert' },
  { id: '2', on: true, kind: 'even', reach: 0.1 },
  { id: '3', on: true, kind: 'exposure', stops: 1 },
  { id: '4', on: true, kind: 'grey' },
  { id: '5', on: true, kind: 'curve', points: [[0, 0], [1, 1]] }, // prettier-ignore
  { id: '6', on: true, kind: 'blur', px: 2 },
  { id: '7', on: true, kind: 'steps', thresholds: [0.2, 0.6], amount: 1 },
  { id: '8', on: true, kind: 'edges', px: 1, sensitivity: 0.5, amount: 0.5 },
  { id: '9', on: true, kind: 'lift', paper: 0.9, line: 0.2, keep: 0.5, specks: 4 },
  { id: '10', on: true, kind: 'tint', colour: '#6fa8dc', amount: 1 },
];

const storage = new Map<string, string>();
beforeAll(() => {
  const localStorage = { getItem: (key: string) => storage.get(key) ?? null, setItem: storage.set.bind(storage) };
  Object.assign(globalThis, { localStorage });
});

describe('the values of a recipe', () => {
  // What controls can set at their ends: see lift-rows, tone-rows and value-rows.
  it('that any control can set are kept as tones, and taken by the server', () => {
    for (const longest of [16, 1000, 4096, 12000, 20000, 65535]) {
      for (const specks of [0, firstSpecks(longest), mostSpecks(longest)]) {
        const recipe: Recipe = [
          { id: '1', on: true, kind: 'exposure', stops: 4 },
          { id: '2', on: true, kind: 'blur', px: 20 },
          { id: '3', on: true, kind: 'edges', px: 20, sensitivity: 1, amount: 0 },
          { id: '4', on: true, kind: 'lift', paper: 1, line: 1 - LEAST_LIFT_SPAN, keep: 1, specks },
        ];
        const made = { id: 'a', name: 'Ends', set: toneSetOf(recipe) };
        expect([longest, readTones(JSON.stringify([made]))]).toEqual([longest, { all: [made], left: 0 }]);
        const { success } = layer.safeParse({ ...referenceEntity(), recipe });
        expect([longest, specks, success]).toEqual([longest, specks, true]);
      }
    }
  });

  it('of kept tones are bounded as the server bounds them', () => {
    const ends = (over: number): Recipe => [
      { id: '1', on: true, kind: 'exposure', stops: MOST_STOPS + over },
      { id: '2', on: true, kind: 'blur', px: MOST_BLUR_PX + over },
      { id: '3', on: true, kind: 'edges', px: MOST_EDGE_PX + over, sensitivity: 1, amount: 0 },
      { id: '4', on: true, kind: 'lift', paper: 1, line: 0, keep: 1, specks: MOST_SPECKS_PX + over },
    ];
    for (const over of [0, 0.01])
      ends(over).forEach((step) => {
        const made = { id: 'a', name: 'Ends', set: toneSetOf([step]) };
        const isKept = readTones(JSON.stringify([made])).left === 0;
        const isTaken = layer.safeParse({ ...referenceEntity(), recipe: [step] }).success;
        expect([step.kind, isKept, isTaken]).toEqual([step.kind, over === 0, over === 0]);
      });
  });
});

describe('the artist’s own tones', () => {
  it('of every kind of step are read as they were kept, and the server takes what they make', () => {
    const kept = [{ id: 'a', name: 'All', set: toneSetOf(RECIPE) }];
    expect(readTones(JSON.stringify(kept))).toEqual({ all: kept, left: 0 });
    const made = withToneSet([], kept[0].set, () => 'n');
    expect(layer.safeParse({ ...referenceEntity({}), recipe: made }).success).toBe(true);
    for (const set of Object.values(TONE_PRESETS))
      expect(readTones(JSON.stringify([{ id: 'p', name: 'Preset', set }])).left).toBe(0);
  });

  it.each([
    ['no text', '{', 1],
    ['no list', '{"a":1}', 1],
    ['a kind of a later version', '[{"id":"a","name":"A","set":[["glow",{}]]}]', 1],
    ['values beyond what is taken', '[{"id":"a","name":"A","set":[["exposure",{"stops":90}]]}]', 1],
    ['thresholds that fall', '[{"id":"a","name":"A","set":[["steps",{"thresholds":[0.6,0.2],"amount":1}]]}]', 1],
    [
      'paper darker than a line',
      '[{"id":"a","name":"A","set":[["lift",{"paper":0.2,"line":0.5,"keep":1,"specks":0}]]}]',
      1,
    ],
    ['a crop', '[{"id":"a","name":"A","set":[["crop",{}]]}]', 1],
  ])('that are %s are left out, and counted', (_, text, left) => {
    expect(readTones(text)).toEqual({ all: [], left });
  });

  it('are kept, renamed, taken away and put back where they were; other tabs’ changes come', () => {
    const set = toneSetOf(RECIPE);
    expect([ownTones.keep('One', set), ownTones.keep('Two', set), ownTones.keep('Three', set)]).toEqual([
      true,
      true,
      true,
    ]);
    const [, two] = ownTones.all.now();
    ownTones.rename(two.id, 'Second');
    ownTones.remove(two.id);
    ownTones.add({ ...two, name: 'Second' }, 1);
    const names = () => ownTones.all.now().map(({ name }) => name);
    expect(names()).toEqual(['One', 'Second', 'Three']);
    expect(readTones(storage.get('hush-line.tones')!).all.map(({ name }) => name)).toEqual(names());
    ownTones.take(JSON.stringify(ownTones.all.now().slice(1)));
    expect(names()).toEqual(['Second', 'Three']);
  });

  it('that cannot be read stay on the device as they were, and are told of', () => {
    const text = JSON.stringify([{ id: 'x', name: 'Of a later version', set: [['glow', {}]] }]);
    ownTones.take(text);
    expect([ownTones.all.now(), ownTones.left.now()]).toEqual([[], 1]);
    ownTones.keep('New', toneSetOf(RECIPE));
    expect(storage.get('hush-line.tones.unread')).toBe(text);
  });
});
