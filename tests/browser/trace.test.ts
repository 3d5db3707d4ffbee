import sharp from 'sharp';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { pencilPage } from '../measures/page-photo';
import { DESK, openPage, PHONE, testApp } from './harness';
import { choose, goTo, inkOf, newSheet, settled, sheetId, steps, stepsReach } from './sheet-driver';
import { until } from '../measures/until';

jest.setTimeout(120000);

const app = testApp();

/** A drawn page with a frame, curves, hatching and a speck. */
function pageFile(folder: string): string {
  const canvas = pencilPage(900, 1200, 240);
  const ctx = canvas.getContext('2d');
  ctx.fillStyle = '#333';
  ctx.fillRect(60, 1100, 2, 3);
  // Short lines by themselves.
  for (let i = 0; i < 5; i++) ctx.fillRect(100 + 40 * i, 1040, 4, 40);
  const path = join(folder, 'drawn.png');
  writeFileSync(path, canvas.toBuffer('image/png'));
  return path;
}

const told = async (page: Page) => {
  const text = (await page.getByText(/points, at most/).textContent())!;
  const [lines, points, off] = /(\d+) lines?, (\d+) points?, at most ([\d.]+)/.exec(text)!.slice(1).map(Number);
  return { lines, points, off, text };
};
/** Until nothing is being traced any more: then the lines can be kept. */
const traced = async (page: Page) => {
  await until(
    async () => !(await page.getByRole('button', { name: 'Keep these lines' }).isDisabled()),
    'nothing is being traced',
    100,
  );
  expect(await page.getByRole('button', { name: 'Keep these lines' }).isDisabled()).toBe(false);
};

describe.each([
  ['a phone', PHONE],
  ['a wide screen', DESK],
])('tracing on %s', (_name, viewport) => {
  let page: Page;
  let errors: string[];
  beforeAll(async () => {
    ({ page, errors } = await openPage(app.browser, viewport));
    await newSheet(page, app.server.url, `Trace ${viewport.width}`, '900', '1200');
    await goTo(page, 'Place');
    await choose(page, 'Add picture', pageFile(app.server.data));
    await stepsReach(page, 1);
  });
  afterAll(() => expect(errors).toEqual([]));

  it('lifts the lines first, where that was not done', async () => {
    await page.getByRole('radio', { name: 'Trace' }).click();
    await page.getByRole('button', { name: 'Lift the lines' }).click();
    await stepsReach(page, 2);
    await page.getByText(/points, at most/).waitFor({ timeout: 20000 });
  });

  it('tells lines, points and the largest error, shows them over the page, and keeps nothing by itself', async () => {
    const { lines, points, off, text } = await told(page);
    expect(lines).toBeGreaterThan(30);
    expect(points).toBeGreaterThan(lines);
    expect(off).toBeLessThanOrEqual(1);
    expect(text).toMatch(/1 speck dropped/);
    const shot = await sharp(await page.getByTestId('paper').screenshot())
      .removeAlpha()
      .raw()
      .toBuffer();
    let loud = 0;
    for (let at = 0; at < shot.length; at += 3) if (shot[at] > 150 && shot[at + 1] < 90 && shot[at + 2] > 60) loud++;
    expect(loud).toBeGreaterThan(200);
    expect(await steps(page)).toBe(2);
  });

  it('follows its dials: fewer points where lines may lie farther off; larger specks are dropped', async () => {
    const before = await told(page);
    const simplify = page.getByRole('slider', { name: /^Simplify/ });
    await simplify.focus();
    await page.keyboard.press('PageUp');
    await settled(page);
    await traced(page);
    const after = await told(page);
    expect([after.lines, after.points < before.points, after.off > before.off]).toEqual([before.lines, true, true]);
    const specks = page.getByRole('slider', { name: /^Specks/ });
    await specks.focus();
    await page.keyboard.press('End');
    await settled(page);
    await traced(page);
    expect((await told(page)).lines).toBe(before.lines - 5);
    await specks.focus();
    await page.keyboard.press('Home');
    for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight');
    await settled(page);
    await traced(page);
  });

  it('takes a part only, by a loop that is drawn around it', async () => {
    const all = await told(page);
    const button = page.getByRole('button', { name: 'Only a part: draw around it' });
    await button.scrollIntoViewIfNeeded();
    await button.click();
    await page.getByTestId('loop-layer').waitFor();
    const free = viewport === PHONE ? { x: 110, y: 70, w: 170, h: 90 } : { x: 420, y: 90, w: 440, h: 250 };
    await page.mouse.move(free.x, free.y);
    await page.mouse.down();
    for (const [u, v] of [[1, 0], [1, 1], [0, 1], [0, 0.05]]) await page.mouse.move(free.x + u * free.w, free.y + v * free.h, { steps: 6 }); // prettier-ignore
    await page.mouse.up();
    await settled(page);
    await traced(page);
    const part = await told(page);
    expect(part.lines).toBeLessThan(all.lines);
    expect(part.lines).toBeGreaterThan(1);
    await page.getByRole('button', { name: 'All of the page' }).click();
    await settled(page);
    await traced(page);
    expect((await told(page)).lines).toBe(all.lines);
  });

  it('keeps them in one step, on a layer of their own, as strokes like drawn ones; undo takes them away', async () => {
    const { lines } = await told(page);
    const keep = page.getByRole('button', { name: 'Keep these lines' });
    await keep.scrollIntoViewIfNeeded();
    await keep.click();
    await stepsReach(page, 3);
    const strokes = (await inkOf(page, sheetId(page))).filter((s) => !s.deleted);
    expect(strokes).toHaveLength(lines);
    expect(new Set(strokes.map((s) => s.layerId)).size).toBe(1);
    expect(strokes.every((s) => s.pen.sizePx > 0.5 && s.pen.sizePx < 20)).toBe(true);
    await page.getByText(new RegExp(`${lines} lines on drawn traced now`)).waitFor();
    await goTo(page, 'Ink');
    await page.getByRole('button', { name: /^Edit lines/ }).click();
    await page.keyboard.press('Control+a');
    await page.getByText(`${lines} lines`).first().waitFor();
    await page.getByRole('button', { name: 'Bolder', exact: true }).click();
    await stepsReach(page, 4);
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
    await stepsReach(page, 6);
    expect((await inkOf(page, sheetId(page))).filter((s) => !s.deleted && s.layerId === strokes[0].layerId)).toEqual(
      expect.any(Array),
    );
  });
});
