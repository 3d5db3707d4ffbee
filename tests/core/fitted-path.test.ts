import fitCurve from 'fit-curve';
import { fittedPath, FIT_PX } from '../../core/stroke/fitted-path';
import { encodePath } from '../../core/stroke/pack-path';
import { decodePath } from '../../core/stroke/path';
import { ENGINE, makePen, type Pen } from '../../core/stroke/pen';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { spineFrom, type Spine } from '../../core/stroke/spine';
import { SpineMaker } from '../../core/stroke/spine-maker';
import { nearestOn } from '../../core/sheet/lines-near';
import { pointAt } from '../../core/stroke/spine-place';
import { handSamples, random } from '../measures/strokes';

const maker = new SpineMaker();
const even = (sizePx: number): Pen => makePen('fineliner', sizePx, 0, false, 1);

/** The spine of a fitted path, and how far the two lie from each other, in place and in radius. */
function apart(line: Spine, sizePx: number) {
  const path = decodePath(encodePath(fittedPath(line, sizePx)));
  const made = maker.ofBytes(encodePath(path), even(sizePx), ENGINE, 0.02);
  const middle = (spine: Spine): Spine => {
    const thin = spineFrom(
      Array.from({ length: spine.count }, (_, i) => [spine.data[3 * i], spine.data[3 * i + 1], 0]),
    );
    return thin;
  };
  /** How much a radius differs at least from a line's where it passes near: where it crosses itself it passes twice. */
  const wider = ({ data, count }: Spine, x: number, y: number, r: number) => {
    let least = Infinity;
    for (let i = 0; i + 1 < count; i++) {
      const part = spineFrom([0, 1].map((n) => [data[3 * (i + n)], data[3 * (i + n) + 1], data[3 * (i + n) + 2]]));
      const near = nearestOn(middle(part), x, y);
      if (near.gap <= FIT_PX) least = Math.min(least, Math.abs(r - pointAt(part, near.place)[2]));
    }
    return least;
  };
  const far = (a: Spine, b: Spine) => {
    let [place, radius] = [0, 0];
    const thin = middle(b);
    for (let i = 0; i < a.count; i++) {
      const [x, y, r] = pointAt(a, i);
      const near = nearestOn(thin, x, y);
      place = Math.max(place, near.gap);
      const off = Math.abs(r - pointAt(b, near.place)[2]);
      radius = Math.max(radius, off > FIT_PX ? wider(b, x, y, r) : off);
    }
    return { place, radius };
  };
  const [one, other] = [far(line, made), far(made, line)];
  return {
    nodes: path.nodes.length,
    corners: path.nodes.slice(1, -1).filter((n) => n.kind === 'corner').length,
    place: Math.max(one.place, other.place),
    radius: Math.max(one.radius, other.radius),
  };
}

const drawn = (path: (u: number) => readonly [number, number], pen: Pen, ms = 900, seed = 1) =>
  maker.measured(encodeSamples(handSamples(path, { ms, seed })), pen, ENGINE, 0.1).spine;

const WAYS: Record<string, (u: number) => readonly [number, number]> = {
  wave: (u) => [20 + 400 * u, 150 + 60 * Math.sin(9 * u)],
  spiral: (u) => [200 + 150 * (1 - u) * Math.cos(16 * u), 200 + 150 * (1 - u) * Math.sin(16 * u)],
  loop: (u) => [60 + 220 * u + 120 * Math.sin(6.3 * u), 200 - 90 * Math.sin(3.1 * u)],
  straight: (u) => [30 + 300 * u, 40 + 90 * u],
  flick: (u) => [100 + 24 * u, 100 + 9 * u * u],
};

describe('a drawn line as a path of few nodes', () => {
  it.each(Object.keys(WAYS))('%s: at most half a px off, in place and in radius, with any pen', (name) => {
    for (const [i, pen] of [even(4), makePen('dip', 9, 35, true, 1), makePen('brush', 24, 35, true, 1)].entries()) {
      const line = drawn(WAYS[name], pen, 900, i + 1);
      const { nodes, place, radius } = apart(line, pen.sizePx);
      expect(place).toBeLessThanOrEqual(FIT_PX);
      expect(radius).toBeLessThanOrEqual(FIT_PX);
      expect(nodes).toBeLessThan(Math.max(10, line.count / 3));
    }
  });

  it('needs no more nodes than fit-curve with the same error allowed, on lines of one width', () => {
    const rnd = random(9);
    let [ours, theirs] = [0, 0];
    for (let n = 0; n < 30; n++) {
      const [a, b, c] = [40 + 120 * rnd(), 2 + 6 * rnd(), 6 * rnd()];
      const line = drawn((u) => [20 + 380 * u, 200 + a * Math.sin(b * u + c)], even(4), 900, n + 1);
      const { nodes, place } = apart(line, 4);
      expect(place).toBeLessThanOrEqual(FIT_PX);
      const places = Array.from({ length: line.count }, (_, i) => [line.data[3 * i], line.data[3 * i + 1]]);
      ours += nodes - 1;
      // Its error is squared.
      theirs += fitCurve(places, FIT_PX * FIT_PX).length;
    }
    expect(ours).toBeLessThanOrEqual(1.1 * theirs);
  });

  it('has a corner where the hand has made one, and none else', () => {
    const zigzag = spineFrom(
      Array.from({ length: 301 }, (_, i) => {
        const leg = Math.min(2, Math.floor(i / 100));
        const u = (i - 100 * leg) / 100;
        return [40 + 80 * (leg + u), 100 + (leg % 2 ? 80 * (1 - u) : 80 * u), 3] as const;
      }),
    );
    expect(apart(zigzag, 6)).toMatchObject({ corners: 2, nodes: 4 });
    expect(apart(drawn(WAYS.loop, even(4)), 4).corners).toBe(0);
  });

  it('may be a dot, or two points, or lie all on one place', () => {
    expect(fittedPath(spineFrom([[5, 6, 2]]), 4).nodes).toMatchObject([{ x: 5, y: 6, width: 1 }]);
    expect(
      fittedPath(
        spineFrom([
          [5, 6, 2],
          [5, 6, 2],
        ]),
        4,
      ).nodes,
    ).toHaveLength(1);
    const two = fittedPath(
      spineFrom([
        [5, 6, 1],
        [25, 6, 2],
      ]),
      4,
    );
    expect(two.nodes.map((n) => [n.x, n.width])).toEqual([
      [5, 0.5],
      [25, 1],
    ]);
  });
});
