import type { Page } from 'playwright-core';
import { encodeFrame } from '../contract/frame';
import type { Change, Step } from '../core/sheet/steps';
import { curve, launch, openPage, penStroke, PHONE, TestServer } from '../tests/browser/harness';
import { fillDemoData } from '../tests/browser/screenshots';
import { figure, percentile, type Figure } from './report';

const SHEET = 'heron-at-the-jetty';
const SCREENS = [
  [{ width: 360, height: 640 }, 3],
  [PHONE, 3],
  [{ width: 844, height: 390 }, 2],
  [{ width: 820, height: 1180 }, 2],
  [{ width: 1280, height: 800 }, 1],
  [{ width: 1280, height: 800 }, 2],
  [{ width: 2560, height: 1440 }, 2],
] as const;

interface Memory {
  canvasPx: number;
  longestSide: number;
  maskBytes: number;
  tileBytes: number;
}

async function withDemo<T>(work: (url: string, open: Open) => Promise<T>): Promise<T> {
  const server = new TestServer();
  fillDemoData(server.data);
  await server.start(0);
  const browser = await launch();
  const open: Open = async (viewport, ratio) => {
    const { page, cdp, context } = await openPage(browser, viewport, { deviceScaleFactor: ratio });
    await page.addInitScript(
      'globalThis.hushWet = []; globalThis.hushProbe = { stage: (s) => (globalThis.hushStage = s), wetFrame: (ms) => hushWet.push(ms) };',
    );
    await page.goto(`${server.url}/sheet/${SHEET}/ink`);
    await page.getByTestId('paper').waitFor();
    await page.waitForTimeout(2500);
    return { page, cdp, context };
  };
  try {
    return await work(server.url, open);
  } finally {
    await browser.close();
    await server.remove();
  }
}
type At = Pick<Awaited<ReturnType<typeof openPage>>, 'page' | 'cdp'>;
type Open = (
  viewport: { width: number; height: number },
  ratio: number,
) => Promise<At & Pick<Awaited<ReturnType<typeof openPage>>, 'context'>>;

const memoryOf = (page: Page): Promise<Memory> =>
  page.evaluate(() => (globalThis as unknown as { hushStage: { memory: Memory } }).hushStage.memory);

/** Canvases over screens and turns: in screens of 2 px a CSS px (6 at most), and their longest side (4096). */
export function stageMemory(): Promise<Figure[]> {
  return withDemo(async (_url, open) => {
    let screens = 0;
    let side = 0;
    let tiles = 0;
    for (const [viewport, ratio] of SCREENS) {
      const { page, context } = await open(viewport, ratio);
      // Level, turned by 30 degrees, and zoomed in four times as far.
      for (const keys of [[], ['.', '.'], ['+', '+', '+', '+', '+', '+']]) {
        for (const key of keys) await page.keyboard.press(key);
        await page.waitForTimeout(900);
        const memory = await memoryOf(page);
        screens = Math.max(screens, memory.canvasPx / (4 * viewport.width * viewport.height));
        side = Math.max(side, memory.longestSide);
        tiles = Math.max(tiles, memory.tileBytes);
      }
      await context.close();
    }
    return [
      figure('stage-memory: canvases together, of 7 screens and 3 views', screens, 'screens (at most 6)'),
      figure('stage-memory: longest side of a canvas', side, 'px (at most 4096)'),
      figure('stage-memory: tiles', tiles / 1048576, 'MB (at most 96)'),
    ];
  });
}

/** Collects how long frames take on the main thread while `work` runs, in ms. */
async function longFrames(page: Page, work: () => Promise<unknown>): Promise<number[]> {
  await page.evaluate(() => {
    const at = globalThis as unknown as { hushGaps: number[]; hushWatch: boolean };
    at.hushGaps = [];
    at.hushWatch = true;
    let last = performance.now();
    const tick = () => {
      const now = performance.now();
      at.hushGaps.push(now - last);
      last = now;
      if (at.hushWatch) requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  });
  await work();
  return page.evaluate(() => {
    const at = globalThis as unknown as { hushGaps: number[]; hushWatch: boolean };
    at.hushWatch = false;
    return at.hushGaps.slice(1);
  });
}

/** Gives the demo sheet a nib that the interface does not offer. */
async function widenNib(url: string): Promise<void> {
  const nibs: Change = {
    op: 'set',
    table: 'sheet',
    field: 'nibs',
    ids: ['sheet'],
    before: [null],
    after: [[5, 9, 15, 400]],
  };
  const step: Step = { id: 'wide-nib', device: 'bench', undoable: false, label: 'Nibs', changes: [nibs] };
  await fetch(`${url}/api/sheets/${SHEET}/steps`, { method: 'POST', body: encodeFrame({ steps: [step] }, new Map()) });
}

/**
 * What this browser itself needs from frame to frame on a page of the same size that does nothing but repaint one
 * canvas under another, or change its opacity: the floor for what is painted on the whole screen.
 */
async function barePage({ page, cdp }: At): Promise<{ painted: number; faded: number }> {
  await page.goto('data:text/html,<body style="margin:0;background:white">');
  await page.evaluate(() => {
    for (let i = 0; i < 2; i++) {
      const canvas = document.createElement('canvas');
      canvas.width = innerWidth * devicePixelRatio;
      canvas.height = innerHeight * devicePixelRatio;
      canvas.style.cssText = 'position:absolute;inset:0;width:100%;height:100%';
      canvas.getContext('2d')!.fillRect(0, 0, canvas.width * (0.4 + i / 2), canvas.height / 2);
      document.body.append(canvas);
    }
  });
  await page.waitForTimeout(500);
  const onMove = (draw: string) =>
    page.evaluate(`(() => {
      const canvas = document.querySelector('canvas');
      const ctx = canvas.getContext('2d');
      let i = 0;
      onpointermove = () => { i++; ${draw}; };
    })()`);
  await onMove("ctx.fillStyle = i % 2 ? '#111' : '#222'; ctx.fillRect(0, 0, canvas.width, canvas.height)");
  const painted = await longFrames(page, () => penStroke(cdp, WIDE_STROKE, 8));
  await onMove('canvas.style.opacity = 0.2 + (i % 60) / 100');
  const faded = await longFrames(page, () => dragged(page, 300, 400));
  return { painted: percentile(painted, 0.95), faded: percentile(faded, 0.95) };
}

const WIDE_STROKE = curve(350, 150, 950, 650, 90, 60);

/** A slow drag to the right by the mouse. */
async function dragged(page: Page, x: number, y: number): Promise<void> {
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let i = 0; i < 60; i++) {
    await page.mouse.move(x + i, y);
    await page.waitForTimeout(12);
  }
  await page.mouse.up();
}

/** From one frame to the next: after a screen-sized stroke, while the hush slider is dragged, under a nib of 400 px. */
export function stageFrames(): Promise<Figure[]> {
  return withDemo(async (url, open) => {
    await widenNib(url);
    const { page, cdp } = await open({ width: 1280, height: 800 }, 2);
    const idle = percentile(await longFrames(page, () => page.waitForTimeout(1000)), 0.95);
    const penUp: number[] = [];
    for (let run = 0; run < 4; run++) {
      await penStroke(cdp, curve(320, 100 + 20 * run, 1000, 700 - 20 * run, 90, 60), 3);
      penUp.push(...(await longFrames(page, () => page.waitForTimeout(400))));
    }
    await page.getByRole('button', { name: 'Show the title bar and the stops' }).click();
    // What the strokes have left to do, small pictures among it, is not the slider's.
    await page.waitForTimeout(2500);
    const slider = (await page.getByRole('slider', { name: 'Picture opacity' }).boundingBox())!;
    const hush = await longFrames(page, () => dragged(page, slider.x + 20, slider.y + 20));
    // A nib of 400 px, and the page as near as it goes.
    await page.goto(`${url}/sheet/${SHEET}/ink`);
    await page.waitForTimeout(2500);
    await page.getByRole('radio', { name: /^Nib 400/ }).click();
    for (let i = 0; i < 30; i++) await page.keyboard.press('+');
    await page.waitForTimeout(2500);
    // The first stroke folds the columns away, once.
    await penStroke(cdp, curve(600, 380, 640, 400, 12, 0), 8);
    await page.waitForTimeout(2500);
    await page.keyboard.press('Control+z');
    await page.waitForTimeout(2500);
    await page.evaluate('hushWet.length = 0');
    const wide = await longFrames(page, () => penStroke(cdp, WIDE_STROKE, 8));
    const ours = percentile((await page.evaluate('hushWet')) as number[], 0.95);
    const bare = await barePage({ page, cdp });
    const wideP95 = percentile(wide, 0.95);
    const hushP95 = percentile(hush, 0.95);
    return [
      figure('stage-frames: nothing going on, p95', idle, 'ms'),
      figure('stage-frames: after a screen-sized stroke, p95', percentile(penUp, 0.95), 'ms (at most 33)'),
      figure('stage-frames: hush dragged, p95', hushP95, 'ms', hushP95 / bare.faded, 'a bare page that fades a canvas'),
      figure('stage-frames: a nib of 400 px at 64x and 2 px a px, main thread a frame, p95', ours, 'ms (at most 33)'),
      figure(
        'stage-frames: the same, from frame to frame with the painting of the whole screen, p95',
        wideP95,
        'ms',
        wideP95 / bare.painted,
        'a bare page that repaints a canvas',
      ),
    ];
  });
}
