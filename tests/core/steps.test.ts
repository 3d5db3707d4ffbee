import { byOrder, FIRST_LAYER, newSettings } from '../../core/sheet/entities';
import { historyOf, inverseOf, remember, type History } from '../../core/sheet/history';
import { isOrder, orderAbove, orderBelow, ordersForMove } from '../../core/sheet/orders';
import { SheetModel } from '../../core/sheet/sheet-model';
import { assign, planWrites, putRows, StepRefused, type Change, type Step } from '../../core/sheet/steps';
import { cutText, isPrintable, printable } from '../../core/sheet/words';
import { referenceEntity, strokeEntity } from '../measures/sheets';

const reference = referenceEntity();
const stroke = (id: string, layerId = 'lines') => strokeEntity(id, { layerId });
const step = (id: string, changes: Change[], undoes?: string): Step => ({
  id,
  device: 'd',
  undoable: undoes === undefined,
  ...(undoes ? { undoes } : {}),
  label: id,
  changes,
});
const model = () => new SheetModel(newSettings(300), [FIRST_LAYER, reference]);

describe('steps', () => {
  it('put ink on ink and rough layers only: a reference takes none, by kind', () => {
    const m = model();
    expect(() => m.apply([putRows('strokes', stroke('s', 'photo'))])).toThrow(StepRefused);
    expect(() => m.apply([assign('sheet', m.settings, 'target', 'photo')])).toThrow(/takes no ink/);
    m.apply([putRows('strokes', stroke('s'))]);
    const moved: Change = {
      op: 'set',
      table: 'strokes',
      field: 'layerId',
      ids: ['s'],
      before: ['lines'],
      after: ['photo'],
    };
    expect(() => m.apply([moved])).toThrow(StepRefused);
    expect(m.strokes.get('s')!.layerId).toBe('lines');
  });

  it('never change what an entity is', () => {
    const m = model();
    for (const field of ['id', 'picture', 'nothing'])
      expect(() =>
        m.apply([{ op: 'set', table: 'layers', field, ids: ['photo'], before: [null], after: ['ink'] }]),
      ).toThrow(/no changeable/);
  });

  it('write nothing when any of their changes is refused', () => {
    const m = model();
    expect(() => m.apply([putRows('strokes', stroke('good')), putRows('strokes', stroke('bad', 'photo'))])).toThrow();
    expect(m.strokes.size).toBe(0);
  });

  it('applied twice are applied once', () => {
    const m = model();
    const changes = [putRows('strokes', stroke('s')), assign('layers', FIRST_LAYER, 'opacity', 0.5)];
    m.apply(changes);
    const after = JSON.stringify([...m.strokes, ...m.layers]);
    m.apply(changes);
    expect(JSON.stringify([...m.strokes, ...m.layers])).toBe(after);
  });

  it('may use in a later change what an earlier one made, and refuse unequal lists', () => {
    const m = model();
    const layer = { ...FIRST_LAYER, id: 'new', order: 'a5' };
    expect(planWrites([putRows('layers', layer), putRows('strokes', stroke('s', 'new'))], m.read)).toHaveLength(2);
    const bad: Change = {
      op: 'set',
      table: 'layers',
      field: 'name',
      ids: ['lines', 'photo'],
      before: [1, 2],
      after: ['x'],
    };
    expect(() => m.apply([bad])).toThrow(/2 ids/);
  });
});

describe('undo', () => {
  it('takes back what was made and restores what was changed, and redo does it again', () => {
    const m = model();
    const doing = step('a', [putRows('strokes', stroke('s')), assign('layers', FIRST_LAYER, 'name', 'Outline')]);
    m.apply(doing.changes);
    const undo = step('u', inverseOf(doing, m.read).changes, 'a');
    m.apply(undo.changes);
    expect(m.strokes.get('s')!.deleted).toBe(true);
    expect(m.layers.get('lines')!.name).toBe('Lines');
    m.apply(inverseOf(undo, m.read).changes);
    expect(m.strokes.get('s')!.deleted).toBe(false);
    expect(m.layers.get('lines')!.name).toBe('Outline');
  });

  it('keeps a field that something else has changed since, and counts it', () => {
    const m = model();
    const doing = step('a', [
      assign('layers', FIRST_LAYER, 'name', 'Mine'),
      assign('layers', FIRST_LAYER, 'opacity', 0.4),
    ]);
    m.apply(doing.changes);
    m.apply([assign('layers', m.layers.get('lines')!, 'name', 'Theirs')]);
    const { changes, kept } = inverseOf(doing, m.read);
    expect(kept).toBe(1);
    m.apply(changes);
    expect(m.layers.get('lines')).toMatchObject({ name: 'Theirs', opacity: 1 });
  });

  it('walks back and forth without limit, and a new act ends redoing', () => {
    const h: History = { undo: [], redo: [] };
    const ids = Array.from({ length: 500 }, (_, i) => `s${i}`);
    for (const id of ids) remember(h, { id, undoable: true });
    for (let i = 499; i >= 0; i--) remember(h, { id: `u${i}`, undoable: false, undoes: `s${i}` });
    expect([h.undo.length, h.redo.length]).toEqual([0, 500]);
    remember(h, { id: 'r0', undoable: false, undoes: 'u0' });
    expect([h.undo, h.redo.length]).toEqual([['r0'], 499]);
    remember(h, { id: 'x0', undoable: false, undoes: 'r0' });
    expect(h.redo[h.redo.length - 1]).toBe('x0');
    remember(h, { id: 'look', undoable: false });
    expect(h.redo).toHaveLength(500);
    remember(h, { id: 'fresh', undoable: true });
    expect(h).toEqual({ undo: ['fresh'], redo: [] });
  });

  it('is the same replayed from the journal', () => {
    const entries = [
      { id: 'a', undoable: true },
      { id: 'b', undoable: true },
      { id: 'u', undoable: false, undoes: 'b' },
      { id: 'hush', undoable: false },
      { id: 'r', undoable: false, undoes: 'u' },
      { id: 'v', undoable: false, undoes: 'r' },
    ];
    expect(historyOf(entries)).toEqual({ undo: ['a'], redo: ['v'] });
  });
});

describe('places in an order', () => {
  it('are those that others can be put beside', () => {
    expect(['a0', 'Zz', 'a0V', 'zzzz', '', 'a00'].map(isOrder)).toEqual([true, true, true, false, false, false]);
  });

  it('are found above all, and between any two; where two share one, those above move up', () => {
    expect(orderAbove([])).toBe('a0');
    expect(orderAbove(['a3', 'a1', 'a3']) > 'a3').toBe(true);
    expect([orderBelow([]), orderBelow(['a3', 'a1', 'a3']) < 'a1']).toEqual(['a0', true]);
    // What nothing can be put below is passed over.
    expect(orderBelow(['A00000000000000000000000000', 'a1']) < 'a1').toBe(true);
    const others = ['p', 'q', 'r'].map((id) => ({ id, order: id === 'r' ? 'a2' : 'a1' }));
    for (let index = 0; index <= 3; index++) {
      const places = new Map([...others, ...ordersForMove(others, ['m'], index)].map((o) => [o.id, o.order]));
      const sorted = [...places].map(([id, order]) => ({ id, order })).sort(byOrder);
      expect(sorted.map((o) => o.id)).toEqual([
        ...others.slice(0, index).map((o) => o.id),
        'm',
        ...others.slice(index).map((o) => o.id),
      ]);
    }
  });
});

describe('orders that old data may hold', () => {
  it('are passed over: there is always a place above, and layers can be moved', () => {
    for (const top of ['zzzz', 'z', 'a00', 'zz'.repeat(60)]) {
      const above = orderAbove(['a1', top]);
      expect(isOrder(above)).toBe(true);
      if (top < 'z'.repeat(27)) expect(above > top).toBe(true);
    }
    const others = [
      { id: 'p', order: 'a1' },
      { id: 'q', order: 'zzzz' },
    ];
    for (let index = 0; index <= 2; index++) {
      const moved = new Map([...others, ...ordersForMove(others, ['m'], index)].map((o) => [o.id, o.order]));
      const sorted = [...moved].map(([id, order]) => ({ id, order })).sort(byOrder);
      expect(sorted.map((o) => o.id).indexOf('m')).toBe(index);
    }
  });
});

describe('words', () => {
  it('are cut to what fits, whole and printable', () => {
    expect(cutText('Ink line')).toBe('Ink line');
    expect(cutText(`Opacity of ${'x'.repeat(119)}`)).toHaveLength(120);
    expect(cutText('😀'.repeat(80)).length).toBeLessThanOrEqual(120);
    expect(isPrintable(cutText('😀'.repeat(80)))).toBe(true);
    expect(printable('a\u0000b\ud800c\u009f')).toBe('abc');
    expect([isPrintable('Fähre 渡し船 😀'), isPrintable('a\u0007')]).toEqual([true, false]);
  });
});

describe('a history that two tabs write', () => {
  it('takes a step back from wherever it lies', () => {
    const plain = (id: string) => ({ id, undoable: true });
    const back = (id: string, undoes: string) => ({ id, undoes, undoable: false });
    expect(historyOf([plain('a'), plain('b'), back('u', 'a')])).toEqual({ undo: ['b'], redo: ['u'] });
    expect(historyOf([plain('a'), plain('b'), back('u', 'a'), back('v', 'b'), back('r', 'u')])).toEqual({
      undo: ['r'],
      redo: ['v'],
    });
  });
});
