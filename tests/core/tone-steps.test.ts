import * as culori from 'culori';
import { createCanvas } from '@napi-rs/canvas';
import * as fc from 'fast-check';
import { lumaOf } from '../../core/picture/luma';
import { hexOf, labDistance, oklabOf, rgbOf } from '../../core/picture/oklab';
import { otsuThresholds } from '../../core/picture/otsu';
import { paletteOf } from '../../core/picture/palette';
import { histogramOf, tonesOf } from '../../core/picture/tones';
import { openCv } from '../measures/opencv';
import { PHOTOGRAPHS } from '../measures/photographs';
import { made, photo } from '../measures/recipes';
import { random } from '../measures/strokes';

/** What Otsu's measure is of thresholds: the variance between the classes, directly from its definition. */
function betweenClasses(counts: ArrayLike<number>, thresholds: readonly number[]): number {
  const classes = Array.from({ length: thresholds.length + 1 }, () => ({ n: 0, sum: 0 }));
  let [n, sum] = [0, 0];
  for (let v = 0; v < counts.length; v++) {
    const of = classes[thresholds.filter((t) => v > t).length];
    of.n += counts[v];
    of.sum += v * counts[v];
    n += counts[v];
    sum += v * counts[v];
  }
  return classes.reduce((total, c) => (c.n ? total + (c.n / n) * (c.sum / c.n - sum / n) ** 2 : total), 0);
}

describe('thresholds', () => {
  it.each(PHOTOGRAPHS)(
    'the one between two classes parts a photograph as OpenCV parts it: %s',
    async (_name, bytes) => {
      const { cv } = await openCv();
      const grey = tonesOf(await photo(bytes));
      const [t] = otsuThresholds(histogramOf(grey), 2);
      const source = cv.matFromArray(grey.height, grey.width, cv.CV_8UC1, Array.from(grey.data));
      const theirs = new cv.Mat();
      cv.threshold(source, theirs, 0, 255, cv.THRESH_BINARY + cv.THRESH_OTSU);
      const ours = grey.data.map((v) => (v > t ? 255 : 0));
      expect(Buffer.compare(Buffer.from(ours), Buffer.from(theirs.data))).toBe(0);
      expect(new Set(ours).size).toBe(2);
      source.delete();
      theirs.delete();
    },
  );

  it('several are the best of all: no others part a histogram of 24 values better', () => {
    const counts = fc.array(fc.nat(50), { minLength: 24, maxLength: 24 });
    fc.assert(
      fc.property(counts, fc.integer({ min: 2, max: 4 }), (histogram, classes) => {
        const ours = otsuThresholds(histogram, classes);
        expect(ours).toHaveLength(classes - 1);
        let most = 0;
        const search = (chosen: number[]): void => {
          if (chosen.length === classes - 1) most = Math.max(most, betweenClasses(histogram, chosen));
          else for (let t = (chosen.at(-1) ?? -1) + 1; t < 23; t++) search([...chosen, t]);
        };
        search([]);
        expect(betweenClasses(histogram, ours)).toBeCloseTo(most, 8);
      }),
      { numRuns: 60 },
    );
  });

  it.each([2, 3, 4, 5, 6])('%i values stand between so many heaps, in the middle of the gaps; they rise', (classes) => {
    const counts = new Uint32Array(256);
    const heaps = Array.from({ length: classes }, (_, k) => 20 + Math.round((k * 215) / (classes - 1)));
    for (const heap of heaps) for (let d = -6; d <= 6; d++) counts[heap + d] = 100 - 9 * Math.abs(d);
    const thresholds = otsuThresholds(counts, classes);
    thresholds.forEach((t, k) => expect(Math.abs(t - (heaps[k] + heaps[k + 1]) / 2)).toBeLessThanOrEqual(1));
  });

  it('are as many, and rise, where a picture has fewer values, or none', () => {
    for (const counts of [new Uint32Array(256), Uint32Array.from({ length: 256 }, (_, v) => (v === 255 ? 9 : 0))])
      for (let classes = 2; classes <= 6; classes++) {
        const thresholds = otsuThresholds(counts, classes);
        expect(thresholds).toHaveLength(classes - 1);
        thresholds.forEach((t, k) => expect(t).toBeGreaterThan(thresholds[k - 1] ?? -1));
        expect(thresholds.at(-1)).toBeLessThan(256);
      }
  });
});

describe('tone steps', () => {
  it('leave so many greys, each where the luma says; over the picture, they are mixed with it', async () => {
    const source = await photo();
    const thresholds = [0.2, 0.45, 0.7];
    const flat = made(source, { kind: 'steps', thresholds, amount: 1 });
    const { data: luma } = lumaOf(source);
    for (let i = 0; i < luma.length; i++) {
      if (thresholds.some((t) => Math.abs(luma[i] / 255 - t) < 0.003)) continue;
      const grey = 85 * thresholds.filter((t) => luma[i] / 255 > t).length;
      expect([...flat.data.subarray(4 * i, 4 * i + 3)]).toEqual([grey, grey, grey]);
    }
    const half = made(source, { kind: 'steps', thresholds, amount: 0.5 });
    for (let at = 0; at < half.data.length; at++)
      expect(Math.abs(half.data[at] - (flat.data[at] + source.data[at]) / 2)).toBeLessThanOrEqual(0.5);
  });
});

describe('OKLab', () => {
  it('is what CSS Color 4 has in its samples', () => {
    // CSS Color Module Level 4, web-platform tests of oklab(): #007fff-like samples, and white and black.
    expect(oklabOf(255, 255, 255)[0]).toBeCloseTo(1, 5);
    expect(oklabOf(0, 0, 0)[0]).toBeCloseTo(0, 9);
    const [l, a, b] = oklabOf(0, 128, 0);
    // "oklab(51.975% -0.1403 0.10768)" is green there.
    expect(l).toBeCloseTo(0.51975, 4);
    expect(a).toBeCloseTo(-0.1403, 4);
    expect(b).toBeCloseTo(0.10768, 4);
  });

  it('agrees with culori both ways, whatever the colour', () => {
    const theirs = culori.converter('oklab');
    const channel = fc.integer({ min: 0, max: 255 });
    fc.assert(
      fc.property(channel, channel, channel, (r, g, b) => {
        const lab = oklabOf(r, g, b);
        const other = theirs({ mode: 'rgb', r: r / 255, g: g / 255, b: b / 255 });
        [other.l, other.a, other.b].forEach((v, i) => expect(lab[i]).toBeCloseTo(v, 4));
        expect(rgbOf(lab)).toEqual([r, g, b]);
        expect(hexOf([r, g, b])).toBe(culori.formatHex({ mode: 'rgb', r: r / 255, g: g / 255, b: b / 255 }));
      }),
    );
  });
});

describe('a palette', () => {
  const COLOURS = ['#1d2433', '#17605c', '#a03b22', '#d8cdb9', '#6fa8dc', '#f6f1e7', '#5b2a1d', '#8fbf8f'];

  /** Patches of known colours, the last of them a hundredth of the first, with noise. */
  function patches(colours: readonly string[], noise = 6) {
    const [width, height] = [300, 200];
    const ctx = createCanvas(width, height).getContext('2d');
    let x = 0;
    const shares = colours.map((_, k) => 0.01 ** (k / (colours.length - 1)));
    const sum = shares.reduce((a, b) => a + b);
    colours.forEach((colour, k) => {
      const w = Math.max(2, Math.round((width * shares[k]) / sum));
      ctx.fillStyle = colour;
      ctx.fillRect(x, 0, k === colours.length - 1 ? width - x : w, height);
      x += w;
    });
    const rnd = random(7);
    const data = new Uint8ClampedArray(ctx.getImageData(0, 0, width, height).data);
    for (let at = 0; at < data.length; at++) if (at % 4 !== 3) data[at] += noise * (rnd() - 0.5);
    return { width, height, data };
  }
  const labOf = (hex: string) =>
    oklabOf(...([1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16)) as [number, number, number]));

  it('finds the colours of patches, the small ones too, by lightness', () => {
    const found = paletteOf(patches(COLOURS), COLOURS.length);
    expect(found).toHaveLength(COLOURS.length);
    for (const colour of COLOURS) {
      const off = Math.min(...found.map((f) => labDistance(labOf(f), labOf(colour))));
      expect(off).toBeLessThan(0.012);
    }
    const lightness = found.map((f) => labOf(f)[0]);
    expect(lightness).toEqual([...lightness].sort((p, q) => p - q));
  });

  it('is spread better than colours that come by how often they are: of a photograph, too', async () => {
    const source = await photo();
    for (const count of [3, 6, 12]) {
      const found = paletteOf(source, count);
      expect(found.length).toBeGreaterThanOrEqual(3);
      expect(found.length).toBeLessThanOrEqual(count);
      found.forEach((f, i) =>
        found.slice(0, i).forEach((g) => expect(labDistance(labOf(f), labOf(g))).toBeGreaterThanOrEqual(0.0149)),
      );
    }
  });

  it('has fewer where the picture has fewer, and none of what is clear', () => {
    expect(paletteOf(patches(['#a03b22', '#d8cdb9'], 0), 6)).toEqual(['#a03b22', '#d8cdb9']);
    expect(paletteOf({ width: 2, height: 1, data: new Uint8ClampedArray(8) }, 3)).toEqual([]);
  });
});
