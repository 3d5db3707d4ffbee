import { bridgeOf } from '../../core/check/bridge';
import { Closing } from '../../core/areas/closing';
import { inkLine, type InkLine } from '../../core/areas/ink-line';
import { findLeaks, leaksOf, type Leak } from '../../core/check/leaks';
import { LineSegments } from '../../core/areas/line-segments';
import { Subdivision, type Tie } from '../../core/areas/subdivision';
import { finish } from '../../core/sheet/ink-work';
import { flattened } from '../../core/stroke/path';
import { emptySamples } from '../../core/stroke/samples';
import * as fc from 'fast-check';
import polygonClipping from 'polygon-clipping';
import { gappedDrawing, lineAlong, type KnownGap } from '../measures/gapped-drawing';
import { random } from '../measures/strokes';

const line = (id: string, r: number, ...xy: number[]): InkLine => {
  const data = new Float64Array((xy.length / 2) * 3);
  for (let i = 0; i < xy.length / 2; i++) data.set([xy[2 * i], xy[2 * i + 1], r], 3 * i);
  return inkLine(id, 'ink', data);
};

/** What lines and ties divide the paper into; the ties have the numbers of their order. */
function divided(lines: readonly InkLine[], ties: readonly Tie[]): Subdivision {
  const subdivision = new Subdivision(new LineSegments(lines));
  finish(subdivision.addLines(lines.map((_, n) => n)));
  subdivision.addTies(ties);
  subdivision.settle();
  return subdivision;
}

/** A leak as a line that closes it. */
function bridged(leak: Leak, n: number): InkLine {
  const { path, sizePx } = bridgeOf(leak, [leak.end.r, leak.at.r]);
  const { x, y, count, unitLog2 } = flattened(path, emptySamples());
  const data = new Float64Array(3 * count);
  for (let i = 0; i < count; i++) data.set([x[i] * 2 ** -unitLog2, y[i] * 2 ** -unitLog2, sizePx / 2], 3 * i);
  return inkLine(`bridge${n}`, 'ink', data);
}

/** Leaks whichever of the two ends is named first, widest first. */
const described = (leaks: readonly Leak[]): string[] =>
  leaks.map(({ end, at, gapPx, areaPx, runsOut }) => `${gapPx.toFixed(4)} ${((end.x + at.x) / 2).toFixed(3)} ${((end.y + at.y) / 2).toFixed(3)} ${areaPx.toFixed(2)} ${runsOut}`).sort(); // prettier-ignore

const isNear = (leak: Leak, gap: KnownGap): boolean =>
  Math.hypot((leak.end.x + leak.at.x) / 2 - gap.x, (leak.end.y + leak.at.y) / 2 - gap.y) < 6;

describe('segments of lines', () => {
  it('are found wherever they lie, as lines come and go, one far away among them', () => {
    const rnd = random(9);
    const anyLine = (k: number): InkLine => {
      const far = k % 17 === 0 ? 1e6 * rnd() : 0;
      const long = k % 11 === 0 ? 900 : 12;
      const [x, y] = [far + 1000 * rnd(), 700 * rnd()];
      return line(`l${k}`, 1, ...Array.from({ length: 2 * Math.ceil(9 * rnd()) }, (_, i) => (i % 2 ? y : x) + long * (rnd() - 0.5))); // prettier-ignore
    };
    const segments = new LineSegments(Array.from({ length: 300 }, (_, k) => anyLine(k)));
    const there = new Set(segments.lines.keys());
    let some = 0;
    for (let round = 0; round < 40; round++) {
      for (const number of [...there].filter(() => rnd() < 0.05)) {
        segments.remove(number);
        there.delete(number);
      }
      for (const number of segments.addAll(Array.from({ length: 1 + Math.floor(120 * rnd()) }, (_, k) => anyLine(k)))) there.add(number); // prettier-ignore
      const [x, y] = [1200 * rnd() - 100, 800 * rnd() - 50];
      const [w, h] = round % 5 ? [40 * rnd(), 40 * rnd()] : [Infinity, 0];
      const found = Array.from(segments.within(x - w, y, x, y + h), (s) => `${segments.line[s]} ${segments.at[s]}`);
      const all: string[] = [];
      for (const number of there) {
        const { data, count } = segments.lines[number];
        for (let i = 0; i < Math.max(1, count - 1); i++) {
          const [a, b] = [3 * i, 3 * Math.min(i + 1, count - 1)];
          // The part of it that lies between two sides, and then between the other two.
          const part = [0, 1];
          for (const [k, from, to] of [
            [0, x - w, x],
            [1, y, y + h],
          ]) {
            // prettier-ignore
            const way = data[b + k] - data[a + k];
            const cuts = way ? [(from - data[a + k]) / way, (to - data[a + k]) / way].sort((p, q) => p - q) : data[a + k] >= from && data[a + k] <= to ? [0, 1] : [1, 0]; // prettier-ignore
            part[0] = Math.max(part[0], cuts[0]);
            part[1] = Math.min(part[1], cuts[1]);
          }
          if (part[0] <= part[1]) all.push(`${number} ${i}`);
        }
      }
      expect(all.filter((one) => !found.includes(one))).toEqual([]);
      expect(new Set(found).size).toBe(found.length);
      some += all.length;
    }
    expect(some).toBeGreaterThan(300);
  });
});

describe('areas between lines', () => {
  it('are those of the crossing squares that a reference library cuts', () => {
    const rnd = random(5);
    for (let round = 0; round < 20; round++) {
      // Squares of one size: none lies within another.
      const shapes = Array.from({ length: 3 }, () => {
        const [cx, cy, s, a] = [50 + 12 * rnd(), 50 + 12 * rnd(), 30, 6.28 * rnd()];
        return [0, 1, 2, 3, 0].map((k): [number, number] => [cx + s * Math.cos(a + (k * Math.PI) / 2), cy + s * Math.sin(a + (k * Math.PI) / 2)]); // prettier-ignore
      });
      const lines = shapes.map((xy, n) => line(`s${n}`, 1, ...xy.flat()));
      // Their own ends meet: one place.
      const ties = lines.map((l, n) => {
        const at = { x: l.data[0], y: l.data[1] };
        return { end: { line: n, isStart: false, ...at }, at: { line: n, place: 0, ...at } };
      });
      const { areas } = divided(lines, ties).faces;
      const ours = areas.filter((v) => v > 1e-6).reduce((sum, v) => sum + v / 2, 0);
      const ringArea = (ring: number[][]) => ring.reduce((sum, [x, y], i) => { const [u, v] = ring[(i + 1) % ring.length]; return sum + (x * v - u * y) / 2; }, 0); // prettier-ignore
      const union = polygonClipping.union([shapes[0]], [shapes[1]], [shapes[2]]);
      const theirs = union.reduce((sum, [outer, ...holes]) => sum + Math.abs(ringArea(outer)) - holes.reduce((h, r) => h + Math.abs(ringArea(r)), 0), 0); // prettier-ignore
      const within = areas.filter((v) => v < 0).reduce((sum, v) => sum - v / 2, 0);
      // All areas inside, and what the outermost borders enclose; holes between three shapes are areas, too.
      const holes = union.reduce((sum, [, ...h]) => sum + h.reduce((s, r) => s + Math.abs(ringArea(r)), 0), 0);
      expect(ours).toBeCloseTo(theirs + holes, 6);
      expect(within).toBeCloseTo(theirs + holes, 6);
    }
  });

  it('of many lines are as many as Euler tells: of what hangs together, places less edges plus areas are 2', () => {
    // Rows and columns, each crossing each: more places than there is room for at first, twice over.
    for (const n of [20, 33, 47]) {
      const lines = Array.from({ length: 2 * n }, (_, k) => {
        const at = 10 + 7.3 * (k >> 1);
        const far = 20 + 7.3 * n;
        return k % 2 ? line(`c${k}`, 1, at, 0, at + 1, far) : line(`r${k}`, 1, 0, at, far, at + 1);
      });
      const { faces } = divided(lines, []);
      expect(faces.areas.filter((area) => area > 0).length).toBe((n - 1) * (n - 1));
      expect(faces.areas.filter((area) => area < 0).length).toBe(1);
    }
  });

  it('a join that leads nowhere has one area to both sides', () => {
    const lines = [line('a', 1, 0, 0, 100, 0), line('b', 1, 0, 50, 100, 50)];
    const tie = (x: number, place: number): Tie => ({ end: { line: 0, isStart: place === 0, x, y: 0 }, at: { line: 1, place, x, y: 50 } }); // prettier-ignore
    const [left, right] = divided(lines, [tie(0, 0)]).sidesOf(0)!;
    expect(left).toBe(right);
    const both = divided(lines, [tie(0, 0), tie(100, 1)]);
    expect(new Set(both.sidesOf(0)).size).toBe(2);
    expect(Math.max(...both.faces.areas) / 2).toBeCloseTo(5000, 6);
  });
});

describe('leaks', () => {
  it('are the gaps of a shape, from edge to edge; a closed one has none, nor has one that is open wide', () => {
    const around = (gap: number) => lineAlong('o', (u) => [100 + 60 * Math.cos(u), 100 + 60 * Math.sin(u)], 0, 2 * Math.PI - (gap + 4) / 60, 2, 80); // prettier-ignore
    expect(findLeaks([around(-2)], 8)).toEqual([]);
    expect(findLeaks([around(30)], 8)).toEqual([]);
    const [leak, ...others] = findLeaks([around(5)], 8);
    expect(others).toEqual([]);
    // Along the chord it is a hair less than along the arc.
    expect(leak.gapPx).toBeCloseTo(5, 1);
    expect(leak).toMatchObject({ runsOut: true, otherEnd: { line: 0 } });
    expect(leak.areaPx).toBeCloseTo(Math.PI * 60 * 60, -2);
  });

  it('two shapes would run together where a line between them stops short', () => {
    const box = line('box', 2, 0, 0, 200, 0, 200, 100, 0, 100, 0, 0);
    const [leak, ...others] = findLeaks([box, line('wall', 2, 100, -1, 100, 91)], 8);
    expect(others).toEqual([]);
    expect(leak).toMatchObject({ runsOut: false, otherEnd: undefined });
    expect(leak.gapPx).toBeCloseTo(5, 6);
    expect(leak.areaPx).toBeCloseTo(10000, -2);
  });

  it('ends that lead nowhere are none: a stray line, hatching that hangs on to an outline, ends side by side', () => {
    const box = line('box', 2, 0, 0, 200, 0, 200, 100, 0, 100, 0, 0);
    const hatching = Array.from({ length: 20 }, (_, k) => line(`h${k}`, 1, 20 + 6 * k, 0, 26 + 6 * k, 60 + (k % 3)));
    const stray = line('stray', 1, -40, 50, -7, 52);
    expect(findLeaks([box, stray, ...hatching], 8)).toEqual([]);
  });

  it('on a dense page all that were left are found, to a tenth of a px, and fewer than 5 of 100 are false', () => {
    let [known, found, wrong, all] = [0, 0, 0, 0];
    for (const seed of [3, 7, 11]) {
      const { lines, gaps } = gappedDrawing(9, 9, seed, 36);
      const leaks = findLeaks(lines, 8);
      known += gaps.length;
      all += leaks.length;
      wrong += leaks.filter((leak) => !gaps.some((gap) => isNear(leak, gap))).length;
      for (const gap of gaps) {
        const leak = leaks.find((l) => isNear(l, gap));
        if (!leak) continue;
        found++;
        expect(Math.abs(leak.gapPx - gap.px)).toBeLessThan(0.1);
      }
    }
    expect(known).toBeGreaterThan(150);
    expect(found / known).toBeGreaterThan(0.99);
    expect(wrong / all).toBeLessThan(0.05);
  });

  it('bridged, none is left; the bridge goes on as the ends do and is as wide', () => {
    for (const seed of [3, 11]) {
      const { lines } = gappedDrawing(4, 4, seed, 20);
      const leaks = findLeaks(lines, 8);
      expect(leaks.length).toBeGreaterThan(5);
      expect(findLeaks([...lines, ...leaks.map(bridged)], 8)).toEqual([]);
    }
    const arc = lineAlong('o', (u) => [100 + 60 * Math.cos(u), 100 + 60 * Math.sin(u)], 0, 2 * Math.PI - 0.2, 2, 120);
    const [leak] = findLeaks([arc], 12);
    const { data, count } = bridged(leak, 0);
    // It lies on the circle that it closes.
    for (let i = 0; i < count; i++) expect(Math.hypot(data[3 * i] - 100, data[3 * i + 1] - 100)).toBeCloseTo(60, 0);
    expect(data[2]).toBe(2);
  });

  it('nothing, a dot, lines on each other, a line of one place, and far away numbers do no harm', () => {
    const dot = line('dot', 3, 50, 50);
    const twice = [line('a', 1, 0, 0, 50, 0, 100, 0), line('b', 1, 0, 0, 50, 0, 100, 0)];
    const still = line('still', 1, 5, 5, 5, 5, 5, 5);
    const far = line('far', 1, 1e9, 1e9, 1e9 + 50, 1e9);
    expect(findLeaks([], 8)).toEqual([]);
    expect(findLeaks([dot], 8)).toEqual([]);
    expect(findLeaks([dot, ...twice, still, far], 8)).toEqual([]);
  });

  it('followed from edit to edit, they are those that are found at once', () => {
    fc.assert(
      fc.property(
        fc.integer(),
        fc.array(fc.tuple(fc.nat(), fc.nat(3)), { minLength: 1, maxLength: 12 }),
        (seed, edits) => {
          const { lines } = gappedDrawing(3, 2, seed, 14);
          const closing = new Closing(8);
          let now: InkLine[] = lines.slice();
          finish(closing.follow(now));
          edits.forEach(([which, what], k) => {
            const at = which % now.length;
            const moved = (dx: number, dy: number, id: string) => inkLine(id, 'ink', now[at].data.map((v, i) => v + [dx, dy, 0][i % 3])); // prettier-ignore
            if (what === 0) now = now.filter((_, n) => n !== at);
            else if (what === 1) now = [...now, moved(3.3 * k, 2.1, `copy${k}`)];
            else if (what === 2) now = now.map((one, n) => (n === at ? moved(1.7, -2.9, one.id) : one));
            // Back again: as an undo.
            else now = lines.slice();
            finish(closing.follow(now));
            expect(described(leaksOf(closing))).toEqual(described(findLeaks(now, 8)));
          });
        },
      ),
      { numRuns: 60 },
    );
  });

  it('all lines of a small drawing that are replaced by others are crossed as new ones are', () => {
    const { lines } = gappedDrawing(3, 3, 8, 20);
    const closing = new Closing(8);
    finish(closing.follow([line('a', 1, 0, 0, 40, 3), line('b', 2, 20, -9, 22, 30)]));
    finish(closing.follow(lines));
    expect(described(leaksOf(closing))).toEqual(described(findLeaks(lines, 8)));
    expect(findLeaks(lines, 8).length).toBeGreaterThan(3);
  });

  it('an edit that was given up in its middle is made good by the next', () => {
    const { lines } = gappedDrawing(9, 9, 5, 80);
    const closing = new Closing(8);
    const first = closing.follow(lines.slice(4));
    expect(first.next().done).toBe(false);
    first.return(false);
    finish(closing.follow(lines.slice(9)));
    const half = closing.follow(lines.map(({ id, data }) => inkLine(id, 'ink', data)));
    expect(half.next().done).toBe(false);
    half.return(false);
    finish(closing.follow(lines));
    expect(described(leaksOf(closing))).toEqual(described(findLeaks(lines, 8)));
  });

  it('the same lines, moved, turned and in another order, have the same leaks', () => {
    const { lines } = gappedDrawing(3, 3, 11, 12);
    const before = findLeaks(lines, 8);
    const [c, s] = [Math.cos(0.7), Math.sin(0.7)];
    const turned = [...lines].reverse().map(({ id, data }) => inkLine(id, 'ink', data.map((v, i) => (i % 3 === 0 ? c * v - s * data[i + 1] + 31 : i % 3 === 1 ? s * data[i - 1] + c * v - 17 : v)))); // prettier-ignore
    const after = findLeaks(turned, 8);
    const sizes = (leaks: readonly Leak[]) => leaks.map(({ gapPx, areaPx }) => [gapPx.toFixed(3), areaPx.toFixed(0)].join(' ')).sort(); // prettier-ignore
    expect(sizes(after)).toEqual(sizes(before));
  });
});
