import type { Page } from 'playwright-core';
import { PEN_KINDS, type PenKind } from '../core/stroke/pen';
import { curve, launch, penStroke, PHONE, TestServer } from '../tests/browser/harness';
import { unfold } from '../tests/browser/sheet-driver';
import { PEN_NAMES } from '../ui/screens/sheet/stops/ink/pen-names';
import { fillStrokes } from './many-strokes';
import { figure, median, percentile, type Figure } from './report';
import { logOf, openSheet, replay, type ProbeLog } from './screen';
import { changedAfter, LARGE_PAPER } from './sheet-size';

const COUNTS = [0, 10000, 100000];
const RUNS = 4;
/** Within the middle of the screen that undo is looked for in. */
const SPAN = { x: 110, y: 300, width: 150, height: 40 };
const STEPS = 20;

/** The main thread's work for wet ink: a sample, and p95 of a frame; ms. */
interface Inked {
  sample: number;
  frame: number;
}

async function takePen(page: Page, kind: PenKind): Promise<void> {
  await unfold(page);
  await page.getByRole('button', { name: /Open its settings/ }).click();
  await page.getByRole('radio', { name: PEN_NAMES[kind], exact: true }).click();
  await page.getByRole('button', { name: /Close its settings/ }).click();
}

/**
 * On a phone of 390 x 844 at 3, on 0, 10,000 and 100,000 strokes: what a frame of wet ink takes on the main thread over
 * its samples, with each pen; from the key to the changed pixels, of undo and redo of each of the last 20 steps.
 */
export async function inkingBySize(): Promise<Figure[]> {
  const server = new TestServer();
  for (const count of COUNTS) await fillStrokes(server.data, count, LARGE_PAPER);
  await server.start(0);
  const browser = await launch();
  const inked = new Map<string, Inked>();
  const shown = new Map<number, { undo: number; redo: number }>();
  for (const count of COUNTS) {
    const { page, cdp, context } = await openSheet(browser, server.url, `s${count}`, PHONE, 3);
    await page.waitForTimeout(3000);
    for (const kind of PEN_KINDS) {
      await takePen(page, kind);
      const runs: Inked[] = [];
      for (let run = 0; run <= RUNS; run++) {
        await page.evaluate(() => ((globalThis as unknown as { hushLog: ProbeLog }).hushLog.wet.length = 0));
        await replay(cdp, run, SPAN);
        await page.waitForTimeout(900);
        const frames = (await logOf(page)).wet.filter((w) => w.samples > 0).map((w) => w.ms / w.samples);
        if (run > 0) runs.push({ sample: median(frames), frame: percentile(frames, 0.95) });
      }
      inked.set(`${kind}/${count}`, {
        sample: median(runs.map((r) => r.sample)),
        frame: median(runs.map((r) => r.frame)),
      });
    }
    await takePen(page, 'dip');
    for (let n = 0; n < STEPS; n++) {
      await penStroke(cdp, curve(115, 285 + 3 * n, 265, 290 + 3 * n, 12), 2);
      await page.waitForTimeout(350);
    }
    await page.waitForTimeout(2500);
    const times = async (keys: string) => {
      const all: number[] = [];
      for (let n = 0; n < STEPS; n++) all.push(await changedAfter(page, () => page.keyboard.press(keys)));
      return percentile(all, 0.95);
    };
    shown.set(count, { undo: await times('Control+z'), redo: await times('Control+Shift+Z') });
    await context.close();
  }
  await browser.close();
  await server.remove();
  const [none, , most] = COUNTS;
  return [
    ...PEN_KINDS.flatMap((kind) => {
      const of = (count: number) => inked.get(`${kind}/${count}`)!;
      return [
        ...COUNTS.map((count) =>
          figure(
            `inking: ${kind} on ${count} strokes, main thread a sample`,
            of(count).sample,
            'ms',
            of(count).sample / inked.get(`fineliner/${count}`)!.sample,
            'the fineliner; pencil and wash at most 3',
          ),
        ),
        figure(
          `inking: ${kind} on ${most} strokes, p95 of a frame's ms a sample`,
          of(most).frame,
          'ms',
          of(most).frame / of(none).frame,
          'an empty sheet; at most 1.2',
        ),
      ];
    }),
    ...COUNTS.flatMap((count) => [
      figure(
        `inking: undo of the last ${STEPS} steps on ${count} strokes, shown, p95`,
        shown.get(count)!.undo,
        'ms (at most 33)',
      ),
      figure(`inking: redo of them, p95`, shown.get(count)!.redo, 'ms (at most 33)'),
    ]),
  ];
}
