import { apply, invert } from '../../core/geometry/matrix';
import { applyMap, invertMap, type Quad } from '../../core/geometry/homography';
import { frameOf, isInside } from '../../core/picture/crop';
import { stepOf } from '../../core/picture/recipe-steps';
import { cornersIn, sourceMap } from '../../core/picture/recipe';
import { shownSize } from '../../core/sheet/recipe-placement';
import type { Placement, ReferenceLayer } from '../../core/sheet/entities';
import { placementMatrix } from '../../core/sheet/placement';
import { Cropping } from '../../ui/session/cropping';
import { setRecipe } from '../../ui/session/stack-actions';
import { PICTURE_SIZE, pictureSession } from '../measures/picture-session';

const SIZE = PICTURE_SIZE;

/** A sheet with one picture of 300 x 400 px, laid so. */
function opened(laid: Partial<Placement> = {}, page?: Quad | 'none' | 'fails') {
  const found = page === 'none' ? undefined : page;
  const placement = { cx: 300, cy: 400, scale: 2, turnDeg: 0, mirrored: false, ...laid };
  const sheet = pictureSession(
    { placement },
    {
      page: () => ({
        result: page === 'fails' ? Promise.reject(new Error('away')) : Promise.resolve({ found }),
        stop: () => undefined,
      }),
    },
  );
  const warned: string[] = [];
  return { ...sheet, warned, cropping: new Cropping(sheet.session, (text) => warned.push(text)) };
}

/** Where a place of the original lies on the paper. */
const onPaper = (layer: ReferenceLayer, x: number, y: number) =>
  apply(
    placementMatrix(layer.placement, shownSize(layer)),
    ...applyMap(invertMap(sourceMap(layer.picture, layer.recipe)), x, y),
  );
const close = (a: readonly number[], b: readonly number[], digits = 4) =>
  a.forEach((v, i) => expect(v).toBeCloseTo(b[i], digits));

describe('cropping a picture', () => {
  it('takes a part, in one step that undo can take back; what is kept stays where it lies', async () => {
    const { cropping, picture, labels } = opened({ turnDeg: 20, mirrored: true });
    const before = picture();
    cropping.begin(before);
    cropping.setFrame({ cx: 120, cy: 150, width: 100, height: 80, turnDeg: 0 });
    expect(labels).toEqual([]);
    await cropping.keep();
    expect(labels).toEqual(['Crop']);
    expect(shownSize(picture())).toEqual({ width: 100, height: 80 });
    for (const [x, y] of [[120, 150], [75, 115], [169, 189]]) close(onPaper(picture(), x, y), onPaper(before, x, y)); // prettier-ignore
    expect(cropping.draft.now()).toBeUndefined();
  });

  it.each([false, true])('straightened, what was level along a line is level; mirrored %s', async (mirrored) => {
    const { cropping, picture } = opened({ mirrored });
    cropping.begin(picture());
    const before = picture();
    // Something in the picture that falls by 8 degrees: places on the paper along it.
    const [a, b] = [onPaper(before, 60, 100), onPaper(before, 60 + 100 * Math.cos(0.14), 100 + 100 * Math.sin(0.14))];
    cropping.levelAlong(a, b);
    const { frame, input } = cropping.draft.now()!;
    expect(isInside(frame, input)).toBe(true);
    expect(frame.turnDeg).toBeCloseTo((0.14 * 180) / Math.PI, 4);
    await cropping.keep();
    const [p, q] = [
      onPaper(picture(), 60, 100),
      onPaper(picture(), 60 + 100 * Math.cos(0.14), 100 + 100 * Math.sin(0.14)),
    ];
    expect(Math.abs(p[1] - q[1])).toBeLessThan(0.5);
    expect(picture().placement.turnDeg % 360).toBeCloseTo(0, 6);
  });

  it('shows the whole picture meanwhile, turned under an upright frame, and as it was when given up', () => {
    const { cropping, picture, seen, labels, model } = opened();
    cropping.begin(picture());
    cropping.setTurn(10);
    expect(seen().recipe).toEqual([]);
    expect(seen().placement.turnDeg).toBeCloseTo(350, 6);
    // The frame's middle has not moved on the paper.
    const { frame, input, laid } = cropping.draft.now()!;
    close(apply(placementMatrix(laid, input), frame.cx, frame.cy), [300, 400]);
    cropping.drop();
    expect([seen(), labels]).toEqual([picture(), []]);
    expect(model.layers.get('photo')).not.toHaveProperty('recipe', []);
  });

  it('is taken up again where it was, changed in its place among the steps, and taken away', async () => {
    const { cropping, picture, labels } = opened();
    const before = picture();
    cropping.begin(before);
    cropping.setFrame({ cx: 150, cy: 200, width: 120, height: 90, turnDeg: 0 });
    cropping.setTurn(-7);
    await cropping.keep();
    const first = picture().recipe![0];
    cropping.begin(picture());
    const { frame } = cropping.draft.now()!;
    close([frame.cx, frame.cy, frame.turnDeg], [150, 200, -7]);
    cropping.setShape('1:1');
    expect(cropping.draft.now()!.frame.width).toBeCloseTo(cropping.draft.now()!.frame.height, 6);
    await cropping.keep();
    expect(picture().recipe).toHaveLength(1);
    expect(picture().recipe![0].id).toBe(first.id);
    cropping.begin(picture());
    await cropping.undoCrop();
    expect(picture().recipe).toEqual([]);
    close(onPaper(picture(), 150, 200), onPaper(before, 150, 200), 1);
    expect(labels).toEqual(['Crop', 'Crop', 'Take the crop away']);
  });

  it('to what lies on the paper, cut where the picture ends', async () => {
    const { cropping, picture, warned } = opened({ cx: 500, cy: 400, scale: 2 });
    cropping.begin(picture());
    cropping.takePaper();
    await cropping.keep();
    // The picture reaches from 200 to 800 across; the paper ends at 600.
    expect(shownSize(picture())).toEqual({ width: 200, height: 400 });
    close(onPaper(picture(), 0, 0), [200, 0]);
    const away = opened({ cx: 5000 });
    away.cropping.begin(away.picture());
    away.cropping.takePaper();
    expect(away.warned).toEqual(['Nothing of this picture lies on the paper.']);
    expect(warned).toEqual([]);
  });

  it('to the paper as it is seen, also where the picture was turned and mirrored', async () => {
    const { cropping, picture } = opened({ turnDeg: 30, mirrored: true, scale: 6 });
    const before = picture();
    cropping.begin(before);
    cropping.takePaper();
    await cropping.keep();
    expect(shownSize(picture())).toEqual({ width: 100, height: 133 });
    expect(Math.min(picture().placement.turnDeg, 360 - picture().placement.turnDeg)).toBeCloseTo(0, 6);
    const inverse = invert(placementMatrix(before.placement, SIZE));
    for (const [x, y] of [
      [10, 10],
      [590, 790],
      [300, 20],
    ]) {
      // prettier-ignore
      const [now] = [onPaper(picture(), ...apply(inverse, x, y))];
      expect(Math.hypot(now[0] - x, now[1] - y)).toBeLessThan(2);
    }
  });
});

describe('squaring up a page', () => {
  const found: Quad = [[0.2, 0.1], [0.8, 0.15], [0.9, 0.9], [0.1, 0.85]]; // prettier-ignore

  it('takes the corners that were found, in the shape that was asked for', async () => {
    const { cropping, picture, labels } = opened({}, found);
    cropping.begin(picture());
    cropping.setMode('page');
    await cropping.propose();
    close(cropping.draft.now()!.corners.flat(), cornersIn(found, SIZE).flat());
    cropping.setPageShape('A');
    await cropping.keep();
    expect(labels).toEqual(['Square up page']);
    const { width, height } = shownSize(picture());
    expect(height / width).toBeCloseTo(Math.SQRT2, 1);
    expect(frameOf(cornersIn(stepOf(picture().recipe!, 'crop')!.corners, SIZE))).toBeUndefined();
    // Taken up again it is a page.
    cropping.begin(picture());
    expect(cropping.draft.now()!.mode).toBe('page');
  });

  it('says when no page was found or the picture cannot be read, and leaves the corners', async () => {
    for (const [page, words] of [
      ['none', /No page stands out/],
      ['fails', /could not be read/],
    ] as const) {
      // prettier-ignore
      const { cropping, picture, warned } = opened({}, page);
      cropping.begin(picture());
      cropping.setMode('page');
      const { corners } = cropping.draft.now()!;
      await cropping.propose();
      expect(cropping.draft.now()!.corners).toEqual(corners);
      expect(warned[0]).toMatch(words);
    }
  });

  it('never takes corners that cross, lie in a dent or beyond the picture', () => {
    const { cropping, picture } = opened();
    cropping.begin(picture());
    cropping.setMode('page');
    const { corners } = cropping.draft.now()!;
    cropping.setCorner(0, [290, 390]);
    expect(cropping.draft.now()!.corners).toEqual(corners);
    cropping.setCorner(0, [-500, -500]);
    expect(cropping.draft.now()!.corners[0]).toEqual([0, 0]);
  });

  it('a crop that is switched off leaves the rest where it lay', async () => {
    const { session, cropping, picture } = opened({}, found);
    cropping.begin(picture());
    cropping.setFrame({ cx: 100, cy: 100, width: 80, height: 80, turnDeg: 0 });
    await cropping.keep();
    const at = onPaper(picture(), 100, 100);
    const [step] = picture().recipe!;
    await setRecipe(session, picture(), [{ ...step, on: false }], 'Cropped off');
    expect(shownSize(picture())).toEqual(SIZE);
    close(onPaper(picture(), 100, 100), at);
  });
});
