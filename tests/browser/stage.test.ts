import sharp from 'sharp';
import type { Page } from 'playwright-core';
import { encodeFrame } from '../../contract/frame';
import type { InkLayer, Stroke } from '../../core/sheet/entities';
import { putRows, type Step } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { handSamples, random } from '../measures/strokes';
import { strokeEntity } from '../measures/sheets';
import { curve, openPage, penStroke, PHONE, testApp, touch } from './harness';
import { goTo, hideRing, send, steps, stepsReach, settled } from './sheet-driver';
import { until } from '../measures/until';

jest.setTimeout(120000);
const app = testApp();
const PAPER = { widthPx: 1600, heightPx: 1200, ppi: 300 };
const COLOURS = ['#000000', '#1f3a5f', '#a03b22', '#17605c', '#c8912f'];

/** Makes a sheet with so many layers of ink, each with strokes all over the paper. */
async function sheetOf(layers: number, strokesEach: number): Promise<string> {
  const id = `stage-${layers}-${strokesEach}`;
  const act = { id: `make-${id}`, kind: 'create', sheetId: id, name: id, paper: PAPER };
  await fetch(`${app.server.url}/api/drawer`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(act),
  });
  const rnd = random(layers * 31 + strokesEach);
  const steps: Step[] = [];
  const parts = new Map<string, Uint8Array>();
  for (let n = 0; n < layers; n++) {
    const layerId = n === 0 ? 'lines' : `layer-${n}`;
    const layer: InkLayer = {
      id: layerId,
      kind: 'ink',
      deleted: false,
      name: `Layer ${n}`,
      order: `a${n.toString(36)}`,
      visible: true,
      locked: false,
      opacity: 1,
    };
    const strokes = Array.from({ length: strokesEach }, (_, i): Stroke => {
      const [x, y, dx, dy] = [80 + rnd() * 1100, 80 + rnd() * 900, rnd() * 300, rnd() * 160];
      const stroke = strokeEntity(`s-${n}-${i}`, {
        layerId,
        order: `a${(i + 10).toString(36).padStart(1, '0')}`.slice(0, 2),
        colour: COLOURS[n % COLOURS.length],
        pen: makePen('dip', 14, 30, true, 1),
        engine: 2,
      });
      parts.set(
        stroke.id,
        encodeSamples(handSamples((u) => [x + dx * u, y + dy * Math.sin(4 * u)], { ms: 500, seed: i + 1 })),
      );
      return stroke;
    });
    const changes = [...(n === 0 ? [] : [putRows('layers', layer)]), putRows('strokes', ...strokes)];
    steps.push({ id: `${id}-${n}`, device: 'seed', undoable: true, label: 'Seed', changes });
  }
  const answer = await fetch(`${app.server.url}/api/sheets/${id}/steps`, {
    method: 'POST',
    body: encodeFrame({ steps }, parts),
  });
  expect(answer.status).toBe(200);
  return id;
}

interface Watched {
  tiles: number;
  complete: number;
  stage: {
    isComplete: boolean;
    memory: { canvasPx: number; longestSide: number; canvases: number; tileBytes: number; maskBytes: number };
  };
}

/** Opens a sheet with a probe in its stage. */
async function opened(sheet: string, viewport: { width: number; height: number }, ratio: number) {
  const at = await openPage(app.browser, viewport, { deviceScaleFactor: ratio });
  await at.page.addInitScript(
    'globalThis.seen = { tiles: 0, complete: 0 }; globalThis.hushProbe = { tile: () => seen.tiles++, complete: () => seen.complete++, stage: (s) => (globalThis.stage = seen.stage = s) };',
  );
  await at.page.goto(`${app.server.url}/sheet/${sheet}/ink`);
  await at.page.getByTestId('paper').waitFor();
  return at;
}

const seen = (page: Page) =>
  page.evaluate(() => {
    const { tiles, complete, stage } = (globalThis as unknown as { seen: Watched }).seen;
    return { tiles, complete, memory: stage.memory, isComplete: stage.isComplete };
  });

/** Waits until everything is painted. */
async function complete(page: Page, times = 1): Promise<void> {
  await until(async () => (await seen(page)).complete >= times, `painted ${times} times`, 100);
}

const zoom = (page: Page, deltaY: number) =>
  page.evaluate((delta) => {
    const paper = document.querySelector('[data-testid=paper]')!;
    const box = paper.getBoundingClientRect();
    paper.dispatchEvent(
      new WheelEvent('wheel', {
        ctrlKey: true,
        deltaY: delta,
        clientX: box.x + 150,
        clientY: box.y + 260,
        bubbles: true,
        cancelable: true,
      }),
    );
  }, deltaY);

const SIZES = [
  [360, 640],
  [390, 844],
  [844, 390],
  [820, 1180],
  [1280, 800],
  [2560, 1440],
] as const;

/** Waits until the stage is complete, and sees that it paints no tile from then on. */
async function idle(page: Page): Promise<void> {
  // The view comes to rest a moment after the last key, and is painted once more then.
  await settled(page);
  const { tiles } = await seen(page);
  await settled(page);
  expect((await seen(page)).tiles).toBe(tiles);
}

describe('a stage of many layers', () => {
  it.each([1, 2, 3].flatMap((ratio) => [10, 30].map((layers) => [ratio, layers] as const)))(
    'at %d px a px, of %d layers, is completed and then idle on every screen, within its memory at any turn and zoom',
    async (ratio, layers) => {
      const [first, ...others] = SIZES.map(([width, height]) => ({ width, height }));
      const { page, errors, context } = await opened(await sheetOf(layers, 12), first, ratio);
      const isWithin = async ({ width, height }: { width: number; height: number }) => {
        const { memory } = await seen(page);
        expect(memory.canvasPx).toBeLessThanOrEqual(24 * width * height);
        expect(memory.longestSide).toBeLessThanOrEqual(4096);
        expect(memory.maskBytes).toBeLessThanOrEqual(24 * width * height);
        expect(memory.tileBytes).toBeLessThanOrEqual(96 * 1024 * 1024);
      };
      for (const viewport of [first, ...others]) {
        await page.setViewportSize(viewport);
        await idle(page);
        await isWithin(viewport);
        // Turned by 30 degrees, and nearer.
        for (const key of ['.', '.', '+', '+', '+']) await page.keyboard.press(key);
        await idle(page);
        await isWithin(viewport);
        for (const key of ['-', '-', '-', ',', ',']) await page.keyboard.press(key);
      }
      expect(errors).toEqual([]);
      await context.close();
    },
  );

  it.each([1, 2, 3])(
    'at %d px a px, stays where it is and is completed after the wheel and a pinch in mid-stroke',
    async (ratio) => {
      const { page, cdp, errors, context } = await opened(await sheetOf(10, 12), PHONE, ratio);
      await idle(page);
      const view = () => page.evaluate(() => document.querySelector<HTMLElement>('[data-testid=paper]')!.dataset.view);
      const before = await view();
      const stepsBefore = await steps(page);
      const drawing = penStroke(cdp, curve(80, 300, 320, 320, 80), 12);
      for (let i = 0; i < 6; i++) {
        await page.waitForTimeout(50);
        await zoom(page, -100);
      }
      const fingers = (apart: number) => [
        { x: 195 - apart, y: 420, id: 1 },
        { x: 195 + apart, y: 440, id: 2 },
      ];
      await touch(cdp, 'touchStart', fingers(30));
      for (let i = 1; i <= 6; i++) await touch(cdp, 'touchMove', fingers(30 + 12 * i));
      expect(await view()).toBe(before);
      await drawing;
      await touch(cdp, 'touchEnd', []);
      await idle(page);
      expect(await view()).toBe(before);
      // One stroke, the pen's, and the page can be moved again.
      await stepsReach(page, stepsBefore + 1);
      await touch(cdp, 'touchStart', fingers(30));
      for (let i = 1; i <= 6; i++) await touch(cdp, 'touchMove', fingers(30 + 12 * i));
      await touch(cdp, 'touchEnd', []);
      await idle(page);
      expect(await view()).not.toBe(before);
      expect(errors).toEqual([]);
      await context.close();
    },
  );
});

describe('a turned page', () => {
  it('shows a black area black: tiles and wet ink join without a seam', async () => {
    const { page, cdp, errors, context } = await opened(await sheetOf(1, 1), { width: 1280, height: 800 }, 1);
    await complete(page);
    const nib = page.getByRole('slider', { name: /^Size of nib/ });
    await nib.focus();
    await page.keyboard.press('End');
    await settled(page);
    await page.getByRole('radio', { name: 'Fineliner' }).click();
    for (const key of ['.', '.', '+', '+', '+', '+']) await page.keyboard.press(key);
    await complete(page);
    const lightest = async () => {
      const clip = { x: 560, y: 330, width: 160, height: 100 };
      await hideRing(page);
      const { data } = await sharp(await page.screenshot({ clip }))
        .greyscale()
        .raw()
        .toBuffer({ resolveWithObject: true });
      return Math.max(...data);
    };
    // Over and over the middle: first as wet ink, then as tiles.
    await penStroke(cdp, curve(420, 380, 860, 380, 60, 0));
    await page.waitForTimeout(30);
    expect(await lightest()).toBeLessThanOrEqual(3);
    await settled(page);
    expect(await lightest()).toBeLessThanOrEqual(3);
    expect(errors).toEqual([]);
    await context.close();
  });
});

describe('zooming', () => {
  it('keeps the ink on the screen until better pixels cover it', async () => {
    const { page, errors, context } = await opened(await sheetOf(3, 12), PHONE, 2);
    await complete(page);
    // Of the cells that show ink before a step, those that do after it, frame by frame.
    const least = await page.evaluate(async () => {
      const paper = document.querySelector('[data-testid=paper]')!;
      const box = paper.getBoundingClientRect();
      const small = document.createElement('canvas');
      small.width = 48;
      small.height = 104;
      const ctx = small.getContext('2d', { willReadFrequently: true })!;
      const inked = () => {
        ctx.clearRect(0, 0, 48, 104);
        for (const canvas of paper.querySelectorAll('canvas')) ctx.drawImage(canvas, 0, 0, 48, 104);
        const { data } = ctx.getImageData(0, 0, 48, 104);
        let count = 0;
        for (let i = 3; i < data.length; i += 4) if (data[i] > 8) count++;
        return count;
      };
      const before = inked();
      let fewest = before;
      for (let step = 0; step < 3; step++) {
        paper.dispatchEvent(
          new WheelEvent('wheel', {
            ctrlKey: true,
            deltaY: -120,
            clientX: box.x + 195,
            clientY: box.y + 300,
            bubbles: true,
            cancelable: true,
          }),
        );
        for (let frame = 0; frame < 20; frame++) {
          await new Promise((r) => requestAnimationFrame(r));
          fewest = Math.min(fewest, inked());
        }
      }
      return fewest / before;
    });
    // Zooming in drives some of the ink off the screen, never most of it.
    expect(least).toBeGreaterThan(0.6);
    expect(errors).toEqual([]);
    await context.close();
  });

  it.each([
    ['notches', 100],
    ['a trackpad', 4],
  ])('by %s stays under the pointer', async (_what, delta) => {
    const { page, context } = await opened(await sheetOf(1, 3), PHONE, 2);
    await complete(page);
    const under = () =>
      page.evaluate(() => {
        const paper = document.querySelector<HTMLElement>('[data-testid=paper]')!;
        const v = JSON.parse(paper.dataset.view!) as { scale: number; x: number; y: number };
        return { x: (150 - v.x) / v.scale, y: (260 - v.y) / v.scale, scale: v.scale };
      });
    const atRest = () => settled(page).then(under);
    // Once the bars are measured.
    const start = await atRest();
    for (let i = 0; i < 90; i++) await zoom(page, -delta);
    const end = await atRest();
    expect(end.scale).toBeGreaterThan(start.scale * 3);
    // Coming to rest on whole device px moves it by a quarter px at most.
    expect(Math.abs(end.x - start.x) * end.scale).toBeLessThan(1);
    expect(Math.abs(end.y - start.y) * end.scale).toBeLessThan(1);
    await context.close();
  });
});

describe('every change of a layer', () => {
  it('shows at once, as it is sent', async () => {
    const { page, errors, context } = await opened(await sheetOf(5, 8), { width: 1280, height: 800 }, 1);
    await complete(page);
    /** The paper as the screen shows it and as it is sent, both small. */
    const agree = async (what: string) => {
      await goTo(page, 'Send');
      await settled(page);
      const png = await send(page, ['PNG', 'On paper'], 'Send PNG');
      await goTo(page, 'Ink');
      await hideRing(page);
      await settled(page);
      const view = JSON.parse(
        (await page.evaluate(() => document.querySelector<HTMLElement>('[data-testid=paper]')!.dataset.view))!,
      ) as { scale: number; x: number; y: number };
      const clip = {
        x: Math.round(view.x) + 4,
        y: Math.round(view.y) + 4,
        width: Math.floor(PAPER.widthPx * view.scale) - 8,
        height: Math.floor(PAPER.heightPx * view.scale) - 80,
      };
      const blurred = (input: Buffer) => sharp(input).removeAlpha().blur(3).raw().toBuffer();
      const shown = await blurred(await page.screenshot({ clip }));
      const k = view.scale;
      const sent = await blurred(
        await sharp(png.bytes)
          .resize(Math.round(PAPER.widthPx * k), Math.round(PAPER.heightPx * k), { fit: 'fill' })
          .extract({ left: 4, top: 4, width: clip.width, height: clip.height })
          .png()
          .toBuffer(),
      );
      let worst = 0;
      for (let i = 0; i < shown.length; i++) worst = Math.max(worst, Math.abs(shown[i] - sent[i]));
      expect(`${what}: ${worst < 40 ? 'alike' : worst}`).toBe(`${what}: alike`);
    };
    await agree('as opened');
    await page.getByRole('button', { name: 'More for Layer 2' }).click();
    const opacity = page.getByRole('slider', { name: 'Opacity of Layer 2' });
    await opacity.focus();
    for (let i = 0; i < 5; i++) await page.keyboard.press('PageDown');
    await agree('opacity of another layer');
    await page.getByRole('button', { name: 'Move Layer 2 up' }).click();
    await agree('order');
    await page.getByRole('button', { name: 'Hide Layer 3' }).click();
    await agree('hidden');
    await page
      .getByRole('button', { name: /^Layer 4 Ink|Layer 4/ })
      .first()
      .click();
    await agree('another target');
    await page.getByRole('button', { name: 'Show Layer 3' }).click();
    await agree('shown');
    await page.getByRole('button', { name: 'Delete Layer 2' }).click();
    // What is said of it lies over the paper.
    const away = page.getByRole('button', { name: 'Put this message away' });
    await page.getByText(/^Layer 2, with .* deleted\.$/).waitFor();
    while (await away.count()) await away.first().click();
    await agree('deleted');
    await page.keyboard.press('Control+z');
    await agree('back');
    expect(errors).toEqual([]);
    await context.close();
  });
});
