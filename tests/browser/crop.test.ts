import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Page } from 'playwright-core';
import { photographed } from '../measures/page-photo';
import { DESK, openPage, PHONE, testApp } from './harness';
import { choose, goTo, halvesPicture, newSheet, picturesOf, settled, steps, stepsReach } from './sheet-driver';

jest.setTimeout(120000);

const app = testApp();

const reference = async (page: Page) => (await picturesOf(page))[0];

const crop = (page: Page) => page.getByRole('radio', { name: 'Crop' }).click();

/** The middle of what is found by its name. */
async function middle(page: Page, name: RegExp): Promise<[number, number]> {
  const box = (await page.getByRole('button', { name }).boundingBox())!;
  return [box.x + box.width / 2, box.y + box.height / 2];
}

async function drag(page: Page, from: [number, number], by: [number, number]): Promise<void> {
  await page.mouse.move(...from);
  await page.mouse.down();
  for (let i = 1; i <= 6; i++) await page.mouse.move(from[0] + (by[0] * i) / 6, from[1] + (by[1] * i) / 6);
  await page.mouse.up();
}

describe.each([
  ['a phone', PHONE],
  ['a wide screen', DESK],
])('cropping on %s', (_name, viewport) => {
  let page: Page;
  let errors: string[];
  beforeAll(async () => {
    ({ page, errors } = await openPage(app.browser, viewport));
    await newSheet(page, app.server.url, `Crop ${viewport.width}`);
    await goTo(page, 'Place');
    await choose(page, 'Add picture', await halvesPicture(app.server.data, '#204080', '#d8c8a0'));
    await stepsReach(page, 1);
    // All of it, as it came.
    await page.getByRole('slider', { name: 'Picture opacity' }).focus();
    await page.keyboard.press('End');
    await stepsReach(page, 2);
  });
  afterAll(() => expect(errors).toEqual([]));

  it('takes the part that its frame holds, which stays where it lay; the rest is gone', async () => {
    await crop(page);
    const left = await middle(page, /left side of the crop/);
    const right = await middle(page, /right side of the crop/);
    await drag(page, right, [-(right[0] - left[0]) * 0.75, 0]);
    expect(await steps(page)).toBe(2);
    await page.getByRole('button', { name: 'Crop to this' }).click();
    await stepsReach(page, 3);
    const { recipe, placement } = await reference(page);
    expect(recipe![0].width).toBeGreaterThan(130);
    expect(recipe![0].width).toBeLessThan(170);
    expect(recipe![0].height).toBe(800);
    expect(placement.cx).toBeCloseTo(recipe![0].width / 2, 0);
    await settled(page);
    // Its handles stand at the corners of what was kept: blue inside, white paper beside it.
    await page.getByRole('button', { name: 'Move picture', exact: true }).click();
    const corner = async (nth: number) => {
      const box = (await page.getByTestId('handle-scale').nth(nth).boundingBox())!;
      return [box.x + box.width / 2, box.y + box.height / 2];
    };
    const [[x0, y0], [x1, y1]] = [await corner(0), await corner(2)];
    await page.getByRole('button', { name: 'Move picture', exact: true }).click();
    await settled(page);
    const { data, info } = await sharp(await page.screenshot())
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number) => [
      ...data.subarray(3 * (Math.round(y) * info.width + Math.round(x))).subarray(0, 3),
    ];
    const inside = at((x0 + x1) / 2, (y0 + y1) / 2);
    expect(inside[2]).toBeGreaterThan(inside[0] + 40);
    expect(Math.min(...at(x1 + (x1 - x0) / 2, (y0 + y1) / 2))).toBeGreaterThan(250);
  });

  it('is switched off and on, and undone, from what was done', async () => {
    await page.getByRole('button', { name: /^What was done/ }).click();
    await page.getByRole('switch', { name: 'Cropped' }).click();
    await stepsReach(page, 4);
    expect((await reference(page)).recipe![0].on).toBe(false);
    expect((await reference(page)).placement.cx).toBeCloseTo(300, 6);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await stepsReach(page, 5);
    expect((await reference(page)).recipe![0].on).toBe(true);
    await page.getByRole('button', { name: 'Take away: Cropped' }).click();
    await stepsReach(page, 6);
    expect((await reference(page)).recipe).toEqual([]);
  });

  it('straightens by the dial, by drawing, and by keys on a corner; left without keeping, nothing has changed', async () => {
    await crop(page);
    const dial = page.getByRole('slider', { name: 'Straighten, degrees' });
    await dial.focus();
    await page.keyboard.press('ArrowRight');
    await page.getByText('0.1°', { exact: true }).waitFor();
    await page.getByRole('button', { name: 'Draw along something level or upright' }).click();
    const paper = (await page.getByTestId('level-line').boundingBox())!;
    const from: [number, number] = [paper.x + paper.width / 2 - 60, viewport === PHONE ? 180 : 400];
    await drag(page, from, [120, 12]);
    // The picture was turned by 0.1 already.
    await page.getByText('-5.6°', { exact: true }).waitFor();
    const before = await middle(page, /^Drag corner 1 of the crop/);
    await page.getByRole('button', { name: /^Drag corner 1 of the crop/ }).focus();
    await page.keyboard.press('ArrowRight');
    const after = await middle(page, /^Drag corner 1 of the crop/);
    expect(after[0] - before[0]).toBeCloseTo(2, 0);
    await page.getByRole('radio', { name: 'Lay' }).click();
    expect(await steps(page)).toBe(6);
    expect((await reference(page)).recipe).toEqual([]);
  });
});

it('finds the page in a photograph, squares it up, and says which of two shots is sharper', async () => {
  const { page, errors } = await openPage(app.browser, DESK);
  await newSheet(page, app.server.url, 'Page');
  await goTo(page, 'Place');
  const corners: [number, number][] = [[150, 90], [640, 130], [700, 900], [80, 860]]; // prettier-ignore
  for (const [name, blurPx] of [
    ['soft', 3],
    ['crisp', 0.5],
  ] as const) {
    // prettier-ignore
    const shot = await photographed({ width: 780, height: 1000, corners: corners as never, blurPx, clutter: true });
    const path = join(app.server.data, `${name}.jpg`);
    writeFileSync(
      path,
      await sharp(Buffer.from(shot.data), { raw: { width: 780, height: 1000, channels: 4 } })
        .jpeg()
        .toBuffer(),
    );
    await choose(page, 'Add picture', path);
    await stepsReach(page, name === 'soft' ? 1 : 2);
  }
  await page.getByRole('button', { name: /^Picture: / }).click();
  await page.getByRole('button', { name: 'Which shot is the sharpest?' }).click();
  await page.getByText(/^crisp: its edges are \d\.\d times as steep/).waitFor({ timeout: 20000 });
  await page.getByRole('button', { name: 'Work on crisp' }).last().click();
  await crop(page);
  await page.getByRole('radio', { name: 'A page, by its corners' }).click();
  await page.getByRole('button', { name: 'Find the page' }).click();
  await page.getByRole('button', { name: 'Find the page' }).waitFor({ timeout: 20000 });
  await settled(page);
  await page.getByRole('button', { name: 'Square up' }).click();
  await stepsReach(page, 3);
  const { recipe } = (await picturesOf(page)).find((l) => l.name === 'crisp')!;
  recipe![0].corners.forEach(([x, y], i) => {
    // One hundredth of the picture's longer side.
    expect(Math.hypot(x * 780 - corners[i][0], y * 1000 - corners[i][1])).toBeLessThanOrEqual(10);
  });
  expect(errors).toEqual([]);
});
