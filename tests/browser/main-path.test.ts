import { Resvg } from '@resvg/resvg-js';
import { decode } from 'fast-png';
import sharp from 'sharp';
import type { CDPSession, Page } from 'playwright-core';
import {
  choose,
  goTo,
  hideRing,
  inkIn,
  inkOf,
  newSheet,
  paperPixels,
  phonePhoto,
  send,
  sheetId,
  steps,
  stepsReach,
  unfold,
  settled,
} from './sheet-driver';
import { curve, DESK, fingerStroke, launch, openPage, penStroke, PHONE, saved, testApp, touch } from './harness';

jest.setTimeout(120000);

const app = testApp();
beforeEach(() => {
  if (process.env.HUSH_TRACE) process.stderr.write(`${Date.now() % 1e6} ${expect.getState().currentTestName}\n`);
});

describe.each([
  ['a phone', PHONE],
  ['a wide screen', DESK],
])('from a picture to sent line art on %s', (where, viewport) => {
  let page: Page;
  let cdp: CDPSession;
  let errors: string[];
  const middle = { x: where === 'a phone' ? 195 : 660, y: where === 'a phone' ? 300 : 400 };
  const stroke = (dy: number) => curve(middle.x - 90, middle.y + dy, middle.x + 90, middle.y + dy + 20);
  const strip = (dy: number) => ({ x: middle.x - 95, y: middle.y + dy - 30, width: 190, height: 75 });

  beforeAll(async () => {
    const opened = await openPage(app.browser, viewport);
    ({ page, cdp, errors } = opened);
  });
  afterAll(async () => {
    expect(errors).toEqual([]);
    await page.context().close();
  });

  it('places a phone photo upright, fitted, hushed and locked', async () => {
    const { path, upright } = await phonePhoto(app.server.data);
    await newSheet(page, app.server.url, `Acanthus on ${where}`);
    await goTo(page, 'Place');
    await choose(page, 'Add picture', path);
    await page.getByText('The picture stays where it is').waitFor();
    await saved(page);
    const slider = page.getByRole('slider', { name: 'Picture opacity' });
    await slider.focus();
    await page.keyboard.press('End');
    await settled(page);
    // At 100 % the screen shows the upright photo itself, scaled into the paper.
    const { data, width, height } = await paperPixels(page);
    const shown = boundsOf(data, width, height);
    const wanted = await sharp(upright).resize(shown.w, shown.h, { fit: 'fill' }).greyscale().raw().toBuffer();
    const found = await sharp(data, { raw: { width, height, channels: 4 } })
      .extract({ left: shown.x, top: shown.y, width: shown.w, height: shown.h })
      .greyscale()
      .raw()
      .toBuffer();
    // The upper half: on a phone the tray covers what lies below.
    const half = Math.floor(shown.h / 2) * shown.w;
    let sum = 0;
    for (let i = 0; i < half; i++) sum += Math.abs(wanted[i] - found[i]);
    expect(sum / half).toBeLessThan(12);
    await slider.focus();
    await page.keyboard.press('Home');
    for (let i = 0; i < 4; i++) await page.keyboard.press('PageUp');
    await page.getByText('40 %', { exact: true }).first().waitFor();
    // Held keys are one gesture, kept a moment after the last.
    await settled(page);
    await saved(page);
  });

  it('inks with the pen, and the line stays as it was drawn', async () => {
    await goTo(page, 'Ink');
    await page.getByRole('radio', { name: /^Nib 24/ }).click();
    const before = await steps(page);
    await penStroke(cdp, stroke(0));
    await stepsReach(page, before + 1);
    await settled(page);

    expect(await inkIn(page, strip(0))).toBeGreaterThan(200);
  });

  it('makes no mark with two fingers, nor with a palm beside the pen', async () => {
    const before = await steps(page);
    const { x, y } = middle;
    await touch(cdp, 'touchStart', [{ x: x - 40, y: y + 60, id: 1 }]);
    await touch(cdp, 'touchStart', [
      { x: x - 40, y: y + 60, id: 1 },
      { x: x + 40, y: y + 60, id: 2 },
    ]);
    for (let i = 1; i <= 8; i++)
      await touch(cdp, 'touchMove', [
        { x: x - 40 - 3 * i, y: y + 60, id: 1 },
        { x: x + 40 + 3 * i, y: y + 60, id: 2 },
      ]);
    await touch(cdp, 'touchEnd', []);
    await settled(page);
    expect(await steps(page)).toBe(before);
    await page.getByRole('button', { name: /Zoom and turn/ }).click();
    await settled(page);
    // A palm that comes down while the pen draws.
    const pen = { pointerType: 'pen' as const, button: 'left' as const };
    await cdp.send('Input.dispatchMouseEvent', {
      type: 'mousePressed',
      x: x - 60,
      y: y + 110,
      force: 0.6,
      clickCount: 1,
      buttons: 1,
      ...pen,
    });
    await touch(cdp, 'touchStart', [{ x: x + 70, y: y + 150, id: 5 }]);
    for (let i = 1; i <= 10; i++) {
      await cdp.send('Input.dispatchMouseEvent', {
        type: 'mouseMoved',
        x: x - 60 + 8 * i,
        y: y + 110,
        force: 0.6,
        buttons: 1,
        ...pen,
      });
      await touch(cdp, 'touchMove', [{ x: x + 70 + i, y: y + 150, id: 5 }]);
    }
    await cdp.send('Input.dispatchMouseEvent', {
      type: 'mouseReleased',
      x: x + 20,
      y: y + 110,
      force: 0,
      clickCount: 1,
      buttons: 0,
      ...pen,
    });
    await touch(cdp, 'touchEnd', []);
    await stepsReach(page, before + 1);
  });

  it('undoes and redoes, and still does after a reload', async () => {
    await penStroke(cdp, stroke(50));
    await saved(page);
    await settled(page);
    const inked = await inkIn(page, strip(50));
    await page.getByRole('button', { name: /^Undo/ }).click();
    await settled(page);
    expect(await inkIn(page, strip(50))).toBeLessThan(inked / 2);
    await saved(page);
    await page.reload();
    await page.getByTestId('paper').waitFor();
    await settled(page);
    await page.getByRole('button', { name: /^Redo/ }).click();
    await settled(page);
    expect(await inkIn(page, strip(50))).toBe(inked);
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await settled(page);
    expect(await inkIn(page, strip(0))).toBeLessThan(60);
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+Shift+z');
    await settled(page);
    expect(await inkIn(page, strip(50))).toBe(inked);
    await saved(page);
  });

  it('erases, and shows the same after', async () => {
    const before = await inkIn(page, strip(0));
    await unfold(page);
    await erasing(page, true);
    await page
      .getByRole('radio', { name: /^Eraser/ })
      .nth(2)
      .click();
    await penStroke(
      cdp,
      Array.from({ length: 20 }, (_, i) => [middle.x, middle.y - 25 + 3 * i, 0.5] as const),
    );
    await saved(page);
    await settled(page);
    const after = await inkIn(page, strip(0));
    expect(after).toBeLessThan(before * 0.9);
    expect(after).toBeGreaterThan(before * 0.2);
    // The line has given way to two, which can be taken back and done again.
    const standing = async () => (await inkOf(page, sheetId(page))).filter((s) => !s.deleted);
    const parts = (await standing()).filter((s) => s.stands);
    expect(parts.map((s) => s.stands!.samples)).toEqual([parts[0].stands!.of, parts[0].stands!.of]);
    await page.keyboard.press('Control+z');
    await saved(page);
    await settled(page);
    expect((await standing()).filter((s) => s.stands)).toEqual([]);
    expect(await inkIn(page, strip(0))).toBe(before);
    await page.keyboard.press('Control+Shift+z');
    await saved(page);
    await settled(page);
    expect((await standing()).filter((s) => s.stands)).toEqual(parts);
    expect(await inkIn(page, strip(0))).toBe(after);
    await erasing(page, false);
  });

  it('keeps a line whose layer is locked or hidden, pale, with its ways out; a reference is no target', async () => {
    const openStack = async () => {
      await unfold(page);
      if (where === 'a phone')
        await page.locator('[role=button][aria-expanded]', { hasText: /Ink|Rough|locked|hidden/ }).click();
    };
    const before = await steps(page);
    await openStack();
    await page.getByRole('button', { name: 'More for Lines' }).click();
    await page.getByRole('switch', { name: 'Lock Lines' }).click();
    expect(await page.getByRole('button', { name: /^acanthus/i }).count()).toBe(0);
    await openStack();
    await erasing(page, true);
    await penStroke(cdp, stroke(0));
    await page.getByText('Lines is locked, so nothing was erased').waitFor();
    await page.getByRole('button', { name: 'Put this message away' }).click();
    await erasing(page, false);
    expect(await steps(page)).toBe(before + 1);
    await penStroke(cdp, stroke(-60));
    await page.getByText('Lines is locked').waitFor();
    expect(await steps(page)).toBe(before + 1);
    // It outlives a reload.
    await page.reload();
    await page.getByText('Lines is locked').waitFor();
    await page.getByRole('button', { name: 'Unlock Lines' }).last().click();
    await stepsReach(page, before + 3);

    await openStack();
    await page.getByRole('button', { name: 'Hide Lines' }).click();
    await openStack();
    await penStroke(cdp, stroke(-60));
    await page.getByText('Lines is hidden').waitFor();
    await page.getByRole('button', { name: 'Drop it' }).click();
    await penStroke(cdp, stroke(-60));
    await page.getByRole('button', { name: 'New layer for it' }).click();
    await stepsReach(page, before + 5);

    await unfold(page);
    await page.getByText('Lines 2').first().waitFor();
    await page.keyboard.press('Control+z');
    await openStack();
    await page.getByRole('button', { name: 'Show Lines' }).click();
    await openStack();
    await saved(page);
  });

  it('goes on while the server is down, and is the same pixel for pixel after SIGKILL and a new start', async () => {
    const before = await steps(page);
    await app.server.kill();
    await penStroke(cdp, stroke(90));
    await page.getByText(/Kept on this device \(1\sstep\swaiting\)/).waitFor();
    await penStroke(cdp, stroke(110));
    await page.getByText(/2\ssteps\swaiting/).waitFor();
    await app.server.start();
    await stepsReach(page, before + 2);

    await hideRing(page);
    await settled(page);
    const shown = await paperPixels(page);
    await app.server.kill();
    await app.server.start();
    await page.reload();
    await page.getByTestId('paper').waitFor();
    await settled(page);
    const again = await paperPixels(page);
    // Folded bars and columns are back after a reload; what they leave free must agree to the byte.
    let different = 0;
    for (let y = 60; y < Math.min(shown.height, where === 'a phone' ? 500 : 700); y++) {
      const [left, right] = where === 'a phone' ? [0, shown.width] : [302, shown.width - 298];
      const [a, b] = [4 * (y * shown.width + left), 4 * (y * shown.width + right)];
      if (!shown.data.subarray(a, b).equals(again.data.subarray(a, b))) different++;
    }
    expect(different).toBe(0);
    expect(await steps(page)).toBe(before + 2);
  });

  it('sends PNG and SVG without the picture, alike, and alike to the screen', async () => {
    await goTo(page, 'Send');
    const png = await send(page, ['PNG', 'On paper'], 'Send PNG');
    expect(png.name).toBe(`Acanthus-on-${where.replace(/ /g, '-')}.png`);
    const read = decode(png.bytes);
    expect([read.width, read.height, read.resolution]).toEqual([600, 800, { x: 11811, y: 11811, unit: 1 }]);
    const svg = await send(page, ['SVG'], 'Send SVG');
    expect(svg.bytes.toString()).not.toContain('<image');
    // One read: every look at `pixels` copies them all.
    const { pixels } = new Resvg(svg.bytes.toString(), { fitTo: { mode: 'width', value: 600 } }).render();
    let far = 0;
    let dark = 0;
    for (let i = 0; i < 600 * 800; i++) {
      // An eraser's edge across a line's edge: product of two coverages here, a cut shape there; up to 0.25 apart.
      if (Math.abs(pixels[4 * i] - read.data[3 * i]) > 96) far++;
      if (read.data[3 * i] < 128) dark++;
    }
    expect(dark).toBeGreaterThan(1500);
    expect(far).toBe(0);
    const clear = decode((await send(page, ['PNG', 'Transparent', '2x'], 'Send PNG')).bytes);
    expect([clear.width, clear.height, clear.channels]).toEqual([1200, 1600, 4]);
    expect(clear.data.filter((_, i) => i % 4 === 3 && clear.data[i] === 0).length).toBeGreaterThan(1000000);

    // The screen at 100 %, the picture away as it is on Send: the file within 2/255 wherever the paper is in sight.
    const message = page.getByRole('button', { name: 'Put this message away' });
    while (await message.count()) await message.first().click();
    // Transparent, the stage shows squares; the comparison is with the paper.
    await page.getByRole('radio', { name: 'On paper' }).click();
    await zoomTo100(page);
    await hideRing(page);
    await settled(page);
    const screen = await paperPixels(page);
    const { x, y } = await paperOrigin(page);
    let worst = 0;
    let compared = 0;
    const bottom = where === 'a phone' ? 350 : screen.height - 70;
    for (let sy = Math.max(60, y); sy < Math.min(bottom, y + 800); sy++)
      for (let sx = Math.max(0, x); sx < Math.min(screen.width, x + 600); sx++) {
        const d = Math.abs(screen.data[4 * (sy * screen.width + sx)] - read.data[3 * ((sy - y) * 600 + sx - x)]);
        worst = Math.max(worst, d);
        compared++;
      }
    expect(compared).toBeGreaterThan(where === 'a phone' ? 40000 : 100000);
    expect(worst).toBeLessThanOrEqual(2);
  });
});

/** Keeps the eraser in the hand, or puts it away; on a busy machine a tapped key may count as held. */
async function erasing(page: Page, wanted: boolean): Promise<void> {
  const eraser = page.getByRole('button', { name: /^Eraser: tap/ });
  for (let i = 0; i < 5; i++) {
    if (((await eraser.getAttribute('aria-pressed')) === 'true') === wanted) return;
    await page.keyboard.press('x');
    await page.waitForTimeout(100);
  }
  throw new Error('the eraser key does nothing');
}

/** Zooms to exactly 100 % through the wheel, about the middle. */
async function zoomTo100(page: Page): Promise<void> {
  const label = page.getByRole('button', { name: /Zoom and turn/ });
  const box = (await page.getByTestId('paper').boundingBox())!;
  await page.evaluate(
    ([x, y]) => {
      const stage = document.querySelector<HTMLElement>('[data-testid=paper]')!;
      const factor = 1 / (JSON.parse(stage.dataset.view!) as { scale: number }).scale;
      stage.dispatchEvent(
        new WheelEvent('wheel', {
          ctrlKey: true,
          deltaY: -Math.log(factor) / 0.0018,
          deltaMode: 0,
          clientX: x,
          clientY: y,
          bubbles: true,
          cancelable: true,
        }),
      );
    },
    [box.x + box.width / 2, box.y + box.height / 2],
  );
  await label.filter({ hasText: '100 %' }).waitFor();
}

/** Where the paper's top left corner lies on the stage, px. */
function paperOrigin(page: Page): Promise<{ x: number; y: number }> {
  return page.evaluate(() => {
    const { view } = document.querySelector<HTMLElement>('[data-testid=paper]')!.dataset;
    const { x, y } = JSON.parse(view!) as { x: number; y: number };
    return { x: Math.round(x), y: Math.round(y) };
  });
}

/** The bounds of what is neither desk nor white: the picture. */
function boundsOf(data: Buffer, width: number, height: number) {
  const desk = [0xe4, 0xdc, 0xcd];
  const row = Math.floor(height * 0.35);
  const isDesk = (x: number, y: number) => desk.every((v, c) => Math.abs(data[4 * (y * width + x) + c] - v) < 4);
  // On a wide screen columns stand at both sides.
  const [left, far] = width > 1000 ? [302, 298] : [0, 0];
  let x = left;
  while (isDesk(x, row)) x++;
  let right = width - 1 - far;
  while (isDesk(right, row)) right--;
  const w = right - x + 1;
  let y = row;
  while (y > 0 && !isDesk(x + Math.floor(w / 2), y - 1)) y--;
  return { x, y, w, h: Math.min(height - y, Math.round((w * 800) / 600)) };
}

it('works in an insecure context: a plain http address on the network', async () => {
  const insecure = await launch([`--host-resolver-rules=MAP hush.test 127.0.0.1`]);
  try {
    const { page, cdp, errors } = await openPage(insecure, PHONE);
    await page.goto(`http://hush.test:${app.server.port}`);
    expect(await page.evaluate(() => window.isSecureContext)).toBe(false);
    await page.getByRole('button', { name: 'Blank sheet' }).click();
    await page.getByRole('button', { name: 'Make sheet' }).click();
    await page.getByTestId('paper').waitFor();
    await settled(page);
    await fingerStroke(cdp, curve(80, 200, 300, 240));
    await saved(page);
    await app.server.kill();
    await penStroke(cdp, curve(80, 300, 300, 320));
    await page.getByText(/keep this page open/).waitFor();
    await app.server.start();
    await saved(page);
    expect(await steps(page)).toBe(2);
    expect(errors).toEqual([]);
  } finally {
    await insecure.close();
  }
});
