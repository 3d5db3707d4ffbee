import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Browser, Page } from 'playwright-core';
import { WORKING_SIDE_PX } from '../contract/limits';
import { DESK, launch, openPage, TestServer } from '../tests/browser/harness';
import { goTo, newSheet } from '../tests/browser/sheet-driver';
import { figure, type Figure } from './report';

const MB = 1048576;

/** The memory that a process holds (`VmRSS`), or has held at its most (`VmHWM`), MB; where the system tells. */
export const heldMb = (pid: number, what: 'VmRSS' | 'VmHWM'): number =>
  Number(new RegExp(`${what}:\\s+(\\d+)`).exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

/** The largest memory that a process has held, MB. */
export const peakMb = (pid: number): number => heldMb(pid, 'VmHWM');

/** A noisy JPEG, the hardest to decode and to pack. */
export async function noisyJpeg(width: number, height: number): Promise<Buffer> {
  const noise = { type: 'gaussian' as const, mean: 128, sigma: 20 };
  return sharp({ create: { width, height, channels: 3, background: '#888', noise } })
    .jpeg({ quality: 85 })
    .toBuffer();
}

/** What the browser's processes have held at their peak, MB; each at its own time, so all together never held more. */
async function browserPeakMb(browser: Browser): Promise<number> {
  const cdp = await browser.newBrowserCDPSession();
  const { processInfo } = await cdp.send('SystemInfo.getProcessInfo');
  await cdp.detach();
  return processInfo.filter(({ type }) => /renderer|gpu/i.test(type)).reduce((sum, { id }) => sum + peakMb(id), 0);
}

interface Watching {
  hushStage: {
    stack: { kind: string; recipe?: object[] }[];
    pictures: { get(of: object, scale: number): { perPicturePx: number } | undefined };
  };
  hushLong: number[];
}

/** Until the sheet's picture, with so many steps done to it, is there as fine as it is looked at. */
const sharpAt = (page: Page, steps: number, scale: number) =>
  page.waitForFunction(
    ([least, wanted]) => {
      const { stack, pictures } = (globalThis as unknown as Watching).hushStage;
      const layer = stack.find(({ kind, recipe }) => kind === 'reference' && (recipe?.length ?? 0) >= least);
      return layer !== undefined && (pictures.get(layer, wanted)?.perPicturePx ?? 0) >= wanted * 0.999;
    },
    [steps, scale] as const,
    { polling: 20 },
  );

/** Lets the page note each time that it was blocked for 50 ms or more. */
export async function watchBlocks(page: Page): Promise<void> {
  await page.evaluate(() => {
    const at = globalThis as unknown as Watching;
    at.hushLong = [];
    new PerformanceObserver((list) => at.hushLong.push(...list.getEntries().map(({ duration }) => duration))).observe({
      type: 'longtask',
    });
  });
}

/** How long the page was blocked at most since {@link watchBlocks}, ms. */
export const longest = (page: Page) =>
  page.evaluate(() => Math.max(0, ...(globalThis as unknown as Watching).hushLong));

/**
 * Large pictures on a wide screen at 1:1: from coming close to every pixel seen, a whole recipe worked out there, the
 * longest that the page was blocked meanwhile, and the browser's memory.
 */
export async function largePictures(): Promise<Figure[]> {
  const figures: Figure[] = [];
  for (const [mega, width, height] of [
    [12, 4000, 3000],
    [48, 8000, 6000],
  ] as const) {
    const name = `large-pictures: ${mega} megapixels`;
    const server = new TestServer();
    const finest = Math.min(1, WORKING_SIDE_PX / width);
    await server.start(0);
    const browser = await launch();
    const path = join(server.data, 'photo.jpg');
    writeFileSync(path, await noisyJpeg(width, height));
    const { page } = await openPage(browser, DESK);
    page.setDefaultTimeout(90000);
    await page.addInitScript('globalThis.hushProbe = { stage: (s) => (globalThis.hushStage = s) };');
    await newSheet(page, server.url, 'Bench', String(width), String(height));
    await goTo(page, 'Place');
    const before = await browserPeakMb(browser);
    await watchBlocks(page);
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Add picture' }).click(),
    ]);
    const chosen = performance.now();
    await chooser.setFiles(path);
    await sharpAt(page, 0, 0.1);
    figures.push(figure(`${name}, from chosen to seen`, performance.now() - chosen, 'ms'));
    await page.getByTestId('paper').hover({ position: { x: 640, y: 400 } });
    await page.keyboard.down('Control');
    const closer = performance.now();
    for (let n = 0; n < 10; n++) await page.mouse.wheel(0, -240);
    await page.keyboard.up('Control');
    await sharpAt(page, 0, finest);
    figures.push(figure(`${name}, from coming close to each pixel of its copy seen`, performance.now() - closer, 'ms'));
    const plain = await browserPeakMb(browser);
    const pixels = (4 * width * height) / MB;
    figures.push(
      figure(`${name}, the browser's memory at its peak`, plain - before, 'MB more', (plain - before) / pixels, "the picture's pixels, 4 bytes each"), // prettier-ignore
      figure(`${name}, the longest that the page was blocked while it came`, await longest(page), 'ms, none under 50 ms is told'), // prettier-ignore
    );
    await page.getByRole('radio', { name: 'Lift' }).click();
    await page.getByRole('button', { name: 'Lift the lines' }).waitFor();
    await page.waitForTimeout(500);
    await watchBlocks(page);
    const lifts = performance.now();
    await page.getByRole('button', { name: 'Lift the lines' }).click();
    await sharpAt(page, 1, finest);
    figures.push(
      figure(`${name}, lifted, each pixel of its copy`, performance.now() - lifts, 'ms'),
      figure(`${name}, the longest that the page was blocked meanwhile`, await longest(page), 'ms, none under 50 ms is told; at most 50'), // prettier-ignore
    );
    const peak = await browserPeakMb(browser);
    const worked = pixels * MB * finest ** 2;
    figures.push(
      figure(`${name}, the browser's memory at its peak then`, peak - plain, 'MB more', ((peak - plain) * MB) / worked, 'the pixels that are worked on'), // prettier-ignore
    );
    await browser.close();
    await server.remove();
  }
  return figures;
}
