import * as fc from 'fast-check';
import { curveThrough, monotoneCurve, STRAIGHT, type CurvePoints } from '../../core/picture/tone-curve';
import { fromLight, toLight } from '../../core/picture/srgb';

const unit = fc.double({ min: 0, max: 1, noNaN: true });
const curves = fc
  .array(fc.tuple(unit, unit), { minLength: 2, maxLength: 9 })
  .map((points) => {
    const sorted = [...points].sort((a, b) => a[0] - b[0]);
    return sorted.filter(([x], i) => i === 0 || x - sorted[i - 1][0] > 0.01) as CurvePoints;
  })
  .filter((points) => points.length > 1);

describe('the tone curve', () => {
  it('is the one of the paper: its data, rising and flat, without overshoot', () => {
    // Fritsch & Carlson 1980, table 1 (data "RPN 14"), from memory, unverified; what is checked is the paper's property.
    const x = [7.99, 8.09, 8.19, 8.7, 9.2, 10, 12, 15, 20];
    const y = [0, 2.76429e-5, 4.37498e-2, 0.169183, 0.469428, 0.94374, 0.998636, 0.999919, 0.999994];
    const curve = monotoneCurve(x.map((v, i) => [v, y[i]]));
    let last = -1;
    for (let at = 7.99; at <= 20; at += 0.001) {
      const value = curve(at);
      expect(value).toBeGreaterThanOrEqual(last - 1e-12);
      expect(value).toBeLessThanOrEqual(0.999994 + 1e-12);
      last = value;
    }
    x.forEach((v, i) => expect(curve(v)).toBeCloseTo(y[i], 12));
  });

  it('goes through its points and never beyond the two that it lies between, whatever they are', () => {
    fc.assert(
      fc.property(curves, unit, (points, u) => {
        const curve = monotoneCurve(points);
        for (const [x, y] of points) expect(curve(x)).toBeCloseTo(y, 9);
        const first = points[0][0];
        const at = first + u * (points[points.length - 1][0] - first);
        const k = Math.max(
          0,
          Math.min(
            points.length - 2,
            points.findLastIndex(([x]) => x <= at),
          ),
        );
        const [low, high] = [points[k][1], points[k + 1][1]].sort((a, b) => a - b);
        const value = curve(at);
        expect(value).toBeGreaterThanOrEqual(low - 1e-9);
        expect(value).toBeLessThanOrEqual(high + 1e-9);
      }),
    );
  });

  it('leaves everything as it is when it is straight, and is level beyond its ends', () => {
    const curve = monotoneCurve(STRAIGHT);
    for (let v = 0; v <= 255; v++) expect(Math.round(255 * curve(v / 255))).toBe(v);
    const cut = monotoneCurve([[0.2, 0.1], [0.8, 0.9]]); // prettier-ignore
    expect([cut(0), cut(0.2), cut(0.5), cut(1)]).toEqual([0.1, 0.1, expect.closeTo(0.5, 12), 0.9]);
    expect(monotoneCurve([[0.3, 0.7]])(0.9)).toBe(0.7);
  });

  it('makes what is touched shadow and light, in either order, also where both are the same', () => {
    for (const [shadow, light] of [
      [0.3, 0.7],
      [0.7, 0.3],
      [0, 1],
    ]) {
      // prettier-ignore
      const curve = monotoneCurve(curveThrough(shadow, light));
      expect(curve(Math.min(shadow, light))).toBeLessThan(0.1);
      expect(curve(Math.max(shadow, light))).toBeGreaterThan(0.9);
    }
    for (const v of [0, 0.5, 1]) {
      const points = curveThrough(v, v);
      points.forEach(([x], i) => {
        expect(x).toBeGreaterThanOrEqual(0);
        expect(x).toBeLessThanOrEqual(1);
        if (i) expect(x - points[i - 1][0]).toBeGreaterThan(0.009);
      });
    }
  });
});

describe('sRGB', () => {
  it('is coded and decoded as the standard says', () => {
    // IEC 61966-2-1: 18 % grey is coded near 0.4613; the linear part ends at 0.04045.
    expect(fromLight(0.18)).toBeCloseTo(0.4614, 3);
    expect(toLight(0.04045)).toBeCloseTo(0.0031308, 6);
    for (let v = 0; v <= 255; v++) expect(Math.round(255 * fromLight(toLight(v / 255)))).toBe(v);
  });
});
