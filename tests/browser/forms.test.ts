import type { Page } from 'playwright-core';
import { DESK, openPage, PHONE, saved, testApp } from './harness';
import { inkIn, inkOf, newSheet, sheetId, stepsReach, unfold, waitForTiles } from './sheet-driver';

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
    await waitForTiles(page);
    const inked = await inkIn(page, clip);
    // A circle of 90 px, and half of the line around it.
    expect(inked).toBeGreaterThan(0.95 * Math.PI * 45 * 45);
    expect(inked).toBeLessThan(1.15 * Math.PI * 47 * 47);
    const kept = await inkOf(page, sheetId(page));
    expect(kept.map((s) => s.pen.fill)).toEqual([undefined, 'with']);
    await page.keyboard.press('Control+z');
    await saved(page);
    await waitForTiles(page);
    expect(await inkIn(page, clip)).toBeLessThan(inked / 20);
    await page.keyboard.press('Control+Shift+z');
    await saved(page);
    await waitForTiles(page);
    expect(await inkIn(page, clip)).toBe(inked);
    await take(page, isPhone, 'Freehand', 'Fill alone');
    await page.mouse.move(x, y + 140);
    await page.mouse.down();
    for (let i = 0; i <= 30; i++) await page.mouse.move(x + 6 * i, y + 140 + 70 * Math.sin((Math.PI * i) / 30));
    await page.mouse.up();
    await stepsReach(page, 5);
    await waitForTiles(page);
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/formed-${isPhone}.png` });
    expect(await inkIn(page, { x: x + 40, y: y + 150, width: 80, height: 30 })).toBeGreaterThan(1800);
    expect(errors).toEqual([]);
    await context.close();
  });
});
