import { edgeChains } from '../core/check/edge-chains';
import type { InkLine } from '../core/areas/ink-line';
import { Closing } from '../core/areas/closing';
import { InkLines } from '../core/areas/ink-lines';
import { findLeaks, leaksOf } from '../core/check/leaks';
import { compare } from '../core/check/missed';
import { findThin } from '../core/check/thin';
import { makePicture, type Picture } from '../core/picture/warp';
import { finish } from '../core/sheet/ink-work';
import type { Page } from 'playwright-core';
import { gappedDrawing, lineAlong } from '../tests/measures/gapped-drawing';
import { DESK, launch, openPage, TestServer } from '../tests/browser/harness';
import { fillDemoData } from '../tests/browser/screenshots';
import { gappedSheet } from './gapped-sheet';
import { alternate, figure, heldBy, median, peakOf, percentile, type Figure } from './report';

/** Shapes with hatching, gaps left in them, some 2,500 and 10,000 lines. */
export function checking(): Figure[] {
  const figures: Figure[] = [];
  let first = 0;
  for (const side of [9, 18]) {
    const { lines, gaps } = gappedDrawing(side, side, 7, 80);
    const [all, thin] = alternate(
      5,
      () => void findLeaks(lines, 8),
      () => void findThin(lines, 1),
    );
    const each = all / lines.length;
    first ||= each;
    figures.push(
      figure(`checking: leaks of ${lines.length} lines (at most 200 for 10,000)`, all, 'ms', each / first, 'as much a line as the smaller drawing'), // prettier-ignore
      figure(`checking: thin ones of ${lines.length} lines`, thin, 'ms'),
    );
    const leaks = findLeaks(lines, 8);
    const isKnown = (at: { x: number; y: number }) => gaps.some((g) => Math.hypot(g.x - at.x, g.y - at.y) < 6);
    const found = gaps.filter((g) => leaks.some(({ end, at }) => Math.hypot((end.x + at.x) / 2 - g.x, (end.y + at.y) / 2 - g.y) < 6)); // prettier-ignore
    const wrong = leaks.filter(({ end, at }) => !isKnown({ x: (end.x + at.x) / 2, y: (end.y + at.y) / 2 }));
    figures.push(
      figure('checking: gaps that were left and found', (100 * found.length) / gaps.length, '%'),
      figure('checking: leaks that are none', (100 * wrong.length) / leaks.length, '% (at most 5)'),
    );
  }
  figures.push(...afterEdits(), ...missed());
  return figures;
}

/** Leaks of a sheet, from its strokes on, while one line after the other is moved. */
function afterEdits(): Figure[] {
  const figures: Figure[] = [];
  for (const side of [9, 18]) {
    const { ink } = gappedSheet(side, 80);
    const lines = new InkLines();
    const closing = new Closing(8);
    const held = heldBy(() => {
      const own = new Closing(8);
      finish(own.follow(finish(new InkLines().of(ink, ['lines']))));
      return own;
    });
    const look = () => {
      finish(closing.follow(finish(lines.of(ink, ['lines']))));
      leaksOf(closing);
    };
    look();
    const strokes = ink.ofLayer('lines');
    const times = Array.from({ length: 60 }, (_, k) => {
      const { id } = strokes[(137 * k) % strokes.length].stroke;
      ink.follow([{ kind: 'assign', table: 'strokes', id, field: 'matrix', value: [1, 0, 0, 1, 1.5, 0.7] }], new Map());
      const began = performance.now();
      look();
      return performance.now() - began;
    });
    figures.push(
      figure(`checking: leaks of ${strokes.length} lines after one was moved (at most 20 for 10,000)`, median(times), 'ms'), // prettier-ignore
      figure(`checking: the same, p95`, percentile(times, 0.95), 'ms'),
      figure(`checking: what is kept of ${strokes.length} lines for that`, held, 'MB', (1024 * held) / strokes.length, 'KB a line'), // prettier-ignore
    );
  }
  return figures;
}

/** Discs in rows, half of each inked. */
function discs(width: number, height: number): { picture: Picture; lines: InkLine[] } {
  const picture = makePicture(width, height);
  const words = new Uint32Array(picture.data.buffer);
  const [every, r] = [160, 60];
  for (let i = 0, y = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [dx, dy] = [(x % every) - every / 2, (y % every) - every / 2];
      words[i] = dx * dx + dy * dy < r * r ? 0xff404040 : 0xffe0e0e0;
    }
  const lines: InkLine[] = [];
  for (let y = every / 2; y < height; y += every)
    for (let x = every / 2; x < width; x += every)
      lines.push(lineAlong(`d${x}.${y}`, (u) => [x + r * Math.cos(u), y + r * Math.sin(u)], 0, Math.PI, 2, 30));
  return { picture, lines };
}

function missed(): Figure[] {
  const figures: Figure[] = [];
  let first = 0;
  for (const [mega, width, height] of [
    [1, 1152, 864],
    [4, 2304, 1728],
    [12, 4000, 3000],
  ] as const) {
    const { picture, lines } = discs(width, height);
    const [time] = alternate(mega > 4 ? 1 : 3, () => {
      compare(lines, finish(edgeChains(picture, 0.5)), { nearPx: 8, leastPx: 30 });
    });
    first ||= time;
    figures.push(figure(`checking: missed on ${mega} megapixels (at most 2000 for 12)`, time, 'ms', time / first / mega, 'as many times 1 megapixel')); // prettier-ignore
    const peak = peakOf(edgeChains(picture, 0.5));
    figures.push(figure(`checking: arrays at their peak, edges of ${mega} megapixels`, peak, 'MB', (peak * 1048576) / width / height, 'bytes a pixel')); // prettier-ignore
  }
  return figures;
}

interface Probed {
  hushView: number[];
}

/** Panning in each way of looking: the page's own work a frame, against plain panning. */
export async function looking(): Promise<Figure[]> {
  const server = new TestServer();
  fillDemoData(server.data);
  await server.start(0);
  const browser = await launch();
  const figures: Figure[] = [];
  const times = new Map<string, number[]>();
  const { page } = await openPage(browser, DESK);
  page.setDefaultTimeout(60000);
  await page.addInitScript(
    'globalThis.hushView = []; globalThis.hushProbe = { viewFrame: (ms) => hushView.push(ms) };',
  );
  await page.goto(`${server.url}/sheet/heron-at-the-jetty/check`);
  await page.getByRole('button', { name: /^Leaks \d+/ }).waitFor();
  for (let round = 0; round < 3; round++)
    for (const way of ['Plain', 'Beside', 'Curtain', 'Squint', 'Mirror', 'Loud']) {
      const chip = page
        .getByRole('group', { name: 'Ways of looking' })
        .getByRole('button', { name: new RegExp(`^${way}`) });
      if (way !== 'Plain') await chip.click();
      await page.waitForTimeout(800);
      times.set(way, [...(times.get(way) ?? []), ...(await pan(page))]);
      if (way !== 'Plain') await chip.click();
    }
  const plain = times.get('Plain')!;
  for (const [way, all] of times)
    figures.push(
      figure(`looking: ${way}, a frame of panning on the main thread`, median(all), 'ms', median(all) / median(plain), 'plain panning'), // prettier-ignore
      figure(`looking: ${way}, p95`, percentile(all, 0.95), 'ms', percentile(all, 0.95) / percentile(plain, 0.95), 'plain panning'), // prettier-ignore
    );
  await browser.close();
  await server.remove();
  return figures;
}

async function pan(page: Page): Promise<number[]> {
  await page.evaluate(() => void ((globalThis as unknown as Probed).hushView.length = 0));
  const [x, y] = [500, 400];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let k = 1; k <= 60; k++) {
    await page.mouse.move(x + 60 * Math.sin(k / 8), y + 40 * Math.sin(k / 5));
    await page.waitForTimeout(16);
  }
  await page.mouse.up();
  return page.evaluate(() => [...(globalThis as unknown as Probed).hushView]);
}
