import { bell } from '../../core/picture/blur';
import { develop, DevelopMemo } from '../../core/picture/develop';
import type { Recipe, RecipeStep } from '../../core/picture/recipe';
import { makePicture, type Picture } from '../../core/picture/warp';
import { PHOTOGRAPHS } from '../measures/photographs';
import { difference, finished, made, photo, raw } from '../measures/recipes';
import { random } from '../measures/strokes';

const one = (...rgba: number[]): Picture => ({ width: 1, height: 1, data: new Uint8ClampedArray(rgba) });
const pixel = (picture: Picture) => [...picture.data.subarray(0, 4)];

describe('what earlier work came to', () => {
  it('changes nothing of a result, whatever changes from one to the next', async () => {
    const source = await photo();
    const memo = new DevelopMemo();
    const rnd = random(5);
    const kinds: object[] = [
      { kind: 'even', reach: 0.1 },
      { kind: 'exposure', stops: 0.3 },
      { kind: 'blur', px: 1.2 },
      { kind: 'lift', paper: 0.8, line: 0.2, keep: 0.5, specks: 3 },
      { kind: 'tint', colour: '#6fa8dc', amount: 1 },
    ];
    let steps = kinds;
    for (let n = 0; n < 60; n++) {
      const at = Math.floor(rnd() * kinds.length);
      const changed = rnd();
      steps = steps.map((step, i) => (i === at && 'keep' in step ? { ...step, keep: rnd() } : i === at && 'px' in step ? { ...step, px: 0.5 + rnd() } : i === at && 'stops' in step ? { ...step, stops: rnd() } : step)); // prettier-ignore
      if (changed < 0.15) steps = kinds.filter(() => rnd() > 0.3);
      const recipe = steps.map((step, i) => ({ id: `s${i}`, on: rnd() > 0.1, ...step })) as unknown as Recipe;
      const scale = rnd() < 0.1 ? 0.5 : 1;
      const size = { width: source.width, height: source.height };
      const with_ = finished(develop(size, source, recipe, scale, memo));
      const without = finished(develop(size, source, recipe, scale));
      expect(Buffer.compare(Buffer.from(with_.data), Buffer.from(without.data))).toBe(0);
    }
  });
});

describe('grey', () => {
  it.each(PHOTOGRAPHS)('is the luma of ITU-R BT.709, of the coded values, to a step: %s', async (_name, bytes) => {
    const source = await photo(bytes);
    const { data } = made(source, { kind: 'grey' });
    const exact = Float64Array.from({ length: data.length / 4 }, (_, i) => {
      const [r, g, b] = source.data.subarray(4 * i, 4 * i + 3);
      return 0.2126 * r + 0.7152 * g + 0.0722 * b;
    });
    const found = Float64Array.from(exact, (_, i) => data[4 * i]);
    expect(difference(found, exact).largest).toBeLessThanOrEqual(0.51);
    expect(pixel(made(one(255, 255, 255, 255), { kind: 'grey' }))).toEqual([255, 255, 255, 255]);
  });

  it.each(PHOTOGRAPHS)(
    'is nearly what sharp calls grey, which weighs light, not coded values: %s',
    async (_name, bytes) => {
      const source = await photo(bytes);
      const theirs = await raw(source).removeAlpha().greyscale().raw().toBuffer();
      const { data } = made(source, { kind: 'grey' });
      const ours = Uint8Array.from(theirs, (_, i) => data[4 * i]);
      expect(difference(ours, theirs).mean).toBeLessThan(6);
    },
  );
});

describe('tones', () => {
  it('more exposure is more light: a stop doubles it, on light and not on coded values', () => {
    // IEC 61966-2-1: 18 % of white is coded 118, 36 % is coded 162.
    expect(pixel(made(one(118, 118, 118, 255), { kind: 'exposure', stops: 1 }))[0]).toBeCloseTo(162, -0.5);
    expect(pixel(made(one(162, 162, 162, 255), { kind: 'exposure', stops: -1 }))[0]).toBeCloseTo(118, -0.5);
    expect(pixel(made(one(250, 10, 0, 255), { kind: 'exposure', stops: 3 }))).toEqual([
      255,
      expect.any(Number),
      0,
      255,
    ]);
  });

  it('inverted is what sharp negates; alpha stays', async () => {
    const source = await photo();
    const theirs = await raw(source).negate({ alpha: false }).raw().toBuffer();
    expect(difference(made(source, { kind: 'invert' }).data, theirs).largest).toBe(0);
  });

  it('a curve is the same for each channel; one after another is as in one', async () => {
    const source = await photo();
    const darker = { kind: 'curve', points: [[0, 0], [0.5, 0.25], [1, 1]] }; // prettier-ignore
    const once = made(source, darker).data;
    for (let i = 0; i < once.length; i += 4)
      if (source.data[i] === source.data[i + 1]) expect(once[i]).toBe(once[i + 1]);
    const twice = made(source, darker, { kind: 'invert' }).data;
    expect(difference(twice, made({ ...source, data: once }, { kind: 'invert' }).data).largest).toBe(0);
  });

  it('tinted, black is the colour and white stays white; an amount of nothing is grey', () => {
    const tint = (amount: number): Partial<RecipeStep> => ({ kind: 'tint', colour: '#80a0ff', amount });
    expect(pixel(made(one(0, 0, 0, 255), tint(1)))).toEqual([128, 160, 255, 255]);
    expect(pixel(made(one(255, 255, 255, 255), tint(1)))).toEqual([255, 255, 255, 255]);
    expect(pixel(made(one(60, 60, 60, 255), tint(0)))).toEqual([60, 60, 60, 255]);
  });

  it('works in the order of its steps', () => {
    const [grey, tint] = [{ kind: 'grey' }, { kind: 'tint', colour: '#ff0000', amount: 1 }];
    expect(pixel(made(one(0, 0, 0, 255), grey, tint))).toEqual([255, 0, 0, 255]);
    expect(pixel(made(one(0, 0, 0, 255), tint, grey))).toEqual([54, 54, 54, 255]);
  });
});

describe('blur', () => {
  it.each([0.6, 1, 2, 4, 9])('is what sharp makes of it: deviation %f px', async (px) => {
    const source = await photo();
    const theirs = await raw(source).blur({ sigma: px, precision: 'float', minAmplitude: 0.01 } as never).raw().toBuffer(); // prettier-ignore
    const { mean, largest } = difference(made(source, { kind: 'blur', px }).data, theirs);
    expect(mean).toBeLessThan(0.8);
    expect(largest).toBeLessThanOrEqual(4);
  });

  it('adds up to one, and makes nothing darker towards what is clear', () => {
    for (const sigma of [0.2, 1, 7.3]) {
      const weights = bell(sigma);
      expect(weights.reduce((sum, w, k) => sum + (k ? 2 * w : w), 0)).toBeCloseTo(1, 5);
    }
    const dot = makePicture(9, 9);
    dot.data.set([200, 100, 50, 255], 4 * (4 * 9 + 4));
    const { data } = made(dot, { kind: 'blur', px: 1.2 });
    expect([...data.subarray(4 * (4 * 9 + 5), 4 * (4 * 9 + 5) + 3)]).toEqual([200, 100, 50]);
    expect(data[4 * (4 * 9 + 4) + 3]).toBeLessThan(60);
  });
});
