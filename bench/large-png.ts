import { readFileSync } from 'node:fs';
import type { Browser, Page } from 'playwright-core';
import { launch, TestServer } from '../tests/browser/harness';
import { goTo } from '../tests/browser/sheet-driver';
import { fillStrokes, settledSheet } from './many-strokes';
import { heldMb } from './large-pictures';
import { figure, type Figure } from './report';

const SIDE = 12000;
const LINES = 9;

/** A PNG of a large paper with few lines, as an artist sends it. */
export async function largePng(): Promise<Figure[]> {
  const server = new TestServer();
  await fillStrokes(server.data, LINES, { widthPx: SIDE, heightPx: SIDE, ppi: 600 });
  await server.start(0);
  const browser = await launch();
  const page = await settledSheet(browser, server, LINES);
  await goTo(page, 'Send');
  const before = await rendererMb(browser, 'VmRSS');
  const [ms, bytes] = await sent(page);
  const most = await rendererMb(browser, 'VmHWM');
  await browser.close();
  await server.remove();
  const mega = (SIDE * SIDE) / 1e6;
  const name = `large-png: ${LINES} lines on ${SIDE} x ${SIDE} px`;
  return [
    figure(`${name}, from the button to the file (at most 5)`, ms / 1000, 's', ms / mega, 'ms a megapixel'),
    figure(
      `${name}, more held by the page, at its peak (at most 200)`,
      most - before,
      'MB',
      bytes / 1e6,
      'MB: the file',
    ),
  ];
}

async function sent(page: Page): Promise<[ms: number, bytes: number]> {
  await page.getByRole('radio', { name: 'PNG' }).click();
  await page.getByRole('radio', { name: 'Transparent' }).click();
  const download = page.waitForEvent('download', { timeout: 200000 });
  const began = performance.now();
  await page.getByRole('button', { name: 'Send PNG' }).click();
  const file = readFileSync((await (await download).path())!);
  return [performance.now() - began, file.length];
}

async function rendererMb(browser: Browser, what: 'VmRSS' | 'VmHWM'): Promise<number> {
  const cdp = await browser.newBrowserCDPSession();
  const { processInfo } = await cdp.send('SystemInfo.getProcessInfo');
  await cdp.detach();
  const pids = processInfo.filter(({ type }) => type === 'renderer').map(({ id }) => id);
  return pids.reduce((sum, id) => sum + heldMb(id, what), 0);
}
