import { createCanvas } from '@napi-rs/canvas';
import * as fc from 'fast-check';
import { edgeChains, type EdgeChains } from '../../core/check/edge-chains';
import { inkLine, type InkLine } from '../../core/areas/ink-line';
import { Meant, type MeantPart } from '../../core/check/meant-part';
import { compare } from '../../core/check/missed';
import type { Picture } from '../../core/picture/warp';
import { finish } from '../../core/sheet/ink-work';
import { lineAlong } from '../measures/gapped-drawing';

/** A picture that a reference library draws. */
function drawn(
  width: number,
  height: number,
  paint: (ctx: ReturnType<ReturnType<typeof createCanvas>['getContext']>) => void,
): Picture {
  // prettier-ignore
  const ctx = createCanvas(width, height).getContext('2d');
  ctx.fillStyle = '#e8e8e8';
  ctx.fillRect(0, 0, width, height);
  ctx.fillStyle = '#505050';
  paint(ctx);
  return { width, height, data: new Uint8ClampedArray(ctx.getImageData(0, 0, width, height).data) };
}

const chainsOf = (picture: Picture, sensitivity = 0.5): EdgeChains => finish(edgeChains(picture, sensitivity));

const disc = drawn(300, 200, (ctx) => {
  ctx.arc(120, 100, 60, 0, 7);
  ctx.fill();
});
const circle = (id: string, r: number, from: number, to: number, width = 1.5): InkLine => lineAlong(id, (u) => [120 + r * Math.cos(u), 100 + r * Math.sin(u)], from, to, width, 120); // prettier-ignore
const RULE = { nearPx: 4, leastPx: 16 };

describe('a picture’s edges as lines', () => {
  it('lie on the drawn border, to a fifth of a px in the mean, and go all around it', () => {
    const { points, starts } = chainsOf(disc);
    expect(starts.length).toBeGreaterThanOrEqual(2);
    const far = Array.from({ length: points.length / 2 }, (_, i) => Math.abs(Math.hypot(points[2 * i] - 120, points[2 * i + 1] - 100) - 60)); // prettier-ignore
    expect(far.reduce((sum, v) => sum + v, 0) / far.length).toBeLessThan(0.2);
    expect(Math.max(...far)).toBeLessThan(1);
    let length = 0;
    for (let c = 0; c + 1 < starts.length; c++)
      for (let i = starts[c] + 1; i < starts[c + 1]; i++)
        length += Math.hypot(points[2 * i] - points[2 * i - 2], points[2 * i + 1] - points[2 * i - 1]);
    // Around once, not twice: the staircase of pixels is no longer than a few parts of a hundred more.
    expect(length / (2 * Math.PI * 60)).toBeGreaterThan(0.93);
    expect(length / (2 * Math.PI * 60)).toBeLessThan(1.1);
  });

  it('are none in an even picture; fainter ones come with the dial', () => {
    expect([...chainsOf(drawn(60, 60, () => undefined)).starts]).toEqual([0]);
    const faint = drawn(120, 80, (ctx) => {
      ctx.fillStyle = '#dcdcdc';
      ctx.fillRect(30, 20, 60, 40);
    });
    expect(chainsOf(faint, 0.2).points.length).toBe(0);
    expect(chainsOf(faint, 1).points.length).toBeGreaterThan(200);
  });
});

describe('a drawing against its picture', () => {
  const edges = chainsOf(disc);

  it('all around inked, nothing is missed and nothing is off', () => {
    const found = compare([circle('all', 60, 0, 6.4)], edges, RULE);
    expect([found.missed, found.off]).toEqual([[], []]);
    expect(found.share).toBe(1);
    expect(found.meanPx).toBeLessThan(0.4);
  });

  it('what has no ink is missed, as long as it is, in its middle; longest first', () => {
    // Open from 0 to 1 and from 3 to 3.6 radians.
    const { missed, share } = compare([circle('a', 60, 1, 3), circle('b', 60, 3.6, 2 * Math.PI)], edges, RULE);
    expect(missed).toHaveLength(2);
    const known = (radians: number) => 60 * radians - 2 * (4 + 1.5);
    expect(Math.abs(missed[0].lengthPx - known(1))).toBeLessThan(6);
    expect(Math.abs(missed[1].lengthPx - known(0.6))).toBeLessThan(6);
    expect(Math.atan2(missed[0].y - 100, missed[0].x - 120)).toBeCloseTo(0.5, 0);
    expect(share).toBeCloseTo(1 - (known(1) + known(0.6)) / (2 * Math.PI * 60), 1);
    // Within a loop around the right half there is one.
    const loop = Float64Array.of(125, 30, 190, 30, 190, 170, 125, 170);
    expect(compare([circle('a', 60, 1, 3)], edges, { ...RULE, part: { loops: [loop], ways: [] } }).missed).toHaveLength(
      1,
    );
    expect(compare([circle('a', 60, 1, 3), circle('b', 60, 3.6, 6.3)], edges, { ...RULE, part: { loops: [loop], ways: [] } }).missed).toHaveLength(1); // prettier-ignore
  });

  it('what is painted over is meant, and nothing else; loops and brush add up', () => {
    const ink = [circle('a', 60, 1, 3), circle('b', 60, 3.6, 6.28)];
    const around = Float64Array.of(125, 30, 190, 30, 190, 170, 125, 170);
    const across = { xy: Float64Array.of(170, 110, 172, 140), radiusPx: 20 };
    const beyond = { xy: Float64Array.of(300, 300), radiusPx: 20 };
    const count = (part: MeantPart) => compare(ink, edges, { ...RULE, part }).missed.length;
    expect(count({ loops: [], ways: [across] })).toBe(1);
    expect(count({ loops: [], ways: [beyond] })).toBe(0);
    expect(count({ loops: [], ways: [beyond, { xy: Float64Array.of(62, 90), radiusPx: 30 }] })).toBe(1);
    expect(count({ loops: [around], ways: [{ xy: Float64Array.of(62, 90), radiusPx: 30 }] })).toBe(2);
  });

  it('holds what lies as near to the way as the brush is wide, whatever the way (property)', () => {
    const place = fc.integer({ min: 0, max: 100 });
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place), { minLength: 1, maxLength: 8 }), place, place, (way, x, y) => {
        const meant = new Meant({ loops: [], ways: [{ xy: Float64Array.from(way.flat()), radiusPx: 10 }] });
        // Along each piece, closely.
        let nearest = Infinity;
        way.forEach(([ax, ay], i) => {
          const [bx, by] = way[Math.min(i + 1, way.length - 1)];
          for (let u = 0; u <= 1; u += 1 / 512)
            nearest = Math.min(nearest, Math.hypot(ax + u * (bx - ax) - x, ay + u * (by - ay) - y));
        });
        if (Math.abs(nearest - 10) > 0.2) expect(meant.holds(x, y)).toBe(nearest < 10);
      }),
    );
  });

  it('a line that follows an edge beside it is off by so much; one across it, and hatching, follow none', () => {
    const beside = circle('beside', 67, 0, 6.28);
    const across = inkLine('across', 'ink', Float64Array.of(20, 100, 1, 220, 101, 1));
    const short = inkLine('short', 'ink', Float64Array.of(118, 32, 1, 126, 32, 1));
    const { off, meanPx, mostPx } = compare([beside, across, short], edges, RULE);
    expect(off.map(({ id }) => id)).toEqual(['beside']);
    expect(off[0].meanPx).toBeCloseTo(7, 0);
    expect(off[0].mostPx).toBeLessThan(8);
    expect(meanPx).toBeCloseTo(7, 0);
    expect(mostPx).toBe(off[0].mostPx);
  });

  it('no ink, no edges, a loop of two places: told, not counted', () => {
    const none = compare([], edges, RULE);
    expect(none.share).toBe(0);
    expect(none.missed.length).toBeGreaterThan(0);
    expect(none.meanPx).toBeNaN();
    const blank = { points: new Float32Array(0), starts: Int32Array.of(0) };
    expect(compare([circle('a', 60, 0, 1)], blank, RULE)).toMatchObject({ missed: [], off: [], share: NaN });
    expect(compare([], edges, { ...RULE, part: { loops: [Float64Array.of(1, 1, 2, 2)], ways: [] } }).missed).toEqual(
      none.missed,
    );
  });
});
