import { createCanvas } from '@napi-rs/canvas';
import { cannyEdges, edgeMap } from '../../core/picture/edges';
import { lumaOf } from '../../core/picture/luma';
import { openCv } from '../measures/opencv';
import { PHOTOGRAPHS } from '../measures/photographs';
import { finished, photo } from '../measures/recipes';

const near = (mask: ArrayLike<number>, width: number, at: number): boolean =>
  [0, 1, -1, width, -width, width + 1, width - 1, -width - 1, 1 - width].some((d) => mask[at + d]);

/** The part of one mask's pixels that have one of the other within a pixel. */
function share(of: ArrayLike<number>, by: ArrayLike<number>, width: number): number {
  let [n, found] = [0, 0];
  for (let at = 0; at < of.length; at++)
    if (of[at]) {
      n++;
      if (near(by, width, at)) found++;
    }
  return found / n;
}

describe('edges', () => {
  // OpenCV rounds the slope's direction to an eighth of a turn: in the softer photograph that tells more pixels apart.
  it.each([
    [4, 10, 0.97, ...PHOTOGRAPHS[0]],
    [10, 25, 0.97, ...PHOTOGRAPHS[0]],
    [20, 40, 0.97, ...PHOTOGRAPHS[0]],
    [4, 10, 0.95, ...PHOTOGRAPHS[1]],
    [10, 25, 0.95, ...PHOTOGRAPHS[1]],
  ])(
    'from slopes of %i and %i, %d of them lie where OpenCV has them, within a pixel: %s',
    async (low, high, least, _name, bytes) => {
      const { cv } = await openCv();
      const source = await photo(bytes);
      const grey = lumaOf(source);
      const whole = { ...grey, data: Float32Array.from(grey.data, (v) => Math.round(v)) };
      const ours = cannyEdges(whole, low, high);
      const mat = cv.matFromArray(grey.height, grey.width, cv.CV_8UC1, Array.from(whole.data));
      const theirs = new cv.Mat();
      // Its slopes are those of Sobel's sums: eight times as large.
      cv.Canny(mat, theirs, 8 * low, 8 * high, 3, true);
      expect(ours.mask.reduce((a, b) => a + b, 0)).toBeGreaterThan(200);
      expect(share(ours.mask, theirs.data, grey.width)).toBeGreaterThan(least);
      expect(share(theirs.data, ours.mask, grey.width)).toBeGreaterThan(least);
      mat.delete();
      theirs.delete();
    },
  );

  it('lie where a disc has its rim, to a fraction of a pixel', () => {
    const side = 200;
    const ctx = createCanvas(side, side).getContext('2d');
    ctx.fillStyle = '#fff';
    ctx.fillRect(0, 0, side, side);
    ctx.fillStyle = '#222';
    ctx.beginPath();
    ctx.arc(101.3, 98.7, 61.5, 0, 2 * Math.PI);
    ctx.fill();
    const { data } = ctx.getImageData(0, 0, side, side);
    const grey = lumaOf({ width: side, height: side, data: new Uint8ClampedArray(data) });
    const { mask, offX, offY } = cannyEdges(grey, 10, 20);
    const off: number[] = [];
    mask.forEach((on, at) => {
      if (!on) return;
      const [x, y] = [(at % side) + 0.5 + offX[at], Math.floor(at / side) + 0.5 + offY[at]];
      off.push(Math.abs(Math.hypot(x - 101.3, y - 98.7) - 61.5));
    });
    expect(off.length).toBeGreaterThan(300);
    expect(off.reduce((a, b) => a + b) / off.length).toBeLessThan(0.12);
    expect(Math.max(...off)).toBeLessThan(0.5);
  });

  it('a map of them is dark on white where they are; over the picture, it shows through; nothing has none', async () => {
    const source = await photo();
    const run = (amount: number, picture = source) => finished(edgeMap(picture, 1, 0.5, amount));
    const alone = run(1).data;
    const values = [...alone.filter((_, at) => at % 4 === 0)];
    expect(values.filter((v) => v === 255).length / values.length).toBeGreaterThan(0.5);
    expect(values.filter((v) => v < 200).length).toBeGreaterThan(300);
    const over = run(0.25).data;
    for (let at = 0; at < over.length; at += 4)
      if (alone[at] === 255) expect(Math.abs(over[at] - (0.75 * source.data[at] + 0.25 * 255))).toBeLessThanOrEqual(1);
    const plain = { width: 9, height: 5, data: new Uint8ClampedArray(180).fill(120) };
    expect(run(1, plain).data.every((v, at) => v === (at % 4 === 3 ? 120 : 255))).toBe(true);
    for (const size of [1, 2, 3]) {
      const tiny = { width: size, height: 1, data: new Uint8ClampedArray(4 * size).fill(255) };
      expect(run(1, tiny).data).toHaveLength(4 * size);
    }
  });
});
