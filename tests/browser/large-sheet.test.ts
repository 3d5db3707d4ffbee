import sharp from 'sharp';
import type { Page } from 'playwright-core';
import { decodeFrame } from '../../contract/frame';
import { blankAddresses, type LowTilesBody } from '../../contract/low-tiles';
import { lowLevels, tilesOfPaper } from '../../core/raster/low-tiles';
import { putRows, type Step } from '../../core/sheet/steps';
import type { Stroke } from '../../core/sheet/entities';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { openStore } from '../../server/store';
import { strokeEntity } from '../measures/sheets';
import { handSamples, random } from '../measures/strokes';
import { until } from '../measures/until';
import { curve, openPage, penStroke, PHONE, saved, testApp } from './harness';
import { hideRing, inkOf, unfold, settled } from './sheet-driver';

jest.setTimeout(120000);
const PAPER = { widthPx: 2400, heightPx: 3200, ppi: 300 };
const COUNT = 700;

/** A sheet of many strokes, as other devices have left it: without kept tiles. */
function fill(folder: string): void {
  const store = openStore(folder);
  for (const id of ['full', 'slow', 'away']) {
    store.sheets.act({ id: `make-${id}`, kind: 'create', sheetId: id, name: id, paper: PAPER }, 0);
    const rnd = random(7);
    const parts = new Map<string, Uint8Array>();
    const strokes = Array.from({ length: COUNT }, (_, i): Stroke => {
      const [x, y, l] = [60 + rnd() * 2000, 60 + rnd() * 3000, 60 + rnd() * 240];
      parts.set(
        `k${i}`,
        encodeSamples(handSamples((u) => [x + l * u, y + 60 * Math.sin(5 * u)], { ms: 200, seed: i + 1 })),
      );
      const order = `a${String(i).padStart(4, '0')}`;
      return strokeEntity(`k${i}`, { order, pen: makePen('dip', 6 + rnd() * 14, 30, true, 1) });
    });
    const step: Step = {
      id: `fill-${id}`,
      device: 'seed',
      undoable: false,
      label: 'Fill',
      changes: [putRows('strokes', ...strokes)],
    };
    store.steps.append(id, [step], parts, 0);
  }
  store.close();
}
const app = testApp(fill);

async function opened(sheet: string, prepare: (page: Page) => Promise<unknown> = () => Promise.resolve()) {
  const at = await openPage(app.browser, PHONE, { deviceScaleFactor: 2 });
  await prepare(at.page);
  await at.page.goto(`${app.server.url}/sheet/${sheet}/ink`);
  await at.page.getByTestId('paper').waitFor();
  return at;
}

const isSharp = (page: Page) =>
  page.evaluate(() => (globalThis as unknown as { stage?: { isComplete: boolean } }).stage?.isComplete === true);

/** Where the paper shows ink, as seen: the middle of the screen, without bars. */
const seenInk = async (page: Page): Promise<Buffer> => {
  await hideRing(page);
  const png = await page.screenshot({ clip: { x: 10, y: 150, width: 370, height: 340 } });
  return sharp(png).greyscale().raw().toBuffer();
};

const mostDifferent = (a: Buffer, b: Buffer): number => a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i])), 0);

async function keptOf(sheet: string): Promise<LowTilesBody> {
  const answer = await fetch(`${app.server.url}/api/sheets/${sheet}/tiles?level=0`);
  return decodeFrame(new Uint8Array(await answer.arrayBuffer())).body as LowTilesBody;
}

/** Until so many levels have each tile, blank or not, and some of them of that step. */
async function untilKept(sheet: string, levels: number, seq: number): Promise<LowTilesBody> {
  const all = lowLevels(PAPER).slice(-levels);
  for (let i = 0; i < 400; i++) {
    const kept = await keptOf(sheet);
    const isWhole = all.every((level) => {
      const { x1, y1 } = tilesOfPaper(PAPER, level);
      const blank = kept.blank.filter((row) => row[1] === level).flatMap(blankAddresses);
      const tiles = kept.tiles.filter((t) => t[1] === level);
      return blank.length + tiles.length >= x1 * y1 && tiles.some((t) => t[4] >= seq);
    });
    if (isWhole) return kept;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error('the tiles were not kept');
}

describe('a sheet of many lines', () => {
  it('leaves its low tiles behind, is shown from them before its lines are there, and is inked on meanwhile', async () => {
    const first = await opened('full');
    await settled(first.page);
    const before = await seenInk(first.page);
    const kept = await untilKept('full', 5, 1);
    expect(kept.tiles.filter((t) => t[1] === 0).length).toBeGreaterThan(60);
    await first.context.close();

    let letThrough: () => void = () => {};
    const held = new Promise<void>((done) => (letThrough = done));
    let samples = 0;
    const { page, cdp, context } = await opened('full', async (p) => {
      await p.route('**/strokes?*', async (route) => {
        await held;
        await route.continue();
      });
      p.on('request', (r) => (samples += Number(r.url().endsWith('/samples'))));
    });
    await settled(page);
    expect(mostDifferent(await seenInk(page), before)).toBe(0);
    expect(samples).toBe(0);

    // Drawn before a single line is known: on this device at once, on top of all, and undone like any other.
    await penStroke(cdp, curve(90, 300, 300, 420, 30), 8);
    await until(async () => mostDifferent(await seenInk(page), before) > 150, 'the line is seen');
    const drawn = await seenInk(page);
    letThrough();
    await saved(page);
    await settled(page);
    const strokes = await inkOf(page, 'full');
    const [top] = [...strokes].sort((a, b) => (a.order < b.order ? 1 : -1));
    expect([strokes.length, top.id.startsWith('k')]).toEqual([COUNT + 1, false]);
    await settled(page);
    // The wet line and the set one differ by little, at its end.
    expect(mostDifferent(await seenInk(page), drawn)).toBeLessThan(60);
    await unfold(page);
    await page.keyboard.press('Control+z');
    await settled(page);
    await settled(page);
    expect(mostDifferent(await seenInk(page), before)).toBe(0);
    await context.close();
  });

  it('is shown right after it was inked and left at once: what its kept tiles lack is mended', async () => {
    const first = await opened('slow');
    await untilKept('slow', 5, 1);
    await penStroke(first.cdp, curve(90, 300, 300, 420, 30), 8);
    await saved(first.page);
    await settled(first.page);
    await settled(first.page);
    const before = await seenInk(first.page);
    // The page goes without having kept anything after the line.
    await first.context.close();
    const { page, context } = await opened('slow');
    await settled(page);
    expect(mostDifferent(await seenInk(page), before)).toBe(0);
    await untilKept('slow', 5, 2);
    await context.close();
  });

  it('says so when a part of it is not here and cannot be fetched, and shows it when it can', async () => {
    let away = true;
    const { page, cdp, context } = await opened('away', (p) =>
      p.route('**/samples', (route) => (away ? route.abort() : route.continue())),
    );
    await page.getByText('the server cannot be reached').waitFor();
    expect(await isSharp(page)).toBe(false);
    // A line is seen all the same where it is drawn, while it is drawn.
    const without = await seenInk(page);
    const pen = { x: 150, y: 250, button: 'left', buttons: 1, pointerType: 'pen', force: 0.8, clickCount: 1 } as const;
    await cdp.send('Input.dispatchMouseEvent', { type: 'mousePressed', ...pen });
    for (let i = 1; i <= 20; i++)
      await cdp.send('Input.dispatchMouseEvent', { type: 'mouseMoved', ...pen, x: 150 + 5 * i, y: 250 + 4 * i });
    const darker = async () => (await seenInk(page)).filter((v, i) => v < without[i] - 100).length;
    await until(async () => (await darker()) > 200, 'the line is seen');
    await cdp.send('Input.dispatchMouseEvent', { type: 'mouseReleased', ...pen, x: 250, y: 330, buttons: 0 });
    away = false;
    await settled(page);
    // Black lines on white paper.
    expect((await seenInk(page)).filter((v) => v < 40).length).toBeGreaterThan(1000);
    await context.close();
  });
});
