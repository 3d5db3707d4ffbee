import { createCanvas } from '@napi-rs/canvas';
import * as fc from 'fast-check';
import polygonClipping from 'polygon-clipping';
import { AreaMap, OUTSIDE } from '../../core/areas/area-map';
import { closed } from '../../core/areas/closing';
import { inkLine, type InkLine } from '../../core/areas/ink-line';
import { ringSize, ringsSize, joinedRings } from '../../core/geometry/rings';
import { Inside } from '../../core/fill/shape-inside';
import { finish } from '../../core/sheet/ink-work';
import { lineAlong } from '../measures/gapped-drawing';
import { openCv } from '../measures/opencv';
import { random } from '../measures/strokes';

const SIDE = 240;
const line = (id: string, r: number, ...xy: number[]): InkLine => {
  const data = new Float64Array((xy.length / 2) * 3);
  for (let i = 0; i < xy.length / 2; i++) data.set([xy[2 * i], xy[2 * i + 1], r], 3 * i);
  return inkLine(id, 'ink', data);
};
const EDGE = line('', 0, -2, -2, SIDE + 2, -2, SIDE + 2, SIDE + 2, -2, SIDE + 2, -2, -2);

function mapOf(lines: readonly InkLine[], gapPx = 0): AreaMap {
  return finish(AreaMap.of(closed([...lines, EDGE], gapPx)));
}

/** Ovals and strokes anywhere, some closed and some not. */
function scribbles(rnd: () => number, count: number): InkLine[] {
  return Array.from({ length: count }, (_, n) => {
    const [cx, cy, rx, ry] = [90 + 60 * rnd(), 90 + 60 * rnd(), 8 + 50 * rnd(), 8 + 50 * rnd()];
    const turn = 6.28 * rnd();
    const from = rnd() < 0.5 ? 0 : 0.2 + 0.3 * rnd();
    const at = (u: number): [number, number] => {
      const a = 2 * Math.PI * u;
      const [x, y] = [rx * Math.cos(a), ry * Math.sin(2 * a) * 0.3 + ry * Math.sin(a)];
      return [cx + x * Math.cos(turn) - y * Math.sin(turn), cy + x * Math.sin(turn) + y * Math.cos(turn)];
    };
    return lineAlong(`s${n}`, at, from, 1, 1, 50);
  });
}

type Ring = [number, number][];
const points = (ring: Float64Array): Ring => Array.from({ length: ring.length / 2 }, (_, i) => [ring[2 * i], ring[2 * i + 1]]); // prettier-ignore

describe('areas between lines', () => {
  it('share the paper among them: none is counted twice, none is left out (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 14 }), (seed, count) => {
        const map = mapOf(scribbles(random(seed), count));
        const all = [...map.areas()].reduce((sum, area) => {
          const rings = map.ringsOf(area);
          return sum + (rings[0].length ? ringsSize(rings) : 0);
        }, 0);
        expect(all).toBeCloseTo((SIDE + 4) ** 2, 3);
      }),
      { numRuns: 40 },
    );
  });

  it('hold the same places together as connected components of a raster do (opencv-js)', async () => {
    const { cv } = await openCv();
    const fine = 4;
    for (const seed of [2, 5, 8]) {
      const rnd = random(seed);
      const lines = scribbles(rnd, 9);
      const canvas = createCanvas(SIDE * fine, SIDE * fine);
      const context = canvas.getContext('2d');
      context.fillStyle = '#fff';
      context.fillRect(0, 0, SIDE * fine, SIDE * fine);
      context.lineWidth = 2 * fine;
      context.lineCap = 'round';
      for (const { data, count } of lines) {
        context.beginPath();
        for (let i = 0; i < count; i++) context.lineTo(data[3 * i] * fine, data[3 * i + 1] * fine);
        context.stroke();
      }
      const grey = new cv.Mat(SIDE * fine, SIDE * fine, cv.CV_8UC1);
      const { data } = context.getImageData(0, 0, SIDE * fine, SIDE * fine);
      for (let i = 0; i < grey.data.length; i++) grey.data[i] = data[4 * i] > 200 ? 255 : 0;
      const labels = new cv.Mat();
      cv.connectedComponents(grey, labels, 4);
      const map = mapOf(lines);
      const pairs = new Map<string, number>();
      for (let k = 0; k < 4000; k++) {
        const [x, y] = [Math.floor(SIDE * rnd()), Math.floor(SIDE * rnd())];
        const at = (y * fine + 2) * SIDE * fine + x * fine + 2;
        // Not on a line, and not where the raster has no room between two.
        const label = labels.data32S[at];
        const isOpen = [-6, 6, -6 * SIDE * fine, 6 * SIDE * fine].every((by) => labels.data32S[at + by] === label);
        if (label === 0 || !isOpen) continue;
        const key = `${label}/${map.areaAt(x + 0.5, y + 0.5)}`;
        pairs.set(key, (pairs.get(key) ?? 0) + 1);
      }
      // What the raster holds together is one area. One area may be more to the raster, where lines come near.
      const labelsSeen = new Set([...pairs.keys()].map((key) => key.split('/')[0]));
      expect(labelsSeen.size).toBeGreaterThan(5);
      expect(pairs.size).toBe(labelsSeen.size);
      for (const mat of [grey, labels]) mat.delete();
    }
  });

  it('have what lies apart in them as holes, and holes in holes are areas of their own', () => {
    const ring = (id: string, r: number) => lineAlong(id, (u) => [120 + r * Math.cos(u), 120 + r * Math.sin(u)], 0, 2 * Math.PI, 1, 90); // prettier-ignore
    const map = mapOf([ring('a', 90), ring('b', 60), ring('c', 30)]);
    const rings = map.ringsOf(map.areaAt(120 + 75, 120));
    expect(rings).toHaveLength(2);
    expect(ringsSize(rings)).toBeCloseTo(Math.PI * (90 * 90 - 60 * 60), -2);
    expect(map.ringsOf(map.areaAt(120, 120))).toHaveLength(1);
    expect(map.areaAt(120, 120)).not.toBe(map.areaAt(165, 120));
    expect(map.areaAt(-50, 120)).toBe(OUTSIDE);
    // What lies in a hole is beside what is around it.
    expect([...map.besides(map.areaAt(195, 120)).keys()].sort()).toEqual([map.areaAt(165, 120), map.areaAt(5, 5)].sort()); // prettier-ignore
  });

  it('hatching that hangs on to a border, or lies apart, leaves no trace in it', () => {
    const box = line('box', 2, 40, 40, 200, 40, 200, 200, 40, 200, 40, 40);
    const hatching = Array.from({ length: 12 }, (_, k) => line(`h${k}`, 1, 50 + 10 * k, 40, 60 + 10 * k, 120));
    const stray = line('x', 1, 60, 150, 180, 160);
    const map = mapOf([box, ...hatching, stray]);
    const rings = map.ringsOf(map.areaAt(120, 180));
    expect(rings).toHaveLength(1);
    expect(ringsSize(rings)).toBeCloseTo(160 * 160, 6);
  });

  it('gaps of at most g px are closed, wider ones are open', () => {
    const around = (gap: number) => lineAlong('o', (u) => [120 + 60 * Math.cos(u), 120 + 60 * Math.sin(u)], 0, 2 * Math.PI - (gap + 4) / 60, 2, 120); // prettier-ignore
    for (const gap of [0.5, 3, 7.5, 12, 19]) {
      const narrower = mapOf([around(gap)], gap - 0.4);
      expect(narrower.areaAt(120, 120)).toBe(narrower.areaAt(3, 3));
      const wider = mapOf([around(gap)], gap + 0.2);
      expect(wider.areaAt(120, 120)).not.toBe(wider.areaAt(3, 3));
    }
  });
});

describe('rings as one', () => {
  it('enclose what they did, less the holes: as polygon-clipping has it (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 0, max: 30 }), (seed, count) => {
        const rnd = random(seed);
        const blob = (cx: number, cy: number, r: number, n: number) =>
          Float64Array.from({ length: 2 * n }, (_, i) => {
            const a = (2 * Math.PI * (i >> 1)) / n;
            return i % 2 ? cy + r * Math.sin(a) : cx + r * Math.cos(a);
          });
        // Holes in a grid: none touches another, or the outer ring.
        const cells = Array.from({ length: 36 }, (_, k) => [(k % 6) * 30 + 35, Math.floor(k / 6) * 30 + 35] as const)
          .sort(() => rnd() - 0.5)
          .slice(0, count);
        const outer = Float64Array.of(0, 0, 220, 3, 230, 221, -4, 215);
        const holes = cells.map(([x, y]) =>
          blob(x + 4 * rnd(), y + 4 * rnd(), 3 + 8 * rnd(), 3 + Math.floor(9 * rnd())),
        );
        const joined = joinedRings([outer, ...holes]);
        expect(Math.abs(ringSize(joined))).toBeCloseTo(ringsSize([outer, ...holes]), 6);
        const inside = new Inside([joined]);
        const theirs = polygonClipping.difference([points(outer)], ...holes.map((h): [Ring] => [points(h)]));
        const expected = theirs.reduce((sum, [ring, ...inner]) => sum + Math.abs(ringSize(Float64Array.from(ring.flat()))) - inner.reduce((s, h) => s + Math.abs(ringSize(Float64Array.from(h.flat()))), 0), 0); // prettier-ignore
        expect(Math.abs(ringSize(joined))).toBeCloseTo(expected, 6);
        for (const hole of holes) {
          const xs = points(hole);
          const [mx, my] = [xs.reduce((s, p) => s + p[0], 0) / xs.length, xs.reduce((s, p) => s + p[1], 0) / xs.length]; // prettier-ignore
          expect(inside.holds(mx, my)).toBe(false);
        }
      }),
    );
  });

  it('of no ring nothing is left, and a ring alone stays as it is', () => {
    expect(joinedRings([])).toHaveLength(0);
    expect([...joinedRings([Float64Array.of(0, 0, 4, 0, 4, 4)])]).toEqual([0, 0, 4, 0, 4, 4]);
  });
});
