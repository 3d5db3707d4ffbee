import type { Page } from 'playwright-core';
import type { Blend } from '../core/raster/compose';
import type { Layer, Stroke } from '../core/sheet/entities';
import { putRows } from '../core/sheet/steps';
import { encodeSamples } from '../core/stroke/pack-samples';
import { makePen } from '../core/stroke/pen';
import { openStore } from '../server/store';
import { DESK, launch, PHONE, TestServer } from '../tests/browser/harness';
import { groupLayer, inkLayer, strokeEntity } from '../tests/measures/sheets';
import { handSamples, random } from '../tests/measures/strokes';
import { figure, median, type Figure } from './report';
import { openSheet, type ProbeLog } from './screen';

const PAPER = { widthPx: 2400, heightPx: 3200, ppi: 300 };
const COUNT = 3000;
const LAYERS = 60;
/** Of groups: each holds so many layers. */
const HELD = 5;
const BLENDS: readonly Blend[] = ['multiply', 'normal', 'screen'];

/** How the same strokes lie in layers: all in one; each layer's in a part of the paper; anywhere; that in groups that blend. */
const KINDS = ['one', 'apart', 'spread', 'groups'] as const;
type Kind = (typeof KINDS)[number];

const order = (n: number): string => `a${String(n).padStart(5, '0')}V`;

function layersOf(kind: Kind): Layer[] {
  if (kind === 'one') return [inkLayer('i0', { order: order(1) })];
  const groups = kind === 'groups' ? LAYERS / HELD : 0;
  return [
    ...Array.from({ length: groups }, (_, g) =>
      groupLayer(`g${g}`, { order: order(1000 * g), blend: BLENDS[g % BLENDS.length] }),
    ),
    ...Array.from({ length: LAYERS }, (_, n) =>
      inkLayer(`i${n}`, { order: order(n), ...(groups ? { parent: `g${Math.floor(n / HELD)}` } : {}) }),
    ),
  ];
}

/** The same strokes in each kind of stack, in a data folder. */
function fillLayers(folder: string, kind: Kind): void {
  const store = openStore(folder);
  store.sheets.act({ id: `create-${kind}`, kind: 'create', sheetId: kind, name: kind, paper: PAPER }, 0);
  const layers = layersOf(kind);
  const rnd = random(60);
  const parts = new Map<string, Uint8Array>();
  const strokes = Array.from({ length: COUNT }, (_, i): Stroke => {
    const [x, y] = [100 + rnd() * (PAPER.widthPx - 300), 100 + rnd() * (PAPER.heightPx - 300)];
    const [a, l] = [rnd() * 6.28, 80 + rnd() * 120];
    // Six columns and ten rows of layers, or any.
    const apart = Math.floor((6 * x) / PAPER.widthPx) + 6 * Math.floor((10 * y) / PAPER.heightPx);
    const n = kind === 'one' ? 0 : kind === 'apart' ? apart : i % LAYERS;
    const way = (u: number): [number, number] => [
      x + l * u * Math.cos(a) + 20 * Math.sin(u * 5),
      y + l * u * Math.sin(a),
    ];
    parts.set(`${kind}-${i}`, encodeSamples(handSamples(way, { ms: 330, seed: i + 1 })));
    const pen = makePen('dip', 4 + Math.round(rnd() * 12), 30, true, 1);
    return strokeEntity(`${kind}-${i}`, { layerId: `i${n}`, order: order(i), pen });
  });
  const changes = [putRows('layers', ...layers), putRows('strokes', ...strokes)];
  store.steps.append(kind, [{ id: 'fill', device: 'bench', undoable: false, label: 'Fill', changes }], parts, 0);
  store.close();
}

const completed = (page: Page) =>
  page.waitForFunction(() => (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt > 0);

/** From a key to everything sharp, ms. */
async function sharpAfter(page: Page, key: string): Promise<number> {
  const began = await page.evaluate(() => {
    (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt = 0;
    return performance.now();
  });
  await page.keyboard.press(key);
  await completed(page);
  return (await page.evaluate(() => (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt)) - began;
}

/** From lifting the pen to a stroke's tiles, ms. */
async function strokeShown(
  page: Page,
  { width, height }: { width: number; height: number },
  n: number,
): Promise<number> {
  await page.mouse.move(width / 2 - 60, height / 2 - 60 + 10 * n);
  await page.mouse.down();
  await page.mouse.move(width / 2 + 60, height / 2 - 20 + 10 * n, { steps: 8 });
  const began = await page.evaluate(() => {
    (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt = 0;
    return performance.now();
  });
  await page.mouse.up();
  await completed(page);
  return (await page.evaluate(() => (globalThis as unknown as { hushLog: ProbeLog }).hushLog.completeAt)) - began;
}

/** Sixty layers of 3,000 lines against one with the same lines: to sharp after a zoom, after a stroke; canvases. */
export async function sixtyLayers(): Promise<Figure[]> {
  const server = new TestServer();
  for (const kind of KINDS) fillLayers(server.data, kind);
  await server.start(0);
  const browser = await launch();
  const out: Figure[] = [];
  for (const [name, viewport, ratio] of [
    ['desk', DESK, 1],
    ['phone', PHONE, 3],
  ] as const) {
    const one = { zoom: 0, stroke: 0 };
    for (const kind of KINDS) {
      const { page, context } = await openSheet(browser, server.url, kind, viewport, ratio);
      // Through two levels, that nothing was made of before.
      let zoom = 0;
      for (let n = 0; n < 6; n++) zoom += await sharpAfter(page, '+');
      const strokes: number[] = [];
      for (let n = 0; n < 5; n++) strokes.push(await strokeShown(page, viewport, n));
      const stroke = median(strokes);
      if (kind === 'one') Object.assign(one, { zoom, stroke });
      const screens = await page.evaluate(() => {
        const canvases = [...document.querySelectorAll<HTMLCanvasElement>('[data-testid=paper] canvas')];
        return canvases.reduce((sum, c) => sum + c.width * c.height, 0) / (4 * innerWidth * innerHeight);
      });
      out.push(
        figure(
          `sixty-layers: ${name}, ${kind}, six zoom steps to sharp`,
          zoom,
          'ms',
          zoom / one.zoom,
          'one layer (at most 1.5)',
        ),
        figure(
          `sixty-layers: ${name}, ${kind}, from lifting the pen to sharp`,
          stroke,
          'ms',
          stroke / one.stroke,
          'one layer',
        ),
        figure(`sixty-layers: ${name}, ${kind}, canvases`, screens, 'screens at 2 device px (at most 6)'),
      );
      await context.close();
    }
  }
  await browser.close();
  await server.remove();
  return out;
}
