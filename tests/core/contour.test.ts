import { contourAround, type ContourWays } from '../../core/fill/contour';
import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { makePixels } from '../../core/raster/pixels';
import { finish } from '../../core/sheet/ink-work';
import { putRows } from '../../core/sheet/steps';
import { decodePath, plainNode, type StrokePath } from '../../core/stroke/path';
import { ovalPath } from '../../core/stroke/forms';
import { makePen, type Pen } from '../../core/stroke/pen';
import { inkLayer, strokeEntity, TestSheet } from '../measures/sheets';

const pen = (sizePx: number) => makePen('fineliner', sizePx, 0, false, 1);
const WAYS: ContourWays = { widthPx: 8, uneven: 0, gapPx: 0 };
const SIDE = 300;
const PAPER = { widthPx: SIDE, heightPx: SIDE, ppi: 300 };
const ring = (cx: number, cy: number, r: number) => ovalPath({ x: cx - r, y: cy - r }, { x: cx + r, y: cy + r }, true);
const polyline = (...xy: number[]): StrokePath => ({
  closed: false,
  nodes: Array.from({ length: xy.length / 2 }, (_, k) => plainNode(xy[2 * k], xy[2 * k + 1], 'corner')),
});

/** A sheet with a contour laid around its lines, on a layer of its own. */
function contoured(lines: readonly [StrokePath, Pen][], ways: ContourWays) {
  const sheet = new TestSheet();
  for (const [path, one] of lines) sheet.path(path, one);
  const found = finish(contourAround(sheet.ink, ['lines'], PAPER, ways));
  const strokes = found.map(({ sizePx }, i) =>
    strokeEntity(`c${i}`, { layerId: 'contour', order: `b${i}`, pen: pen(sizePx) }),
  );
  sheet.put(
    [putRows('layers', inkLayer('contour', { order: 'Zz' })), putRows('strokes', ...strokes)],
    found.map(({ bytes }, i): [string, Uint8Array] => [`c${i}`, bytes]),
  );
  return { sheet, found, paths: found.map(({ bytes }) => decodePath(bytes)) };
}

/** How much of each pixel a layer covers, 0 to 255. */
function coverOf(sheet: TestSheet, layerId: string): (x: number, y: number) => number {
  const pixels = sheet.ink.draw(layerId, 0, makePixels(0, 0, SIDE, SIDE), new RasterWorkspace(SIDE, SIDE));
  return (x, y) => pixels?.data[4 * (Math.floor(y) * SIDE + Math.floor(x)) + 3] ?? 0;
}

/** Where a ray from a middle meets the first and the last covered pixel, px from there. */
function along(cover: (x: number, y: number) => number, cx: number, cy: number, deg: number): [number, number] {
  const [dx, dy] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
  const hits: number[] = [];
  for (let r = 0; r < 140; r += 0.25) if (cover(cx + r * dx, cy + r * dy) > 127) hits.push(r);
  return [hits[0], hits[hits.length - 1]];
}

describe('a contour', () => {
  it('goes around a ring outside it, as wide as it is told, over its edge a little, and not inside', () => {
    const { sheet, paths } = contoured([[ring(150, 150, 60), pen(6)]], WAYS);
    expect(paths).toHaveLength(1);
    expect(paths[0].closed).toBe(true);
    const cover = coverOf(sheet, 'contour');
    for (let deg = 0; deg < 360; deg += 15) {
      // The ring ends at 63 px; of 8 px a quarter would lie over it, at most 2.
      const [from, to] = along(cover, 150, 150, deg);
      expect(Math.abs(from - 61)).toBeLessThan(0.8);
      expect(Math.abs(to - 71)).toBeLessThan(0.8);
    }
  });

  it('uneven is thick to the lower right and thin to the upper left, and touches all around', () => {
    const { sheet } = contoured([[ring(150, 150, 60), pen(6)]], { ...WAYS, widthPx: 12, uneven: 0.6 });
    const cover = coverOf(sheet, 'contour');
    for (let deg = 0; deg < 360; deg += 15) {
      const [from, to] = along(cover, 150, 150, deg);
      expect(Math.abs(from - 61)).toBeLessThan(1.3);
      // A circle of 63 + 12 px, moved by 0.6 x 12 px to the lower right.
      const turned = ((deg - 45) * Math.PI) / 180;
      const outer = 7.2 * Math.cos(turned) + Math.sqrt(75 ** 2 - (7.2 * Math.sin(turned)) ** 2);
      expect(Math.abs(to - outer)).toBeLessThan(0.9);
    }
  });

  it('is one around what touches, one around each part that stands alone, none around what lies inside another', () => {
    const face = ring(100, 100, 50);
    const lines: [StrokePath, Pen][] = [
      [face, pen(4)],
      [ring(100, 100, 8), pen(4)],
      [polyline(140, 100, 200, 100), pen(4)],
      [ring(240, 240, 20), pen(4)],
    ];
    expect(contoured(lines, WAYS).paths).toHaveLength(2);
  });

  it('does not go into a gap that is small enough, and does into a larger one', () => {
    const open = polyline(...Array.from({ length: 35 }, (_, k) => [150 + 60 * Math.cos((k * 10 * Math.PI) / 180), 150 + 60 * Math.sin((k * 10 * Math.PI) / 180)]).flat()); // prettier-ignore
    // From 340 to 360 degrees 21 px are open, 15 of them between the ends of the line.
    const inside = (gapPx: number) => {
      const cover = coverOf(contoured([[open, pen(6)]], { ...WAYS, gapPx }).sheet, 'contour');
      return [90, 180, 270].some((deg) => along(cover, 150, 150, deg)[0] < 56);
    };
    expect([inside(0), inside(24)]).toEqual([true, false]);
  });

  it('does not go into a bay that its own width closes', () => {
    const bay = polyline(...Array.from({ length: 35 }, (_, k) => [150 + 60 * Math.cos((k * 10 * Math.PI) / 180), 150 + 60 * Math.sin((k * 10 * Math.PI) / 180)]).flat()); // prettier-ignore
    const { paths, sheet } = contoured([[bay, pen(6)]], { ...WAYS, widthPx: 30 });
    expect(paths).toHaveLength(1);
    const cover = coverOf(sheet, 'contour');
    for (const deg of [90, 180, 270]) expect(along(cover, 150, 150, deg)[0]).toBeGreaterThan(56);
  });

  it('of what leaves the paper leaves it as well: no line jumps', () => {
    // A band across the whole paper, and one that is broader than the paper is high.
    for (const sizePx of [20, 900]) {
      const { paths } = contoured([[polyline(-500, 140, 800, 160), pen(sizePx)]], { ...WAYS, widthPx: 16 });
      expect(paths).toHaveLength(1);
      for (const { nodes } of paths)
        nodes.forEach((node, i) => {
          const next = nodes[(i + 1) % nodes.length];
          const isOnPaper = (v: number) => v > -8 && v < SIDE + 8;
          const isJump = isOnPaper(node.x) !== isOnPaper(next.x) && Math.abs(node.y - next.y) > 60;
          expect(isJump).toBe(false);
        });
    }
  });

  it('leaves out what was erased and what only takes away; of nothing there is none', () => {
    expect(contoured([], WAYS).paths).toEqual([]);
    const sheet = new TestSheet();
    sheet.path(polyline(20, 150, 280, 150), pen(6));
    sheet.put([], []);
    const soft = { ...pen(30), fades: true as const };
    sheet.path(polyline(20, 20, 280, 20), soft);
    expect(finish(contourAround(sheet.ink, ['lines'], PAPER, WAYS))).toHaveLength(1);
  });

  it('of a filled shape goes around it, and has few enough nodes to be changed by', () => {
    const { paths } = contoured([[ring(150, 150, 60), { ...pen(2), fill: 'alone' }]], WAYS);
    expect(paths).toHaveLength(1);
    expect(paths[0].nodes.length).toBeLessThan(24);
  });
});
