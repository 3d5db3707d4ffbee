import type { Page } from 'playwright-core';
import { launch, PHONE, TestServer } from '../tests/browser/harness';
import { fillStrokes } from './many-strokes';
import { figure, percentile, type Figure } from './report';
import { openSheet, type ProbeLog } from './screen';

const COUNTS = [20, 500, 1000];

/** From frame to frame while something is done, ms. */
async function framesWhile(page: Page, act: () => Promise<unknown>): Promise<number[]> {
  await page.evaluate(() => {
    const seen = { gaps: [] as number[], on: true };
    Object.assign(globalThis, { seen });
    let last = performance.now();
    const tick = () => {
      const now = performance.now();
      seen.gaps.push(now - last);
      last = now;
      if (seen.on) requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  });
  await act();
  return page.evaluate(() => {
    const { seen } = globalThis as unknown as { seen: { gaps: number[]; on: boolean } };
    seen.on = false;
    return seen.gaps.slice(1);
  });
}

/** From now until all that is in sight is painted as it is, ms. */
async function sharpAfter(page: Page, act: () => Promise<unknown>): Promise<number> {
  const began = await page.evaluate(() => {
    (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt = 0;
    return performance.now();
  });
  await act();
  await page.waitForFunction(() => (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt > 0);
  return (await page.evaluate(() => (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt)) - began;
}

/** Goes with the mouse, pressed, from place to place, one a frame. */
async function drag(page: Page, places: readonly (readonly [number, number])[]): Promise<void> {
  for (const [x, y] of places) {
    await page.mouse.move(x, y);
    await page.waitForTimeout(16);
  }
}

/** A filled box that is drawn from corner to corner of the screen. */
async function filledBox(page: Page): Promise<Figure> {
  await page.keyboard.press('x');
  await page.getByRole('button', { name: /Open its settings/ }).click();
  for (const name of ['Box', 'Filled']) await page.getByRole('radio', { name, exact: true }).click();
  await page.getByRole('button', { name: /Close its settings/ }).click();
  await page.mouse.move(30, 110);
  await page.mouse.down();
  const gaps = await framesWhile(page, () =>
    drag(
      page,
      Array.from({ length: 90 }, (_, i) => [40 + 3.5 * i, 120 + 4 * i] as const),
    ),
  );
  await page.mouse.up();
  return figure('edit-frames: a filled box as large as the screen, frame to frame, p95', percentile(gaps, 0.95), 'ms');
}

/**
 * On a phone of 390 x 844 at 3, sheets of 20, 500 and 1,000 lines, all picked: from frame to frame while they are dragged,
 * and from letting them go, and from a restyling, to the sharp paint; and an eraser that is dragged through all of them.
 */
export async function editFrames(): Promise<Figure[]> {
  const server = new TestServer();
  for (const count of COUNTS) await fillStrokes(server.data, count);
  await server.start(0);
  const browser = await launch();
  const out: Figure[] = [];
  let few = 0;
  for (const count of COUNTS) {
    const { page, context } = await openSheet(browser, server.url, `s${count}`, PHONE, 3);
    await page.waitForTimeout(4000);
    await page.keyboard.press('e');
    await page.keyboard.press('Control+a');
    await page.getByText(`${count} lines`).first().waitFor();
    await page.waitForTimeout(2000);
    const [cx, cy] = [195, 300];
    await page.mouse.move(cx, cy);
    await page.mouse.down();
    await page.mouse.move(cx + 10, cy + 10);
    await page.waitForTimeout(500);
    const gaps = await framesWhile(page, () =>
      drag(
        page,
        Array.from({ length: 60 }, (_, i) => [cx + 10 + i, cy + 10 + (i % 7)] as const),
      ),
    );
    const dropped = await sharpAfter(page, () => page.mouse.up());
    await page.waitForTimeout(1500);
    const restyled = await sharpAfter(page, () => page.getByRole('button', { name: 'Bolder', exact: true }).click());
    await page.waitForTimeout(1500);
    const undone = await sharpAfter(page, () => page.keyboard.press('Control+z'));
    const p95 = percentile(gaps, 0.95);
    if (count === COUNTS[0]) few = p95;
    out.push(
      figure(
        `edit-frames: ${count} picked lines dragged, frame to frame, p95`,
        p95,
        'ms',
        p95 / few,
        `${COUNTS[0]} lines`,
      ),
      figure(`edit-frames: ${count}, from letting go to sharp`, dropped, 'ms'),
      figure(`edit-frames: ${count}, from "Bolder" to sharp`, restyled, 'ms'),
      figure(`edit-frames: ${count}, an undo of that`, undone, 'ms'),
    );
    await page.keyboard.press('Escape');
    await page.keyboard.press('e');
    await page.keyboard.press('x');
    await page.mouse.move(40, 150);
    await page.mouse.down();
    const erasing = await framesWhile(page, () =>
      drag(
        page,
        Array.from({ length: 90 }, (_, i) => [40 + 300 * ((i % 30) / 30), 150 + 3 * i] as const),
      ),
    );
    const erased = await sharpAfter(page, () => page.mouse.up());
    out.push(
      figure(`edit-frames: an eraser through ${count} lines, frame to frame, p95`, percentile(erasing, 0.95), 'ms'),
      figure(`edit-frames: from lifting it to sharp`, erased, 'ms'),
    );
    if (count === COUNTS[0]) out.push(await filledBox(page));
    await context.close();
  }
  await browser.close();
  await server.remove();
  return out;
}
