import { settingsOf } from '../../core/stroke/pen';
import { followPens } from '../../ui/store/follow-pens';
import { MOST_PENS, PENS_KEY, type KeptPen } from '../../ui/store/kept-pen';
import { makeStore } from '../../ui/store/store';
import {
  isChanged,
  ownSettings,
  penKey,
  penSlice,
  settingsInHand,
  steadyOf,
  type PenState,
} from '../../ui/store/pen-slice';
import { pensFile, readKeptPens, readPensFile } from '../../ui/store/pens-file';

const acts = penSlice.actions;
const after = (state: PenState, ...all: Parameters<typeof penSlice.reducer>[1][]) =>
  all.reduce((s, act) => penSlice.reducer(s, act), state);
const fresh = penSlice.getInitialState();
const ids = () => {
  let n = 0;
  return () => `new${n++}`;
};

/** A brush that is paler and steadier, kept as "Feathers". */
const kept = () =>
  after(fresh, acts.take('brush'), acts.setPen({ opacity: 0.4 }), acts.setSteady(80), acts.keepPen('Feathers'));

describe("the artist's own pens", () => {
  it('are kept as they are set; the one that they were made of is as it came', () => {
    const state = kept();
    expect(state.pens).toMatchObject([{ name: 'Feathers', kind: 'brush', handSteady: 80, steady: 35 }]);
    expect(state.keptId).toBe(state.pens[0].id);
    expect(settingsInHand(state)).toEqual({ ...settingsOf('brush'), opacity: 0.4 });
    expect([steadyOf(state), isChanged(state)]).toEqual([80, false]);
    const brush = after(state, acts.take('brush'));
    expect([settingsInHand(brush), steadyOf(brush), isChanged(brush)]).toEqual([settingsOf('brush'), 55, false]);
    expect(settingsInHand(after(brush, acts.takeKept(state.pens[0].id))).opacity).toBe(0.4);
  });

  it('are changed on trial, until the changes are kept, or are not', () => {
    const tried = after(kept(), acts.setPen({ opacity: 0.9 }), acts.setSteady(10));
    expect([settingsInHand(tried).opacity, steadyOf(tried), isChanged(tried)]).toEqual([0.9, 10, true]);
    const back = after(tried, acts.resetPen());
    expect([settingsInHand(back).opacity, steadyOf(back), isChanged(back)]).toEqual([0.4, 80, false]);
    const stays = after(tried, acts.keepChanges());
    expect(stays.pens).toMatchObject([{ handSteady: 10, settings: { opacity: 0.9 } }]);
    expect(isChanged(stays)).toBe(false);
  });

  it('are renamed, moved within their row and no further, deleted and brought back to their place', () => {
    const two = after(kept(), acts.keepPen('Reeds'));
    const [feathers, reeds] = two.pens;
    const names = (s: PenState) => s.pens.map((p) => p.name);
    expect(names(after(two, acts.movePen({ id: reeds.id, by: -1 })))).toEqual(['Reeds', 'Feathers']);
    expect(names(after(two, acts.movePen({ id: feathers.id, by: -1 })))).toEqual(['Feathers', 'Reeds']);
    expect(names(after(two, acts.renamePen({ id: reeds.id, name: 'Rushes' })))).toEqual(['Feathers', 'Rushes']);
    const gone = after(two, acts.takeKept(feathers.id), acts.deletePen(feathers.id));
    // What is in the hand then is the pen that it was made of.
    expect([names(gone), penKey(gone)]).toEqual([['Reeds'], 'brush']);
    expect(names(after(gone, acts.addPens({ pens: [feathers], at: 0 })))).toEqual(['Feathers', 'Reeds']);
    expect(names(after(two, acts.addPens({ pens: [feathers] })))).toEqual(['Feathers', 'Reeds']);
  });

  it('are at most so many', () => {
    const pen = kept().pens[0];
    const many = Array.from({ length: MOST_PENS + 5 }, (_, i): KeptPen => ({ ...pen, id: `p${i}` }));
    const full = after(fresh, acts.addPens({ pens: many }));
    expect(full.pens).toHaveLength(MOST_PENS);
    expect(after(full, acts.keepPen('One more')).pens).toHaveLength(MOST_PENS);
  });

  it('another tab has deleted leave the hand; one that is not there yet is as its kind comes', () => {
    const state = kept();
    expect(after(state, acts.pensChanged([])).keptId).toBe(null);
    const early = { ...state, pens: [] };
    expect(ownSettings(early, penKey(early))).toEqual(settingsOf('brush'));
  });
});

describe('a file of pens', () => {
  it('brings back what was sent, with ids of its own', () => {
    const { pens } = after(kept(), acts.keepPen('N'.repeat(120)));
    const read = readPensFile(pensFile(pens), ids())!;
    expect(read).toEqual({ pens: pens.map((pen, i) => ({ ...pen, id: `new${i}` })), left: 0 });
    expect(readKeptPens(JSON.stringify(pens))).toEqual({ pens, left: 0 });
  });

  it('leaves out what cannot be read, and fills in what a pen of an older version did not have', () => {
    const [pen] = kept().pens;
    const { soft: _, tapersBy: __, ...older } = pen.settings;
    const wrong = [
      { ...pen, kind: 'quill' },
      { ...pen, name: '' },
      { ...pen, name: 'a\u0000b' },
      { ...pen, steady: 101 },
      { ...pen, settings: { ...pen.settings, opacity: 0 } },
      { ...pen, settings: { ...pen.settings, flat: 1e-9 } },
      { ...pen, settings: { ...pen.settings, press: { light: 0.5, firm: 0.5, middle: 0.5 } } },
      null,
      7,
    ];
    const text = JSON.stringify({
      format: 'pens of Hush Line',
      version: 1,
      pens: [...wrong, { ...pen, settings: older, more: 1 }],
    });
    const read = readPensFile(text, ids())!;
    expect(read.left).toBe(wrong.length);
    expect(read.pens).toEqual([{ ...pen, id: `new${wrong.length}` }]);
  });

  it.each(['', '{', '[]', '{"pens": 3}', '{"format": "pens of Hush Line", "version": 2, "pens": []}', 'null'])(
    'is none: %s',
    (text) => expect(readPensFile(text, ids())).toBeUndefined(),
  );

  it('of the device holds nothing where it was spoilt, and each id once', () => {
    const [pen] = kept().pens;
    expect([readKeptPens(null), readKeptPens('{'), readKeptPens('{}')].map((r) => [r.pens, r.left])).toEqual([
      [[], 0],
      [[], 1],
      [[], 1],
    ]);
    expect(readKeptPens(JSON.stringify([pen, pen, { ...pen, id: 4 }]))).toEqual({ pens: [pen], left: 1 });
  });

  it('that cannot be read stay on the device when the others are written anew, and that is said once', () => {
    const storage = new Map<string, string>();
    const world = globalThis as unknown as Record<string, unknown>;
    world.localStorage = {
      getItem: (key: string) => storage.get(key) ?? null,
      setItem: (key: string, text: string) => storage.set(key, text),
    };
    world.window = { addEventListener: () => {}, removeEventListener: () => {} };
    try {
      const [pen] = kept().pens;
      const text = JSON.stringify([pen, { ...pen, id: 'later', kind: 'quill' }]);
      storage.set(PENS_KEY, text);
      for (let visit = 0; visit < 2; visit++) {
        const store = makeStore();
        followPens(store);
        expect(store.getState().pen.pens).toEqual([pen]);
        expect(store.getState().notices.length).toBe(visit === 0 ? 1 : 0);
      }
      expect(storage.get(`${PENS_KEY}.unread`)).toBe(text);
    } finally {
      delete world.localStorage;
      delete world.window;
    }
  });
});
