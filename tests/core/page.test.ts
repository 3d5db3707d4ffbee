import type { Quad } from '../../core/geometry/homography';
import { findPage } from '../../core/picture/page-corners';
import { sharpest, sharpnessOf } from '../../core/picture/sharpness';
import { makePicture } from '../../core/picture/warp';
import { photographed, type Shot } from '../measures/page-photo';

const SIZE = { width: 600, height: 800 };
const quad = (...p: number[]): Quad => [0, 2, 4, 6].map((i) => [p[i] * SIZE.width, p[i + 1] * SIZE.height]) as never;

/** Largest distance of a corner found, as a part of the picture's longer side. */
async function cornerError(shot: Shot): Promise<number> {
  const found = findPage(await photographed(shot));
  if (!found) return Infinity;
  const [w, h] = [shot.width, shot.height];
  return Math.max(
    ...found.map(([x, y], i) => Math.hypot(x * w - shot.corners[i][0], y * h - shot.corners[i][1]) / Math.max(w, h)),
  );
}

const SHOTS: [string, Partial<Shot>][] = [
  ['straight from above', { corners: quad(0.12, 0.1, 0.88, 0.1, 0.88, 0.9, 0.12, 0.9) }],
  ['turned by 9 degrees', { corners: quad(0.22, 0.06, 0.92, 0.15, 0.79, 0.95, 0.08, 0.85) }],
  ['from below: the far side is shorter', { corners: quad(0.24, 0.12, 0.77, 0.13, 0.93, 0.92, 0.06, 0.9) }],
  ['from the side', { corners: quad(0.1, 0.18, 0.85, 0.05, 0.87, 0.95, 0.12, 0.8) }],
  ['in bad light, noisy', { corners: quad(0.15, 0.09, 0.9, 0.14, 0.84, 0.93, 0.1, 0.88), falloff: 0.65, noise: 12 }],
  ['on boards, with a cup', { corners: quad(0.14, 0.12, 0.83, 0.14, 0.86, 0.91, 0.1, 0.89), clutter: true }],
  ['on a pale table', { corners: quad(0.12, 0.1, 0.88, 0.12, 0.86, 0.9, 0.13, 0.88), table: 195, falloff: 0.25 }],
  [
    'dark paper on a bright table',
    { corners: quad(0.16, 0.1, 0.85, 0.09, 0.88, 0.9, 0.13, 0.91), paper: 110, table: 225 },
  ],
  ['out of focus', { corners: quad(0.12, 0.12, 0.86, 0.08, 0.9, 0.92, 0.1, 0.9), blurPx: 4 }],
  ['lying', { corners: quad(0.06, 0.25, 0.95, 0.22, 0.93, 0.75, 0.08, 0.78), page: { width: 792, height: 560 } }],
  ['far away', { corners: quad(0.3, 0.35, 0.66, 0.33, 0.68, 0.72, 0.29, 0.7) }],
];

describe('the corners of a photographed page', () => {
  it.each(SHOTS)('are found to within 1 %% of the longer side: %s', async (_name, shot) => {
    expect(await cornerError({ ...SIZE, ...shot } as Shot)).toBeLessThanOrEqual(0.01);
  });

  it('are not made up where there is no page', async () => {
    const plain = makePicture(600, 800);
    plain.data.fill(200);
    expect(findPage(plain)).toBeUndefined();
    for (let i = 0; i < plain.data.length; i++) plain.data[i] = i % 4 === 3 ? 255 : (i * 7919) % 251;
    expect(findPage(plain)).toBeUndefined();
    expect(findPage(makePicture(3, 2000))).toBeUndefined();
    expect(findPage(makePicture(1, 1))).toBeUndefined();
  });
});

describe('the sharpest of several shots', () => {
  const corners = quad(0.12, 0.1, 0.88, 0.1, 0.88, 0.9, 0.12, 0.9);
  const of = async (shot: Partial<Shot>) => sharpnessOf(await photographed({ ...SIZE, corners, ...shot }));

  it('falls with blur, steadily', async () => {
    const values = [];
    for (const blurPx of [0, 0.8, 1.6, 3, 6]) values.push(await of({ blurPx }));
    for (let i = 1; i < values.length; i++) expect(values[i]).toBeLessThan(values[i - 1]);
  });

  it('is proposed over darker, brighter and noisier ones that are less sharp, and only where it stands out', async () => {
    const sharp = await of({ blurPx: 0.6 });
    const others = [
      await of({ blurPx: 1.8, paper: 250, falloff: 0.2 }),
      await of({ blurPx: 2.5, noise: 9 }),
      await of({ blurPx: 1.8, falloff: 0.6 }),
    ];
    const found = sharpest([others[0], sharp, ...others.slice(1)]);
    expect(found!.index).toBe(1);
    expect(found!.factor).toBeGreaterThan(1.15);
    expect(sharpest([sharp, sharp * 0.98])).toBeUndefined();
    expect(sharpest([sharp])).toBeUndefined();
    expect(sharpest([0, 0])).toBeUndefined();
  });
});
