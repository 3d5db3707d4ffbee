import { outlineOf } from '../../core/stroke/outline';
import { Spine, spineFrom } from '../../core/stroke/spine';
import { difference, exactUnion, nonzeroFill } from '../measures/stroke-error';
import { HARD_SPINES, random, randomSpine } from '../measures/strokes';

const RECT = { x0: 0, y0: 0, width: 64, height: 64 };
const TOLERANCE = 0.05;

describe('outlines, filled by the nonzero rule, against the exact union of round cones', () => {
  it.each(Object.entries(HARD_SPINES))('leaves no pixel off by more than 0.15: %s', (_name, spine) => {
    expect(difference(nonzeroFill(outlineOf(spine, TOLERANCE), RECT), exactUnion(spine, RECT)).far).toBe(0);
  });

  it('leaves no pixel off in random strokes', () => {
    const rnd = random(3);
    for (let i = 0; i < 120; i++) {
      const spine = randomSpine(rnd, 64, 5 + Math.floor(rnd() * 40), 1 + rnd() * 14);
      const { far } = difference(nonzeroFill(outlineOf(spine, TOLERANCE), RECT), exactUnion(spine, RECT));
      expect({ i, far }).toEqual({ i, far: 0 });
    }
  });

  it('gives no contour for an empty spine and a circle for a dot', () => {
    expect(outlineOf(new Spine(), TOLERANCE)).toEqual({ xy: new Float64Array(), ends: [] });
    const { xy, ends } = outlineOf(spineFrom([[10, 10, 4]]), TOLERANCE);
    expect(ends).toHaveLength(1);
    for (let i = 0; i < ends[0]; i++) expect(Math.hypot(xy[2 * i] - 10, xy[2 * i + 1] - 10)).toBeCloseTo(4, 9);
  });

  it('turns every contour the same way', () => {
    const rnd = random(21);
    for (let i = 0; i < 20; i++) {
      // A smooth stroke: no overlaps that could hide a wrong turn.
      const spine = spineFrom(
        Array.from({ length: 10 }, (_, k) => [8 + k * 5, 30 + 3 * Math.sin(k + rnd()), 1 + rnd()] as const),
      );
      const { xy, ends } = outlineOf(spine, TOLERANCE);
      let area = 0;
      for (let k = 0; k < ends[0]; k++) {
        const n = (k + 1) % ends[0];
        area += xy[2 * k] * xy[2 * n + 1] - xy[2 * n] * xy[2 * k + 1];
      }
      expect(area).toBeGreaterThan(0);
    }
  });
});
