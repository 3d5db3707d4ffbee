import { settings as settingsSchema } from '../../contract/entities';
import { apply } from '../../core/geometry/matrix';
import { inverseOf } from '../../core/sheet/history';
import { newPaperSize, paperChanges } from '../../core/sheet/paper-change';
import { placementMatrix } from '../../core/sheet/placement';
import { handSamples } from '../measures/strokes';
import { referenceEntity, TestSheet } from '../measures/sheets';
import { putRows, type Step } from '../../core/sheet/steps';
import type { ReferenceLayer } from '../../core/sheet/entities';

const BEFORE = { widthPx: 420, heightPx: 300, ppi: 300 };

function sheet(): TestSheet {
  const made = new TestSheet();
  made.ink1(handSamples((u) => [30 + 360 * u, 80], { ms: 300 }));
  made.ink1(handSamples((u) => [60, 20 + 200 * u], { ms: 300 }));
  const { model } = made;
  model.apply([
    putRows('layers', referenceEntity({ placement: { cx: 200, cy: 150, scale: 3, turnDeg: 20, mirrored: true } })),
  ]);
  const guides = { kind: 'perspective' as const, squares: 4, points: [[-50, 100]] as [number, number][] };
  model.settings = { ...model.settings, paper: BEFORE, guides, nibs: [1, 2, 4, 8] };
  return made;
}

describe('another paper', () => {
  it('is as large as it is asked for, by edges and by scale', () => {
    const box = { x0: -10, y0: 20, x1: 430, y1: 260 };
    expect(newPaperSize({ box, scale: 1, ppi: 300 })).toEqual({ widthPx: 440, heightPx: 240, ppi: 300 });
    expect(newPaperSize({ box, scale: 2.5, ppi: 600 })).toEqual({ widthPx: 1100, heightPx: 600, ppi: 600 });
  });

  it('cut or grown at the right and below moves nothing', () => {
    const { model } = sheet();
    const changes = paperChanges(model, BEFORE, { box: { x0: 0, y0: 0, x1: 200, y1: 900 }, scale: 1, ppi: 72 });
    expect(changes.map((c) => c.op === 'set' && c.field)).toEqual(['paper']);
    model.apply(changes);
    expect(model.settings.paper).toEqual({ widthPx: 200, heightPx: 900, ppi: 72 });
  });

  it.each([
    [{ box: { x0: 25, y0: 40, x1: 420, y1: 300 }, scale: 1, ppi: 300 }],
    [{ box: { x0: -100, y0: 0, x1: 420, y1: 300 }, scale: 1, ppi: 300 }],
    [{ box: { x0: 10, y0: -5, x1: 310, y1: 295 }, scale: 2, ppi: 600 }],
  ])('everything on it goes along: ink, what is deleted, pictures, guides, nibs; and back (%j)', (paper) => {
    const { model } = sheet();
    const [gone] = [...model.strokes.values()];
    model.apply([{ op: 'set', table: 'strokes', field: 'deleted', ids: [gone.id], before: [false], after: [true] }]);
    const was = JSON.stringify([[...model.strokes.values()], [...model.layers.values()], model.settings]);
    const before = new Map([...model.strokes.values()].map((s) => [s.id, s.matrix]));
    const photo = () => model.layers.get('photo') as ReferenceLayer;
    const size = { width: 40, height: 30 };
    const corner = apply(placementMatrix(photo().placement, size), 0, 0);
    const changes = paperChanges(model, BEFORE, paper);
    model.apply(changes);
    const moved = ([x, y]: readonly number[]) => [(x - paper.box.x0) * paper.scale, (y - paper.box.y0) * paper.scale];
    for (const s of model.strokes.values())
      apply(s.matrix, 50, 60).forEach((v, i) => expect(v).toBeCloseTo(moved(apply(before.get(s.id)!, 50, 60))[i], 6));
    apply(placementMatrix(photo().placement, size), 0, 0).forEach((v, i) => expect(v).toBeCloseTo(moved(corner)[i], 6));
    expect(model.settings.guides!.points[0]).toEqual(moved([-50, 100]));
    expect(model.settings.nibs).toEqual([1, 2, 4, 8].map((n) => n * paper.scale));
    expect(settingsSchema.safeParse(model.settings).success).toBe(true);
    const step: Step = { id: 's', device: 'd', undoable: true, label: 'Paper', changes };
    const { changes: back, kept } = inverseOf(step, model.read);
    expect(kept).toBe(0);
    model.apply(back);
    expect(JSON.stringify([[...model.strokes.values()], [...model.layers.values()], model.settings])).toBe(was);
  });
});
