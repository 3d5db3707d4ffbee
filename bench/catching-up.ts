import type { Page } from 'playwright-core';
import { decodeFrame } from '../contract/frame';
import { encodeSamples } from '../core/stroke/pack-samples';
import { makePen } from '../core/stroke/pen';
import { openStore } from '../server/store';
import { launch, TestServer } from '../tests/browser/harness';
import { settled } from '../tests/browser/sheet-driver';
import { inkedElsewhere, strokeEntity } from '../tests/measures/sheets';
import { handSamples, random } from '../tests/measures/strokes';
import { fillStrokes, settledSheet } from './many-strokes';
import { longest, watchBlocks } from './large-pictures';
import { figure, type Figure } from './report';

const COUNTS = [4000, 20000];
const BEFORE = 1000;
const BLOCKED = 'ms, none under 50 ms is told; at most 100';
const PAPER = { widthPx: 2400, heightPx: 3200 };

/** A tab that slept while another device drew: until all of that is shown, and the longest that the page was blocked. */
export async function catchingUp(): Promise<Figure[]> {
  const figures: Figure[] = [];
  for (const count of COUNTS) {
    const server = new TestServer();
    await fillStrokes(server.data, BEFORE);
    await server.start(0);
    const browser = await launch();
    const page = await settledSheet(browser, server, BEFORE);
    drawElsewhere(server.data, count);
    await watchBlocks(page);
    const began = performance.now();
    const all = allSteps(page);
    await page.evaluate(() => window.dispatchEvent(new Event('focus')));
    await all;
    await settled(page);
    const name = `catching-up: ${count} steps of another device`;
    figures.push(
      figure(`${name}, until all is shown (at most 5 of 20,000)`, (performance.now() - began) / 1000, 's'),
      figure(`${name}, the longest that the page was blocked`, await longest(page), BLOCKED),
    );
    await browser.close();
    await server.remove();
  }
  return figures;
}

/** Resolves when an answer has held the sheet's latest step. */
const allSteps = (page: Page): Promise<void> =>
  new Promise((resolve) => {
    page.on('response', (response) => {
      if (!response.url().includes('/steps?after=')) return;
      void response.body().then((bytes) => {
        const { steps, seq } = decodeFrame(new Uint8Array(bytes)).body as { steps: { seq: number }[]; seq: number };
        if (steps.length && steps[steps.length - 1].seq === seq) resolve();
      });
    });
  });

/** Each step a line. */
function drawElsewhere(folder: string, count: number): void {
  const store = openStore(folder);
  const rnd = random(count);
  for (let from = 0; from < count; from += 500) {
    const parts = new Map<string, Uint8Array>();
    const steps = Array.from({ length: 500 }, (_, i) => {
      const id = `e${from + i}`;
      const [x, y] = [rnd() * (PAPER.widthPx - 200), rnd() * (PAPER.heightPx - 200)];
      const line = handSamples((u) => [x + 150 * u, y + 60 * Math.sin(4 * u)], { ms: 200, seed: from + i + 1 });
      parts.set(id, encodeSamples(line));
      const order = `b${String(from + i).padStart(7, '0')}V`;
      return inkedElsewhere(strokeEntity(id, { order, pen: makePen('fineliner', 5, 30, true, 1) }));
    });
    store.steps.append(`s${BEFORE}`, steps, parts, from);
  }
  store.close();
}
