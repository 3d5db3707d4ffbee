import { Resvg } from '@resvg/resvg-js';
import type { BrowserContext, Page } from 'playwright-core';
import { curve, DESK, openPage, penStroke, testApp } from './harness';
import { hideRing, inkOf, newSheet, sheetId, stepsReach } from './sheet-driver';

jest.setTimeout(60000);
const app = testApp();
const FORMAT = 'web application/x-hush-line-lines';

const standing = async (page: Page) => (await inkOf(page, sheetId(page))).filter((s) => !s.deleted);
const allow = (context: BrowserContext) => context.grantPermissions(['clipboard-read', 'clipboard-write']);

/** A sheet with two lines, open at Edit. */
async function twoLines(name: string, width = '800') {
  const at = await openPage(app.browser, DESK);
  await allow(at.context);
  await newSheet(at.page, app.server.url, name, width, '900');
  await penStroke(at.cdp, curve(460, 200, 720, 220));
  await penStroke(at.cdp, curve(460, 320, 720, 300));
  await stepsReach(at.page, 2);
  await at.page.keyboard.press('e');
  return at;
}

/** Copies what is picked; it is there for others. */
async function copyAll(page: Page): Promise<void> {
  await page.evaluate(
    'globalThis.wrote = new Promise((done) => { const { write } = navigator.clipboard; navigator.clipboard.write = (items) => write.call(navigator.clipboard, items).then(done); }); 0',
  );
  await page.keyboard.press('Control+a');
  await page.getByText('2 lines', { exact: true }).first().waitFor({ state: 'attached' });
  await page.keyboard.press('Control+c');
  await page.evaluate('globalThis.wrote');
}

it('carries lines to another tab, to another window that shares nothing but the clipboard, and as SVG to other programs', async () => {
  const { page, errors, context } = await twoLines('Copied');
  await copyAll(page);
  const were = await standing(page);

  const svg = await page.evaluate(async () => {
    const [item] = await navigator.clipboard.read();
    return { types: item.types, text: await (await item.getType('image/svg+xml')).text() };
  });
  expect(svg.types).toEqual(expect.arrayContaining([FORMAT, 'image/svg+xml']));
  expect(svg.text.match(/<path/g)).toHaveLength(2);
  const { pixels } = new Resvg(svg.text).render();
  expect(pixels.filter((v, i) => i % 4 === 3 && v > 200).length).toBeGreaterThan(200);

  // A tab of the same window, on another sheet.
  const tab = await context.newPage();
  await newSheet(tab, app.server.url, 'Tab', '800', '900');
  await tab.keyboard.press('e');
  await tab.getByRole('button', { name: 'Paste', exact: true }).click();
  await tab.getByText('2 lines', { exact: true }).first().waitFor({ state: 'attached' });
  await stepsReach(tab, 1);
  expect((await standing(tab)).map((s) => s.pen)).toEqual(were.map((s) => s.pen));

  // Another window without anything of this one; its paper is so small that the lines would lie beside it.
  const other = await openPage(app.browser, DESK);
  await allow(other.context);
  await newSheet(other.page, app.server.url, 'Window', '100', '100');
  await other.page.bringToFront();
  await other.page.keyboard.press('e');
  await other.page.keyboard.press('Control+v');
  await other.page.getByText('2 lines', { exact: true }).first().waitFor({ state: 'attached' });
  await stepsReach(other.page, 1);
  const there = await standing(other.page);
  expect(there.map((s) => s.pen)).toEqual(were.map((s) => s.pen));
  expect(there[0].matrix[4]).not.toBe(there[0].matrix[5]);
  expect([...errors, ...other.errors]).toEqual([]);
  await other.context.close();
  await context.close();
});

it('pastes what was copied last, in whichever window, and says why where there is nothing that it can read', async () => {
  const { page, errors, context } = await twoLines('Last');
  const write = (bytes: string) =>
    page.evaluate(
      async ([format, text]) => {
        const type = format.replace('web ', '');
        await navigator.clipboard.write([new ClipboardItem({ [format]: new Blob([text], { type }) })]);
      },
      [FORMAT, bytes],
    );
  await write('no lines at all');
  await page.keyboard.press('Control+v');
  await page.getByText('The lines that were copied cannot be read, so nothing was pasted.').waitFor();
  await page.evaluate(() => navigator.clipboard.writeText('words'));
  await page.keyboard.press('Control+v');
  await page.getByText('No lines were copied, so nothing was pasted. Pick some, copy them, and paste again.').waitFor();
  await stepsReach(page, 2);

  await copyAll(page);
  // Another window copies bolder ones later.
  const other = await twoLines('Later');
  await other.page.bringToFront();
  await other.page.keyboard.press('Control+a');
  await hideRing(other.page);
  await other.page.getByRole('button', { name: 'Bolder', exact: true }).click();
  await stepsReach(other.page, 3);
  await copyAll(other.page);
  const sizes = (strokes: { pen: { sizePx: number } }[]) => strokes.map(({ pen }) => pen.sizePx);
  const [theirs, mine] = [sizes(await standing(other.page)), sizes(await standing(page))];
  expect(theirs[0]).toBeGreaterThan(1.3 * mine[0]);
  await page.bringToFront();
  await page.keyboard.press('Control+v');
  await stepsReach(page, 3);
  expect(sizes(await standing(page))).toEqual([...mine, ...theirs]);
  expect([...errors, ...other.errors]).toEqual([]);
  await other.context.close();
  await context.close();
});

it('cuts lines that another window can still paste', async () => {
  const { page, errors, context } = await twoLines('Cut');
  await page.keyboard.press('Control+a');
  await page.getByText('2 lines', { exact: true }).first().waitFor({ state: 'attached' });
  await page.keyboard.press('Control+x');
  await stepsReach(page, 3);
  expect(await standing(page)).toHaveLength(0);
  const svg = await page.evaluate(async () => {
    const [item] = await navigator.clipboard.read();
    return (await item.getType('image/svg+xml')).text();
  });
  expect(svg.match(/<path/g)).toHaveLength(2);
  await page.keyboard.press('Control+v');
  await stepsReach(page, 4);
  expect(await standing(page)).toHaveLength(2);
  expect(errors).toEqual([]);
  await context.close();
});
