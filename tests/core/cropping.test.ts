import * as fc from 'fast-check';
import sharp from 'sharp';
import { apply } from '../../core/geometry/matrix';
import { applyMap, areaScale, composeMaps, invertMap, ontoQuad, type Quad } from '../../core/geometry/homography';
import {
  frameCorners,
  frameOf,
  heldFrame,
  isInside,
  largestFrame,
  levelling,
  pageSize,
  shapeOfPage,
} from '../../core/picture/crop';
import { develop, developedSize, sourceScale } from '../../core/picture/develop';
import { cornersIn, partsOf, resultSize, sourceMap, type CropStep } from '../../core/picture/recipe';
import { keptPlacement } from '../../core/sheet/recipe-placement';
import { makePicture, warpRows, type Picture } from '../../core/picture/warp';
import { placementMatrix } from '../../core/sheet/placement';
import { openCv } from '../measures/opencv';
import { pictureOf } from '../measures/page-photo';
import { ACANTHUS, PHOTOGRAPHS } from '../measures/photographs';

const photo = async (width: number, height: number, of = ACANTHUS) =>
  pictureOf(await sharp(of).resize(width, height, { fit: 'fill' }).png().toBuffer());

const crop = (corners: Quad, width: number, height: number, on = true): CropStep => ({
  id: 'crop',
  kind: 'crop',
  on,
  corners,
  width,
  height,
});
const whole = (work: Generator<number, Picture>): Picture => {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
};
const difference = (a: ArrayLike<number>, b: ArrayLike<number>) => {
  let [sum, largest] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    const d = Math.abs(a[i] - b[i]);
    sum += d;
    largest = Math.max(largest, d);
  }
  return { mean: sum / a.length, largest, same: a.length === b.length };
};
const close = (a: readonly number[], b: readonly number[], digits = 6) =>
  a.forEach((v, i) => expect(v).toBeCloseTo(b[i], digits));

const coordinate = fc.double({ min: 0, max: 1, noNaN: true });
/** Four corners of a page as a hand could hold the camera. */
const pageQuad = fc.array(fc.tuple(coordinate, coordinate), { minLength: 4, maxLength: 4 }).map(
  (p): Quad =>
    [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ].map(([u, v], i) => [100 + 600 * u + 130 * (p[i][0] - 0.5), 100 + 800 * v + 130 * (p[i][1] - 0.5)]) as never,
);

describe('projective maps', () => {
  it('agree with those of OpenCV', async () => {
    const { cv } = await openCv();
    const quad: Quad = [
      [113, 95],
      [702, 140],
      [655, 930],
      [88, 877],
    ];
    const from = cv.matFromArray(4, 1, cv.CV_32FC2, [0, 0, 300, 0, 300, 400, 0, 400]);
    const to = cv.matFromArray(4, 1, cv.CV_32FC2, quad.flat());
    const theirs = cv.getPerspectiveTransform(from, to).data64F;
    const ours = ontoQuad(300, 400, quad);
    ours.forEach((v, i) => expect(v / ours[8]).toBeCloseTo(theirs[i], 6));
  });

  it('take corners to corners, back again, and compose; areas grow as told', () => {
    fc.assert(
      fc.property(pageQuad, coordinate, coordinate, (quad, u, v) => {
        const map = ontoQuad(300, 400, quad);
        close(applyMap(map, 300, 0), quad[1]);
        close(applyMap(map, 0, 400), quad[3]);
        const [x, y] = applyMap(map, 300 * u, 400 * v);
        close(applyMap(invertMap(map), x, y), [300 * u, 400 * v], 5);
        close(applyMap(composeMaps(invertMap(map), map), 300 * u, 400 * v), [300 * u, 400 * v], 5);
        const near = (dx: number, dy: number) => applyMap(map, 150 + dx, 200 + dy);
        const [a, b, c] = [near(0, 0), near(0.01, 0), near(0, 0.01)];
        const area = Math.abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / 1e-4;
        expect(areaScale(map, 150, 200)).toBeCloseTo(area, 1);
      }),
    );
    expect(() => ontoQuad(1, 1, [[0, 0], [1, 0], [2, 0], [3, 0]])).toThrow(RangeError); // prettier-ignore
  });
});

describe('resampling', () => {
  it.each(PHOTOGRAPHS)('an upright crop is the same pixels as sharp takes out: %s', async (_name, bytes) => {
    const source = await photo(300, 220, bytes);
    const corners = partsOf([[40, 30], [190, 30], [190, 130], [40, 130]], { width: 300, height: 220 }); // prettier-ignore
    const made = whole(develop({ width: 300, height: 220 }, source, [crop(corners, 150, 100)], 1));
    const theirs = await sharp(Buffer.from(source.data), { raw: { width: 300, height: 220, channels: 4 } })
      .extract({ left: 40, top: 30, width: 150, height: 100 })
      .raw()
      .toBuffer();
    expect(difference(made.data, theirs)).toEqual({ mean: 0, largest: 0, same: true });
  });

  it('a quarter turn is the same pixels as sharp turns', async () => {
    const source = await photo(300, 220);
    const turned: Quad = [[0, 1], [0, 0], [1, 0], [1, 1]]; // prettier-ignore
    const made = whole(develop({ width: 300, height: 220 }, source, [crop(turned, 220, 300)], 1));
    const theirs = await sharp(Buffer.from(source.data), { raw: { width: 300, height: 220, channels: 4 } })
      .rotate(90)
      .raw()
      .toBuffer();
    expect(difference(made.data, theirs)).toEqual({ mean: 0, largest: 0, same: true });
  });

  it.each(PHOTOGRAPHS)(
    'squared up in perspective it is what OpenCV makes of it, bilinear: %s',
    async (_name, bytes) => {
      const { cv } = await openCv();
      const source = await photo(400, 500, bytes);
      const quad: Quad = [[60, 45], [350, 70], [330, 460], [40, 430]]; // prettier-ignore
      const [width, height] = [290, 390];
      const target = makePicture(width, height);
      warpRows(source, target, ontoQuad(width, height, quad), 0, height);
      // OpenCV counts from the middle of the first pixel, we from its corner: the same map, seen half a pixel on.
      const shift = (m: readonly number[]) => m;
      const map = composeMaps([1, 0, -0.5, 0, 1, -0.5, 0, 0, 1], composeMaps(ontoQuad(width, height, quad), [1, 0, 0.5, 0, 1, 0.5, 0, 0, 1])); // prettier-ignore
      const matrix = cv.matFromArray(3, 3, cv.CV_64F, [...shift(map)]);
      const [from, to] = [cv.matFromImageData(source as never), new cv.Mat()];
      cv.warpPerspective(from, to, matrix, new cv.Size(width, height), cv.INTER_LINEAR | cv.WARP_INVERSE_MAP);
      const found = difference(target.data, to.data);
      // It places samples by 32nds of a pixel, we by 256ths.
      expect(found.mean).toBeLessThan(0.6);
      expect(found.largest).toBeLessThanOrEqual(8);
      expect(found.same).toBe(true);
    },
  );

  it('what lies beyond the picture is clear, and colours do not darken towards it', () => {
    const source = makePicture(4, 4);
    source.data.fill(200);
    for (let i = 3; i < source.data.length; i += 4) source.data[i] = 255;
    const target = makePicture(8, 8);
    warpRows(source, target, [1, 0, -2.25, 0, 1, -2.25, 0, 0, 1], 0, 8);
    const at = (x: number, y: number) => [...target.data.subarray(4 * (y * 8 + x), 4 * (y * 8 + x) + 4)];
    expect(at(0, 0)).toEqual([0, 0, 0, 0]);
    expect(at(4, 4)).toEqual([200, 200, 200, 255]);
    expect(at(2, 4)).toEqual([200, 200, 200, 191]);
    expect(at(7, 7)).toEqual([0, 0, 0, 0]);
  });

  it('a result made smaller takes a smaller source, and never passes pixels over', () => {
    const picture = { width: 4000, height: 3000 };
    const all: Quad = [[0, 0], [1, 0], [1, 1], [0, 1]]; // prettier-ignore
    const tenth: Quad = [[0, 0], [0.1, 0], [0.1, 0.1], [0, 0.1]]; // prettier-ignore
    for (const scale of [1, 0.5, 0.3, 0.25, 0.1, 0.01]) {
      for (const [recipe, density] of [
        [[], 1],
        [[crop(all, 4000, 3000)], 1],
        [[crop(tenth, 800, 600)], 0.5],
      ] as const) {
        const perPx = (sourceScale(picture, recipe, scale) * density) / scale;
        expect(perPx).toBeLessThan(2);
        if (sourceScale(picture, recipe, scale) < 1) expect(perPx).toBeGreaterThanOrEqual(0.9);
      }
      expect(developedSize(picture, [crop(tenth, 800, 600)], scale)).toEqual({
        width: Math.max(1, Math.round(800 * scale)),
        height: Math.max(1, Math.round(600 * scale)),
      });
    }
  });

  it('one crop after another is one map, and steps that are off do nothing', async () => {
    const picture = { width: 300, height: 220 };
    const source = await photo(300, 220);
    const half: Quad = [[0.5, 0], [1, 0], [1, 1], [0.5, 1]]; // prettier-ignore
    const lower: Quad = [[0, 0.5], [1, 0.5], [1, 1], [0, 1]]; // prettier-ignore
    const both = [crop(half, 150, 220), { ...crop(lower, 150, 110), id: 'second' }];
    expect(resultSize(picture, both)).toEqual({ width: 150, height: 110 });
    const quarter = whole(develop(picture, source, both, 1));
    const once = whole(develop(picture, source, [crop([[0.5, 0.5], [1, 0.5], [1, 1], [0.5, 1]], 150, 110)], 1)); // prettier-ignore
    expect(difference(quarter.data, once.data).largest).toBe(0);
    const off = both.map((step) => ({ ...step, on: false }));
    expect(resultSize(picture, off)).toEqual(picture);
    expect(difference(whole(develop(picture, source, off, 1)).data, source.data).largest).toBe(0);
    expect(sourceMap(picture, off)).toEqual(sourceMap(picture, null));
  });
});

describe('a crop leaves what it keeps where it lies on the paper', () => {
  it('for any frame, placement and crop before it', () => {
    const picture = { width: 800, height: 600 };
    const frame = fc.record({
      cx: fc.double({ min: 200, max: 600, noNaN: true }),
      cy: fc.double({ min: 200, max: 400, noNaN: true }),
      width: fc.integer({ min: 40, max: 200 }),
      height: fc.integer({ min: 40, max: 200 }),
      turnDeg: fc.constant(0),
    });
    const placement = fc.record({
      cx: fc.double({ min: -500, max: 500, noNaN: true }),
      cy: fc.double({ min: -500, max: 500, noNaN: true }),
      scale: fc.double({ min: 0.1, max: 5, noNaN: true }),
      turnDeg: fc.double({ min: 0, max: 360, noNaN: true }),
      mirrored: fc.boolean(),
    });
    fc.assert(
      fc.property(frame, frame, placement, coordinate, coordinate, (first, second, laid, u, v) => {
        const step = (f: typeof first) => crop(partsOf(frameCorners(f), picture), f.width, f.height);
        const [before, after] = [[step(first)], [step(second)]];
        const now = keptPlacement(laid, picture, before, after);
        // A place of the original lies on the same place of the paper by either.
        const place: [number, number] = [picture.width * u, picture.height * v];
        const onPaper = (p: typeof laid, recipe: CropStep[]) =>
          apply(
            placementMatrix(p, resultSize(picture, recipe)),
            ...applyMap(invertMap(sourceMap(picture, recipe)), ...place),
          );
        close(onPaper(now, after), onPaper(laid, before), 5);
        close([now.turnDeg, Number(now.mirrored)], [laid.turnDeg, Number(laid.mirrored)]);
      }),
    );
  });
});

describe('frames', () => {
  const picture = { width: 800, height: 600 };
  it('are told from their corners, and pages are not frames', () => {
    fc.assert(
      fc.property(fc.double({ min: -179, max: 179, noNaN: true }), (turnDeg) => {
        const frame = { cx: 300, cy: 200, width: 160, height: 90, turnDeg };
        const found = frameOf(frameCorners(frame))!;
        close(Object.values(found), Object.values(frame), 6);
      }),
    );
    expect(frameOf([[0, 0], [100, 5], [100, 100], [0, 100]])).toBeUndefined(); // prettier-ignore
    expect(frameOf([[100, 0], [0, 0], [0, 100], [100, 100]])).toBeUndefined(); // prettier-ignore
  });

  it('never hold anything beyond the picture, whatever they were dragged to, and are as large as can be', () => {
    const wild = fc.record({
      cx: fc.double({ min: -900, max: 1700, noNaN: true }),
      cy: fc.double({ min: -900, max: 1700, noNaN: true }),
      width: fc.double({ min: -50, max: 3000, noNaN: true }),
      height: fc.double({ min: -50, max: 3000, noNaN: true }),
      turnDeg: fc.double({ min: -45, max: 45, noNaN: true }),
    });
    fc.assert(fc.property(wild, (frame) => isInside(heldFrame(frame, picture), picture)));
    const largest = largestFrame(picture, 4 / 3, 0, [400, 300]);
    expect([largest.width, largest.height]).toEqual([800, 600]);
    const turned = largestFrame(picture, 1, 20, [400, 300]);
    expect(isInside(turned, picture)).toBe(true);
    expect(isInside({ ...turned, width: turned.width * 1.01, height: turned.height * 1.01 }, picture)).toBe(false);
  });

  it('are level with what was drawn along: the nearer of level and upright', () => {
    expect(levelling([0, 0], [100, 10])).toBeCloseTo(5.71, 2);
    expect(levelling([100, 10], [0, 0])).toBeCloseTo(5.71, 2);
    expect(levelling([0, 0], [-10, 100])).toBeCloseTo(5.71, 2);
    expect(Math.abs(levelling([0, 0], [7, 7]))).toBeCloseTo(45, 9);
  });
});

describe('the shape of a page seen in perspective', () => {
  /** Corners of a sheet held before a pinhole camera: the camera looks at its middle from a side. */
  function seen(ratio: number, tiltX: number, tiltY: number, turn: number, f: number): Quad {
    const [w, h] = [ratio, 1];
    const rotate = (x: number, y: number): [number, number, number] => {
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      const [rx, ry] = [c * x - s * y, s * x + c * y];
      const [y1, z1] = [ry * Math.cos(tiltX), ry * Math.sin(tiltX)];
      return [rx * Math.cos(tiltY) + z1 * Math.sin(tiltY), y1, -rx * Math.sin(tiltY) + z1 * Math.cos(tiltY) + 2.2];
    };
    return [[-1, -1], [1, -1], [1, 1], [-1, 1]].map(([u, v]) => {
      const [x, y, z] = rotate((u * w) / 2, (v * h) / 2);
      return [500 + (f * x) / z, 400 + (f * y) / z];
    }) as never; // prettier-ignore
  }
  it.each([
    ['A4 upright', 210 / 297],
    ['A4 lying', 297 / 210],
    ['square', 1],
    ['a long strip', 2.5],
  ])('is that of the page itself: %s', (_name, ratio) => {
    for (const [tx, ty, turn] of [
      [0.5, 0.2, 0],
      [0.3, -0.4, 0.1],
      [-0.45, 0.35, -0.2],
    ])
      // prettier-ignore
      for (const f of [700, 1100]) {
        const found = shapeOfPage(seen(ratio, tx, ty, turn, f), { width: 1000, height: 800 });
        expect(Math.abs(found / ratio - 1)).toBeLessThan(0.02);
      }
  });

  it('is that of its sides where the camera looks straight on, and its pixels are as many', () => {
    const straight: Quad = [[100, 100], [310, 100], [310, 397], [100, 397]]; // prettier-ignore
    expect(shapeOfPage(straight, { width: 1000, height: 800 })).toBeCloseTo(210 / 297, 6);
    expect(pageSize(straight, 210 / 297)).toEqual({ width: 210, height: 297 });
    const { width, height } = pageSize(straight, 1);
    expect([width, height]).toEqual([250, 250]);
    expect(cornersIn(partsOf(straight, { width: 10, height: 20 }), { width: 10, height: 20 })).toEqual(straight);
  });
});
