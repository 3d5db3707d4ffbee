import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Page } from 'playwright-core';
import { DESK, openPage, PHONE, testApp } from './harness';
import { choose, goTo, halvesPicture, newSheet, picturesOf, settled, steps, stepsReach } from './sheet-driver';
import { until } from '../measures/until';

jest.setTimeout(120000);

const app = testApp();

const recipe = async (page: Page) => (await picturesOf(page))[0].recipe ?? [];

describe.each([
  ['a phone', PHONE],
  ['a wide screen', DESK],
])('tones on %s', (_name, viewport) => {
  let page: Page;
  let errors: string[];
  /** Two places of the screen, one on each half of the picture. */
  const places = viewport === PHONE ? ([[150, 180], [240, 180]] as const) : ([[560, 400], [720, 400]] as const); // prettier-ignore
  beforeAll(async () => {
    ({ page, errors } = await openPage(app.browser, viewport));
    await newSheet(page, app.server.url, `Tone ${viewport.width}`);
    await goTo(page, 'Place');
    await choose(page, 'Add picture', await halvesPicture(app.server.data, '#304070', '#d0c0a0'));
    await stepsReach(page, 1);
    await page.getByRole('slider', { name: 'Picture opacity' }).focus();
    await page.keyboard.press('End');
    await stepsReach(page, 2);
    await page.getByRole('radio', { name: 'Tone' }).click();
    await settled(page);
  });
  afterAll(() => expect(errors).toEqual([]));

  /** What the screen shows at some places: at those two. */
  async function colours(at: readonly (readonly [number, number])[] = places): Promise<number[][]> {
    await settled(page);
    const { data, info } = await sharp(await page.screenshot())
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return at.map(([x, y]) => [...data.subarray(3 * (y * info.width + x), 3 * (y * info.width + x) + 3)]);
  }

  it('takes the colour out, by luma, and shows it at once', async () => {
    const [dark, pale] = await colours();
    expect(dark[2] - dark[0]).toBeGreaterThan(40);
    await page.getByRole('switch', { name: 'Grey' }).click();
    await stepsReach(page, 3);
    const now = await colours();
    for (const [i, [r, g, b]] of [dark, pale].entries()) {
      const luma = 0.2126 * r + 0.7152 * g + 0.0722 * b;
      for (const v of now[i]) expect(Math.abs(v - luma)).toBeLessThanOrEqual(3);
    }
  });

  it('what is touched becomes shadow and light', async () => {
    for (const [i, what] of ['Touch a shadow', 'Touch a light'].entries()) {
      await page.getByRole('button', { name: what }).click();
      const layer = (await page.getByTestId('touch-tone').boundingBox())!;
      expect(layer.width).toBeGreaterThan(300);
      const [x, y] = places[i];
      await page.mouse.click(x, y);
      await stepsReach(page, 4 + i);
    }
    const [dark, pale] = await colours();
    expect(dark[0]).toBeLessThan(26);
    expect(pale[0]).toBeGreaterThan(230);
    expect((await recipe(page)).map(({ kind }) => kind)).toEqual(['grey', 'curve']);
  });

  it('the curve is dragged and moved by keys, live, each gesture a step; points come and go', async () => {
    const point = page.getByRole('button', { name: /^Drag point 2 of the curve/ });
    await point.scrollIntoViewIfNeeded();
    const box = (await point.boundingBox())!;
    await page.mouse.move(box.x + 22, box.y + 22);
    await page.mouse.down();
    await page.mouse.move(box.x + 22, box.y - 10, { steps: 5 });
    expect(await steps(page)).toBe(5);
    await page.mouse.up();
    await stepsReach(page, 6);
    const curve = async () => (await recipe(page)).find(({ kind }) => kind === 'curve')!.points;
    expect((await curve())[1][1]).toBeGreaterThan(0.6);
    await point.focus();
    await page.keyboard.press('ArrowDown');
    await stepsReach(page, 7);
    await page.keyboard.press('Delete');
    await stepsReach(page, 8);
    expect(await curve()).toHaveLength(2);
    const area = (await page.getByTestId('tone-curve').boundingBox())!;
    await page.mouse.click(area.x + area.width / 2, area.y + area.height / 3);
    await stepsReach(page, 9);
    expect(await curve()).toHaveLength(3);
  });

  it('shows the picture as it came while that is held', async () => {
    const before = page.getByRole('button', { name: 'Before: hold to see the picture as it came' });
    await before.scrollIntoViewIfNeeded();
    const box = (await before.boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    const [dark] = await colours();
    expect(dark[2] - dark[0]).toBeGreaterThan(40);
    await page.mouse.up();
    const [grey] = await colours();
    expect(Math.abs(grey[2] - grey[0])).toBeLessThanOrEqual(2);
    expect(await steps(page)).toBe(9);
  });

  it('a preset sets all of it, and undo brings back what was', async () => {
    const was = await recipe(page);
    await page.getByRole('radio', { name: 'Dark photo' }).click();
    await stepsReach(page, 10);
    expect((await recipe(page)).map(({ kind }) => kind)).toEqual(['exposure', 'curve']);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await stepsReach(page, 11);
    expect(await recipe(page)).toEqual(was);
  });

  it('parts the picture from how it came at a divider, which is dragged, at any zoom', async () => {
    await page.getByRole('button', { name: 'Divider: as it came beside as made' }).click();
    await page.getByTestId('divider').waitFor();
    const [[x, y]] = places;
    /** Left and right of the divider, in the picture's dark half. */
    const areGrey = async () => (await colours([[x - 14, y], [x + 14, y]])).map(([r, , b]) => Math.abs(r - b) <= 2); // prettier-ignore
    const knob = page.getByRole('button', { name: /^Drag the divider/ });
    const drag = async (to: number) => {
      const box = (await knob.boundingBox())!;
      await page.mouse.move(box.x + 22, box.y + 22);
      await page.mouse.down();
      await page.mouse.move(to, box.y + 22, { steps: 4 });
      await page.mouse.up();
    };
    await drag(x);
    expect(await areGrey()).toEqual([false, true]);
    await page.mouse.move(x, y);
    await page.keyboard.down('Control');
    await page.mouse.wheel(0, -240);
    await page.keyboard.up('Control');
    await settled(page);
    expect(await areGrey()).toEqual([false, true]);
    await page.getByRole('button', { name: 'Divider away' }).click();
    expect(await areGrey()).toEqual([true, true]);
    expect(await page.getByTestId('divider').count()).toBe(0);
    await page.keyboard.press('0');
    expect(await steps(page)).toBe(11);
  });

  it('has as few values as are asked for, by thresholds that are found, and dragged', async () => {
    await page.getByRole('button', { name: 'Tone steps' }).click();
    await page.getByRole('radio', { name: '3', exact: true }).click();
    await stepsReach(page, 12);
    const values = async () => (await recipe(page)).find(({ kind }) => kind === 'steps')!;
    const found = (await values()).thresholds;
    expect(found).toHaveLength(2);
    const threshold = page.getByRole('button', { name: /^Drag threshold 2 of 2/ });
    await threshold.scrollIntoViewIfNeeded();
    const box = (await threshold.boundingBox())!;
    await page.mouse.move(box.x + 22, box.y + 22);
    await page.mouse.down();
    await page.mouse.move(box.x + 42, box.y + 22, { steps: 4 });
    await page.mouse.up();
    await stepsReach(page, 13);
    await threshold.focus();
    await page.keyboard.press('ArrowLeft');
    await stepsReach(page, 14);
    const moved = (await values()).thresholds;
    expect(moved[0]).toBe(found[0]);
    expect(moved[1]).toBeGreaterThan(found[1] + 0.02);
    await page.getByRole('switch', { name: 'Over the picture, not instead of it' }).click();
    await stepsReach(page, 15);
    expect((await values()).amount).toBe(0.5);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await page.getByRole('radio', { name: 'All', exact: true }).click();
    await stepsReach(page, 17);
    await page.getByRole('button', { name: 'Tone steps' }).click();
  });

  it('shows its edges to ink from: white where there are none', async () => {
    await page.getByRole('button', { name: /^Edges/ }).click();
    await page.getByRole('switch', { name: 'Edges to ink from' }).click();
    await stepsReach(page, 18);
    const [dark, pale] = await colours();
    expect([dark[0] > 250, pale[0] > 250]).toEqual([true, true]);
    await page.getByRole('switch', { name: 'Edges to ink from' }).click();
    await stepsReach(page, 19);
    await page.getByRole('button', { name: /^Edges/ }).click();
  });

  it('gives its colours, as they came, to the sheet’s swatches, and Ink has them', async () => {
    await page.getByRole('button', { name: 'Palette' }).click();
    const found = page.getByRole('list', { name: 'Colours of the picture, dark first' });
    await found.getByRole('listitem').first().waitFor();
    const colours = await found
      .getByRole('listitem')
      .evaluateAll((all) => all.map((e) => e.getAttribute('aria-label')!));
    expect(colours.length).toBeGreaterThanOrEqual(2);
    await page.getByRole('button', { name: 'Into the sheet’s swatches' }).click();
    await stepsReach(page, 20);
    await page.getByRole('button', { name: 'All are among the sheet’s swatches' }).waitFor();
    await page.getByRole('button', { name: /^Undo/ }).click();
    await stepsReach(page, 21);
    await page.getByRole('button', { name: 'Into the sheet’s swatches' }).waitFor();
    await page.getByRole('button', { name: 'Palette' }).click();
  });

  it('keeps the artist’s own tones, renames and deletes them, and sets them again', async () => {
    const was = await recipe(page);
    await page.getByRole('button', { name: 'Your own tones' }).click();
    await page.getByRole('button', { name: 'Keep these tones' }).click();
    await page.getByRole('textbox', { name: 'Name' }).fill('Marsh');
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await page.getByRole('radio', { name: 'As it came' }).click();
    await stepsReach(page, 22);
    expect(await recipe(page)).toEqual([]);
    await page.getByRole('button', { name: 'Marsh', exact: true }).click();
    await stepsReach(page, 23);
    const plain = (all: Awaited<ReturnType<typeof recipe>>) => all.map(({ id: _, ...step }) => step);
    expect(plain(await recipe(page))).toEqual(plain(was));
    await page.getByRole('button', { name: 'Rename Marsh' }).click();
    await page.getByRole('textbox', { name: 'Name' }).fill('Salt marsh');
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await page.getByRole('button', { name: 'Delete Salt marsh' }).click();
    expect(await page.getByRole('button', { name: 'Salt marsh', exact: true }).count()).toBe(0);
    await page.getByRole('button', { name: 'Bring it back' }).click();
    await page.getByRole('button', { name: 'Salt marsh', exact: true }).waitFor();
    await page.getByRole('button', { name: 'Your own tones' }).click();
  });

  it('is there again when the sheet is opened anew', async () => {
    await page.reload();
    await page.getByTestId('paper').waitFor();
    await settled(page);
    const [dark, pale] = await colours();
    expect(Math.abs(dark[2] - dark[0])).toBeLessThanOrEqual(2);
    expect(pale[0] - dark[0]).toBeGreaterThan(150);
  });
});

it('looked at closely, a picture is as sharp as it is, as it came and with what was done to it', async () => {
  const { page } = await openPage(app.browser, DESK);
  await newSheet(page, app.server.url, 'Stripes');
  await goTo(page, 'Place');
  const path = join(app.server.data, 'stripes.png');
  const [width, height] = [2400, 3200];
  // Two px dark, two px light: smaller copies show an even grey.
  const pixels = Buffer.alloc(width * height);
  for (let i = 0; i < pixels.length; i++) pixels[i] = (i % width) % 4 < 2 ? 0 : 255;
  writeFileSync(
    path,
    await sharp(pixels, { raw: { width, height, channels: 1 } })
      .png()
      .toBuffer(),
  );
  await choose(page, 'Add picture', path);
  await stepsReach(page, 1);
  await page.getByRole('slider', { name: 'Picture opacity' }).focus();
  await page.keyboard.press('End');
  await stepsReach(page, 2);
  await page.mouse.move(640, 400);
  await page.keyboard.down('Control');
  for (let i = 0; i < 22; i++) await page.mouse.wheel(0, -100);
  await page.keyboard.up('Control');
  /** How much a row in the middle varies, 0 to 255. */
  const contrast = async () => {
    const shot = await page.screenshot({ clip: { x: 560, y: 400, width: 160, height: 1 } });
    const row = await sharp(shot).greyscale().raw().toBuffer();
    return Math.max(...row) - Math.min(...row);
  };
  const isSharp = async () => {
    await until(async () => (await contrast()) >= 180, 'it is sharp', 100);
    return contrast();
  };
  expect(await isSharp()).toBeGreaterThan(180);
  await page.getByRole('radio', { name: 'Tone' }).click();
  await page.getByRole('switch', { name: 'Grey' }).click();
  await stepsReach(page, 3);
  await page.keyboard.press('0');
  await settled(page);
  await page.mouse.move(640, 400);
  await page.keyboard.down('Control');
  for (let i = 0; i < 22; i++) await page.mouse.wheel(0, -100);
  await page.keyboard.up('Control');
  expect(await isSharp()).toBeGreaterThan(180);
});

it('a picture that cannot be worked on is told, and the sheet goes on', async () => {
  const { page } = await openPage(app.browser, PHONE);
  await newSheet(page, app.server.url, 'Away');
  await goTo(page, 'Place');
  const path = join(app.server.data, 'small.png');
  writeFileSync(
    path,
    await sharp({ create: { width: 40, height: 30, channels: 3, background: '#888' } })
      .png()
      .toBuffer(),
  );
  await choose(page, 'Add picture', path);
  await stepsReach(page, 1);
  await page.route('**/api/pictures/*/working', (route) => route.abort());
  await page.getByRole('radio', { name: 'Tone' }).click();
  await page.getByRole('switch', { name: 'Grey' }).click();
  await stepsReach(page, 2);
  await page.getByText(/could not be loaded from the server/).waitFor();
});
