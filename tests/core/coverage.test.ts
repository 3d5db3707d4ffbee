import { addSpine } from '../../core/raster/add-spine';
import { halfPlane, rampAt, RAMPS, RAMP_STEPS, REACH } from '../../core/raster/half-plane';
import { CoverageMask } from '../../core/raster/coverage-mask';
import { Spine, spineFrom } from '../../core/stroke/spine';
import { makePen } from '../../core/stroke/pen';
import { spineOf } from '../../core/stroke/spine-maker';
import { difference, edgeError, exactUnion, ourCoverage } from '../measures/stroke-error';
import { HARD_SPINES, handSamples, random, randomSpine } from '../measures/strokes';

const RECT = { x0: 0, y0: 0, width: 64, height: 64 };

const cover = (spine: Spine) => ourCoverage(spine, RECT);

describe('coverage of round cones, against 8 x 8 supersampling of their exact union', () => {
  it.each([0.25, 0.5, 1, 2, 5, 10, 20])(
    'keeps the edge error of a %f px line within mean 0.02, largest 0.10',
    (width) => {
      const { mean, largest } = edgeError(width);
      expect(mean).toBeLessThanOrEqual(0.02);
      expect(largest).toBeLessThanOrEqual(0.1);
    },
  );

  it('keeps it within mean 0.02 and 0.15 along curved, tapering hand strokes, where joints are mitred', () => {
    const rnd = random(4);
    const found = Array.from({ length: 60 }, (_, i) => {
      const angle = rnd() * 6.28;
      const [c, s, sway] = [Math.cos(angle), Math.sin(angle), rnd() * 20];
      const path = (u: number) => {
        const [along, aside] = [44 * (u - 0.5), sway * (Math.sin(u * 5) - 0.5)];
        return [32 + c * along - s * aside, 32 + s * along + c * aside] as const;
      };
      const samples = handSamples(path, { ms: 400, seed: i + 1, tremorPx: 0.2 });
      const spine = spineOf(samples, makePen('dip', 1 + rnd() * 8, 30, true, 1), 0.1);
      return difference(cover(spine), exactUnion(spine, RECT));
    });
    expect(found.reduce((sum, d) => sum + d.mean, 0) / found.length).toBeLessThanOrEqual(0.02);
    expect(found.reduce((sum, d) => sum + d.far, 0)).toBe(0);
  });

  it('takes a blunt, small end for a disc: nothing shows beyond it', () => {
    const spine = spineFrom([
      [20, 20, 1.2],
      [17.5, 13.9, 0.67],
      [17.1, 13.6, 0.195],
    ]);
    expect(difference(cover(spine), exactUnion(spine, RECT)).far).toBe(0);
  });

  it.each(Object.entries(HARD_SPINES))('has no hole and nothing extra: %s', (_name, spine) => {
    const found = cover(spine);
    const exact = exactUnion(spine, RECT);
    const holes = exact.filter((e, i) => e === 1 && found[i] < 0.8);
    const extras = exact.filter((e, i) => e === 0 && found[i] > 0.2);
    expect([holes.length, extras.length]).toEqual([0, 0]);
  });

  it('keeps the weight of hairlines: the sum of coverage is length times width', () => {
    for (const width of [0.1, 0.25, 0.5, 0.8]) {
      const spine = spineFrom([
        [10, 20.3, width / 2],
        [50, 20.3, width / 2],
      ]);
      const weight = cover(spine).reduce((a, b) => a + b, 0);
      // A row of 8-bit roundings: 40 px, each at most 1/510 off in two rows.
      expect(Math.abs(weight - 40 * width)).toBeLessThan(40 * (2 / 510) + width * 1.1);
    }
  });

  it('reads ramps from a table that keeps to the formula within 0.012, in every direction', () => {
    let worst = 0;
    for (let deg = 0; deg < 360; deg += 0.7) {
      const [nx, ny] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
      const [a, b] = [Math.max(Math.abs(nx), Math.abs(ny)), Math.min(Math.abs(nx), Math.abs(ny))];
      for (let s = -REACH; s < REACH; s += 0.001) {
        const found = RAMPS[rampAt(nx, ny) + Math.floor((s + REACH) * RAMP_STEPS)] / 255;
        worst = Math.max(worst, Math.abs(found - halfPlane(s, a, b)));
      }
    }
    expect(worst).toBeLessThan(0.012);
  });

  it('covers half a pixel by any edge through its middle, all of it or none beyond reach', () => {
    for (const [a, b] of [
      [1, 0],
      [0.8, 0.6],
      [Math.SQRT1_2, Math.SQRT1_2],
    ])
      expect([-REACH, 0, REACH].map((s) => halfPlane(s, a, b))).toEqual([0, 0.5, 1]);
  });

  it('gives the same bytes whatever rectangle they are computed in', () => {
    const rnd = random(5);
    for (let i = 0; i < 40; i++) {
      const spine = randomSpine(rnd, 64, 20, 12);
      const whole = new CoverageMask(64, 64);
      addSpine(whole, spine, 1);
      for (const [x0, y0] of [
        [0, 0],
        [32, 0],
        [0, 32],
        [32, 32],
      ]) {
        const part = new CoverageMask(32, 32);
        part.placeAt(x0, y0);
        addSpine(part, spine, 1);
        const same = (y: number) =>
          Buffer.compare(
            part.data.subarray(y * 32, y * 32 + 32),
            whole.data.subarray((y + y0) * 64 + x0, (y + y0) * 64 + x0 + 32),
          ) === 0;
        expect(Array.from({ length: 32 }, (_, y) => y).filter((y) => !same(y))).toEqual([]);
      }
    }
  });

  it('is the same drawn at once or continued, and clean after cleaning', () => {
    const spine = randomSpine(random(9), 64, 30, 8);
    const whole = new CoverageMask(64, 64);
    addSpine(whole, spine, 1);
    const parts = new CoverageMask(64, 64);
    const first = new Spine();
    for (let i = 0; i < 15; i++) first.push(spine.data[3 * i], spine.data[3 * i + 1], spine.data[3 * i + 2]);
    addSpine(parts, first, 1, { ends: false });
    addSpine(parts, spine, 1, { from: 13 });
    expect(parts.data).toEqual(whole.data);
    parts.clean();
    expect(parts.data.every((v) => v === 0)).toBe(true);
    expect(parts.isClean).toBe(true);
  });

  it('takes an empty spine and one outside the mask without a trace', () => {
    expect(cover(new Spine()).every((v) => v === 0)).toBe(true);
    expect(
      cover(
        spineFrom([
          [-50, -50, 5],
          [-40, -60, 5],
        ]),
      ).every((v) => v === 0),
    ).toBe(true);
  });
});
