import * as fc from 'fast-check';
import { componentsOf } from '../../core/picture/components';
import { develop, sourceScale } from '../../core/picture/develop';
import type { Recipe } from '../../core/picture/recipe';
import { averaged } from '../../core/picture/shrink';
import { liftFor, liftTable } from '../../core/picture/lift';
import { histogramOf, tonesOf } from '../../core/picture/tones';
import type { Picture } from '../../core/picture/warp';
import { openCv } from '../measures/opencv';
import { pencilPage, photographed } from '../measures/page-photo';
import { finished, made } from '../measures/recipes';
import { random } from '../measures/strokes';

/** Alpha between pixels' middles. */
function bilinear({ width, data }: Picture, x: number, y: number): number {
  const [cx, cy] = [Math.max(0, x - 0.5), Math.max(0, y - 0.5)];
  const [x0, y0] = [Math.floor(cx), Math.floor(cy)];
  const at = (i: number, j: number) => data[4 * ((y0 + j) * width + x0 + i) + 3];
  const row = (j: number) => at(0, j) + (cx - x0) * (at(1, j) - at(0, j));
  return row(0) + (cy - y0) * (row(1) - row(0));
}

describe('what hangs together', () => {
  it('is numbered and counted as OpenCV does, on any mask', async () => {
    const { cv } = await openCv();
    for (const [width, height, part] of [
      [64, 48, 0.5],
      [97, 31, 0.35],
      [40, 90, 0.6],
      [1, 50, 0.5],
      [50, 1, 0.5],
    ]) {
      // prettier-ignore
      const rnd = random(width);
      const mask = Uint8Array.from({ length: width * height }, () => (rnd() < part ? 255 : 0));
      const { labels, areas } = componentsOf(mask, width, height);
      const source = cv.matFromArray(height, width, cv.CV_8UC1, Array.from(mask));
      const [theirs, stats, middles] = [new cv.Mat(), new cv.Mat(), new cv.Mat()];
      const count = cv.connectedComponentsWithStats(source, theirs, stats, middles, 8, cv.CV_32S);
      expect(areas).toHaveLength(count);
      // Theirs may be numbered in another order: each of ours is one of theirs.
      const names = new Map<number, number>();
      theirs.data32S.forEach((label, i) => {
        expect(label === 0).toBe(labels[i] === 0);
        if (!names.has(labels[i])) names.set(labels[i], label);
        expect(names.get(labels[i])).toBe(label);
      });
      for (const [ours, label] of names) if (ours) expect(areas[ours]).toBe(stats.data32S[5 * label + cv.CC_STAT_AREA]);
      for (const mat of [source, theirs, stats, middles]) mat.delete();
    }
  });

  it('is one, however it winds', () => {
    const comb = ['#.#.#.#', '#.#.#.#', '#######', '.......', '#..#..#'].join('');
    const { labels, areas } = componentsOf(
      Uint8Array.from(comb, (c) => (c === '#' ? 1 : 0)),
      7,
      5,
    );
    expect([...areas]).toEqual([0, 15, 1, 1, 1]);
    expect([labels[0], labels[2], labels[6]]).toEqual([1, 1, 1]);
  });
});

/** A page of known lines in known light. */
function litPage(light: (u: number, v: number) => readonly [number, number, number]): {
  page: Picture;
  drawn: Picture;
} {
  const [width, height] = [600, 800];
  const { data } = pencilPage(width, height, 240).getContext('2d').getImageData(0, 0, width, height);
  const drawn = { width, height, data: new Uint8ClampedArray(data) };
  const page = { ...drawn, data: new Uint8ClampedArray(data) };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const lit = light(x / width, y / height);
      for (let c = 0; c < 3; c++) page.data[4 * (y * width + x) + c] *= lit[c];
    }
  return { page, drawn };
}

const isPaper = ({ data }: Picture, at: number) => data[at] > 235;

describe('light evened out', () => {
  it.each([
    ['a slope', (u: number, v: number) => [1 - 0.5 * u * v, 1 - 0.5 * u * v, 1 - 0.5 * u * v] as const],
    ['a lamp of its own colour', (u: number, v: number) => { const l = 1 - 0.55 * Math.hypot(u - 0.3, v - 0.2); return [l, 0.95 * l, 0.8 * l] as const; }], // prettier-ignore
    ['a hand’s shadow', (u: number, v: number) => { const l = 0.6 + 0.4 / (1 + Math.exp(-(Math.hypot(u - 0.8, v - 0.9) - 0.35) / 0.06)); return [l, l, l] as const; }], // prettier-ignore
  ])('paper is white again under %s, and lines are as dark against it as they were drawn', (_, light) => {
    const { page, drawn } = litPage(light);
    const even = made(page, { kind: 'even', reach: 0.1 });
    let [n, sum, squares, worst] = [0, 0, 0, 0];
    const ratios: number[] = [];
    for (let at = 0; at < even.data.length; at += 4)
      if (isPaper(drawn, at))
        for (let c = 0; c < 3; c++) {
          const v = even.data[at + c];
          n++;
          sum += v;
          squares += v * v;
          worst = Math.max(worst, 250 - v);
        }
      else if (drawn.data[at] < 80) ratios.push(even.data[at] / 250 / (drawn.data[at] / 240));
    const mean = sum / n;
    expect(Math.abs(mean - 249)).toBeLessThan(2.5);
    expect(Math.sqrt(squares / n - mean * mean)).toBeLessThan(4);
    expect(worst).toBeLessThan(32);
    ratios.sort((a, b) => a - b);
    expect(ratios[Math.floor(ratios.length * 0.02)]).toBeGreaterThan(0.85);
    expect(ratios[Math.floor(ratios.length * 0.98)]).toBeLessThan(1.15);
  });

  it('a solid black patch stays black where it is narrower than the reach', () => {
    const { page } = litPage((u) => [1 - 0.4 * u, 1 - 0.4 * u, 1 - 0.4 * u]);
    for (let y = 600; y < 660; y++)
      for (let x = 100; x < 160; x++) page.data.fill(20, 4 * (y * 600 + x), 4 * (y * 600 + x) + 3);
    const { data } = made(page, { kind: 'even', reach: 0.14 });
    for (let y = 604; y < 656; y += 4)
      for (let x = 104; x < 156; x += 4) expect(data[4 * (y * 600 + x)]).toBeLessThan(40);
  });

  it('takes pictures of any size, and black ones', () => {
    for (const [width, height] of [
      [1, 1],
      [2, 300],
      [300, 2],
      [7, 5],
    ])
      // prettier-ignore
      for (const value of [0, 128, 255]) {
        const data = new Uint8ClampedArray(4 * width * height).fill(value);
        const out = made({ width, height, data }, { kind: 'even', reach: 0.1 }).data;
        expect(out[0]).toBe(value === 0 ? 0 : 250);
      }
  });
});

describe('lines lifted off a page', () => {
  it('are more the more is kept; paper is clear and a line full at the middle', () => {
    for (const keep of [0, 0.25, 0.5, 0.75, 1]) {
      const table = liftTable({ paper: 0.9, line: 0.2, keep });
      const more = liftTable({ paper: 0.9, line: 0.2, keep: Math.min(1, keep + 0.2) });
      expect(table[255]).toBe(0);
      expect(table[0]).toBe(255);
      for (let v = 1; v < 256; v++) {
        expect(table[v]).toBeLessThanOrEqual(table[v - 1]);
        expect(more[v]).toBeGreaterThanOrEqual(table[v]);
      }
    }
    const table = liftTable({ paper: 0.9, line: 0.2, keep: 0.5 });
    expect(table[Math.round(0.9 * 255)]).toBe(0);
    expect(table[Math.round(0.2 * 255)]).toBe(255);
  });

  it('are those that were drawn: of a photographed page nothing is lost, and no paper is left', async () => {
    const corners = [[0, 0], [600, 0], [600, 840], [0, 840]] as const; // prettier-ignore
    const page = { width: 600, height: 840 };
    const shot = await photographed({ ...page, corners, page, falloff: 0.55, noise: 6, seed: 5, jpeg: 88 });
    const even = made(shot, { kind: 'even', reach: 0.1 });
    const found = liftFor(histogramOf(tonesOf(even)));
    const lifted = made(shot, { kind: 'even', reach: 0.1 }, { kind: 'lift', ...found, keep: 0.5, specks: 4 });
    const truth = pencilPage(600, 840, 235, 5).getContext('2d').getImageData(0, 0, 600, 840).data;
    let [drawn, kept, paper, left] = [0, 0, 0, 0];
    for (let y = 2; y < 838; y++)
      for (let x = 2; x < 598; x++) {
        const at = 4 * (y * 600 + x);
        if (truth[at] < 90) {
          drawn++;
          if (lifted.data[at + 3] > 128) kept++;
        } else if (
          [0, 8, -8, 2400, -2400, 4800, -4800].every((d) => truth[at + d] === undefined || truth[at + d] > 230)
        ) {
          paper++;
          if (lifted.data[at + 3] > 0) left++;
        }
      }
    expect(drawn).toBeGreaterThan(8000);
    expect(kept / drawn).toBeGreaterThan(0.985);
    expect(left / paper).toBeLessThan(0.002);
    expect(lifted.data.every((v, at) => at % 4 === 3 || v === 0)).toBe(true);
  });

  it('seen small they are as dark as they are, seen large: a thin line is not lost in its paper', () => {
    const side = 2400;
    const page = { width: side, height: side, data: new Uint8ClampedArray(4 * side * side).fill(240) };
    for (let at = 3; at < page.data.length; at += 4) page.data[at] = 255;
    for (let y = 600; y < 1800; y++)
      for (let x = 1200; x < 1204; x++) page.data.fill(90, 4 * (y * side + x), 4 * (y * side + x) + 3);
    const recipe = [{ id: 'l', kind: 'lift', on: true, paper: 0.9, line: 0.35, keep: 0.5, specks: 6 }] as Recipe;
    const inkAt = (scale: number) => {
      const from = sourceScale(page, recipe, scale);
      const source = from < 1 ? averaged(page, 1 / from) : page;
      const { data, width } = finished(develop(page, source, recipe, scale));
      return data.reduce((sum, v, at) => (at % 4 === 3 ? sum + v / 255 : sum), 0) * (side / width) ** 2;
    };
    const full = inkAt(1);
    expect(full).toBeGreaterThan(4700);
    for (const scale of [0.5, 0.25, 0.125, 1 / 32]) expect(Math.abs(inkAt(scale) / full - 1)).toBeLessThan(0.06);
  });

  it('off a small picture, worked out as fine as the paper is, they have no stairs', () => {
    const [width, height, finer] = [160, 100, 4];
    /** The middle of a slanted line of 3 px, and how dark each pixel of it is: what an ideal lens would see. */
    const middleAt = (x: number) => 22.3 + 0.31 * x;
    const page = { width, height, data: new Uint8ClampedArray(4 * width * height).fill(255) };
    const across = Math.hypot(1, 0.31);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const off = Math.abs(y + 0.5 - middleAt(x + 0.5)) / across;
        const dark = Math.min(1, Math.max(0, 2 - off));
        page.data.fill(240 - 170 * dark, 4 * (y * width + x), 4 * (y * width + x) + 3);
      }
    const recipe = [{ id: 'l', kind: 'lift', on: true, paper: 0.9, line: 0.35, keep: 0.5, specks: 0 }] as Recipe;
    /** How far the line's upper edge lies from a straight one, px of the original, at most; read at a scale. */
    const stairs = (scale: number) => {
      const lifted = finished(develop(page, page, recipe, scale));
      const edges: number[] = [];
      for (let x = 20 * finer; x < 140 * finer; x++) {
        // As the paper's pixels show it: bilinear between the middles of what was made.
        const alphaAt = (y: number) => bilinear(lifted, ((x + 0.5) * scale) / finer, (y * scale) / finer);
        let y = 0;
        while (alphaAt(y) < 128) y += 0.05;
        edges.push(y / finer - middleAt((x + 0.5) / finer));
      }
      return Math.max(...edges) - Math.min(...edges);
    };
    expect(stairs(finer)).toBeLessThan(0.2);
    expect(stairs(1)).toBeGreaterThan(3 * stairs(finer));
  });

  it('light on dark is the same, inverted; tinted, they have that colour', () => {
    const { drawn } = litPage(() => [1, 1, 1]);
    const dark = made(drawn, { kind: 'invert' });
    const lift = { kind: 'lift', paper: 0.9, line: 0.3, keep: 0.5, specks: 0 };
    const usual = made(drawn, lift, { kind: 'tint', colour: '#6fa8dc', amount: 1 });
    const other = made(dark, { kind: 'invert' }, lift, { kind: 'tint', colour: '#6fa8dc', amount: 1 });
    expect(Buffer.compare(Buffer.from(usual.data), Buffer.from(other.data))).toBe(0);
    const at = usual.data.findIndex((v, i) => i % 4 === 3 && v === 255) - 3;
    expect([...usual.data.subarray(at, at + 4)]).toEqual([0x6f, 0xa8, 0xdc, 255]);
  });

  it('specks below a size are gone with their rims, lines of any length stay', () => {
    const [width, height] = [80, 60];
    const page = { width, height, data: new Uint8ClampedArray(4 * width * height).fill(255) };
    const dot = (x: number, y: number, size: number, value = 0) => {
      for (let dy = 0; dy < size; dy++)
        for (let dx = 0; dx < size; dx++)
          page.data.fill(value, 4 * ((y + dy) * width + x + dx), 4 * ((y + dy) * width + x + dx) + 3);
    };
    dot(9, 9, 5, 215);
    dot(10, 10, 3);
    dot(30, 10, 8);
    for (let x = 5; x < 70; x++) dot(x, 40, 1);
    const alpha = (specks: number) => {
      const { data } = made(page, { kind: 'lift', paper: 0.95, line: 0.1, keep: 0.95, specks });
      return (x: number, y: number) => data[4 * (y * width + x) + 3];
    };
    const all = alpha(0);
    expect([all(11, 11), all(9, 9) > 0, all(33, 13), all(50, 40)]).toEqual([255, true, 255, 255]);
    const some = alpha(7);
    expect([some(11, 11), some(9, 9), some(33, 13), some(50, 40)]).toEqual([0, 0, 255, 255]);
  });

  it('a page’s paper and lines are found by its histogram, whatever it is', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(1000), { minLength: 256, maxLength: 256 }), (counts) => {
        const { paper, line } = liftFor(counts);
        expect(line).toBeGreaterThanOrEqual(0);
        expect(paper).toBeLessThanOrEqual(1);
        expect(paper - line).toBeGreaterThanOrEqual(0.02);
      }),
    );
    expect(liftFor(new Uint32Array(256)).paper - liftFor(new Uint32Array(256)).line).toBeGreaterThan(0.02);
  });
});
