import type { Browser, CDPSession, Page } from 'playwright-core';
import { curve, DESK, launch, openPage, penStroke, PHONE, TestServer } from '../tests/browser/harness';
import { fillDemoData } from '../tests/browser/screenshots';
import { unfold } from '../tests/browser/sheet-driver';
import { fillStrokes } from './many-strokes';
import { figure, median, percentile, type Figure } from './report';

export interface ProbeLog {
  wet: { ms: number; samples: number; at: number }[];
  view: number[];
  tiles: number;
  completeAt: number;
  firstTileAt: number;
  /** The small picture that was kept with the sheet. */
  firstPictureAt: number;
  /** performance.now() of each pointer event, and of each animation frame's end. */
  events: number[];
  frames: { at: number; newest: number; drawn: number }[];
}

/** Installs the stage's probe before the app starts. */
export function installProbe(): void {
  const log: ProbeLog = {
    wet: [],
    view: [],
    tiles: 0,
    completeAt: 0,
    firstTileAt: 0,
    firstPictureAt: 0,
    events: [],
    frames: [],
  };
  const at = globalThis as unknown as { hushProbe: object; hushLog: ProbeLog };
  at.hushLog = log;
  document.addEventListener(
    'load',
    ({ target }) => {
      if (target instanceof HTMLImageElement && target.src.includes('/overview'))
        log.firstPictureAt ||= performance.now();
    },
    { capture: true },
  );
  at.hushProbe = {
    wetFrame: (ms: number, samples: number) => log.wet.push({ ms, samples, at: performance.now() }),
    viewFrame: (ms: number) => log.view.push(ms),
    tile: () => {
      log.tiles++;
      log.firstTileAt ||= performance.now();
    },
    complete: () => (log.completeAt = performance.now()),
  };
}

export async function openSheet(browser: Browser, url: string, sheet: string, viewport = DESK, ratio = 1) {
  const { page, cdp, context } = await openPage(browser, viewport, { deviceScaleFactor: ratio });
  page.setDefaultTimeout(90000);
  await page.addInitScript(installProbe);
  await page.goto(`${url}/sheet/${sheet}/ink`);
  await page.getByTestId('paper').waitFor();
  await page.waitForFunction(() => (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt > 0, undefined, {
    timeout: 90000,
  });
  return { page, cdp, context };
}

export const logOf = (page: Page): Promise<ProbeLog> =>
  page.evaluate(() => (globalThis as unknown as { hushLog: ProbeLog }).hushLog);

/** Replays a stroke at 240 samples a second through the browser's own input, from inside one timer. @param span where it lies. */
export async function replay(
  cdp: CDPSession,
  seed: number,
  span = { x: 420, y: 300, width: 440, height: 160 },
): Promise<void> {
  const pen = { pointerType: 'pen' as const, button: 'left' as const, tiltX: 20, tiltY: 10 };
  const point = (i: number) => {
    const u = i / 480;
    return {
      x: span.x + span.width * u + 0.13 * span.width * Math.sin(u * 11 + seed),
      y: span.y + span.height * Math.sin(u * 7 + seed),
      force: 0.2 + 0.6 * Math.sin(Math.PI * u),
    };
  };
  await cdp.send('Input.dispatchMouseEvent', { type: 'mousePressed', ...point(0), clickCount: 1, buttons: 1, ...pen });
  const began = performance.now();
  const sent: Promise<unknown>[] = [];
  for (let i = 1; i <= 480;) {
    const due = Math.floor(((performance.now() - began) / 1000) * 240);
    for (; i <= Math.min(480, due); i++)
      sent.push(cdp.send('Input.dispatchMouseEvent', { type: 'mouseMoved', ...point(i), buttons: 1, ...pen }));
    await new Promise((r) => setTimeout(r, 2));
  }
  await Promise.all(sent);
  await cdp.send('Input.dispatchMouseEvent', {
    type: 'mouseReleased',
    ...point(480),
    clickCount: 1,
    buttons: 0,
    ...pen,
  });
}

/**
 * Main-thread time per wet frame divided by its samples, and the share of frames that ended with a
 * delivered sample not yet drawn.
 */
export async function penToPaint(): Promise<Figure[]> {
  const server = new TestServer();
  fillDemoData(server.data);
  await server.start(0);
  const browser = await launch();
  const { page, cdp } = await openSheet(browser, server.url, 'heron-at-the-jetty');
  await page.evaluate(() => {
    const log = (globalThis as unknown as { hushLog: ProbeLog }).hushLog;
    const stage = document.querySelector('[data-testid=paper]')!;
    let newest = 0;
    let delivered = 0;
    stage.addEventListener('pointermove', (e) => {
      delivered += (e as PointerEvent).getCoalescedEvents?.().length || 1;
      newest = performance.now();
    });
    const channel = new MessageChannel();
    // What was delivered when the frame began must be drawn when its callbacks have run; later events
    // belong to the next frame.
    channel.port1.onmessage = ({ data: seen }: MessageEvent<number>) => {
      const last = log.wet[log.wet.length - 1];
      log.frames.push({ at: performance.now(), newest: seen, drawn: last?.at ?? 0 });
    };
    const tick = () => {
      if (delivered > 0) channel.port2.postMessage(newest);
      delivered = 0;
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  });
  const perSample: number[] = [];
  const p95: number[] = [];
  for (let run = 0; run < 6; run++) {
    await page.evaluate(() => ((globalThis as unknown as { hushLog: ProbeLog }).hushLog.wet.length = 0));
    await replay(cdp, run);
    await page.waitForTimeout(700);
    const frames = (await logOf(page)).wet.filter((w) => w.samples > 0).map((w) => w.ms / w.samples);
    if (run === 0) continue;
    perSample.push(median(frames));
    p95.push(percentile(frames, 0.95));
  }
  const { frames } = await logOf(page);
  const late = frames.filter((f) => f.drawn < f.newest).length / frames.length;
  await browser.close();
  await server.remove();
  return [
    figure('pen-to-paint: main thread per sample, median of 5 runs', median(perSample), 'ms'),
    figure('pen-to-paint: p95', median(p95), 'ms', undefined, 'at most 1 ms'),
    figure(`pen-to-paint: frames behind the newest sample, of ${frames.length}`, late, 'share', undefined, 'aim 0'),
  ];
}

/** A pan over tiles that are there: what is rendered, and what a frame takes. */
export async function panFrame(): Promise<Figure[]> {
  const server = new TestServer();
  fillDemoData(server.data);
  await server.start(0);
  const browser = await launch();
  const { page } = await openSheet(browser, server.url, 'heron-at-the-jetty', PHONE);
  const pan = (dx: number, dy: number) =>
    page.evaluate(
      async ([x, y]) => {
        const stage = document.querySelector('[data-testid=paper]')!;
        for (let i = 0; i < 60; i++) {
          stage.dispatchEvent(
            new WheelEvent('wheel', {
              deltaX: x,
              deltaY: y,
              bubbles: true,
              cancelable: true,
              clientX: 195,
              clientY: 300,
            }),
          );
          await new Promise((r) => requestAnimationFrame(r));
        }
      },
      [dx, dy],
    );
  await page.keyboard.press('+');
  await page.keyboard.press('+');
  await page.waitForTimeout(1500);
  await pan(2, 1);
  await page.waitForTimeout(1500);
  await page.evaluate(() => {
    const log = (globalThis as unknown as { hushLog: ProbeLog }).hushLog;
    log.tiles = 0;
    log.view.length = 0;
  });
  await pan(-2, -1);
  await page.waitForTimeout(500);
  const log = await logOf(page);
  await browser.close();
  await server.remove();
  return [
    figure('pan-frame: tiles rendered over 60 frames of cached paper', log.tiles, 'tiles', undefined, '0'),
    figure('pan-frame: main thread, median', median(log.view), 'ms'),
    figure('pan-frame: main thread, p95', percentile(log.view, 0.95), 'ms'),
  ];
}

/**
 * On 10,000 strokes, from the key or the pen's leaving to the complete paint: an undo at once and after the small
 * picture has been made in an idle moment, and a stroke on the uppermost and on a lower layer.
 */
export async function editShown(): Promise<Figure[]> {
  const server = new TestServer();
  await fillStrokes(server.data, 10000);
  await server.start(0);
  const browser = await launch();
  const { page, cdp } = await openSheet(browser, server.url, 's10000');
  const shownAfter = async (act: () => Promise<unknown>): Promise<number> => {
    await page.evaluate(() => ((globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt = 0));
    const began = await page.evaluate(() => performance.now());
    await act();
    await page.waitForFunction(() => (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt > 0);
    return (await logOf(page)).completeAt - began;
  };
  const strokeTo = (y: number) => penStroke(cdp, curve(480, y, 620, y + 40, 12), 2);
  const times = async (act: (run: number) => Promise<number>): Promise<number> => {
    const all: number[] = [];
    for (let run = 0; run < 4; run++) all.push(await act(run));
    return median(all.slice(1));
  };
  await strokeTo(200);
  await page.waitForTimeout(1500);
  const undo = () => shownAfter(() => page.keyboard.press('Control+z'));
  const redo = () => page.keyboard.press('Control+Shift+z');
  const quick = await times(async () => {
    const took = await undo();
    await redo();
    await page.waitForTimeout(700);
    return took;
  });
  const idled = await times(async () => {
    await page.waitForTimeout(5000);
    const took = await undo();
    await redo();
    return took;
  });
  const stroke = async (run: number) => {
    const took = await shownAfter(() => strokeTo(260 + 60 * run));
    await page.waitForTimeout(900);
    return took;
  };
  const top = await times(stroke);
  // Another layer above, with strokes that the sheet's largest order belongs to, and back to the first.
  await unfold(page);
  await page.getByRole('button', { name: '+ Ink: add an ink layer' }).click();
  await strokeTo(640);
  await page.waitForTimeout(900);
  await unfold(page);
  await page.getByRole('button', { name: /^Lines Ink/ }).click();
  await strokeTo(600);
  await page.waitForTimeout(900);
  const below = await times(stroke);
  await browser.close();
  await server.remove();
  return [
    figure('edit-shown: an undo on 10,000 strokes', quick, 'ms'),
    figure('edit-shown: the same after idling', idled, 'ms', idled / quick, 'an undo at once'),
    figure('edit-shown: a stroke on the uppermost layer, with its drawing', top, 'ms'),
    figure('edit-shown: the same on a lower layer', below, 'ms', below / top, 'the uppermost layer'),
  ];
}

/** When a page first asked for its sheet (the app's own start is the same for any), and the bytes that it was answered. */
export const requestsOf = (page: Page, until: number): Promise<{ start: number; bytes: number }> =>
  page.evaluate((end) => {
    const answers = (performance.getEntriesByType('resource') as PerformanceResourceTiming[]).filter((e) =>
      e.name.includes('/api/sheets/'),
    );
    return {
      start: Math.min(...answers.map((e) => e.startTime)),
      bytes: answers.reduce((sum, e) => sum + (e.responseEnd <= end ? e.encodedBodySize : 0), 0),
    };
  }, until);

/** From asking for a sheet to its first pixels and to the full, sharp paint. */
export async function sheetOpen(): Promise<Figure[]> {
  const server = new TestServer();
  for (const count of [1000, 10000]) await fillStrokes(server.data, count);
  await server.start(0);
  const browser = await launch();
  const full: number[] = [];
  const out: Figure[] = [];
  for (const count of [1000, 10000]) {
    const times: { first: number; tile: number; full: number }[] = [];
    for (let run = 0; run < 4; run++) {
      const { page } = await openSheet(browser, server.url, `s${count}`);
      const log = await logOf(page);
      const { start } = await requestsOf(page, log.completeAt);
      if (run > 0)
        times.push({
          first: log.firstPictureAt - start,
          tile: log.firstTileAt - start,
          full: log.completeAt - start,
        });
      await page.context().close();
    }
    full.push(median(times.map((t) => t.full)));
    out.push(
      figure(
        `sheet-open: ${count} strokes to first pixels (the kept picture)`,
        median(times.map((t) => t.first)),
        'ms',
      ),
      figure(`sheet-open: ${count} strokes to the first tile`, median(times.map((t) => t.tile)), 'ms'),
      figure(
        `sheet-open: ${count} strokes to the full, sharp paint`,
        full[full.length - 1],
        'ms',
        undefined,
        count === 10000 ? 'at most 2,000 ms' : undefined,
      ),
    );
  }
  out.push(figure('sheet-open: growth from 1,000 to 10,000', full[1] / full[0], 'times'));
  await browser.close();
  await server.remove();
  return out;
}
