import { converter, differenceCiede2000, formatHex } from 'culori';
import * as fc from 'fast-check';
import { ciede2000, cieLabOf, likestOf, type CieLab } from '../../core/picture/colour-difference';
import { byHue, hexOfOklch, MOST_CHROMA, oklchOf, shadesOf, typedColour } from '../../core/picture/oklch';

/**
 * Sharma, Wu & Dalal (2005), "The CIEDE2000 color-difference formula: implementation notes, supplementary test data, and
 * mathematical observations", Color Research & Application 30(1), table 1; typed in from memory.
 */
const SHARMA: [CieLab, CieLab, number][] = [
  [[50, 2.6772, -79.7751], [50, 0, -82.7485], 2.0425],
  [[50, 3.1571, -77.2803], [50, 0, -82.7485], 2.8615],
  [[50, 2.8361, -74.02], [50, 0, -82.7485], 3.4412],
  [[50, -1.3802, -84.2814], [50, 0, -82.7485], 1],
  [[50, -1.1848, -84.8006], [50, 0, -82.7485], 1],
  [[50, -0.9009, -85.5211], [50, 0, -82.7485], 1],
  [[50, 0, 0], [50, -1, 2], 2.3669],
  [[50, -1, 2], [50, 0, 0], 2.3669],
  [[50, 2.49, -0.001], [50, -2.49, 0.0009], 7.1792],
  [[50, 2.49, -0.001], [50, -2.49, 0.001], 7.1792],
  [[50, 2.49, -0.001], [50, -2.49, 0.0011], 7.2195],
  [[50, 2.49, -0.001], [50, -2.49, 0.0012], 7.2195],
  [[50, -0.001, 2.49], [50, 0.0009, -2.49], 4.8045],
  [[50, -0.001, 2.49], [50, 0.001, -2.49], 4.8045],
  [[50, -0.001, 2.49], [50, 0.0011, -2.49], 4.7461],
  [[50, 2.5, 0], [50, 0, -2.5], 4.3065],
  [[50, 2.5, 0], [73, 25, -18], 27.1492],
  [[50, 2.5, 0], [61, -5, 29], 22.8977],
  [[50, 2.5, 0], [56, -27, -3], 31.903],
  [[50, 2.5, 0], [58, 24, 15], 19.4535],
  [[50, 2.5, 0], [50, 3.1736, 0.5854], 1],
  [[50, 2.5, 0], [50, 3.2972, 0], 1],
  [[50, 2.5, 0], [50, 1.8634, 0.5757], 1],
  [[50, 2.5, 0], [50, 3.2592, 0.335], 1],
  [[60.2574, -34.0099, 36.2677], [60.4626, -34.1751, 39.4387], 1.2644],
  [[63.0109, -31.0961, -5.8663], [62.8187, -29.7946, -4.0864], 1.263],
  [[61.2901, 3.7196, -5.3901], [61.4292, 2.248, -4.962], 1.8731],
  [[35.0831, -44.1164, 3.7933], [35.0232, -40.0716, 1.5901], 1.8645],
  [[22.7233, 20.0904, -46.694], [23.0331, 14.973, -42.5619], 2.0373],
  [[36.4612, 47.858, 18.3852], [36.2715, 50.5065, 21.2231], 1.4146],
  [[90.8027, -2.0831, 1.441], [91.1528, -1.6435, 0.0447], 1.4441],
  [[90.9257, -0.5406, -0.9208], [88.6381, -0.8985, -0.7239], 1.5381],
  [[6.7747, -0.2908, -2.4247], [5.8714, -0.0985, -2.2286], 0.6377],
  [[2.0776, 0.0795, -1.135], [0.9033, -0.0636, -0.5514], 0.9082],
];

const hex = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`);

describe('how different colours look', () => {
  it.each(SHARMA)('is as published: %j and %j', (a, b, expected) => {
    expect(ciede2000(a, b)).toBeCloseTo(expected, 4);
    expect(ciede2000(b, a)).toBeCloseTo(expected, 4);
  });

  it('is what culori says of colours of a screen (property)', () => {
    const theirs = differenceCiede2000();
    fc.assert(
      fc.property(hex, hex, (a, b) => {
        const off = ciede2000(cieLabOf(a), cieLabOf(b)) - theirs({ mode: 'lab65', ...labOf(a) }, { mode: 'lab65', ...labOf(b) }); // prettier-ignore
        expect(Math.abs(off)).toBeLessThan(0.05);
      }),
    );
  });

  it('finds the swatch that looks the same, and none that does not', () => {
    const swatches = [{ colour: '#6f8fa6' }, { colour: '#c98a45' }, { colour: '#000000' }];
    expect(likestOf(swatches, '#7090a5', 3)).toBe(swatches[0]);
    expect(likestOf(swatches, '#90b0c8', 3)).toBeUndefined();
    expect(likestOf([], '#7090a5', 3)).toBeUndefined();
  });
});

const labOf = (colour: string) => {
  const { l, a, b } = converter('lab65')(colour);
  return { l, a, b };
};

describe('colours by lightness, chroma and hue', () => {
  it('are what culori says, both ways (property)', () => {
    fc.assert(
      fc.property(hex, (colour) => {
        const ours = oklchOf(colour);
        const theirs = converter('oklch')(colour);
        expect(ours.l).toBeCloseTo(theirs.l, 5);
        expect(ours.c).toBeCloseTo(theirs.c, 5);
        if (ours.c > 0.01) expect(Math.abs(ours.h - theirs.h!)).toBeLessThan(0.05);
        expect(ours.c).toBeLessThan(MOST_CHROMA);
        expect(hexOfOklch(ours)).toBe(colour);
        expect(formatHex({ mode: 'oklch', ...ours })).toBe(colour);
      }),
    );
  });

  it('that no screen shows keep their lightness and hue (property)', () => {
    const any = fc.record({ l: fc.double({ min: 0.1, max: 0.95, noNaN: true }), c: fc.double({ min: 0, max: MOST_CHROMA, noNaN: true }), h: fc.double({ min: 0, max: 359, noNaN: true }) }); // prettier-ignore
    fc.assert(
      fc.property(any, (wanted) => {
        const made = oklchOf(hexOfOklch(wanted));
        expect(Math.abs(made.l - wanted.l)).toBeLessThan(0.01);
        expect(made.c).toBeLessThanOrEqual(wanted.c + 0.006);
        const turn = Math.abs(made.h - wanted.h);
        // Of the little chroma of a nearly grey colour the hue is coarse.
        if (made.c > 0.04) expect(Math.min(turn, 360 - turn)).toBeLessThan(6);
      }),
    );
  });

  it('have darker and lighter ones by even steps around them', () => {
    const shades = shadesOf('#6f8fa6', 3, 0.07);
    expect(shades).toHaveLength(7);
    expect(shades[3]).toBe('#6f8fa6');
    const lights = shades.map((one) => oklchOf(one).l);
    for (let n = 1; n < 7; n++) expect(lights[n] - lights[n - 1]).toBeCloseTo(0.07, 2);
    expect(shadesOf('#ffffff', 1, 0.1)[2]).toBe('#ffffff');
  });

  it('are typed with or without a sign, short or long; anything else is none', () => {
    expect(['#4A6', '4a6', ' #44aa66 ', '44AA66'].map(typedColour)).toEqual(Array(4).fill('#44aa66'));
    expect(['', '#', '#12345', 'red', '#gggggg', '#1234567'].map(typedColour)).toEqual(Array(6).fill(undefined));
  });

  it('are sorted: greys from dark to light, then by hue', () => {
    const sorted = ['#ff0000', '#ffffff', '#0000ff', '#000000', '#00ff00', '#808080'].sort(byHue);
    expect(sorted).toEqual(['#000000', '#808080', '#ffffff', '#ff0000', '#00ff00', '#0000ff']);
  });
});
