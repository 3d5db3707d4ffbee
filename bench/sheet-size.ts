import type { Browser, Page } from 'playwright-core';
import { decodeFrame } from '../contract/frame';
import type { LowTilesBody } from '../contract/low-tiles';
import { curve, launch, penStroke, PHONE, TestServer } from '../tests/browser/harness';
import { unfold } from '../tests/browser/sheet-driver';
import { fillStrokes } from './many-strokes';
import { figure, median, type Figure } from './report';
import { logOf, openSheet, requestsOf, type ProbeLog } from './screen';

export const LARGE_PAPER = { widthPx: 6000, heightPx: 6000, ppi: 600 };
const COUNTS = [0, 1000, 10000, 100000];
const RUNS = 3;
const MB = 1024 * 1024;

/** What a sheet costs by the number of its strokes, on a phone. */
interface Cost {
  /** From the first request for the sheet, ms: the kept picture; everything sharp. */
  first: number;
  sharp: number;
  /** From a zoom step to everything sharp, ms. */
  zoom: number;
  /** From the key to the changed pixels, ms. */
  undo: number;
  /** Of page and workers, bytes. */
  memory: number;
  /** Answered by the API until everything is sharp, bytes. */
  wire: number;
}

/** Opening, zooming and undoing on 0 to 100,000 strokes, 390x844 at 3, paper of 6000 x 6000. */
export async function sheetSize(): Promise<Figure[]> {
  const server = new TestServer();
  for (const count of COUNTS) await fillStrokes(server.data, count, LARGE_PAPER);
  await server.start(0);
  const browser = await launch(['--enable-precise-memory-info']);
  const costs = new Map<number, Cost>();
  for (const count of COUNTS) {
    const runs: Cost[] = [];
    for (let run = 0; run < RUNS; run++) runs.push(await costOf(browser, server.url, `s${count}`));
    const of = (key: keyof Cost) => median(runs.map((one) => one[key]));
    costs.set(count, {
      first: of('first'),
      sharp: of('sharp'),
      zoom: of('zoom'),
      undo: of('undo'),
      memory: of('memory'),
      wire: of('wire'),
    });
  }
  await browser.close();
  await server.remove();
  const growth = (key: keyof Cost) => costs.get(100000)![key] / costs.get(10000)![key];
  const line = (name: string, key: keyof Cost, unit: string, per = 1) => [
    ...COUNTS.map((count) => figure(`sheet-size: ${name}, ${count} strokes`, costs.get(count)![key] / per, unit)),
    figure(`sheet-size: ${name}, growth from 10,000 to 100,000`, growth(key), 'times (at most 1.5)'),
  ];
  return [
    ...line('to first pixels', 'first', 'ms (at most 500)'),
    ...line('to the sharp paint at fit', 'sharp', 'ms (at most 1,000)'),
    ...line('from a zoom step to sharp', 'zoom', 'ms (at most 400)'),
    ...line('undo shown', 'undo', 'ms (at most 33)'),
    ...line('memory of page and workers', 'memory', 'MB (at most 150)', MB),
    ...line('bytes over the wire until sharp', 'wire', 'MB', MB),
  ];
}

async function costOf(browser: Browser, url: string, sheet: string): Promise<Cost> {
  const { page, cdp, context } = await openSheet(browser, url, sheet, PHONE, 3);
  const log = await logOf(page);
  const { start, bytes: wire } = await requestsOf(page, log.completeAt);
  await page.waitForTimeout(500);
  const zoom = await sharpAfter(page, () => page.keyboard.press('+'));
  await page.waitForTimeout(500);
  await penStroke(cdp, curve(120, 300, 260, 320, 12), 2);
  await page.waitForTimeout(1500);
  await unfold(page);
  const undo = await changedAfter(page, () => page.keyboard.press('Control+z'));
  const memory = await memoryOf(page);
  await leftInPeace(page, `${url}/api/sheets/${sheet}`);
  await context.close();
  return {
    first: (log.firstPictureAt || log.firstTileAt) - start,
    sharp: log.completeAt - start,
    zoom,
    undo,
    memory,
    wire,
  };
}

/** Waits, as the artist who rests, until the low tiles show the last step; a small sheet keeps none. */
async function leftInPeace(page: Page, address: string): Promise<void> {
  for (let i = 0; i < 300; i++) {
    const answer = await page.request.get(`${address}/tiles?level=0`);
    const { tiles, damage } = decodeFrame(new Uint8Array(await answer.body())).body as LowTilesBody;
    const last = damage.at(-1)?.[0] ?? 0;
    if (!tiles.length || tiles.some(([, , , , seq]) => seq >= last)) return;
    await page.waitForTimeout(100);
  }
  throw new Error('the tiles were not kept');
}

/** From an act to everything painted, ms. */
async function sharpAfter(page: Page, act: () => Promise<unknown>): Promise<number> {
  await page.evaluate(() => ((globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt = 0));
  const began = await page.evaluate(() => performance.now());
  await act();
  await page.waitForFunction(() => (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt > 0, undefined, {
    timeout: 90000,
  });
  return (await logOf(page)).completeAt - began;
}

/**
 * From a key to the first frame in which the ink of the middle of the screen has changed, ms. The canvases are read only
 * once something was drawn: reading them at every frame would hold up what is measured.
 */
export async function changedAfter(page: Page, act: () => Promise<unknown>): Promise<number> {
  const changed = page.evaluate(`new Promise((done) => {
    const canvases = [...document.querySelectorAll('[data-testid=paper] canvas')];
    const small = document.createElement('canvas');
    small.width = small.height = 64;
    const ctx = small.getContext('2d', { willReadFrequently: true });
    const { drawImage } = CanvasRenderingContext2D.prototype;
    let isDrawn = false;
    CanvasRenderingContext2D.prototype.drawImage = function (...how) {
      isDrawn = true;
      return drawImage.apply(this, how);
    };
    const look = () => {
      ctx.clearRect(0, 0, 64, 64);
      for (const c of canvases)
        drawImage.call(ctx, c, c.width * 0.25, c.height * 0.3, c.width * 0.5, c.height * 0.12, 0, 0, 64, 64);
      return ctx.getImageData(0, 0, 64, 64).data.join();
    };
    const end = (took) => {
      CanvasRenderingContext2D.prototype.drawImage = drawImage;
      done(took);
    };
    const before = look();
    let began = 0;
    addEventListener('keydown', ({ key }) => (began ||= key.toLowerCase() === 'z' ? performance.now() : 0), { capture: true });
    const tick = () => {
      const took = performance.now() - began;
      if (began && isDrawn && look() !== before) return end(took);
      isDrawn = false;
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
    setTimeout(() => end(-1), 20000);
  })`);
  await page.waitForTimeout(300);
  await act();
  return (await changed) as number;
}

/** What page and workers hold, with what is garbage collected first. */
const memoryOf = (page: Page): Promise<number> =>
  page.evaluate(async () => {
    const measure = (performance as unknown as { measureUserAgentSpecificMemory(): Promise<{ bytes: number }> })
      .measureUserAgentSpecificMemory;
    return (await measure.call(performance)).bytes;
  });
