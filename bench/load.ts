import type { Browser, CDPSession, Page } from 'playwright-core';
import { launch, openPage, PHONE, TestServer } from '../tests/browser/harness';
import { fillDemoData } from '../tests/browser/screenshots';
import { figure, median, type Figure } from './report';

/** A slow phone on a slow net. */
const NET = { latencyMs: 150, bitsPerSecond: 1.6e6 };
const SLOWER = 4;
const KB = 1000;
const RUNS = 3;

interface Load {
  ms: number;
  /** Of the app alone; what the sheets hold is theirs. */
  appBytes: number;
  workerBytes: number;
  requests: number;
}

/** First load, nothing cached: bytes and requests of the app, and time until drawer and canvas can be used. */
export async function firstLoad(): Promise<Figure[]> {
  const server = new TestServer();
  fillDemoData(server.data);
  await server.start(0);
  const browser = await launch();
  const drawer = await loads(browser, server.url, (page) =>
    page.getByRole('button', { name: 'Blank sheet' }).waitFor(),
  );
  const sheet = await loads(browser, `${server.url}/sheet/heron-at-the-jetty/ink`, (page) =>
    page.waitForFunction(() => document.querySelector<HTMLElement>('[data-testid=paper]')?.dataset.view),
  );
  await browser.close();
  await server.remove();
  return [
    figure('first-load: compressed until the drawer can be used', drawer.appBytes / KB, 'KB (at most 250)'),
    figure('first-load: requests until then', drawer.requests, 'requests'),
    figure('first-load: time until then, 1.6 Mbit/s, 150 ms, four times slower', drawer.ms / 1000, 's'),
    figure('first-load: compressed until a sheet can be inked', sheet.appBytes / KB, 'KB (at most 400)'),
    figure('first-load: of these, the sheet worker', sheet.workerBytes / KB, 'KB (at most 40)'),
    figure('first-load: requests until then', sheet.requests, 'requests'),
    figure('first-load: time until then, 1.6 Mbit/s, 150 ms, four times slower', sheet.ms / 1000, 's'),
  ];
}

async function loads(browser: Browser, url: string, ready: (page: Page) => Promise<unknown>): Promise<Load> {
  const all: Load[] = [];
  for (let run = 0; run < RUNS; run++) all.push(await load(browser, url, ready));
  return { ...all[0], ms: median(all.map((one) => one.ms)) };
}

async function load(browser: Browser, url: string, ready: (page: Page) => Promise<unknown>): Promise<Load> {
  const { page, cdp, context } = await openPage(browser, PHONE);
  page.setDefaultTimeout(60000);
  await slow(cdp);
  const seen = new Map<string, { url: string; bytes: number }>();
  cdp.on('Network.responseReceived', ({ requestId, response }) => seen.set(requestId, { url: response.url, bytes: 0 }));
  cdp.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    const one = seen.get(requestId);
    if (one) one.bytes = encodedDataLength;
  });
  const began = performance.now();
  await page.goto(url, { waitUntil: 'commit' });
  await ready(page);
  const ms = performance.now() - began;
  const files = [...seen.values()].filter(({ url: from }) => from.startsWith('http') && !from.includes('/api/'));
  const bytes = (of: typeof files) => of.reduce((sum, one) => sum + one.bytes, 0);
  // A worker's own requests are not told to the page's session: their size is that of the answer, asked for again.
  const workerBytes = await bytesOfWorkers(page);
  const result = { ms, appBytes: bytes(files) + workerBytes, workerBytes, requests: files.length };
  await context.close();
  return result;
}

async function slow(cdp: CDPSession): Promise<void> {
  await cdp.send('Network.enable');
  await cdp.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: NET.latencyMs,
    downloadThroughput: NET.bitsPerSecond / 8,
    uploadThroughput: NET.bitsPerSecond / 16,
  });
  await cdp.send('Emulation.setCPUThrottlingRate', { rate: SLOWER });
}

/** What the scripts of the page's workers weigh on the wire, with what they need at once. */
async function bytesOfWorkers(page: Page): Promise<number> {
  let sum = 0;
  const done = new Set<string>();
  const weigh = async (address: string): Promise<void> => {
    if (done.has(address)) return;
    done.add(address);
    const answer = await page.request.get(address, { headers: { 'Accept-Encoding': 'br' } });
    sum += Number(answer.headers()['content-length'] ?? 0);
    for (const [, part] of (await answer.text()).matchAll(/from\s*"(\.\/[^"]+)"/g))
      await weigh(new URL(part, address).href);
  };
  for (const worker of page.workers()) await weigh(worker.url());
  return sum;
}
