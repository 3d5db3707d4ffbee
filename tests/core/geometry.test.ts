import * as fc from 'fast-check';
import { apply, compose, invert } from '../../core/geometry/matrix';
import { leanOfTilt, tiltOfLean } from '../../core/geometry/tilt';
import { bounded, fitted, moved, restingTurn, toPaper, viewMatrix } from '../../core/geometry/view';
import {
  MAX_AREA_PX,
  MAX_PPI,
  MAX_SIDE_PX,
  MIN_PPI,
  PAPER_PRESETS,
  paperOf,
  paperProblem,
  pxToMm,
  sideIn,
  sideInPx,
  SIZE_UNITS,
} from '../../core/sheet/paper';
import {
  filledPlacement,
  fittedPlacement,
  movePlacement,
  placementMatrix,
  placementMove,
} from '../../core/sheet/placement';

describe('pen lean, against W3C Pointer Events Level 3, its conversion algorithms', () => {
  it.each([
    // The special cases that the algorithm spells out.
    [0, 0, 90, 0],
    [0, 30, 60, 90],
    [0, -30, 60, 270],
    [30, 0, 60, 0],
    [-30, 0, 60, 180],
    [90, 0, 0, 0],
    [0, 90, 0, 90],
    // Its general branch, evaluated by hand: tan 45 = 1 both ways gives atan(1 / sqrt 2) = 35.26.
    [45, 45, 35, 45],
    [-45, -45, 35, 225],
  ])('tilt %d, %d is altitude %d, azimuth %d', (tiltX, tiltY, altitudeDeg, azimuthDeg) => {
    expect(leanOfTilt(tiltX, tiltY)).toEqual({ altitudeDeg, azimuthDeg });
  });

  it('comes back within the rounding to whole degrees', () => {
    for (let x = -60; x <= 60; x += 15)
      for (let y = -60; y <= 60; y += 15) {
        const { tiltXDeg, tiltYDeg } = tiltOfLean(leanOfTilt(x, y));
        expect(Math.abs(tiltXDeg - x)).toBeLessThanOrEqual(2);
        expect(Math.abs(tiltYDeg - y)).toBeLessThanOrEqual(2);
      }
  });
});

describe('paper, against ISO 216 and 1 in = 25.4 mm', () => {
  it('has A4 at 300 ppi as 2480 x 3508 px and 11 x 17 in at 600 ppi as 6600 x 10200 px', () => {
    const size = (id: string, lying = false) =>
      paperOf(
        PAPER_PRESETS.find((p) => p.id === id)!,
        lying,
      );
    expect(size('a4')).toEqual({ widthPx: 2480, heightPx: 3508, ppi: 300 });
    expect(size('a4', true)).toEqual({ widthPx: 3508, heightPx: 2480, ppi: 300 });
    expect(size('comics')).toEqual({ widthPx: 6600, heightPx: 10200, ppi: 600 });
    expect(pxToMm(2480, 300)).toBeCloseTo(210, 0);
  });

  it('keeps A sizes in the ratio of the square root of 2 and halves their area', () => {
    const mm = (id: string) => PAPER_PRESETS.find((p) => p.id === id)!;
    for (const id of ['a3', 'a4', 'a5', 'a6']) expect(mm(id).heightMm / mm(id).widthMm).toBeCloseTo(Math.SQRT2, 1);
    expect(mm('a4').widthMm).toBe(mm('a5').heightMm);
    expect(mm('a3').widthMm).toBe(mm('a4').heightMm);
  });

  it.each([
    [{ widthPx: 10, heightPx: 100, ppi: 300 }, /at least 16/],
    [{ widthPx: 30000, heightPx: 100, ppi: 300 }, /at most 20000/],
    [{ widthPx: 19000, heightPx: Math.ceil(MAX_AREA_PX / 19000) + 1, ppi: 300 }, /million pixels/],
    [{ widthPx: 100.5, heightPx: 100, ppi: 300 }, /whole numbers/],
    [{ widthPx: 100, heightPx: NaN, ppi: 300 }, /whole numbers/],
    [{ widthPx: 100, heightPx: 100, ppi: 0 }, /resolution/],
  ])('says what is wrong with %j', (paper, problem) => expect(paperProblem(paper)).toMatch(problem));

  it('is told in mm and in inches, and comes back as the same px (property)', () => {
    expect([sideInPx(210, 'mm', 300), sideInPx(8.5, 'in', 300), sideInPx(600, 'px', 72)]).toEqual([2480, 2550, 600]);
    expect([sideIn(2480, 'mm', 300), sideIn(2550, 'in', 300)]).toEqual([209.97, 8.5]);
    fc.assert(
      fc.property(
        fc.integer({ min: 16, max: MAX_SIDE_PX }),
        fc.integer({ min: MIN_PPI, max: MAX_PPI }),
        fc.constantFrom(...SIZE_UNITS),
        (px, ppi, unit) => expect(sideInPx(sideIn(px, unit, ppi), unit, ppi)).toBe(px),
      ),
    );
  });
});

describe('view and placement', () => {
  const paper = { width: 2400, height: 3200 };
  const screen = { width: 390, height: 600 };

  it('fits the paper in the middle', () => {
    const view = fitted(paper, screen);
    expect(toPaper(view, 195, 300)[0]).toBeCloseTo(1200, 6);
    expect(toPaper(view, 195, 300)[1]).toBeCloseTo(1600, 6);
    expect(view.scale * paper.height).toBeLessThanOrEqual(600 - 24 + 1e-9);
  });

  it('keeps the paper point under the fingers while zooming and turning', () => {
    const view = { scale: 0.4, turnDeg: 20, x: 12, y: 30 };
    const point = toPaper(view, 100, 200);
    const next = moved(view, [100, 200], [140, 180], 1.7, 33);
    const [x, y] = apply(viewMatrix(next), ...point);
    expect(x).toBeCloseTo(140, 6);
    expect(y).toBeCloseTo(180, 6);
    expect(next.turnDeg).toBeCloseTo(53, 9);
  });

  it('stays between a quarter of the fitted size and 64x, with paper in sight', () => {
    const free = { x0: 0, y0: 0, x1: screen.width, y1: screen.height };
    const fit = fitted(paper, screen);
    expect(bounded({ ...fit, scale: 1e-6 }, paper, free).scale).toBeCloseTo(fit.scale / 4, 6);
    expect(bounded({ ...fit, scale: 1e6 }, paper, free).scale).toBe(64);
    const lost = bounded({ ...fit, x: 9e5, y: -9e5 }, paper, free);
    const [x, y] = toPaper(lost, 195, 300);
    expect(x).toBeCloseTo(0, 3);
    expect(y).toBeCloseTo(3200, 3);
    // Held back at the largest scale, the point under the mouse stays there.
    const near = { ...fit, scale: 64, x: -900, y: -1200 };
    const at = [40, 500] as const;
    const held = bounded(moved(near, at, at, 1.4), paper, free, at);
    toPaper(held, ...at).forEach((v, i) => expect(v).toBeCloseTo(toPaper(near, ...at)[i], 6));
    // Bars that cover the lower half: it is the middle of what is free that stays on the paper.
    const covered = bounded({ ...fit, x: 0, y: -9e5 }, paper, { ...free, y1: 300 });
    expect(toPaper(covered, 195, 150)[1]).toBeCloseTo(3200, 3);
  });

  it('comes to rest level when nearly so', () => {
    expect([restingTurn(2), restingTurn(358), restingTurn(88.5), restingTurn(40)]).toEqual([0, 0, 90, 40]);
  });

  it('places a picture fitted and centred, and turns and mirrors it about its centre', () => {
    const picture = { width: 400, height: 300 };
    const sheet = { widthPx: 1000, heightPx: 1000 };
    const placed = fittedPlacement(picture, sheet);
    const corner = (p: typeof placed) => apply(placementMatrix(p, picture), 0, 0);
    expect(corner(placed)).toEqual([0, 125]);
    expect(corner({ ...placed, mirrored: true })).toEqual([1000, 125]);
    const [x, y] = corner({ ...placed, turnDeg: 90 });
    expect(x).toBeCloseTo(875, 9);
    expect(y).toBeCloseTo(0, 9);
    const shifted = movePlacement(placed, [500, 500], [520, 490], 2, 0);
    expect(shifted).toMatchObject({ cx: 520, cy: 490, scale: 5 });
  });

  it('covers the paper with a picture, and tells what laying it anew moves', () => {
    const picture = { width: 400, height: 300 };
    const sheet = { widthPx: 1000, heightPx: 1000 };
    const filled = filledPlacement(picture, sheet);
    const at = (p: typeof filled, x: number, y: number) => apply(placementMatrix(p, picture), x, y);
    expect([at(filled, 0, 0)[1], at(filled, 400, 300)[1]]).toEqual([0, 1000]);
    expect(at(filled, 200, 150)).toEqual([500, 500]);
    const later = { cx: 420, cy: 310, scale: 0.7, turnDeg: 33, mirrored: true };
    const move = placementMove(filled, later, picture);
    for (const [x, y] of [
      [0, 0],
      [400, 0],
      [123, 300],
    ]) {
      const [mx, my] = apply(move, ...at(filled, x, y));
      const [wx, wy] = at(later, x, y);
      expect(mx).toBeCloseTo(wx, 9);
      expect(my).toBeCloseTo(wy, 9);
    }
  });

  it('undoes a matrix with its inverse and refuses a flat one', () => {
    const m = [2, 1, -1, 3, 40, -7] as const;
    compose(m, invert(m)).forEach((v, i) => expect(v).toBeCloseTo([1, 0, 0, 1, 0, 0][i], 12));
    expect(() => invert([1, 2, 2, 4, 0, 0])).toThrow(RangeError);
  });
});
