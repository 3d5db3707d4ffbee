import { createCanvas } from '@napi-rs/canvas';
import TraceSkeleton from 'skeleton-tracing-js';
import { componentsOf } from '../../core/picture/components';
import { squaredDistances } from '../../core/trace/distance';
import { straightenStairs, thin } from '../../core/trace/thinning';
import { cubicLine, drawnLines } from '../measures/traced-drawing';
import { openCv } from '../measures/opencv';
import { random } from '../measures/strokes';
import { zhangSuen } from '../measures/zhang-suen';

interface Mask {
  width: number;
  height: number;
  data: Uint8Array;
}

const maskOf = (rows: readonly string[]): Mask => ({
  width: rows[0].length,
  height: rows.length,
  data: Uint8Array.from(rows.join(''), (c) => (c === '#' ? 1 : 0)),
});
const shown = ({ width, height, data }: Mask): string[] =>
  Array.from({ length: height }, (_, y) =>
    [...data.subarray(y * width, (y + 1) * width)].map((v) => (v ? '#' : '.')).join(''),
  );

function thinned({ width, height, data }: Mask, straight = false): Mask {
  const stride = width + 2;
  const padded = new Uint8Array(stride * (height + 2));
  for (let y = 0; y < height; y++) padded.set(data.subarray(y * width, (y + 1) * width), (y + 1) * stride + 1);
  thin(padded, stride);
  if (straight) straightenStairs(padded, stride);
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    out.set(padded.subarray((y + 1) * stride + 1, (y + 1) * stride + 1 + width), y * width);
  return { width, height, data: out };
}

/** Blobs and lines of all widths. */
function drawing(seed: number, size = 160): Mask {
  const rnd = random(seed);
  const lines = Array.from({ length: 9 }, () =>
    cubicLine(
      Array.from({ length: 8 }, () => 8 + rnd() * (size - 16)),
      1 + 11 * rnd() ** 2,
    ),
  );
  const { data } = drawnLines(lines, size, size);
  return {
    width: size,
    height: size,
    data: Uint8Array.from({ length: size * size }, (_, i) => (data[4 * i] < 128 ? 1 : 0)),
  };
}

/** How many of the pixels around one are in a mask. */
const around = ({ width, data }: Mask, at: number): number =>
  [-width - 1, -width, -width + 1, -1, 1, width - 1, width, width + 1].reduce((sum, d) => sum + data[at + d], 0);

/** Pieces of the paper: holes, and what is around; sides only, as its complement hangs together. */
function papers({ width, height, data }: Mask): number {
  const seen = new Uint8Array(data.length);
  let count = 0;
  for (let first = 0; first < data.length; first++) {
    if (data[first] || seen[first]) continue;
    count++;
    const open = [first];
    seen[first] = 1;
    while (open.length) {
      const at = open.pop()!;
      const x = at % width;
      for (const next of [x > 0 ? at - 1 : -1, x + 1 < width ? at + 1 : -1, at - width, at + width])
        if (next >= 0 && next < width * height && !data[next] && !seen[next]) {
          seen[next] = 1;
          open.push(next);
        }
    }
  }
  return count;
}

describe('thinning', () => {
  it('is pixel by pixel what the paper’s own way gives', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const mask = drawing(seed);
      expect(shown(thinned(mask))).toEqual(shown({ ...mask, data: zhangSuen(mask.data, mask.width, mask.height) }));
    }
    const rnd = random(3);
    const noise: Mask = {
      width: 70,
      height: 50,
      data: Uint8Array.from({ length: 3500 }, () => (rnd() < 0.62 ? 1 : 0)),
    };
    expect(shown(thinned(noise))).toEqual(shown({ ...noise, data: zhangSuen(noise.data, 70, 50) }));
  });

  it('is pixel by pixel what another library makes of letters, of a drawing and of noise (skeleton-tracing-js)', () => {
    const size = 90;
    const letter = (text: string): Mask => {
      const ctx = createCanvas(size, size).getContext('2d');
      ctx.font = `bold ${size - 10}px sans-serif`;
      ctx.fillText(text, 8, size - 14);
      const { data } = ctx.getImageData(0, 0, size, size);
      return { width: size, height: size, data: Uint8Array.from({ length: size * size }, (_, i) => (data[4 * i + 3] > 127 ? 1 : 0)) }; // prettier-ignore
    };
    const rnd = random(9);
    // It passes over the rim: there is none in any of these.
    const rimless = (width: number, height: number, value: () => number): Mask => ({
      ...{ width, height },
      data: Uint8Array.from({ length: width * height }, (_, i) => (i % width > 0 && i % width < width - 1 && i >= width && i < width * (height - 1) ? value() : 0)), // prettier-ignore
    });
    const masks = [...'HBSR8'].map(letter);
    masks.push(
      drawing(4),
      rimless(60, 50, () => (rnd() < 0.7 ? 1 : 0)),
      rimless(20, 9, () => 1),
    );
    for (const mask of masks) {
      expect(mask.data.reduce((sum, v) => sum + v, 0)).toBeGreaterThan(100);
      // It stops when half a round takes nothing: gone on with until both do.
      const theirs = [...mask.data];
      for (let before = ''; before !== theirs.join('');) {
        before = theirs.join('');
        TraceSkeleton.thinningZS(theirs, mask.width, mask.height);
      }
      expect(shown(thinned(mask))).toEqual(shown({ ...mask, data: Uint8Array.from(theirs) }));
    }
  });

  it('of letters is what one expects: a bar its middle, an H its three lines', () => {
    expect(shown(thinned(maskOf(['.........', '.#######.', '.#######.', '.#######.', '.........'])))).toEqual([
      '.........',
      '.........',
      '..####...',
      '.........',
      '.........',
    ]);
    const h = thinned(maskOf(['###...###', '###...###', '###...###', '#########', '#########', '#########', '###...###', '###...###', '###...###']), true); // prettier-ignore
    expect(shown(h)[4]).toMatch(/^\.\.#{4,6}\.*$/);
    expect(shown(h).filter((row) => row[1] === '#').length).toBeGreaterThanOrEqual(5);
  });

  it('leaves lines of one pixel, as many pieces as there were, and their holes', () => {
    for (let seed = 10; seed < 18; seed++) {
      const mask = drawing(seed);
      const lines = thinned(mask, true);
      const { width, height } = mask;
      expect(componentsOf(lines.data, width, height).areas).toHaveLength(
        componentsOf(mask.data, width, height).areas.length,
      );
      expect(papers(lines)).toBe(papers(mask));
      for (let y = 0; y + 1 < height; y++)
        for (let x = 0; x + 1 < width; x++) {
          const at = y * width + x;
          const block = lines.data[at] + lines.data[at + 1] + lines.data[at + width] + lines.data[at + width + 1];
          // Four lines that meet corner to corner need all of it.
          if (block === 4)
            for (const i of [at, at + 1, at + width, at + width + 1]) expect(around(lines, i)).toBeGreaterThan(3);
        }
      expect(lines.data.every((v, i) => !v || mask.data[i])).toBe(true);
    }
  });
});

describe('distances', () => {
  it('from the paper are those of OpenCV, to a rounding', async () => {
    const { cv } = await openCv();
    for (let seed = 1; seed < 4; seed++) {
      const { width, height, data } = drawing(seed);
      const source = cv.matFromArray(height, width, cv.CV_8UC1, Array.from(data));
      const theirs = new cv.Mat();
      cv.distanceTransform(source, theirs, cv.DIST_L2, cv.DIST_MASK_PRECISE);
      const ours = squaredDistances(data, width, height);
      ours.forEach((d, i) => expect(Math.abs(Math.sqrt(d) - theirs.data32F[i])).toBeLessThan(1e-3));
      source.delete();
      theirs.delete();
    }
  });

  it('are far where there is no paper, and nothing where there is no ink', () => {
    expect([...squaredDistances(new Uint8Array(12).fill(1), 4, 3)].every((d) => d > 1e6)).toBe(true);
    expect([...squaredDistances(new Uint8Array(12), 4, 3)].every((d) => d === 0)).toBe(true);
    expect(squaredDistances(new Uint8Array(1).fill(1), 1, 1)).toHaveLength(1);
  });
});
