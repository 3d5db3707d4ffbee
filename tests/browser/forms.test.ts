import sharp from 'sharp';
import type { Page } from 'playwright-core';
import { curve, DESK, openPage, penStroke, PHONE, saved, testApp } from './harness';
import { inkIn, inkOf, newSheet, sheetId, stepsReach, unfold, settled } from './sheet-driver';

jest.setTimeout(180000);
const app = testApp();

async function drag(page: Page, from: [number, number], to: [number, number]): Promise<void> {
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(...to, { steps: 12 });
}

/** Chooses what the hand makes. */
async function take(page: Page, isPhone: boolean, ...names: string[]): Promise<void> {
  await unfold(page);
  if (isPhone) await page.getByRole('button', { name: /Open its settings/ }).click();
  for (const name of names) await page.getByRole('radio', { name, exact: true }).click();
  if (process.env.LOOK) await page.screenshot({ path: `/tmp/forms-${isPhone}.png` });
  if (isPhone) await page.getByRole('button', { name: /Close its settings/ }).click();
}

describe.each([
  ['a phone', PHONE, 70, 130],
  ['a wide screen', DESK, 480, 130],
])('forms on %s', (_name, viewport, x, y) => {
  const isPhone = viewport === PHONE;

  it('draws boxes and ovals, even ones with Shift, filled or not, and shows them the same after', async () => {
    const { page, errors, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, 'Forms', '800', '900');
    await take(page, isPhone, 'Box');
    await drag(page, [x, y], [x + 100, y + 70]);
    await page.mouse.up();
    await stepsReach(page, 1);
    // A tap is no box.
    await page.mouse.click(x + 180, y + 180);
    await stepsReach(page, 1);
    await take(page, isPhone, 'Oval', 'Filled');
    await page.keyboard.down('Shift');
    await drag(page, [x + 130, y], [x + 220, y + 60]);
    const clip = { x: x + 125, y: y - 5, width: 120, height: 110 };
    await page.mouse.up();
    await page.keyboard.up('Shift');
    await stepsReach(page, 2);
    await settled(page);
    const inked = await inkIn(page, clip);
    // A circle of 90 px, and half of the line around it.
    expect(inked).toBeGreaterThan(0.95 * Math.PI * 45 * 45);
    expect(inked).toBeLessThan(1.15 * Math.PI * 47 * 47);
    const kept = await inkOf(page, sheetId(page));
    expect(kept.map((s) => s.pen.fill)).toEqual([undefined, 'with']);
    await page.keyboard.press('Control+z');
    await saved(page);
    await settled(page);
    expect(await inkIn(page, clip)).toBeLessThan(inked / 20);
    await page.keyboard.press('Control+Shift+z');
    await saved(page);
    await settled(page);
    expect(await inkIn(page, clip)).toBe(inked);
    await take(page, isPhone, 'Freehand', 'Fill alone');
    await page.mouse.move(x, y + 140);
    await page.mouse.down();
    for (let i = 0; i <= 30; i++) await page.mouse.move(x + 6 * i, y + 140 + 70 * Math.sin((Math.PI * i) / 30));
    // What will be filled shows pale while the pen is down.
    await page.waitForTimeout(100);
    const middle = { x: x + 70, y: y + 155, width: 40, height: 20 };
    const { channels } = await sharp(await page.screenshot({ clip: middle }))
      .greyscale()
      .stats();
    // 40 % of black.
    for (const shown of [channels[0].min, channels[0].max]) expect(Math.abs(shown - 153)).toBeLessThanOrEqual(2);
    await page.mouse.up();
    await stepsReach(page, 5);
    await settled(page);
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/formed-${isPhone}.png` });
    expect(await inkIn(page, { x: x + 40, y: y + 150, width: 80, height: 30 })).toBeGreaterThan(1800);
    expect(errors).toEqual([]);
    await context.close();
  });

  it('places a line and pulls it where it should lie; each pull stays, is one step, and can be taken away', async () => {
    const { page, errors, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, 'Bend', '800', '900');
    await take(page, isPhone, 'Bend', 'Line');
    await drag(page, [x, y + 60], [x + 200, y + 60]);
    await page.mouse.up();
    await stepsReach(page, 1);
    const dots = page.getByTestId('bend-dots').locator('circle');
    expect(await dots.count()).toBe(2);
    await drag(page, [x + 60, y + 60], [x + 55, y + 10]);
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/bending-${isPhone}.png` });
    await page.mouse.up();
    await stepsReach(page, 2);
    await drag(page, [x + 140, y + 40], [x + 150, y + 120]);
    await page.mouse.up();
    await stepsReach(page, 3);
    expect(await dots.count()).toBe(4);
    await settled(page);
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/bent-${isPhone}.png` });
    // There is ink at both pulled places, and none where the line lay.
    expect(await inkIn(page, { x: x + 51, y: y + 6, width: 8, height: 8 })).toBeGreaterThan(0);
    expect(await inkIn(page, { x: x + 146, y: y + 116, width: 8, height: 8 })).toBeGreaterThan(0);
    expect(await inkIn(page, { x: x + 50, y: y + 54, width: 16, height: 12 })).toBe(0);
    // A touch takes a pull away; an undo brings it back, in the hand, too.
    await page.mouse.click(x + 150, y + 120);
    await stepsReach(page, 4);
    expect(await dots.count()).toBe(3);
    await page.keyboard.press('Control+z');
    await stepsReach(page, 5);
    expect(await dots.count()).toBe(4);
    const standing = (await inkOf(page, sheetId(page))).filter((s) => !s.deleted);
    expect(standing).toHaveLength(1);
    // Elsewhere the next one begins.
    await drag(page, [x, y + 200], [x + 150, y + 230]);
    await page.mouse.up();
    await stepsReach(page, 6);
    expect(await dots.count()).toBe(2);
    // Later it is taken into the hand again, and pulled at once.
    await page.getByRole('button', { name: /^Edit lines/ }).click();
    await page.getByRole('radio', { name: 'Bend', exact: true }).click();
    await drag(page, [x + 55, y + 10], [x + 40, y - 10]);
    await page.mouse.up();
    await stepsReach(page, 7);
    expect(await dots.count()).toBe(4);
    expect(errors).toEqual([]);
    await context.close();
  });

  it('taps out points, closes them, and changes the points of lines that were drawn by hand', async () => {
    const { page, cdp, errors, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, 'Points', '800', '900');
    await take(page, isPhone, 'Points', 'Line', 'Corners');
    const dots = page.getByTestId('bend-dots');
    const corners: [number, number][] = [
      [x + 20, y + 20],
      [x + 160, y + 20],
      [x + 90, y + 110],
    ];
    for (const [n, at] of corners.entries()) {
      await page.mouse.click(...at);
      await stepsReach(page, n + 1);
    }
    expect(await dots.locator('rect, circle').count()).toBe(3);
    await page.mouse.click(...corners[0]);
    await stepsReach(page, 4);
    expect(await dots.count()).toBe(0);
    await settled(page);
    // The third side, which no tap has drawn.
    expect(await inkIn(page, { x: x + 50, y: y + 60, width: 12, height: 12 })).toBeGreaterThan(0);
    await take(page, isPhone, 'Freehand');
    await penStroke(cdp, curve(x, y + 190, x + 200, y + 190));
    await stepsReach(page, 5);
    await page.getByRole('button', { name: /^Edit lines/ }).click();
    await page.getByRole('radio', { name: 'Points', exact: true }).click();
    // The hand-drawn line shows few points; one of them is chosen, and made a corner.
    await page.mouse.click(x, y + 190);
    await settled(page);
    const few = await dots.locator('rect, circle').count();
    expect(few).toBeGreaterThan(2);
    expect(few).toBeLessThan(16);
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/points-${isPhone}.png` });
    await page.mouse.click(x, y + 190);
    await page.getByRole('button', { name: 'Wider', exact: true }).click();
    await stepsReach(page, 6);
    await page.keyboard.press('ArrowUp');
    await stepsReach(page, 7);
    await page.getByRole('radio', { name: 'Curve', exact: true }).click();
    await stepsReach(page, 8);
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/pointed-${isPhone}.png` });
    // By keys, too.
    await page.keyboard.press('n');
    await page.keyboard.press('ArrowDown');
    await stepsReach(page, 9);
    await page.keyboard.press('Escape');
    expect(await dots.count()).toBe(0);
    // A line that is picked is the one whose points are meant.
    await page.getByRole('radio', { name: 'Pick', exact: true }).click();
    await page.mouse.click(x + 120, y + 20);
    await page.getByText('1 line').first().waitFor();
    await page.getByRole('radio', { name: 'Points', exact: true }).click();
    await dots.waitFor();
    expect(await dots.locator('rect').count()).toBe(3);
    for (let n = 0; n < 4; n++) await page.keyboard.press('Control+z');
    await stepsReach(page, 13);
    const standing = (await inkOf(page, sheetId(page))).filter((s) => !s.deleted);
    expect(standing).toHaveLength(2);
    expect(standing[1].pen.taperInPx).toBeGreaterThan(0);
    expect(errors).toEqual([]);
    await context.close();
  });
});
