import sharp from 'sharp';
import type { Page } from 'playwright-core';
import { curve, DESK, openPage, penStroke, PHONE, saved, testApp } from './harness';
import { goTo, hideRing, inkOf, newSheet, send, sheetId, stepsReach, unfold, settled } from './sheet-driver';

jest.setTimeout(180000);
const app = testApp();

/** Opens all that is set of the eraser, which is taken for it. */
async function eraserInHand(page: Page, isPhone: boolean): Promise<void> {
  await unfold(page);
  await page
    .getByRole('button', { name: /^Eraser/ })
    .first()
    .click();
  if (isPhone) await page.getByRole('button', { name: /ser. Open its settings/ }).click();
}

describe.each([
  ['a phone', PHONE, 60, 250],
  ['a wide screen', DESK, 460, 300],
])('the soft eraser on %s', (_name, viewport, x, width) => {
  const isPhone = viewport === PHONE;

  it('fades lines, shows the same after, is taken back and done again, and is sent', async () => {
    const { page, cdp, errors, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, 'Soft', '800', '900');
    for (let i = 0; i < 3; i++) await penStroke(cdp, curve(x, 160 + i * 40, x + width, 150 + i * 42));
    await stepsReach(page, 3);
    const clip = { x: x - 10, y: 110, width: width + 20, height: 200 };
    const darkness = async () => {
      await hideRing(page);
      const { data } = await sharp(await page.screenshot({ clip }))
        .greyscale()
        .raw()
        .toBuffer({ resolveWithObject: true });
      return data.reduce((sum, v) => sum + (255 - v) / 255, 0);
    };
    const atRest = async () => {
      await saved(page);
      await settled(page);
      return darkness();
    };
    const before = await atRest();
    await eraserInHand(page, isPhone);
    await page.getByRole('radio', { name: /Soft/ }).click();
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/eraser-${isPhone}.png` });
    if (isPhone) await page.getByRole('button', { name: /Close its settings/ }).click();
    await page
      .getByRole('radio', { name: /^Eraser/ })
      .nth(3)
      .click();
    await penStroke(
      cdp,
      Array.from({ length: 24 }, (_, i) => [x + width / 2, 120 + 8 * i, 0.5] as const),
    );
    await hideRing(page);
    const wet = await darkness();
    const faded = await atRest();
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/erased-${isPhone}.png` });
    expect(faded).toBeLessThan(0.96 * before);
    expect(Math.abs(wet - faded)).toBeLessThan(0.01 * before);
    const kept = (await inkOf(page, sheetId(page))).filter((s) => s.pen.fades);
    expect(kept).toMatchObject([{ deleted: false, pen: { soft: 0.7, opacity: 0.5 } }]);
    await page.keyboard.press('Control+z');
    expect(await atRest()).toBe(before);
    await page.keyboard.press('Control+Shift+z');
    expect(Math.abs((await atRest()) - faded)).toBeLessThan(0.001 * before);
    await goTo(page, 'Send');
    await page.getByRole('radio', { name: 'SVG' }).click();
    await page.getByText(/What was erased softly goes as masks/).waitFor();
    const { bytes } = await send(page, [], 'Send');
    expect(bytes.toString().match(/<mask /g)).toHaveLength(1);
    expect(errors).toEqual([]);
    await context.close();
  });

  it('that touches no line leaves nothing behind', async () => {
    const { page, cdp, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, 'Nothing', '800', '900');
    await penStroke(cdp, curve(x, 160, x + width, 150));
    await stepsReach(page, 1);
    await eraserInHand(page, isPhone);
    await page.getByRole('radio', { name: /Soft/ }).click();
    if (isPhone) await page.getByRole('button', { name: /Close its settings/ }).click();
    await penStroke(cdp, curve(x, 300, x + width, 310));
    await stepsReach(page, 1);
    await context.close();
  });
});
