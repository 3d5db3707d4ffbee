import * as fc from 'fast-check';
import { apply, compose, IDENTITY, type Matrix } from '../../core/geometry/matrix';
import { between, FIRST_FRAME, movedFrame, type Frame } from '../../core/geometry/frame';
import { completed, frameSetBy, rebased } from '../../core/sheet/frames';
import { inverseOf } from '../../core/sheet/history';
import { movableOf, paperChanges } from '../../core/sheet/paper-change';
import { assign, putRows, type Assign, type Change } from '../../core/sheet/steps';
import { handSamples } from '../measures/strokes';
import { referenceEntity, strokeEntity, TestSheet } from '../measures/sheets';

const PAPER = { widthPx: 420, heightPx: 300, ppi: 300 };
const CROPPED = { box: { x0: 30, y0: 10, x1: 420, y1: 300 }, scale: 1, ppi: 300 };
const frames = fc.tuple(
  fc.double({ min: 0.1, max: 10, noNaN: true }),
  fc.double({ min: -500, max: 500, noNaN: true }),
  fc.double({ min: -500, max: 500, noNaN: true }),
) as fc.Arbitrary<Frame>;

describe('frames of the paper', () => {
  it('carry places from one to another and back, over any third (property)', () => {
    const near = (a: readonly number[], b: readonly number[]) => a.forEach((v, i) => expect(v).toBeCloseTo(b[i], 4));
    fc.assert(
      fc.property(frames, frames, frames, (a, b, c) => {
        const place = [12, 34] as const;
        near(apply(compose(between(b, c), between(a, b)), ...place), apply(between(a, c), ...place));
        near(apply(between(b, a), ...apply(between(a, b), ...place)), place);
        const move: Matrix = between(a, b);
        near(movedFrame(a, move), b);
      }),
    );
  });

  it('are the same to the bit where nothing moved', () => {
    expect(between([2, 3, 4], [2, 3, 4])).toEqual(IDENTITY);
    const changes: Change[] = [putRows('strokes', strokeEntity('a'))];
    expect(rebased(changes, [2, 3, 4], [2, 3, 4])).toEqual(changes);
  });
});

describe('changes that were made on another frame', () => {
  const to: Frame = [2, -30, 10];
  const moved = ([x, y]: readonly number[]) => [2 * x - 30, 2 * y + 10];

  it('put and move strokes, place pictures and guides where they were meant', () => {
    const photo = referenceEntity({ placement: { cx: 40, cy: 50, scale: 3, turnDeg: 20, mirrored: true } });
    const guides = { kind: 'perspective' as const, squares: 4, points: [[-50, 100]] as [number, number][] };
    const changes: Change[] = [
      putRows('strokes', strokeEntity('a', { matrix: [1, 0, 0, 1, 7, 0] })),
      putRows('layers', photo),
      { op: 'set', table: 'strokes', field: 'matrix', ids: ['b'], before: [IDENTITY], after: [[1, 0, 0, 1, 5, 6]] },
      assign('layers', photo, 'placement', { ...photo.placement, cx: 60 }),
      { op: 'set', table: 'sheet', field: 'guides', ids: ['sheet'], before: [null], after: [guides] },
      assign('layers', photo, 'opacity', 0.3),
    ];
    const [strokes, layers, set, placed, guided, faint] = rebased(changes, FIRST_FRAME, to) as [
      { rows: { matrix: Matrix }[] },
      { rows: { placement: { cx: number; cy: number; scale: number; turnDeg: number } }[] },
      Assign,
      Assign,
      Assign,
      Change,
    ];
    expect(apply(strokes.rows[0].matrix, 1, 2)).toEqual(moved([8, 2]));
    expect(layers.rows[0].placement).toMatchObject({ cx: 50, cy: 110, scale: 6, turnDeg: 20 });
    expect(apply(set.after[0] as Matrix, 1, 2)).toEqual(moved([6, 8]));
    expect(apply(set.before[0] as Matrix, 1, 2)).toEqual(moved([1, 2]));
    expect((placed.after[0] as { cx: number }).cx).toBe(90);
    expect((guided.after[0] as typeof guides).points).toEqual([moved([-50, 100])]);
    expect(guided.before).toEqual([null]);
    expect(faint).toEqual(changes[5]);
  });
});

describe('changes that set the frame', () => {
  const sheet = () => {
    const made = new TestSheet();
    made.ink1(handSamples((u) => [30 + 360 * u, 80], { ms: 300 }));
    made.model.settings = { ...made.model.settings, paper: PAPER };
    return made;
  };

  it('take along what whoever made them did not know of, and what has been moved since', () => {
    const { model } = sheet();
    const changes = paperChanges(model, PAPER, CROPPED);
    expect(frameSetBy(changes)).toEqual([1, -30, -10]);
    const [known] = [...model.strokes.keys()];
    // Another device's line, and its movement of the one that was there.
    model.apply([putRows('strokes', strokeEntity('late')), putRows('layers', referenceEntity())]);
    model.apply([assign('strokes', model.strokes.get(known)!, 'matrix', [1, 0, 0, 1, 0, 50])]);
    model.apply(completed(changes, FIRST_FRAME, movableOf(model)));
    expect(model.strokes.get('late')!.matrix).toEqual([1, 0, 0, 1, -30, -10]);
    expect(model.strokes.get(known)!.matrix).toEqual([1, 0, 0, 1, -30, 40]);
    expect(model.layers.get('photo')).toMatchObject({ placement: { cx: -30, cy: -10 } });
  });

  it('taken back bring back what was moved meanwhile, too', () => {
    const { model } = sheet();
    const changes = paperChanges(model, PAPER, CROPPED);
    const [id] = [...model.strokes.keys()];
    model.apply(changes);
    model.apply([assign('strokes', model.strokes.get(id)!, 'matrix', [1, 0, 0, 1, -30, 40])]);
    const back = inverseOf({ id: 's', device: 'd', undoable: true, label: 'Paper', changes }, model.read).changes;
    model.apply(completed(back, model.settings.frame!, movableOf(model)));
    expect(model.settings).toMatchObject({ paper: PAPER });
    expect(model.settings.frame ?? FIRST_FRAME).toEqual(FIRST_FRAME);
    expect(model.strokes.get(id)!.matrix).toEqual([1, 0, 0, 1, 0, 50]);
  });

  it('done already change nothing', () => {
    const { model } = sheet();
    const changes = paperChanges(model, PAPER, CROPPED);
    model.apply(changes);
    const was = JSON.stringify([...model.strokes.values()]);
    model.apply(completed(changes, model.settings.frame!, movableOf(model)));
    expect(JSON.stringify([...model.strokes.values()])).toBe(was);
  });
});
