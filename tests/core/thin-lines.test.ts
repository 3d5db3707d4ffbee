import { inkLine, type InkLine } from '../../core/areas/ink-line';
import { findThin } from '../../core/check/thin';
import { drawStroke, RasterWorkspace } from '../../core/raster/draw-stroke';
import { makePixels } from '../../core/raster/pixels';
import { Spine } from '../../core/stroke/spine';

/** A level line whose width goes by its length. */
function lineOf(id: string, width: (u: number) => number, length = 400, points = 81): InkLine {
  const data = new Float64Array(3 * points);
  for (let i = 0; i < points; i++) data.set([(length * i) / (points - 1), 10, width(i / (points - 1)) / 2], 3 * i);
  return inkLine(id, 'ink', data);
}

describe('thin lines', () => {
  it('are those with a part below the limit, but for their points; longest part first', () => {
    const { thin } = findThin(
      [
        lineOf('even', () => 3),
        lineOf('hair', () => 0.6),
        lineOf('pointed', (u) => 4 * Math.min(1, 20 * u, 20 * (1 - u))),
        lineOf('waist', (u) => (u > 0.4 && u < 0.6 ? 0.8 : 3)),
      ],
      1.06,
    );
    expect(thin.map(({ id }) => id)).toEqual(['hair', 'waist']);
    expect(thin[0]).toMatchObject({ widthPx: expect.closeTo(0.6, 6), lengthPx: expect.closeTo(400, 6), y: 10 });
    expect(thin[0].factor).toBeGreaterThan(1.06 / 0.6);
    expect(thin[0].factor).toBeLessThan((1.1 * 1.06) / 0.6);
    // To a segment at each side.
    expect(Math.abs(thin[1].lengthPx - 80)).toBeLessThanOrEqual(10);
    expect(Math.abs(thin[1].x - 200)).toBeLessThan(10);
  });

  it('sums lengths by width, all of them', () => {
    const { widths } = findThin([lineOf('a', () => 1), lineOf('b', () => 5, 100)], 1, [2, 4]);
    expect([...widths].map((v) => Math.round(v))).toEqual([400, 0, 100]);
    expect([...findThin([], 1, [2]).widths]).toEqual([0, 0]);
  });

  it('half a pixel is the least of a screen: a line of that width is never darker than half, one of a pixel is', () => {
    const darkest = (widthPx: number) => {
      // At all places between rows, the palest.
      let palest = 1;
      for (let k = 0; k < 8; k++) {
        const spine = new Spine();
        spine.push(2, 8 + k / 8, widthPx / 2);
        spine.push(30, 8 + k / 8, widthPx / 2);
        const pixels = makePixels(0, 0, 32, 16);
        const box = { x0: 1, y0: 6, x1: 31, y1: 11 };
        drawStroke(pixels, { spine, colour: [0, 0, 0], box, holes: [] } as never, 1, new RasterWorkspace(32, 16));
        let most = 0;
        for (let y = 0; y < 16; y++) most = Math.max(most, pixels.data[4 * (y * 32 + 16) + 3]);
        palest = Math.min(palest, most / 255);
      }
      return palest;
    };
    expect(darkest(0.5)).toBeLessThanOrEqual(0.51);
    expect(darkest(2)).toBeGreaterThan(0.74);
  });

  it('a line of one place, and one without length, are none', () => {
    const dot = inkLine('dot', 'ink', Float64Array.of(1, 1, 0.1));
    const still = inkLine('still', 'ink', Float64Array.of(1, 1, 0.1, 1, 1, 0.1));
    expect(findThin([dot, still], 1).thin).toEqual([]);
  });
});
