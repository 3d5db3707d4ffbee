import { FIRST_LAYER, newSettings } from '../../core/sheet/entities';
import { historyOf, inverseOf, remember, type History } from '../../core/sheet/history';
import { SheetModel } from '../../core/sheet/sheet-model';
import { assign, planWrites, putRows, StepRefused, type Change, type Step } from '../../core/sheet/steps';
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
    for (const field of ['kind', 'id', 'picture', 'nothing'])
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
