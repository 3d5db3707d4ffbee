import sharp from 'sharp';
import type { Page } from 'playwright-core';
import { putRows, type Step } from '../../core/sheet/steps';
import type { Stroke } from '../../core/sheet/entities';
import { encodePath } from '../../core/stroke/pack-path';
import { plainNode } from '../../core/stroke/path';
import { makePen } from '../../core/stroke/pen';
import { openStore, type Store } from '../../server/store';
import { inkLayer, strokeEntity } from '../measures/sheets';
import { DESK, openPage, PHONE, testApp } from './harness';
import { until } from '../measures/until';
import { hideRing, settled } from './sheet-driver';

jest.setTimeout(180000);
const PAPER = { widthPx: 2400, heightPx: 3200, ppi: 300 };
const LAYERS = 9;

/** A sheet whose layers are coloured from edge to edge: no tile of any is empty. */
function fill(folder: string): void {
  const store = openStore(folder);
  store.sheets.act({ id: 'make', kind: 'create', sheetId: 'full', name: 'Full', paper: PAPER }, 0);
  const layers = Array.from({ length: LAYERS - 1 }, (_, i) => inkLayer(`under${i}`, { order: `Z${i}`, opacity: 0.2 }));
  const nodes = (
    [
      [0, 0],
      [2400, 0],
      [2400, 3200],
      [0, 3200],
    ] as const
  ).map(([x, y]) => plainNode(x, y, 'corner'));
  const square = encodePath({ closed: true, nodes });
  const pen = { ...makePen('fineliner', 2, 0, false, 1), fill: 'alone' as const };
  const strokes = layers.map((layer, i): Stroke =>
    strokeEntity(`fill${i}`, { layerId: layer.id, colour: i % 2 ? '#e8d8c0' : '#c8d8e8', pen }),
  );
  const changes = [putRows('layers', ...layers), putRows('strokes', ...strokes)];
  const step: Step = { id: 'fill', device: 'seed', undoable: false, label: 'Fill', changes };
  store.steps.append('full', [step], new Map(strokes.map(({ id }) => [id, square])), 0);
  alternate(store);
  store.close();
}
const app = testApp(fill);

interface Probed {
  stage: { view: object; setView(view: object): void; memory: { tileBytes: number; canvasPx: number } };
  tiles: number;
}
const probed = <T>(page: Page, ask: (globals: Probed) => T): Promise<T> =>
  page.evaluate(`(${ask.toString()})(globalThis)`);

/** Layers whose blending alternates, so that none can share a canvas with another. */
function alternate(store: Store): void {
  store.sheets.act({ id: 'mix', kind: 'create', sheetId: 'mixed', name: 'Mixed', paper: PAPER }, 0);
  const layers = Array.from({ length: 16 }, (_, i) =>
    inkLayer(`mixed${i}`, { order: `Z${String(i).padStart(2, '0')}V`, blend: i % 2 ? 'normal' : 'multiply' }),
  );
  const step: Step = {
    id: 'mix',
    device: 'seed',
    undoable: false,
    label: 'Mix',
    changes: [putRows('layers', ...layers)],
  };
  store.steps.append('mixed', [step], new Map(), 0);
}

/** The darkest pixel around a place of the screen. */
async function darkest(page: Page, x: number, y: number): Promise<number> {
  const shot = await page.screenshot({ clip: { x: x - 4, y: y - 4, width: 8, height: 8 } });
  return (await sharp(shot).greyscale().raw().toBuffer()).reduce((a, b) => Math.min(a, b));
}

describe('layers that are full, whose tiles are more than is kept of those out of sight', () => {
  it('are inked on as any: the line is there while the pen is down, and a small pan asks for its edge alone', async () => {
    const { page, context, errors } = await openPage(app.browser, DESK);
    await page.addInitScript(
      'globalThis.tiles = 0; globalThis.hushProbe = { stage: (s) => (globalThis.stage = s), tile: () => globalThis.tiles++ };',
    );
    await page.goto(`${app.server.url}/sheet/full/ink`);
    await page.getByTestId('paper').waitFor();
    await settled(page);
    // Just beyond the half: as many tiles as a screen can ever show.
    await probed(page, ({ stage }) => stage.setView({ ...stage.view, scale: 0.51, x: -100, y: -200 }));
    await settled(page);
    expect(await probed(page, ({ stage }) => stage.memory.tileBytes)).toBeGreaterThan(100e6);

    // Its line is as wide wherever the hand is quick.
    await page.getByRole('radio', { name: 'Fineliner' }).click();
    await hideRing(page);
    expect(await darkest(page, 600, 400)).toBeGreaterThan(150);
    await page.mouse.move(450, 400);
    await page.mouse.down();
    await page.mouse.move(750, 400, { steps: 20 });
    await until(async () => (await darkest(page, 600, 400)) < 60, 'the line is seen');
    await page.mouse.up();

    await page.getByText('Saved', { exact: true }).waitFor();
    await settled(page);
    const before = await probed(page, (globals) => globals.tiles);
    await probed(page, ({ stage }) => stage.setView({ ...stage.view, x: -107 }));
    await settled(page);
    const columns = 2;
    expect((await probed(page, (globals) => globals.tiles)) - before).toBeLessThanOrEqual(LAYERS * columns * 9);
    expect(errors).toEqual([]);
    await context.close();
  });
});

describe('layers that cannot share a canvas', () => {
  it('are drawn less finely where there are too many: within six screens on a phone, and the line is there', async () => {
    const { page, context, errors } = await openPage(app.browser, PHONE, { deviceScaleFactor: 3 });
    await page.addInitScript('globalThis.hushProbe = { stage: (s) => (globalThis.stage = s) };');
    await page.goto(`${app.server.url}/sheet/mixed/ink`);
    await page.getByTestId('paper').waitFor();
    await settled(page);
    const screen = 4 * PHONE.width * PHONE.height;
    const memory = () => probed(page, ({ stage }) => stage.memory.canvasPx);
    expect((await memory()) / screen).toBeLessThanOrEqual(6.1);
    // As wide wherever the hand is quick, and close by.
    await page.getByRole('button', { name: /Open its settings/ }).click();
    await page.getByRole('radio', { name: 'Fineliner' }).click();
    await page.getByRole('button', { name: /Close its settings/ }).click();
    await probed(page, ({ stage }) => stage.setView({ ...stage.view, scale: 0.51, x: -100, y: -200 }));
    await settled(page);
    await hideRing(page);
    expect(await darkest(page, 200, 300)).toBeGreaterThan(200);
    await page.mouse.move(120, 300);
    await page.mouse.down();
    await page.mouse.move(280, 300, { steps: 20 });
    await page.mouse.up();
    await settled(page);
    await until(async () => (await darkest(page, 200, 300)) < 150, 'the line is seen');
    expect((await memory()) / screen).toBeLessThanOrEqual(6.1);
    expect(errors).toEqual([]);
    await context.close();
  });
});
