import sharp from 'sharp';
import type { CDPSession, Locator, Page } from 'playwright-core';
import { curve, fingerStroke, openPage, penStroke, PHONE, testApp, type Point } from './harness';
import { inkIn, phonePhoto, settled, stepsReach } from './sheet-driver';

jest.setTimeout(120000);
const app = testApp();

const LYING = { width: 844, height: 390 };

/** One way of working the app: how a control is pressed, a slider set, a line drawn. */
interface Hand {
  press(control: Locator): Promise<void>;
  /** Sets a slider to about `part` of its way. */
  slide(slider: Locator, part: number): Promise<void>;
  line(points: Point[]): Promise<void>;
}

const middleOf = async (control: Locator): Promise<[x: number, y: number]> => {
  await control.scrollIntoViewIfNeeded();
  const box = (await control.boundingBox())!;
  return [box.x + box.width / 2, box.y + box.height / 2];
};
const placeOn = async (slider: Locator, part: number): Promise<[x: number, y: number]> => {
  await slider.scrollIntoViewIfNeeded();
  const box = (await slider.boundingBox())!;
  return [box.x + box.width * part, box.y + box.height / 2];
};

const finger = (page: Page, cdp: CDPSession): Hand => ({
  press: async (control) => page.touchscreen.tap(...(await middleOf(control))),
  slide: async (slider, part) => page.touchscreen.tap(...(await placeOn(slider, part))),
  line: (points) => fingerStroke(cdp, points, 10),
});

const mouseLine = async (page: Page, points: Point[]): Promise<void> => {
  await page.mouse.move(points[0][0], points[0][1]);
  await page.mouse.down();
  for (const [x, y] of points.slice(1)) await page.mouse.move(x, y);
  await page.mouse.up();
};

const mouse = (page: Page): Hand => ({
  press: async (control) => page.mouse.click(...(await middleOf(control))),
  slide: async (slider, part) => page.mouse.click(...(await placeOn(slider, part))),
  line: (points) => mouseLine(page, points),
});

const pen = (page: Page, cdp: CDPSession): Hand => {
  const tapAt = async ([x, y]: [number, number]) => {
    await penStroke(cdp, [[x, y]]);
    await page.waitForTimeout(50);
  };
  return {
    press: async (control) => tapAt(await middleOf(control)),
    slide: async (slider, part) => tapAt(await placeOn(slider, part)),
    line: (points) => penStroke(cdp, points),
  };
};

/** All by keys, each control reached by Tab alone; but a line needs something that points. */
const keyboard = (page: Page): Hand => {
  const reach = async (control: Locator) => {
    const isThere = () => control.evaluate((node) => node === document.activeElement);
    for (let i = 0; i < 150 && !(await isThere()); i++) await page.keyboard.press('Tab');
    expect(await isThere()).toBe(true);
  };
  return {
    press: async (control) => {
      // Of a group of radios only the chosen one is a stop of Tab; the arrows lead to the others.
      if ((await control.getAttribute('role')) === 'radio' && (await control.getAttribute('tabindex')) === '-1') {
        const group = control.locator('xpath=ancestor::*[@role="radiogroup"][1]');
        await reach(group.locator('[role=radio][tabindex="0"]'));
        for (let i = 0; i < 20 && (await control.getAttribute('aria-checked')) !== 'true'; i++)
          await page.keyboard.press('ArrowRight');
        expect(await control.getAttribute('aria-checked')).toBe('true');
        return;
      }
      await reach(control);
      await page.keyboard.press('Enter');
    },
    slide: async (slider, part) => {
      await reach(slider);
      await page.keyboard.press('Home');
      for (let i = 0; i < Math.round(part * 10); i++) await page.keyboard.press('PageUp');
    },
    line: (points) => mouseLine(page, points),
  };
};

const HANDS = { finger, pen, mouse, keyboard };
const WAYS = (Object.keys(HANDS) as (keyof typeof HANDS)[]).flatMap((hand) =>
  (['upright', 'lying'] as const).map((held) => [hand, held] as const),
);

describe('the whole path', () => {
  it.each(WAYS)('by %s, the phone %s: drawer, picture, hush, ink, undo, layer, send', async (by, held) => {
    const isLying = held === 'lying';
    const { page, cdp, errors, context } = await openPage(app.browser, isLying ? LYING : PHONE, {
      hasTouch: by === 'finger',
    });
    const hand = HANDS[by](page, cdp);
    const button = (name: string | RegExp) => page.getByRole('button', { name });

    await page.goto(app.server.url);
    await hand.press(button('Blank sheet'));
    await page.getByLabel('Name').fill(`By ${by}, ${held}`);
    await hand.press(page.getByRole('radio', { name: /My own size/ }));
    await page.getByLabel('Width, px').fill('600');
    await page.getByLabel('Height, px').fill('800');
    await hand.press(button('Make sheet'));
    await page.getByTestId('paper').waitFor();
    await settled(page);

    const panel = button(/^Stops, layers and the rest/);
    const stopsShown = async (shown: boolean) => {
      if (isLying && ((await panel.getAttribute('aria-expanded')) === 'true') !== shown) await hand.press(panel);
    };
    const stop = async (name: string) => {
      await stopsShown(true);
      const unfold = button('Show the title bar and the stops');
      if (by === 'keyboard' && (await unfold.count())) await hand.press(unfold);
      await hand.press(page.getByRole('tab', { name }));
    };

    await stop('Place');
    const { path } = await phonePhoto(app.server.data);
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), hand.press(button('Add picture'))]);
    await chooser.setFiles(path);
    await page.getByText('The picture stays where it is').waitFor();
    await stepsReach(page, 1);
    const hush = page.getByRole('slider', { name: 'Picture opacity' });
    await hand.slide(hush, 0.3);
    await stepsReach(page, 2);
    const percent = Number(await hush.getAttribute('aria-valuenow'));
    expect(Math.abs(percent - 30)).toBeLessThan(12);

    await stop('Ink');
    await stopsShown(false);
    await hand.press(page.getByRole('radio', { name: /^Nib 24/ }));
    await settled(page);
    // Over the middle of the paper, wherever it lies now.
    const strip = isLying ? { x: 400, y: 150, width: 130, height: 60 } : { x: 120, y: 260, width: 150, height: 60 };
    const [x, y] = [strip.x + 10, strip.y + 30];
    await hand.line(curve(x, y, x + strip.width - 20, y, 30, 4));
    await stepsReach(page, 3);
    const inked = await inkIn(page, strip);
    expect(inked).toBeGreaterThan(150);
    await hand.press(button(/^Undo/));
    await stepsReach(page, 4);
    expect(await inkIn(page, strip)).toBeLessThan(inked / 4);
    await hand.press(button(/^Redo/));
    await stepsReach(page, 5);
    expect(await inkIn(page, strip)).toBeGreaterThan(inked * 0.95);

    await stopsShown(true);
    if (!isLying) await hand.press(button(/^Lines Ink/));
    await hand.press(button('+ Ink: add an ink layer'));
    await stepsReach(page, 6);
    await stop('Send');
    await hand.press(page.getByRole('radio', { name: 'On paper' }));
    const download = page.waitForEvent('download');
    await hand.press(button('Send PNG'));
    const sent = await (await download).path();
    const { data, info } = await sharp(sent).greyscale().raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([600, 800]);
    // The ink alone: black on white, nothing of the photo.
    const dark = data.filter((v) => v < 60).length;
    expect(dark).toBeGreaterThan(500);
    expect(data.filter((v) => v >= 60 && v < 250).length).toBeLessThan(dark);
    expect(errors).toEqual([]);
    await context.close();
  });
});
