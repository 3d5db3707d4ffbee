import * as fc from 'fast-check';
import { ovalPath, pathOf } from '../../core/stroke/forms';
import { flattened, type StrokePath } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';
import {
  movedPath,
  movedPen,
  nearestOnPath,
  nodeAt,
  pulled,
  smoothed,
  straightPath,
  withNode,
  withoutNode,
} from '../../core/stroke/pulls';
import { emptySamples } from '../../core/stroke/samples';
import { random } from '../measures/strokes';

const line = () => smoothed(straightPath({ x: 20, y: 100 }, { x: 220, y: 100 }));
const places = (path: StrokePath) => {
  const { x, y, count } = flattened(path, emptySamples());
  return Array.from({ length: count }, (_, i) => ({ x: x[i] / 64, y: y[i] / 64 }));
};
const pullAt = (path: StrokePath, from: { x: number; y: number }, to: { x: number; y: number }): StrokePath => {
  const made = withNode(path, nearestOnPath(path, from));
  return pulled(made.path, made.at, to);
};

describe('a line that is pulled', () => {
  it('is straight to begin with, whatever its length', () => {
    for (const { y } of places(line())) expect(y).toBeCloseTo(100, 6);
    expect(places(smoothed(straightPath({ x: 5, y: 5 }, { x: 5, y: 5 })))[0]).toEqual({ x: 5, y: 5 });
  });

  it('bends as a circle does, by and large, when it is pulled once in its middle', () => {
    const bent = pullAt(line(), { x: 120, y: 100 }, { x: 120, y: 60 });
    // The circle through its three places.
    const r = (100 * 100 + 40 * 40) / 80;
    for (const { x, y } of places(bent)) expect(Math.abs(Math.hypot(x - 120, y - 60 - r) - r)).toBeLessThan(0.03 * r);
  });

  it('goes through each pulled place, however many there are and whichever goes next (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const rnd = random(seed);
        let path = line();
        for (let n = 0; n < 5; n++) {
          const at = places(path)[Math.floor(rnd() * places(path).length)];
          const to = { x: 240 * rnd(), y: 200 * rnd() };
          const before = path.nodes.map(({ x, y }) => ({ x, y }));
          path = pullAt(path, at, to);
          // Those that were there stay where they are.
          for (const { x, y } of [...before, to]) expect(nearestOnPath(path, { x, y }).away).toBeLessThan(1e-6);
          expect(path.nodes).toHaveLength(before.length + 1);
        }
        for (const one of path.nodes) expect([one.inX, one.inY, one.outX, one.outY].every(Number.isFinite)).toBe(true);
      }),
      { numRuns: 60, seed: 5 },
    );
  });

  it('does not move when it only gets one more node (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const rnd = random(seed);
        const [rx, ry] = [25 + 100 * rnd(), 15 + 100 * rnd()];
        const oval = ovalPath({ x: 0, y: 0 }, { x: 2 * rx, y: 2 * ry }, false);
        const { path, at } = withNode(oval, { after: Math.floor(4 * rnd()), u: 0.05 + 0.9 * rnd(), away: 0 });
        expect(path.nodes[at].kind).toBe('auto');
        for (const { x, y } of places(path))
          expect(Math.abs(Math.hypot((x - rx) / rx, (y - ry) / ry) - 1)).toBeLessThan(
            0.0003 + 1 / 64 / Math.min(rx, ry),
          );
        for (const { x, y } of oval.nodes) expect(nearestOnPath(path, { x, y }).away).toBeLessThan(1e-9);
      }),
      { numRuns: 40, seed: 6 },
    );
  });

  it('has no corner where it was pulled', () => {
    let path = pullAt(line(), { x: 80, y: 100 }, { x: 70, y: 40 });
    path = pullAt(path, { x: 170, y: 90 }, { x: 190, y: 170 });
    for (const { inX, inY, outX, outY } of path.nodes.slice(1, -1))
      expect(Math.abs(inX * outY - inY * outX) / (Math.hypot(inX, inY) * Math.hypot(outX, outY))).toBeLessThan(1e-9);
  });

  it('is as it was when a pull is taken away, and keeps its two ends', () => {
    const bent = pullAt(line(), { x: 120, y: 100 }, { x: 120, y: 60 });
    expect(places(withoutNode(bent, 1))).toEqual(places(line()));
    expect(withoutNode(line(), 0).nodes).toHaveLength(2);
    expect(nodeAt(bent, { x: 122, y: 63 }, 6)).toBe(1);
    expect(nodeAt(bent, { x: 60, y: 63 }, 6)).toBeUndefined();
  });

  it('may be closed, and keeps the handles that are its own', () => {
    const oval = ovalPath({ x: 0, y: 0 }, { x: 200, y: 100 }, false);
    const bent = pullAt(oval, { x: 170, y: 85 }, { x: 230, y: 120 });
    expect(bent.closed).toBe(true);
    expect(nearestOnPath(bent, { x: 230, y: 120 }).away).toBeLessThan(1e-6);
    // Its neighbours' handles are as much shorter as the sides they reach into; the others are as they were.
    const smooth = bent.nodes.filter((n) => n.kind === 'smooth');
    expect(smooth.slice(2)).toEqual(oval.nodes.slice(2));
    expect(smooth.map(({ x, y }) => [x, y])).toEqual(oval.nodes.map(({ x, y }) => [x, y]));
    // Between its last place and its first, too.
    const last = pullAt(oval, { x: 170, y: 15 }, { x: 190, y: -20 });
    expect(last.nodes).toHaveLength(5);
    expect(nearestOnPath(last, { x: 190, y: -20 }).away).toBeLessThan(1e-6);
  });

  it('goes in steps of 15 degrees where it is to be even', () => {
    const { nodes } = pathOf('bend', { x: 10, y: 10 }, { x: 110, y: 34 }, { isEven: true })!;
    const deg = (Math.atan2(nodes[1].y - 10, nodes[1].x - 10) * 180) / Math.PI;
    expect(deg).toBeCloseTo(15, 9);
    expect(pathOf('freehand', { x: 0, y: 0 }, { x: 9, y: 9 })).toBeUndefined();
  });

  it('is the same line without the matrix that moved it', () => {
    const matrix = [0, 2, -2, 0, 300, 20] as const;
    const bent = pullAt(line(), { x: 120, y: 100 }, { x: 120, y: 60 });
    const [moved, own] = [places(movedPath(bent, matrix)), places(bent)];
    for (const { x, y } of own)
      expect(Math.min(...moved.map((m) => Math.hypot(m.x - (300 - 2 * y), m.y - (20 + 2 * x))))).toBeLessThan(9);
    expect(movedPen(makePen('brush', 10, 20, true, 1), matrix)).toMatchObject({ sizePx: 20, handScale: 0.5 });
  });
});
