import { createCanvas } from '@napi-rs/canvas';
import { stroke as strokeSchema } from '../../contract/entities';
import type { Picture } from '../../core/picture/warp';
import { decodePath, plainNode } from '../../core/stroke/path';
import { simplified, traced, type Traced, type TraceRule } from '../../core/trace/trace';
import { tracedPage } from '../../core/trace/traced-page';
import { tracedStrokes } from '../../ui/session/tracing';
import { tracePath } from '../measures/canvas-path';
import { finished } from '../measures/recipes';
import { random } from '../measures/strokes';
import { cubicLine, drawnLines, placesOf, straightLine, traceError, type KnownLine } from '../measures/traced-drawing';

const trace = (picture: Picture, rule: Partial<TraceRule> = {}): Traced =>
  finished(traced(picture, { specksPx: 3, ...rule }));
const of = (lines: readonly KnownLine[], size = 300, rule: Partial<TraceRule> = {}) =>
  trace(drawnLines(lines, size, size), rule);

describe('traced lines, against lines drawn by @napi-rs/canvas', () => {
  const CURVE = [20, 50, 100, 10, 200, 180, 280, 100];

  it.each([1.6, 3, 5, 9, 14])('lie on the middle of a curve of %f px, as wide as it, in few points', (width) => {
    const line = cubicLine(CURVE, width);
    const { strokes, points, errorPx } = simplified(of([line]), 0.4);
    expect(strokes).toHaveLength(1);
    expect(points).toBeLessThanOrEqual(7);
    expect(errorPx).toBeLessThanOrEqual(0.4);
    const error = traceError(strokes, [line]);
    expect(error.there.mean).toBeLessThan(0.25);
    expect(error.there.most).toBeLessThan(0.75);
    expect(error.back.most).toBeLessThan(0.9);
    expect(error.width.mean).toBeLessThan(0.06 * width + 0.1);
  });

  it.each([
    ['that cross', [straightLine(30, 40, 270, 250, 5), straightLine(30, 250, 270, 60, 4)], 2, 1],
    ['that cross at 19 degrees', [straightLine(30, 100, 270, 140, 5), straightLine(30, 150, 270, 110, 5)], 2, 1],
    ['of which one ends at the other', [straightLine(30, 150, 270, 150, 6), straightLine(150, 150, 150, 270, 3)], 2, 1],
    ['of which three meet', [straightLine(150, 150, 40, 60, 5), straightLine(150, 150, 260, 60, 5), straightLine(150, 150, 150, 280, 5)], 3, 1], // prettier-ignore
    ['that go around', [circle(150, 150, 90, 6)], 1, 0],
    ['that cross themselves', [cubicLine([40, 260, 420, 40, -120, 40, 260, 260], 5)], 1, 1],
    [
      'in a grid',
      [80, 150, 220].flatMap((v) => [straightLine(v, 20, v, 280, 4), straightLine(20, v, 280, v, 4)]),
      6,
      9,
    ],
  ] as [string, KnownLine[], number, number][])('%s are as many, and meet as often', (_, lines, count, junctions) => {
    const found = of(lines);
    const { strokes } = simplified(found, 0.5);
    expect([strokes.length, found.junctions.length]).toEqual([count, junctions]);
    const error = traceError(strokes, lines);
    expect(error.there.worst).toBeLessThan(1.6);
    expect(error.back.worst).toBeLessThan(1.8);
    expect(error.width.mean).toBeLessThan(0.45);
  });

  it('of a page full of curves lie within a pixel both ways, but where ink lies over ink', () => {
    const rnd = random(9);
    const lines = Array.from({ length: 16 }, () =>
      cubicLine(
        Array.from({ length: 8 }, () => 30 + rnd() * 940),
        2 + 4 * rnd(),
      ),
    );
    const found = of(lines, 1000);
    const { strokes, points } = simplified(found, 0.75);
    const error = traceError(strokes, lines);
    expect([error.there.mean < 0.45, error.back.mean < 0.55]).toEqual([true, true]);
    expect([error.there.most < 2, error.back.most < 2.5]).toEqual([true, true]);
    const length = lines.reduce((sum, l) => sum + l.points.length / 2, 0);
    expect((100 * points) / length).toBeLessThan(2);
    // Far fewer than pieces from junction to junction, which would be twice as many as junctions, and more.
    expect(strokes.length).toBeLessThan(lines.length + 0.4 * found.junctions.length);
  });

  it('that taper keep their widths', () => {
    const ctx = createCanvas(300, 120).getContext('2d');
    ctx.fillStyle = '#fff';
    ctx.fillRect(0, 0, 300, 120);
    ctx.fillStyle = '#000';
    ctx.beginPath();
    ctx.moveTo(20, 60);
    ctx.lineTo(280, 51);
    ctx.lineTo(280, 69);
    ctx.fill();
    const data = new Uint8ClampedArray(ctx.getImageData(0, 0, 300, 120).data);
    const { strokes } = simplified(trace({ width: 300, height: 120, data }, { widestPx: 40 }), 0.5);
    const places = strokes.flatMap(({ path, sizePx }) => placesOf(path, sizePx));
    for (const [x, y, width] of places.filter(([px]) => px > 50 && px < 260)) {
      expect(Math.abs(width - (18 * (x - 20)) / 260)).toBeLessThan(1.2);
      expect(Math.abs(y - 60)).toBeLessThan(0.8);
    }
  });

  it('have fewer points the more they may be off, and are never off by more', () => {
    const rnd = random(2);
    const found = of(
      Array.from({ length: 8 }, () =>
        cubicLine(
          Array.from({ length: 8 }, () => 30 + rnd() * 440),
          3,
        ),
      ),
      500,
    );
    let last = Infinity;
    for (const near of [0.25, 0.5, 1, 2, 4]) {
      const { points, errorPx } = simplified(found, near);
      expect(points).toBeLessThanOrEqual(last);
      expect(errorPx).toBeLessThanOrEqual(near);
      last = points;
    }
  });

  it('that are broken go on over a gap that is small enough', () => {
    const parts = [0, 1, 2, 3].map((k) => straightLine(30 + 60 * k, 100 + 10 * k, 80 + 60 * k, 108.3 + 10 * k, 4));
    expect(of(parts, 300, { gapPx: 8 }).lines).toHaveLength(1);
    expect(of(parts, 300, { gapPx: 2 }).lines).toHaveLength(4);
    // Beside each other, or around a corner, they do not.
    expect(
      of([straightLine(30, 100, 140, 100, 4), straightLine(140, 112, 250, 112, 4)], 300, { gapPx: 12 }).lines,
    ).toHaveLength(2);
    expect(
      of([straightLine(30, 100, 140, 100, 4), straightLine(148, 106, 148, 250, 4)], 300, { gapPx: 12 }).lines,
    ).toHaveLength(2);
  });
});

describe('what is no line', () => {
  it('specks are dropped by their size, and told of; dots that are larger are lines of one place', () => {
    const dots = [2, 4, 8].map((width, k) => straightLine(60 + 80 * k, 100, 60.1 + 80 * k, 100, width));
    const found = of(dots, 300, { specksPx: 5 });
    expect(found.specks.map(({ x, y }) => [Math.round(x), Math.round(y)]).sort((a, b) => a[0] - b[0])).toEqual([
      [60, 100],
      [140, 100],
    ]);
    expect(found.lines).toHaveLength(1);
    const all = of(dots, 300, { specksPx: 0 });
    expect([all.specks.length, all.lines.length]).toEqual([0, 3]);
  });

  it.each([3, 5, 8, 11, 14])(
    'a disc of %i px alone on the page is a dot, too, though thinning may leave nothing of it',
    (width) => {
      const { lines } = of([straightLine(100, 100, 100.1, 100, width)], 200, { specksPx: 0, widestPx: 40 });
      expect(lines.map(({ count }) => count)).toEqual([1]);
      expect(Math.abs(lines[0].data[2] - width / 2)).toBeLessThan(0.3);
    },
  );

  it.each([2, 3, 4, 5, 6, 7, 10])('a square of %i px is a dot as large, in its middle', (side) => {
    const page = { width: 60, height: 60, data: new Uint8ClampedArray(4 * 3600).fill(255) };
    for (let y = 20; y < 20 + side; y++) page.data.fill(0, 4 * (60 * y + 20), 4 * (60 * y + 20 + side));
    for (let at = 3; at < page.data.length; at += 4) page.data[at] = 255;
    const { lines } = trace(page, { specksPx: 0, widestPx: 40 });
    expect(lines.map(({ count }) => count)).toEqual([1]);
    const [x, y, r] = lines[0].data;
    expect([x, y]).toEqual([20 + side / 2, 20 + side / 2]);
    expect(r).toBeCloseTo(side / Math.sqrt(Math.PI), 6);
  });

  it('a solid patch is a filled shape as large as it, with its hole, and lines go up to it', () => {
    const ctx = createCanvas(400, 300).getContext('2d');
    ctx.fillStyle = '#fff';
    ctx.fillRect(0, 0, 400, 300);
    ctx.fillStyle = '#000';
    ctx.beginPath();
    ctx.arc(150, 150, 70, 0, 7);
    ctx.fill();
    ctx.fillStyle = '#fff';
    ctx.beginPath();
    ctx.arc(150, 150, 20, 0, 7);
    ctx.fill();
    ctx.lineWidth = 4;
    ctx.beginPath();
    ctx.moveTo(210, 150);
    ctx.lineTo(380, 150);
    ctx.stroke();
    const data = new Uint8ClampedArray(ctx.getImageData(0, 0, 400, 300).data);
    const found = trace({ width: 400, height: 300, data }, { widestPx: 16 });
    const page = tracedPage(found, 1, 0.5);
    expect([page.strokes.length, page.patches.length]).toEqual([1, 1]);
    const [first] = placesOf(page.strokes[0].path, page.strokes[0].sizePx);
    expect(Math.min(first[0], placesOf(page.strokes[0].path, 1).at(-1)![0])).toBeLessThan(230);
    // Drawn again, it covers what was drawn.
    const again = createCanvas(400, 300).getContext('2d');
    tracePath(again, page.patches[0]);
    again.fill('nonzero');
    const drawn = again.getImageData(0, 0, 400, 300).data;
    let off = 0;
    for (let i = 0; i < 400 * 300; i++)
      if (i % 400 < 215) off += Math.abs((255 - data[4 * i]) / 255 - drawn[4 * i + 3] / 255);
    expect(off).toBeLessThan(0.012 * Math.PI * (70 * 70 - 20 * 20));
    expect(page.patches[0].nodes.length).toBeLessThan(30);
  });

  it('inside a loop is what a hand has gone around twice, too', () => {
    const lines = [straightLine(140, 150, 160, 150, 4)];
    const turns = Array.from(
      { length: 80 },
      (_, i) => [150 + 60 * Math.cos(i / 6), 150 + 60 * Math.sin(i / 6)] as const,
    );
    expect(of(lines, 300, { loop: turns }).lines).toHaveLength(1);
  });

  it('outside of a loop there is nothing', () => {
    const lines = [straightLine(20, 60, 280, 60, 4), straightLine(20, 200, 280, 200, 4)];
    const loop = [[10, 150], [290, 150], [290, 250], [150, 240], [10, 250]] as const; // prettier-ignore
    const found = of(lines, 300, { loop });
    expect(found.lines).toHaveLength(1);
    expect(found.lines[0].data[1]).toBeCloseTo(200, 0);
  });

  it('pictures without ink, all ink, and of a pixel come to nothing worse than nothing', () => {
    for (const [width, height] of [
      [1, 1],
      [2, 3],
      [40, 30],
    ])
      // prettier-ignore
      for (const value of [0, 255]) {
        const data = new Uint8ClampedArray(4 * width * height).fill(value);
        for (let at = 3; at < data.length; at += 4) data[at] = 255;
        const page = tracedPage(trace({ width, height, data }), 1, 1);
        expect(page.nodes.every(Number.isFinite)).toBe(true);
        expect(page.strokes.length).toBeLessThanOrEqual(1);
      }
  });
});

describe('traced lines on the paper', () => {
  it('lie where the page lies, turned and mirrored, and are strokes that the server takes', () => {
    const page = tracedPage(of([straightLine(30, 40, 270, 250, 6)]), 0.5, 0.5);
    const layer = {
      picture: { hash: 'a'.repeat(64), width: 600, height: 600 },
      placement: { cx: 400, cy: 300, scale: 0.5, turnDeg: 90, mirrored: true },
      recipe: null,
    };
    const { strokes, parts } = tracedStrokes(layer, page, true, 'lines');
    expect(strokes.every((s) => strokeSchema.safeParse(s).success)).toBe(true);
    const path = decodePath(parts[0][1]);
    // Of 600 px of the page, mirrored and turned by a quarter: (60, 80) and (540, 500) of it.
    const ends = [path.nodes[0], path.nodes.at(-1)!].map(({ x, y }) => [x, y]).sort((a, b) => a[0] - b[0]);
    const expected = [[60, 80], [540, 500]].map(([x, y]) => [400 - (y - 300) * 0.5, 300 - (x - 300) * 0.5]).sort((a, b) => a[0] - b[0]); // prettier-ignore
    ends.forEach(([x, y], i) => expect(Math.hypot(x - expected[i][0], y - expected[i][1])).toBeLessThan(1.2));
    expect(strokes[0].pen.sizePx).toBeCloseTo(6, 0);
  });

  it('of more nodes than one can have are several, and nothing of them is lost', () => {
    const nodes = Array.from({ length: 9000 }, (_, i) => plainNode(i, 10, 'smooth', 0.5));
    const layer = {
      picture: { hash: 'a'.repeat(64), width: 600, height: 600 },
      placement: { cx: 300, cy: 300, scale: 1, turnDeg: 0, mirrored: false },
      recipe: null,
    };
    const { parts } = tracedStrokes(
      layer,
      { strokes: [{ path: { closed: false, nodes }, sizePx: 2 }], patches: [] },
      true,
      'l',
    );
    const paths = parts.map(([, bytes]) => decodePath(bytes));
    expect(paths.map((p) => p.nodes.length)).toEqual([4096, 4096, 810]);
    expect(paths.map((p) => [p.nodes[0].x, p.nodes.at(-1)!.x])).toEqual([
      [0, 4095],
      [4095, 8190],
      [8190, 8999],
    ]);
  });
});

function circle(cx: number, cy: number, radius: number, width: number): KnownLine {
  const n = Math.ceil(4 * Math.PI * radius);
  const points = Array.from({ length: n + 1 }, (_, i) => {
    const a = (2 * Math.PI * i) / n;
    return [cx + radius * Math.cos(a), cy + radius * Math.sin(a)] as const;
  });
  return { points, width };
}
