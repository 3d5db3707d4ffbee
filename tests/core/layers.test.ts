import { Resvg } from '@resvg/resvg-js';
import * as fc from 'fast-check';
import { layer as layerSchema, FIELD_SCHEMAS } from '../../contract/entities';
import { sheetPng } from '../../core/formats/sheet-png';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { FIRST_LAYER, type GroupLayer, type InkableLayer, type Layer } from '../../core/sheet/entities';
import { finish } from '../../core/sheet/ink-work';
import {
  deletion,
  groupChanges,
  layerCopies,
  layersIn,
  moveChanges,
  putAt,
  recolourChanges,
  twoPassChanges,
  ungroupChanges,
} from '../../core/sheet/layer-changes';
import { groupsOf, isLocked, isVisible } from '../../core/sheet/layer-tree';
import { mergeOf } from '../../core/sheet/merging';
import { sentLayers } from '../../core/sheet/sent-layers';
import type { SheetModel } from '../../core/sheet/sheet-model';
import { dropSpot, nextSpot, stackRows } from '../../core/sheet/stack-rows';
import { inverseOf } from '../../core/sheet/history';
import { putRows, StepRefused, type Change } from '../../core/sheet/steps';
import { eraserPen } from '../../core/stroke/eraser';
import { makePen } from '../../core/stroke/pen';
import { pngValues } from '../measures/pictures';
import {
  groupLayer as group,
  inkLayer as layer,
  modelOf,
  referenceEntity,
  strokeEntity,
  TestSheet,
} from '../measures/sheets';
import { handSamples } from '../measures/strokes';

/** The stack in words, bottom first: `a (b c)g d`. */
const said = (model: SheetModel): string => {
  const of = (branches: ReturnType<SheetModel['tree']>): string =>
    branches.map(({ layer: l, children }) => (l.kind === 'group' ? `(${of(children)})${l.id}` : l.id)).join(' ');
  return of(model.tree());
};

/** a, then a group g of b and c, then d. */
const grouped = () =>
  modelOf(layer('a'), layer('b', { parent: 'g' }), layer('c', { parent: 'g' }), group('g'), layer('d'));

describe('the tree of layers', () => {
  it('holds what lies in a group right below it, and tells what is hidden and locked by a group', () => {
    const model = grouped();
    expect(said(model)).toBe('a (b c)g d');
    expect(model.stack().map(({ id }) => id)).toEqual(['a', 'b', 'c', 'g', 'd']);
    const away = modelOf(
      layer('b', { parent: 'g' }),
      group('g', { parent: 'h' }),
      group('h', { visible: false, locked: true }),
    );
    const b = away.layers.get('b')!;
    expect([isVisible(b, away.layers), isLocked(b, away.layers)]).toEqual([false, true]);
    expect(groupsOf(b, away.layers).map(({ id }) => id)).toEqual(['g', 'h']);
    expect(sentLayers(away)).toEqual([]);
  });

  it('loses nothing: what names a group that is gone, no group, or itself lies in none', () => {
    const strange = modelOf(
      layer('a', { parent: 'gone' }),
      layer('b', { parent: 'a' }),
      group('g', { parent: 'h' }),
      group('h', { parent: 'g' }),
      layer('c', { parent: 'g' }),
      group('self', { parent: 'self' }),
      layer('d', { parent: 'dead' }),
      group('dead', { deleted: true }),
    );
    expect(
      strange
        .stack()
        .map(({ id }) => id)
        .sort(),
    ).toEqual(['a', 'b', 'c', 'd', 'g', 'h', 'self']);
  });

  it('never lets a group lie in itself, nor anything in what is no group', () => {
    const model = modelOf(group('g', { parent: 'h' }), group('h'), layer('a'));
    const into = (id: string, parent: string) => () =>
      model.apply([{ op: 'set', table: 'layers', field: 'parent', ids: [id], before: [null], after: [parent] }]);
    expect(into('h', 'g')).toThrow(/in itself/);
    expect(into('h', 'h')).toThrow(/in itself/);
    expect(into('h', 'a')).toThrow(/no group/);
    expect(into('h', 'nowhere')).toThrow(StepRefused);
    expect(() => model.apply([putRows('layers', group('n', { parent: 'n' }))])).toThrow(/in itself/);
    into('a', 'g')();
    expect(said(model)).toBe('((a)g)h');
    expect(() => model.apply([putRows('strokes', strokeEntity('s', { layerId: 'g' }))])).toThrow(/takes no ink/);
  });

  it('changes kinds that take ink into each other, and no others', () => {
    const model = modelOf(layer('a'), group('g'), referenceEntity());
    const make = (id: string, kind: string) => () =>
      model.apply([{ op: 'set', table: 'layers', field: 'kind', ids: [id], before: ['ink'], after: [kind] }]);
    for (const kind of ['rough', 'colour', 'ink']) {
      make('a', kind)();
      expect(model.layers.get('a')!.kind).toBe(kind);
    }
    for (const [id, kind] of [
      ['a', 'group'],
      ['a', 'reference'],
      ['g', 'ink'],
      ['photo', 'ink'],
    ])
      expect(make(id, kind)).toThrow(/cannot become/);
    expect(FIELD_SCHEMAS.layers.kind.safeParse('group').success).toBe(false);
    expect(layerSchema.safeParse(group('g', { folded: true, blend: 'screen', parent: 'h' })).success).toBe(true);
    expect(layerSchema.safeParse({ ...referenceEntity(), blend: 'screen' }).success).toBe(false);
    expect(layerSchema.safeParse({ ...group('g'), blend: 'burn' }).success).toBe(false);
  });
});

describe('acts on layers', () => {
  it('move one or several, into groups and out of them, and a group with all it holds', () => {
    const model = grouped();
    const move = (ids: string[], parent: string | null, index: number) => {
      model.apply(moveChanges(model, ids, { parent, index }));
      return said(model);
    };
    expect(move(['a'], 'g', 1)).toBe('(b a c)g d');
    expect(move(['b', 'd'], null, 0)).toBe('b d (a c)g');
    expect(move(['g'], null, 1)).toBe('b (a c)g d');
    expect(move(['c'], null, 99)).toBe('b (a)g d c');
    // A group and what it holds are one; in itself it cannot lie.
    expect(move(['g', 'a'], null, 0)).toBe('(a)g b d c');
    expect(moveChanges(model, ['g'], { parent: 'g', index: 0 })).toEqual([]);
    expect(moveChanges(model, ['b'], { parent: null, index: 1 })).toEqual([]);
  });

  it('group, at the place of the topmost, and take apart again as it was', () => {
    const model = grouped();
    model.apply(groupChanges(model, ['a', 'c'], group('n')));
    expect(said(model)).toBe('(b (a c)n)g d');
    model.apply(ungroupChanges(model, model.layers.get('n') as GroupLayer));
    expect(said(model)).toBe('(b a c)g d');
    model.apply(ungroupChanges(model, model.layers.get('g') as GroupLayer));
    expect(said(model)).toBe('b a c d');
    const empty = modelOf(group('g'), layer('a'));
    empty.apply(ungroupChanges(empty, empty.layers.get('g') as GroupLayer));
    expect(said(empty)).toBe('a');
  });

  it('delete what a group holds with it, and aim ink at the topmost that is left', () => {
    const model = grouped();
    model.settings.target = 'c';
    const { changes, gone } = deletion(model, ['g']);
    expect(gone.map(({ id }) => id)).toEqual(['b', 'c', 'g']);
    model.apply(changes);
    expect([said(model), model.settings.target]).toEqual(['a d', 'd']);
    model.apply(deletion(model, ['a', 'd']).changes);
    expect([said(model), model.settings.target]).toEqual(['', null]);
  });

  it('two passes: a hushed rough, and a fresh ink layer above it in the same group', () => {
    const model = grouped();
    model.settings.hush = 0.9;
    model.settings.scaffoldingShown = false;
    model.apply(twoPassChanges(model, model.layers.get('b') as InkableLayer, { ...FIRST_LAYER, id: 'fresh' }));
    expect(said(model)).toBe('a (b fresh c)g d');
    expect(model.layers.get('b')!.kind).toBe('rough');
    expect(model.settings).toMatchObject({ target: 'fresh', hush: 0.45, scaffoldingShown: true });
    // One that is quiet already stays so.
    model.settings.hush = 0.2;
    model.apply(twoPassChanges(model, model.layers.get('fresh') as InkableLayer, { ...FIRST_LAYER, id: 'third' }));
    expect(model.settings.hush).toBe(0.2);
  });

  it('copy layers with their groups, above the topmost of them', () => {
    const model = grouped();
    let n = 0;
    const { changes, copies } = layerCopies(
      model,
      ['a', 'g', 'b'],
      () => `n${n++}`,
      (l) => `${l.name} copy`,
    );
    model.apply(changes);
    const named = (id: string) => model.layers.get(copies.get(id)!)!.name;
    expect(said(model)).toBe(`a (b c)g ${copies.get('a')} (${copies.get('b')} ${copies.get('c')})${copies.get('g')} d`);
    expect(['a', 'b', 'g'].map(named)).toEqual(['a copy', 'b', 'g copy']);
  });

  it('keep their places where two devices gave the same one', () => {
    const model = modelOf(layer('a'), layer('b'), layer('c'));
    for (const id of ['a', 'b', 'c']) model.layers.set(id, { ...model.layers.get(id)!, order: 'a1' });
    model.apply(moveChanges(model, ['c'], { parent: null, index: 1 }));
    expect(said(model)).toBe('a c b');
    model.apply(putAt(model, [layer('n')], { parent: null, index: 2 }));
    expect(said(model)).toBe('a c n b');
  });

  it('whatever is moved, grouped and taken apart: every layer stays, once, and an undo is what was', () => {
    const act = fc.record({
      what: fc.constantFrom('move', 'group', 'ungroup'),
      picks: fc.uniqueArray(fc.nat(7), { minLength: 1, maxLength: 3 }),
      parent: fc.option(fc.nat(7)),
      index: fc.nat(6),
    });
    fc.assert(
      fc.property(fc.array(act, { maxLength: 14 }), (acts) => {
        const model = modelOf(...['a', 'b', 'c', 'd'].map((id) => layer(id)));
        let n = 0;
        const changesOf = ({ what, picks, parent, index }: (typeof acts)[number]): Change[] => {
          const stack = model.stack();
          const ids = picks.flatMap((i) => stack[i % stack.length]?.id ?? []);
          const groups = stack.filter((l) => l.kind === 'group');
          const into = parent === null ? undefined : groups[parent % Math.max(1, groups.length)];
          if (what === 'move') return moveChanges(model, ids, { parent: into?.id ?? null, index });
          if (what === 'group') return groupChanges(model, ids, group(`g${n++}`));
          return groups.length ? ungroupChanges(model, groups[index % groups.length]) : [];
        };
        for (const one of acts) {
          const before = said(model);
          let changes = changesOf(one);
          for (const expected of [undefined, before, undefined]) {
            model.apply(changes);
            if (expected !== undefined) expect(said(model)).toBe(expected);
            changes = inverseOf({ id: 's', device: 'd', undoable: true, label: 'Act', changes }, model.read).changes;
          }
          const leaves = model.stack().filter((l) => l.kind !== 'group');
          expect(leaves.map(({ id }) => id).sort()).toEqual(['a', 'b', 'c', 'd']);
        }
      }),
      { numRuns: 200 },
    );
  });
});

describe('the rows of the stack', () => {
  const rowsOf = (model: SheetModel) => stackRows(model.tree());
  const walk = (model: SheetModel, id: string, side: 'up' | 'down'): string[] => {
    const seen = [said(model)];
    for (;;) {
      const rows = rowsOf(model);
      const spot = nextSpot(
        rows,
        rows.findIndex((row) => row.layer.id === id),
        side,
      );
      if (!spot) return seen;
      model.apply(moveChanges(model, [id], spot));
      seen.push(said(model));
    }
  };

  it('list what open groups hold, further in; folded ones hide it', () => {
    const rows = rowsOf(grouped()).map((row) => `${row.depth}${row.layer.id}`);
    expect(rows).toEqual(['0d', '0g', '1c', '1b', '0a']);
    const folded = modelOf(layer('b', { parent: 'g' }), group('g', { folded: true }));
    expect(rowsOf(folded).map((row) => row.layer.id)).toEqual(['g']);
  });

  it('are gone through one by one with the keys: into open groups and out of them', () => {
    expect(walk(grouped(), 'a', 'up')).toEqual([
      'a (b c)g d',
      '(a b c)g d',
      '(b a c)g d',
      '(b c a)g d',
      '(b c)g a d',
      '(b c)g d a',
    ]);
    expect(walk(grouped(), 'd', 'down')).toEqual([
      'a (b c)g d',
      'a (b c d)g',
      'a (b d c)g',
      'a (d b c)g',
      'a d (b c)g',
      'd a (b c)g',
    ]);
    const folded = modelOf(layer('a'), layer('b', { parent: 'g' }), group('g', { folded: true }));
    expect(walk(folded, 'a', 'up')).toEqual(['a (b)g', '(b)g a']);
    expect(walk(modelOf(group('g'), layer('a')), 'a', 'down')).toEqual(['()g a', '(a)g', 'a ()g']);
  });

  it('are dropped between others, as deep as their side stands', () => {
    const drop = (id: string, by: number, deeper: number) => {
      const model = grouped();
      const rows = rowsOf(model);
      const { spot } = dropSpot(
        rows,
        rows.findIndex((row) => row.layer.id === id),
        by,
        deeper,
      );
      model.apply(moveChanges(model, [id], spot));
      return said(model);
    };
    expect(drop('d', 3, 1)).toBe('a (d b c)g');
    expect(drop('d', 3, 0)).toBe('a d (b c)g');
    expect(drop('d', 1, 0)).toBe('a (b c d)g');
    expect(drop('d', 99, 5)).toBe('d a (b c)g');
    expect(drop('a', -99, 0)).toBe('(b c)g d a');
    // A group with all it holds, past the others.
    expect(drop('g', 1, 0)).toBe('(b c)g a d');
    expect(drop('g', -1, 3)).toBe('a d (b c)g');
    expect(drop('c', 0, -1)).toBe('a (b c)g d');
    expect(drop('b', 0, -1)).toBe('a b (c)g d');
  });

  it('go along with others that are picked', () => {
    const model = grouped();
    const rows = rowsOf(model);
    const moving = new Set(['d', 'c']);
    const { spot } = dropSpot(rows, 0, 4, 0, moving);
    model.apply(moveChanges(model, [...moving], spot));
    expect(said(model)).toBe('c d a (b)g');
  });
});

describe('merging', () => {
  const SIZE = 200;
  const PAPER = { widthPx: SIZE, heightPx: SIZE, ppi: 300 };
  const wave = (y: number) => handSamples((u) => [20 + 160 * u, y + 30 * Math.sin(7 * u)], { ms: 400 });

  /** Two or three layers with crossing lines of other colours. */
  function inked(...more: Partial<Layer>[]): TestSheet {
    const sheet = new TestSheet();
    sheet.model.layers.clear();
    const rows = more.map((one, i) => layer(`l${i}`, { order: `a${i}`, ...one }));
    const groups = more.some(({ parent }) => parent)
      ? [group('g', { order: 'a0', opacity: 0.6, name: 'Feet & legs' })]
      : [];
    sheet.put([putRows('layers', ...rows, ...groups)], []);
    rows.forEach(({ id }, i) => {
      sheet.layerId = id;
      for (let k = 0; k < 3; k++) {
        sheet.ink1(
          wave(60 + 30 * k + 7 * i),
          makePen('brush', 16, 30, true, 1),
          ['#c2185b', '#0077c8', '#2f5d3a'][i % 3],
        );
      }
    });
    return sheet;
  }
  const picture = ({ model, ink }: TestSheet) =>
    pngValues(finish(sheetPng(model, ink, PAPER, { level: 0, onPaper: true })));
  const farthest = (a: Uint8Array, b: Uint8Array) => a.reduce((worst, v, i) => Math.max(worst, Math.abs(v - b[i])), 0);

  it('puts the lines on the lowest, in their order, and changes nothing that is seen', () => {
    const sheet = inked({}, {}, {});
    for (const id of ['l0', 'l1', 'l2']) {
      sheet.layerId = id;
      const across = handSamples((u) => [100 + 10 * u, 30 + 140 * u], { ms: 300 });
      expect(sheet.erase(across, 14, false)).toHaveLength(3);
    }
    const before = picture(sheet);
    sheet.model.settings.target = 'l2';
    const merge = mergeOf(sheet.model, ['l2', 'l0', 'l1']);
    if (merge.kind !== 'merged') throw new Error(merge.because);
    sheet.put(merge.changes, []);
    expect([said(sheet.model), sheet.model.settings.target]).toEqual(['l0', 'l0']);
    expect(sheet.ink.ofLayer('l0').map((r) => r.stroke.colour)).toEqual(
      ['#c2185b', '#0077c8', '#2f5d3a'].flatMap((c) => [c, c, c]),
    );
    expect(farthest(picture(sheet), before)).toBeLessThanOrEqual(2);
    sheet.undo();
    expect(said(sheet.model)).toBe('l0 l1 l2');
    expect(farthest(picture(sheet), before)).toBe(0);
  });

  it('shows where an erasure is taken back after its line went to another layer', () => {
    const sheet = new TestSheet();
    const line = sheet.ink1(wave(80));
    sheet.erase(
      handSamples((u) => [100, 60 + 10 * u], { ms: 200 }),
      6,
      false,
    );
    sheet.put([putRows('layers', layer('other'))], []);
    sheet.set(line, 'layerId', 'other');
    const [erasure] = sheet.model.erasures.keys();
    const writes = sheet.model.apply([
      { op: 'set', table: 'erasures', field: 'deleted', ids: [erasure], before: [false], after: [true] },
    ]);
    expect(sheet.ink.follow(writes, new Map()).map(({ layerId }) => layerId)).toContain('other');
  });

  it.each<[string, Partial<Layer>, string]>([
    ['opacity', { opacity: 0.5 }, 'opacity'],
    ['blend', { blend: 'multiply' } as Partial<Layer>, 'blend'],
    ['kind', { kind: 'colour' } as Partial<Layer>, 'colour'],
  ])('keeps layers apart whose %s would change the look, in a group that does not', (_name, upper, because) => {
    const sheet = inked({}, upper);
    expect(mergeOf(sheet.model, ['l0', 'l1'])).toEqual({ kind: 'grouped', because });
    const before = picture(sheet);
    sheet.put(groupChanges(sheet.model, ['l0', 'l1'], group('g')), []);
    expect(farthest(picture(sheet), before)).toBe(0);
    // The lower one counts as well.
    expect(mergeOf(inked(upper, {}).model, ['l0', 'l1'])).toEqual({ kind: 'grouped', because });
  });

  it('keeps a layer apart on which a soft eraser was used: on the lower one it would take away, too', () => {
    const sheet = inked({}, {});
    const soft = eraserPen({ kind: 'soft', sizePx: 30, pressed: false, softness: 0.5, strength: 0.6 }, true, 1);
    const fade = sheet.ink1(wave(80), soft);
    expect(mergeOf(sheet.model, ['l0', 'l1'])).toEqual({ kind: 'grouped', because: 'erased' });
    // On the lowest it lies below what comes.
    sheet.set(fade, 'layerId', 'l0');
    expect(mergeOf(sheet.model, ['l0', 'l1']).kind).toBe('merged');
  });

  it.each<[string, Layer[], string[], string]>([
    ['nothing below', [layer('a')], ['a'], 'single'],
    ['not neighbours', [layer('a'), layer('b'), layer('c')], ['a', 'c'], 'apart'],
    ['other groups', [layer('a'), layer('b', { parent: 'g' }), group('g')], ['a', 'b'], 'apart'],
    ['a picture', [referenceEntity(), layer('b')], ['photo', 'b'], 'picture'],
    ['a group', [layer('a'), group('g')], ['a', 'g'], 'group'],
    ['a rough and an ink', [layer('a', { kind: 'rough' }), layer('b')], ['a', 'b'], 'kinds'],
    ['a locked one', [layer('a', { locked: true }), layer('b')], ['a', 'b'], 'locked'],
    ['a hidden one', [layer('a'), layer('b', { visible: false })], ['a', 'b'], 'hidden'],
  ])('refuses %s', (_name, layers, ids, because) => {
    expect(mergeOf(modelOf(...layers), ids)).toMatchObject({ kind: 'refused', because });
  });

  it('changes nothing that is seen in stacks of lines, colour, shades and groups, or is refused', () => {
    const done = { merged: 0, grouped: 0, refused: 0 };
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('line', 'flat', 'shade', 'flat in g', 'shade in g', 'line in g'), {
          minLength: 3,
          maxLength: 6,
        }),
        fc.nat(4),
        (what, at) => {
          const sheet = inked(
            ...what.map((words): Partial<Layer> => ({
              kind: words.startsWith('line') ? 'ink' : 'colour',
              ...(words.startsWith('shade') && { inside: true }),
              ...(words.endsWith('g') && { parent: 'g' }),
            })),
          );
          const before = picture(sheet);
          const ids = sheet.model
            .stack()
            .map(({ id }) => id)
            .slice(at, at + 2);
          const merge = mergeOf(sheet.model, ids);
          done[merge.kind]++;
          if (merge.kind === 'refused') return;
          sheet.put(merge.kind === 'merged' ? merge.changes : groupChanges(sheet.model, ids, group('new')), []);
          expect(farthest(picture(sheet), before)).toBeLessThanOrEqual(2);
        },
      ),
      { numRuns: 60, seed: 5 },
    );
    expect(Math.min(done.merged, done.grouped, done.refused)).toBeGreaterThan(3);
  });

  it('refuses a group in which a shade would lose colour that it is kept inside of', () => {
    const colour = (id: string, more = {}) => layer(id, { kind: 'colour', ...more } as Partial<Layer>);
    const [skin, coat, shade] = [colour('skin'), colour('coat'), colour('shade', { inside: true })];
    expect(mergeOf(modelOf(skin, coat, shade), ['coat', 'shade'])).toMatchObject({
      kind: 'refused',
      because: 'bounds',
      layer: { id: 'shade' },
    });
    expect(mergeOf(modelOf(coat, shade), ['coat', 'shade'])).toEqual({ kind: 'grouped', because: 'inside' });
    expect(mergeOf(modelOf(skin, coat, shade), ['skin', 'coat']).kind).toBe('merged');
  });

  it('gives all lines of layers a colour, but nothing to what fades', () => {
    const sheet = inked({}, {});
    const soft = eraserPen({ kind: 'soft', sizePx: 30, pressed: false, softness: 0.5, strength: 0.6 }, true, 1);
    sheet.ink1(wave(80), soft);
    sheet.put(recolourChanges(sheet.model, layersIn(sheet.model, null), '#d35400'), []);
    const colours = [...sheet.model.strokes.values()].map((s) => s.colour);
    expect(colours).toEqual([...Array.from({ length: 6 }, () => '#d35400'), '#000000']);
    expect(recolourChanges(sheet.model, layersIn(sheet.model, null), '#d35400')).toEqual([]);
  });

  it('sends groups, opacity and blending alike as PNG and as SVG (resvg)', () => {
    const sheet = inked({ parent: 'g' }, { parent: 'g', opacity: 0.7 }, { blend: 'multiply' } as Partial<Layer>);
    sheet.model.settings.paperColour = '#f6e8c0';
    const png = picture(sheet);
    const svg = finish(sheetSvg(sheet.model, sheet.ink, PAPER, { onPaper: true, title: 'Groups' }));
    expect(svg).toMatch(/<g id="group-1" opacity="0.6"><title>Feet &amp; legs<\/title>\n<g id="layer-1"/);
    expect(svg).toContain('style="mix-blend-mode:multiply"');
    const drawn = new Resvg(svg, { fitTo: { mode: 'width', value: SIZE } }).render().pixels;
    let [sum, worst] = [0, 0];
    for (let i = 0, k = 0; i < drawn.length; i += 4, k += 3)
      for (let c = 0; c < 3; c++) {
        const off = Math.abs(drawn[i + c] - png[k + c]) / 255;
        sum += off;
        worst = Math.max(worst, off);
      }
    expect(sum / png.length).toBeLessThan(0.02);
    expect(worst).toBeLessThan(0.15);
  });
});
