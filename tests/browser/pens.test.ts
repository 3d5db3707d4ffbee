import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { CDPSession, Page } from 'playwright-core';
import { decodeFrame } from '../../contract/frame';
import { decodeSamples } from '../../core/stroke/codec';
import { until } from '../measures/until';
import { DESK, openPage, penStroke, PHONE, testApp } from './harness';
import { choose, goTo, hideRing, inkOf, newSheet, send, sheetId, stepsReach, unfold, settled } from './sheet-driver';

jest.setTimeout(180000);
const app = testApp();

const SHIFT = 8;
const CTRL = 2;

interface Recorded {
  x: number;
  y: number;
  force?: number;
  tiltX?: number;
  tiltY?: number;
}

/** Replays a recorded pen through the browser's own input. @param buttons 1 the nib, 2 with the side button. */
async function replay(
  cdp: CDPSession,
  points: readonly Recorded[],
  { modifiers = 0, buttons = 1 } = {},
): Promise<void> {
  const send = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', p: Recorded) =>
    cdp.send('Input.dispatchMouseEvent', {
      type,
      pointerType: 'pen',
      button: buttons === 1 ? 'left' : 'right',
      clickCount: type === 'mouseMoved' ? 0 : 1,
      force: 0.5,
      ...p,
      modifiers,
      buttons: type === 'mouseReleased' ? 0 : buttons,
    });
  await send('mousePressed', points[0]);
  for (const p of points.slice(1)) {
    await send('mouseMoved', p);
    await new Promise((resolve) => setTimeout(resolve, 3));
  }
  await send('mouseReleased', points[points.length - 1]);
}

/** A wave with a swell of pressure, the pen leaning over on its way. */
const wave = (x0: number, x1: number, y: number): Recorded[] =>
  Array.from({ length: 60 }, (_, i) => {
    const u = i / 59;
    return {
      x: x0 + (x1 - x0) * u,
      y: y + 14 * Math.sin(u * 13),
      force: 0.15 + 0.8 * Math.sin(Math.PI * u),
      tiltX: Math.round(60 * u),
      tiltY: 20,
    };
  });

const line = (x0: number, y0: number, x1: number, y1: number, n = 20): Recorded[] =>
  Array.from({ length: n + 1 }, (_, i) => ({ x: x0 + ((x1 - x0) * i) / n, y: y0 + ((y1 - y0) * i) / n }));

async function openPens(page: Page): Promise<void> {
  await page.mouse.move(5, 300);
  await unfold(page);
  const button = page.getByRole('button', { name: /Open its settings/ });
  if (await button.count()) await button.click();
}

async function closePens(page: Page): Promise<void> {
  const button = page.getByRole('button', { name: /Close its settings/ });
  if (await button.count()) await button.click();
  await button.waitFor({ state: 'detached' });
}

const PENS = ['Fineliner', 'Dip pen', 'Brush pen', 'Marker', 'Pencil', 'Wash'];

describe.each([
  ['a phone', PHONE, { x0: 40, x1: 350, y: 140 }],
  ['a wide screen', DESK, { x0: 420, x1: 860, y: 130 }],
])('on %s', (_name, viewport, at) => {
  it('every pen leaves on the screen what is sent as a picture, and its settings go with the stroke', async () => {
    const { page, cdp, errors, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, 'Pens');
    await page.getByRole('radio', { name: /Nib/ }).nth(3).click();
    for (const [n, name] of PENS.entries()) {
      await openPens(page);
      await page.getByRole('radio', { name, exact: true }).click();
      await closePens(page);
      await replay(cdp, wave(at.x0, at.x1, at.y + n * 48));
    }
    await stepsReach(page, PENS.length);
    const strokes = await inkOf(page, sheetId(page));
    expect(strokes.map((s) => s.pen.kind)).toEqual(['fineliner', 'dip', 'brush', 'marker', 'pencil', 'wash']);
    expect(strokes[3].pen).toMatchObject({ flat: 0.2, nibDeg: 135 });
    expect(strokes[4].pen).toMatchObject({ grain: 0.9 });
    expect(strokes[5].pen).toMatchObject({ opacity: 0.35, soft: 0.6 });
    await settled(page);
    await hideRing(page);
    const clip = { x: at.x0, y: at.y - 30, width: at.x1 - at.x0, height: 48 * PENS.length };
    const seen = async () =>
      sharp(await page.screenshot({ clip }))
        .removeAlpha()
        .raw()
        .toBuffer();
    const wet = await seen();
    // What the tiles show after opening the sheet again is what the wet ink showed.
    await page.reload();
    await page.getByTestId('paper').waitFor();
    await settled(page);
    await hideRing(page);
    const set = await seen();
    const far = set.filter((v, i) => i % 3 === 0 && Math.abs(v - wet[i]) > 26).length;
    expect(far / (set.length / 3)).toBeLessThan(0.002);
    expect(set.filter((v) => v < 90).length).toBeGreaterThan(5000);
    await goTo(page, 'Send');
    await page.getByRole('radio', { name: 'SVG' }).click();
    await page.getByText('go as pictures of the paper').waitFor();
    const png = await send(page, ['PNG', 'Transparent'], 'Send PNG');
    const { data } = await sharp(png.bytes).raw().toBuffer({ resolveWithObject: true });
    const alphas = new Set<number>();
    for (let i = 3; i < data.length; i += 4) alphas.add(data[i]);
    expect(alphas.has(255)).toBe(true);
    expect(alphas.has(89)).toBe(true);
    expect(errors).toEqual([]);
    await context.close();
  });
});

describe('the hand', () => {
  it('draws straight with Shift held, in steps of 15 degrees with Ctrl too, and goes its own way when it is let go', async () => {
    const { page, cdp, errors, context } = await openPage(app.browser, DESK);
    await newSheet(page, app.server.url, 'Straight');
    const bent = Array.from({ length: 30 }, (_, i) => ({ x: 500 + 8 * i, y: 300 + 40 * Math.sin(i / 4) + 2 * i }));
    await replay(cdp, bent, { modifiers: SHIFT });
    await stepsReach(page, 1);
    await replay(cdp, bent, { modifiers: SHIFT | CTRL });
    await stepsReach(page, 2);
    await replay(cdp, bent);
    await stepsReach(page, 3);
    const strokes = await inkOf(page, sheetId(page));
    const shapes = await Promise.all(strokes.map((s) => offChord(page, s.id)));
    expect(shapes[0].off).toBeLessThan(0.1);
    expect(shapes[1].off).toBeLessThan(0.1);
    expect(Math.abs(shapes[1].deg / 15 - Math.round(shapes[1].deg / 15))).toBeLessThan(0.01);
    expect(shapes[2].off).toBeGreaterThan(5);
    expect(errors).toEqual([]);
    await context.close();
  });

  it('erases with the side button of the pen when that is chosen', async () => {
    const { page, cdp, context } = await openPage(app.browser, DESK);
    await page.goto(app.server.url);
    await page.getByRole('button', { name: 'Settings' }).click();
    await page.getByRole('radio', { name: 'Erases' }).click();
    await page.keyboard.press('Escape');
    await newSheet(page, app.server.url, 'Side button');
    await replay(cdp, line(500, 300, 800, 300));
    await stepsReach(page, 1);
    await replay(cdp, line(650, 250, 650, 350), { buttons: 2 });
    await stepsReach(page, 2);
    expect((await inkOf(page, sheetId(page))).filter((s) => !s.deleted)).toHaveLength(2);
    await context.close();
  });

  it('draws ahead of a pen that moves where the device guesses it, and takes that back when the pen rests', async () => {
    const { page, cdp, context } = await openPage(app.browser, DESK);
    await page.addInitScript(() => {
      PointerEvent.prototype.getPredictedEvents = function (this: PointerEvent) {
        const { clientX, clientY, pressure, tiltX, tiltY, timeStamp } = this;
        const ahead = { clientX: clientX + 60, clientY, pressure, tiltX, tiltY, timeStamp: timeStamp + 16 };
        return [ahead as PointerEvent];
      };
    });
    await newSheet(page, app.server.url, 'Guesses');
    // How dark the paper's canvases are at a place, frame by frame; the darkest is kept.
    await page.evaluate(
      ([x, y]) => {
        const seen = { darkest: 0, now: 0 };
        Object.assign(globalThis, { seen });
        const look = () => {
          seen.now = 0;
          for (const canvas of document.querySelectorAll('canvas')) {
            const box = canvas.getBoundingClientRect();
            if (box.width < 300) continue;
            const k = canvas.width / box.width;
            const pixels = canvas.getContext('2d')!.getImageData((x - box.left) * k, (y - box.top) * k, 1, 1).data;
            if (pixels[0] < 90) seen.now = Math.max(seen.now, pixels[3]);
          }
          seen.darkest = Math.max(seen.darkest, seen.now);
          requestAnimationFrame(look);
        };
        look();
      },
      [640, 300] as const,
    );
    const seen = () => page.evaluate(() => (globalThis as unknown as { seen: { darkest: number; now: number } }).seen);
    const to = line(500, 300, 600, 300);
    const move = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', at: Recorded) =>
      cdp.send('Input.dispatchMouseEvent', {
        type,
        pointerType: 'pen',
        button: 'left',
        clickCount: type === 'mouseMoved' ? 0 : 1,
        force: 0.7,
        ...at,
        buttons: type === 'mouseReleased' ? 0 : 1,
      });
    await move('mousePressed', to[0]);
    for (const at of to) await move('mouseMoved', at);
    await until(async () => (await seen()).now < 20, 'the line has come to where the pen is');
    const { darkest, now } = await seen();
    expect(darkest).toBeGreaterThan(200);
    expect(now).toBeLessThan(20);
    await move('mouseReleased', to[to.length - 1]);
    await stepsReach(page, 1);
    expect((await seen()).now).toBeLessThan(20);
    await context.close();
  });

  it('leaves nothing on the paper of what was drawn ahead', async () => {
    const { page, cdp, context } = await openPage(app.browser, PHONE);
    await newSheet(page, app.server.url, 'Nothing ahead', '800', '900');
    for (let k = 0; k < 6; k++)
      await penStroke(
        cdp,
        Array.from({ length: 20 }, (_, i) => [60 + 40 * k, 120 + 10.5 * i] as const),
      );
    await stepsReach(page, 6);
    await settled(page);
    await hideRing(page);
    // The browser's own guesses reach some 50 px beyond the ends of the lines.
    const { data } = await sharp(await page.screenshot({ clip: { x: 20, y: 330, width: 340, height: 150 } }))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(Math.min(...data)).toBeGreaterThan(250);
    await context.close();
  });

  it('lets an end catch a line that it almost touches, and marks the place while it draws', async () => {
    const { page, cdp, context } = await openPage(app.browser, DESK);
    await newSheet(page, app.server.url, 'Catch');
    await page.getByRole('radio', { name: 'Strong' }).click();
    await replay(cdp, line(700, 200, 700, 500));
    await stepsReach(page, 1);
    const marked = page.waitForFunction(
      () => getComputedStyle(document.querySelector('[data-testid=catch]')!).display === 'flex',
      undefined,
      { polling: 'raf' },
    );
    const rest = Array.from({ length: 100 }, (_, i) => ({ x: 686, y: 350 + (i % 2) / 4 }));
    await replay(cdp, [...line(500, 350, 686, 350), ...rest]);
    await marked;
    await stepsReach(page, 2);
    expect(await page.getByTestId('catch').isVisible()).toBe(false);
    const [wall, met] = await Promise.all((await inkOf(page, sheetId(page))).map((s) => offChord(page, s.id)));
    expect(Math.abs(met.to.x - wall.to.x)).toBeLessThan(1);
    await context.close();
  });
});

describe("the artist's own pens", () => {
  it('are kept under a name, renamed, put in order, deleted and brought back, and are there at the next visit', async () => {
    const { page, errors, context } = await openPage(app.browser, DESK);
    await newSheet(page, app.server.url, 'Own pens');
    const pens = () => page.getByRole('radiogroup', { name: 'Pen', exact: true }).getByRole('radio').allTextContents();
    const keep = async (name: string) => {
      await page.getByRole('button', { name: 'Keep as a new pen' }).click();
      await page.getByRole('textbox', { name: 'Name' }).fill(name);
      await page.keyboard.press('Enter');
    };
    await page.getByRole('radio', { name: 'Brush pen', exact: true }).click();
    await page.getByRole('slider', { name: 'Ink opacity' }).focus();
    for (let i = 0; i < 3; i++) await page.keyboard.press('PageDown');
    await keep('Feathers');
    await keep('Feathers, paler');
    expect((await pens()).slice(6)).toEqual(['Feathers', 'Feathers, paler']);
    await page.getByRole('button', { name: 'Rename' }).click();
    await page.getByRole('textbox', { name: 'Name' }).fill('N'.repeat(120));
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Earlier' }).click();
    expect((await pens()).slice(6)).toEqual(['N'.repeat(120), 'Feathers']);
    const saved = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Your pens to a file' }).click(),
    ]);
    const path = join(app.server.data, 'pens.json');
    writeFileSync(path, readFileSync((await saved[0].path())!));
    await page.getByRole('button', { name: 'Delete this pen' }).click();
    expect((await pens()).slice(6)).toEqual(['Feathers']);
    await page.getByRole('button', { name: 'Bring it back' }).click();
    expect((await pens()).slice(6)).toEqual(['N'.repeat(120), 'Feathers']);
    await page.reload();
    await page.getByTestId('paper').waitFor();
    expect((await pens()).slice(6)).toEqual(['N'.repeat(120), 'Feathers']);
    await choose(page, 'Pens from a file', path);
    await page.getByText('2 pens added.').waitFor();
    expect(await pens()).toHaveLength(10);
    writeFileSync(path, '{"pens": 3}');
    await choose(page, 'Pens from a file', path);
    await page.getByText('This file holds no pens, so nothing was added. Your pens are as they were.').waitFor();
    expect(await pens()).toHaveLength(10);
    expect(errors).toEqual([]);
    await context.close();
  });
});

/** How far a stroke's samples lie from the line between its ends, and where that points and ends; paper px and degrees. */
async function offChord(page: Page, id: string): Promise<{ off: number; deg: number; to: { x: number; y: number } }> {
  const url = `${app.server.url}/api/sheets/${sheetId(page)}/samples`;
  const answer = await page.request.post(url, { data: { ids: [id] } });
  const bytes = new Map(decodeFrame(new Uint8Array(await answer.body())).parts).get(id)!;
  const { count, x, y, unitLog2 } = decodeSamples(bytes);
  const perPx = 2 ** unitLog2;
  const [ax, ay, bx, by] = [x[0], y[0], x[count - 1], y[count - 1]].map((v) => v / perPx);
  const length = Math.hypot(bx - ax, by - ay);
  let off = 0;
  for (let i = 0; i < count; i++)
    off = Math.max(off, Math.abs((x[i] / perPx - ax) * (by - ay) - (y[i] / perPx - ay) * (bx - ax)) / length);
  return { off, deg: (Math.atan2(by - ay, bx - ax) * 180) / Math.PI, to: { x: bx, y: by } };
}
