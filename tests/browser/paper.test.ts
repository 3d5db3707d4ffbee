import sharp from 'sharp';
import type { CDPSession, Page } from 'playwright-core';
import { curve, DESK, openPage, penStroke, PHONE, testApp } from './harness';
import { asked, goTo, inkOf, newSheet, send, settled, sheetId, steps, stepsReach } from './sheet-driver';

jest.setTimeout(120000);

const app = testApp();

const card = async (page: Page) => {
  const head = (await (await asked(page, `/api/sheets/${sheetId(page)}`)).json()) as {
    card: { widthPx: number; heightPx: number; ppi: number };
    settings: { paperColour: string };
  };
  return { ...head.card, colour: head.settings.paperColour };
};

describe.each([
  ['a phone', PHONE],
  ['a wide screen', DESK],
])('the paper on %s', (_name, viewport) => {
  let page: Page;
  let cdp: CDPSession;
  let errors: string[];
  beforeAll(async () => {
    ({ page, cdp, errors } = await openPage(app.browser, viewport));
    await newSheet(page, app.server.url, `Size ${viewport.width}`, '800', '1000');
    await penStroke(cdp, curve(viewport.width / 2 - 60, 250, viewport.width / 2 + 60, 280));
    await stepsReach(page, 1);
    await goTo(page, 'Place');
    await page.getByRole('button', { name: 'Paper', exact: true }).click();
    await page.getByTestId('paper-edges').waitFor();
  });
  afterAll(() => expect(errors).toEqual([]));

  /** Until the sheet is there again, on its new paper. */
  const reopened = async (words: RegExp) => {
    await settled(page);
    await page.getByTestId('paper').waitFor();
    const fold = page.getByRole('button', { name: 'Paper', exact: true, expanded: false });
    if (await fold.count()) await fold.click();
    await page.getByRole('status').filter({ hasText: words }).waitFor();
  };

  it('is cropped and extended by its edges, its size told in px and mm; the ink stays where it was on it', async () => {
    const before = (await inkOf(page, sheetId(page)))[0].matrix;
    const edge = page.getByRole('button', { name: /^Drag the left edge of the paper/ });
    await edge.focus();
    for (let i = 0; i < 6; i++) await page.keyboard.press('ArrowRight');
    await page
      .getByText(/740\s×\s1000\spx, 63\s×\s85\smm, 300\sppi/)
      .first()
      .waitFor();
    const box = (await page.getByRole('button', { name: /^Drag the upper edge/ }).boundingBox())!;
    await page.mouse.move(box.x + 22, box.y + 22);
    await page.mouse.down();
    await page.mouse.move(box.x + 22, box.y + 40, { steps: 4 });
    await page.mouse.up();
    const text = (await page
      .getByRole('status')
      .filter({ hasText: /^740\s×/ })
      .textContent())!;
    const height = Number(/740\s×\s(\d+)\spx/.exec(text)![1]);
    expect(height).toBeLessThan(990);
    expect(await steps(page)).toBe(1);
    await page.getByRole('button', { name: 'Change the paper' }).click();
    await stepsReach(page, 2);
    await reopened(new RegExp(`^740\\s×\\s${height}\\spx`));
    expect(await card(page)).toMatchObject({ widthPx: 740, heightPx: height, ppi: 300 });
    const now = (await inkOf(page, sheetId(page)))[0].matrix;
    expect([now[4] - before[4], now[5] - before[5]]).toEqual([-60, height - 1000]);
  });

  it('comes back by undo, with all that was on it', async () => {
    await page.getByRole('button', { name: /^Undo/ }).click();
    await stepsReach(page, 3);
    await reopened(/^800\s×\s1000\spx/);
    expect((await inkOf(page, sheetId(page)))[0].matrix).toEqual([1, 0, 0, 1, 0, 0]);
  });

  it('has a size to type, with everything on it scaled along, and says what is no paper', async () => {
    await page.getByRole('switch', { name: 'Scale everything on it along' }).click();
    await page.getByLabel('Width, px').fill('1600');
    await page.keyboard.press('Enter');
    await page
      .getByRole('status')
      .filter({ hasText: /1600\s×\s2000\spx/ })
      .waitFor();
    await page.getByLabel('ppi').fill('9');
    await page.keyboard.press('Enter');
    await page.getByText('The resolution must be 36 to 2400 ppi.').waitFor();
    expect(await page.getByRole('button', { name: 'Change the paper' }).isDisabled()).toBe(true);
    await page.getByLabel('ppi').fill('600');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Change the paper' }).click();
    await stepsReach(page, 4);
    await reopened(/^1600\s×\s2000\spx, 68\s×\s85\smm, 600\sppi/);
    expect((await inkOf(page, sheetId(page)))[0].matrix).toEqual([2, 0, 0, 2, 0, 0]);
  });

  it('has a colour, which is sent with it', async () => {
    await page.getByRole('radio', { name: '#f6f1e7' }).click();
    await stepsReach(page, 5);
    await goTo(page, 'Send');
    const png = await send(page, ['PNG', 'On paper'], 'Send PNG');
    const { data, info } = await sharp(png.bytes).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height, [...data.subarray(0, 3)]]).toEqual([1600, 2000, [0xf6, 0xf1, 0xe7]]);
  });
});
