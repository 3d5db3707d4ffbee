import sharp from 'sharp';
import type { CDPSession, Page } from 'playwright-core';
import { curve, DESK, fingerStroke, openPage, penStroke, PHONE, saved, testApp, touch } from './harness';
import { goTo, inkIn, newSheet, settled, sheetId, steps, stepsReach, unfold } from './sheet-driver';

jest.setTimeout(120000);

const app = testApp();

interface Opened {
  page: Page;
  cdp: CDPSession;
  errors: string[];
}

/** A page with a new sheet of 600 x 800 px; closed again after `work`, which must throw nothing in the page. */
async function withSheet(
  viewport: { width: number; height: number },
  work: (opened: Opened) => Promise<void>,
  settings?: Record<string, unknown>,
): Promise<void> {
  const { page, cdp, errors, context } = await openPage(app.browser, viewport);
  if (settings)
    await page.addInitScript((text) => localStorage.setItem('hush-line.settings', text), JSON.stringify(settings));
  await newSheet(page, app.server.url, 'Inking');
  await work({ page, cdp, errors });
  expect(errors).toEqual([]);
  await context.close();
}

/** How the paper lies on the screen. */
const view = (page: Page) =>
  page.evaluate(() => {
    const paper = document.querySelector<HTMLElement>('[data-testid=paper]')!;
    return JSON.parse(paper.dataset.view!) as { scale: number; turnDeg: number; x: number; y: number };
  });

const around = (x: number, y: number, r = 40) => ({ x: x - r, y: y - r, width: 2 * r, height: 2 * r });

describe('the pen', () => {
  it('erases with its other end, and goes back to ink with its nib', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      await page.getByRole('radio', { name: /^Nib 24/ }).click();
      await penStroke(cdp, curve(100, 300, 290, 300, 40, 0));
      await stepsReach(page, 1);
      await settled(page);
      const before = await inkIn(page, around(195, 300));
      // The protocol cannot send the eraser's bit: constructed events, only here.
      await page.evaluate(async () => {
        const paper = document.querySelector('[data-testid=paper]') as HTMLElement;
        paper.setPointerCapture = () => {};
        const tell = (type: string, y: number, buttons: number) =>
          paper.dispatchEvent(
            new PointerEvent(type, {
              pointerId: 77,
              pointerType: 'pen',
              button: type === 'pointerdown' ? 5 : -1,
              buttons,
              pressure: buttons ? 0.5 : 0,
              clientX: 195,
              clientY: y,
              bubbles: true,
              cancelable: true,
            }),
          );
        tell('pointerdown', 270, 32);
        for (let y = 272; y <= 330; y += 4) {
          tell('pointermove', y, 32);
          await new Promise((r) => setTimeout(r, 8));
        }
        tell('pointerup', 330, 0);
      });
      await stepsReach(page, 2);
      await settled(page);
      expect(await inkIn(page, around(195, 300))).toBeLessThan(before);
      await penStroke(cdp, curve(100, 400, 290, 400, 40, 0));
      await stepsReach(page, 3);
      await settled(page);
      expect(await inkIn(page, around(195, 400))).toBeGreaterThan(100);
    }));

  it('makes slow mouse lines wide and fast ones thin', () =>
    withSheet(DESK, async ({ page }) => {
      await page.getByRole('radio', { name: /^Nib 24/ }).click();
      const drag = async (y: number, moves: number, pauseMs: number) => {
        await page.mouse.move(470, y);
        await page.mouse.down();
        for (let i = 1; i <= moves; i++) {
          await page.mouse.move(470 + (370 * i) / moves, y);
          await page.waitForTimeout(pauseMs);
        }
        await page.mouse.up();
      };
      await drag(200, 60, 25);
      await drag(300, 8, 0);
      await stepsReach(page, 2);
      await settled(page);
      const [slow, fast] = [await inkIn(page, around(655, 200, 30)), await inkIn(page, around(655, 300, 30))];
      expect(fast).toBeGreaterThan(20);
      expect(slow).toBeGreaterThan(1.5 * fast);
    }));

  it('draws a little above the fingertip when asked to', () =>
    withSheet(
      PHONE,
      async ({ page, cdp }) => {
        await page.getByRole('radio', { name: /^Nib 24/ }).click();
        await fingerStroke(cdp, curve(110, 360, 280, 360, 30, 0));
        await stepsReach(page, 1);
        await settled(page);
        expect(await inkIn(page, { x: 110, y: 350, width: 170, height: 20 })).toBe(0);
        expect(await inkIn(page, { x: 110, y: 306, width: 170, height: 20 })).toBeGreaterThan(100);
      },
      { nibAboveFinger: true },
    ));
});

describe('moving about', () => {
  it('zooms, turns, levels and fits by keys, wheel and fingers', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      const first = await view(page);
      await page.keyboard.press('+');
      await settled(page);
      expect((await view(page)).scale / first.scale).toBeCloseTo(1.25, 3);
      await page.keyboard.press('.');
      await settled(page);
      expect((await view(page)).turnDeg).toBeCloseTo(15, 3);
      await page.getByText('73 % · 15°').waitFor();
      await page.keyboard.press('m');
      await page.keyboard.press('0');
      await settled(page);
      expect(await view(page)).toEqual(first);
      await page.mouse.move(195, 300);
      await page.mouse.wheel(30, 50);
      await settled(page);
      const panned = await view(page);
      expect([panned.x, panned.y]).toEqual([first.x - 30, first.y - 50]);
      // Two fingers, turning by a quarter and growing by half.
      await page.getByRole('button', { name: /Zoom and turn/ }).click();
      const at = (u: number) => {
        const [a, r] = [(u * Math.PI) / 2, 60 + 30 * u];
        const [dx, dy] = [r * Math.cos(a), r * Math.sin(a)];
        return [
          { x: 195 - dx, y: 300 - dy, id: 1 },
          { x: 195 + dx, y: 300 + dy, id: 2 },
        ];
      };
      await touch(cdp, 'touchStart', at(0).slice(0, 1));
      await touch(cdp, 'touchStart', at(0));
      for (let i = 1; i <= 20; i++) await touch(cdp, 'touchMove', at(i / 20));
      await touch(cdp, 'touchEnd', []);
      await settled(page);
      const turned = await view(page);
      expect(turned.turnDeg).toBe(90);
      expect(turned.scale / first.scale).toBeCloseTo(1.5, 1);
      expect(await steps(page)).toBe(0);
    }));

  it('is sharp at 64x: an edge is one step wide, and its place is kept to a fraction of a paper px', () =>
    withSheet(DESK, async ({ page, cdp }) => {
      await page.getByRole('radio', { name: /^Nib 24/ }).click();
      await penStroke(cdp, curve(560, 300, 760, 300, 60, 0));
      await stepsReach(page, 1);
      await settled(page);
      // The stroke's upper edge, found where it lies now.
      const strip = await sharp(await page.screenshot({ clip: { x: 660, y: 200, width: 1, height: 200 } }))
        .greyscale()
        .raw()
        .toBuffer();
      await page.mouse.move(660, 200 + strip.findIndex((v) => v < 128));
      for (let i = 0; i < 24; i++) {
        await page.keyboard.down('Control');
        await page.mouse.wheel(0, -300);
        await page.keyboard.up('Control');
      }
      await page.getByText('6400 %').waitFor();
      // Off the paper: the nib's ring is as large as the screen now.
      await page.getByRole('button', { name: /^Undo/ }).hover();
      await settled(page);
      expect((await view(page)).scale).toBeCloseTo(64, 6);
      const { data, info } = await sharp(await page.screenshot({ clip: { x: 560, y: 100, width: 200, height: 500 } }))
        .greyscale()
        .raw()
        .toBuffer({ resolveWithObject: true });
      // Down the middle column: white, then black; between them at most two greys.
      const column = Array.from({ length: info.height }, (_, y) => data[y * info.width + 100]);
      expect([Math.min(...column), Math.max(...column)]).toEqual([0, 255]);
      expect(column.filter((v) => v > 4 && v < 251).length).toBeLessThanOrEqual(4);
    }));

  it('keeps the last stroke in sight when the tray opens over it, and goes back when it closes', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      await penStroke(cdp, curve(110, 470, 280, 470, 30, 0));
      await stepsReach(page, 1);
      const before = await view(page);
      await page.getByRole('button', { name: /Open its settings/ }).click();
      await settled(page);
      const open = await view(page);
      const top = (await page.getByRole('button', { name: /^Peek/ }).boundingBox())!.y;
      expect(470 + open.y - before.y).toBeLessThan(top);
      await page.getByRole('button', { name: /Close its settings/ }).click();
      await settled(page);
      expect(await view(page)).toEqual(before);
    }));
});

describe('undo', () => {
  it('goes through the steps by name along a drag, and takes none when the drag leaves', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      for (const y of [200, 250, 300]) await penStroke(cdp, curve(110, y, 280, y));
      await stepsReach(page, 3);
      const box = (await page.getByRole('button', { name: /^Undo/ }).boundingBox())!;
      const [x, y] = [box.x + 22, box.y + 22];
      await page.mouse.move(x, y);
      await page.mouse.down();
      await page.mouse.move(x + 30, y);
      await page.getByText('Undo 1 step', { exact: true }).waitFor();
      await page.mouse.move(x + 55, y);
      await page.getByText('Undo 2 steps', { exact: true }).waitFor();
      expect(await page.getByText('Ink line', { exact: true }).count()).toBe(2);
      await page.mouse.move(x + 55, y - 90);
      await page.getByText('Nothing: let go').waitFor();
      await page.mouse.up();
      await settled(page);
      expect(await steps(page)).toBe(3);

      await page.mouse.move(x, y);
      await page.mouse.down();
      await page.mouse.move(x + 30, y);
      await page.mouse.move(x + 55, y);
      await page.mouse.up();
      await stepsReach(page, 5);
      await settled(page);
      expect(await inkIn(page, around(195, 300, 20))).toBe(0);
      expect(await inkIn(page, around(195, 200, 20))).toBeGreaterThan(10);
    }));
});

describe('the stack', () => {
  it('adds, names, reorders, dims, hides and deletes layers; each is undone; roughs stay out of the file', () =>
    withSheet(DESK, async ({ page, cdp }) => {
      await page.getByRole('button', { name: /^\+ Rough/ }).click();
      await page.getByRole('button', { name: 'More for Rough', exact: true }).click();
      await page.getByLabel('Name').fill('Loose pass');
      await page.keyboard.press('Enter');
      await page.getByRole('button', { name: 'More for Loose pass' }).waitFor();
      await penStroke(cdp, curve(560, 300, 760, 300));
      await saved(page);
      await unfold(page);
      await page.getByRole('slider', { name: 'Picture opacity' }).focus();
      await page.keyboard.press('End');
      await settled(page);
      const loud = await inkIn(page, around(660, 300));
      expect(loud).toBeGreaterThan(50);

      // Hushed with the picture, and peeked with it.
      await page.getByRole('slider', { name: 'Picture opacity' }).focus();
      await page.keyboard.press('Home');
      await settled(page);
      expect(await inkIn(page, around(660, 300))).toBe(0);
      await page.keyboard.press('End');
      await settled(page);
      await page.keyboard.press('Tab');
      await page.getByTestId('paper').click({ position: { x: 330, y: 700 } });
      await saved(page);

      await goTo(page, 'Send');
      // The dab on the paper landed on the rough as well: nothing of it would be sent.
      await page.getByText(/Nothing is drawn on the layers that are sent/).waitFor();
      expect(await page.getByRole('button', { name: 'Send PNG' }).isDisabled()).toBe(true);

      await goTo(page, 'Ink');
      await unfold(page);
      const names = () => page.getByRole('list', { name: 'Layers, top first' }).getByRole('listitem').allTextContents();
      expect((await names())[0]).toMatch(/^Loose pass/);
      await page.getByRole('button', { name: 'Move Loose pass down' }).click();
      expect((await names())[1]).toMatch(/^Loose pass/);
      await page.getByRole('slider', { name: 'Opacity of Loose pass' }).focus();
      await page.keyboard.press('PageDown');
      await page.getByText('· 90 %').waitFor();
      await saved(page);
      const before = await steps(page);
      await page.getByRole('button', { name: 'Delete Loose pass' }).click();
      await stepsReach(page, before + 1);
      expect(await names()).toHaveLength(1);
      for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
      await stepsReach(page, before + 4);
      expect((await names())[0]).toMatch(/^Loose pass/);
    }));
});

describe('the columns of a wide screen', () => {
  it('fold for the pen, not for the mouse, and the paper never moves', () =>
    withSheet(DESK, async ({ page, cdp }) => {
      const before = await view(page);
      await page.mouse.move(600, 300);
      await page.mouse.down();
      await page.mouse.move(650, 320);
      await page.mouse.up();
      expect(await page.getByText('Stack').isVisible()).toBe(true);
      await penStroke(cdp, curve(560, 300, 760, 300));
      await page.getByText('Stack').waitFor({ state: 'hidden' });
      expect(await view(page)).toEqual(before);
      // What the holding hand needs stands at mid-height.
      const undo = (await page.getByRole('button', { name: /^Undo/ }).boundingBox())!;
      expect(undo.x).toBeLessThan(100);
      expect(Math.abs(undo.y + 22 - DESK.height / 2)).toBeLessThan(150);
      await page.getByRole('button', { name: /^Peek/ }).waitFor();
      await unfold(page);
      await page.getByText('Stack').waitFor();
      expect(await view(page)).toEqual(before);
    }));

  it('are folded from the start while inking on an upright tablet, not on the other stops', () =>
    withSheet({ width: 1024, height: 1366 }, async ({ page }) => {
      await page.getByText('Stack').waitFor({ state: 'hidden' });
      await goTo(page, 'Place');
      await page.getByText('Stack').waitFor();
      await goTo(page, 'Ink');
      await page.getByText('Stack').waitFor({ state: 'hidden' });
      await unfold(page);
      await page.getByText('Stack').waitFor();
    }));

  it('change sides for the left hand', () =>
    withSheet(
      DESK,
      async ({ page }) => {
        const stops = (await page.getByRole('tablist', { name: 'Stops' }).boundingBox())!;
        expect(stops.x).toBeGreaterThan(DESK.width - 120);
        expect((await page.getByText('Stack').boundingBox())!.x).toBeLessThan(200);
      },
      { hand: 'left' },
    ));
});

it('turns with the phone: a slim strip stands beside the paper, which is fitted anew', () =>
  withSheet(PHONE, async ({ page, cdp }) => {
    await page.setViewportSize({ width: PHONE.height, height: PHONE.width });
    await settled(page);
    const lying = await view(page);
    const nibs = (await page.getByRole('radiogroup', { name: 'Nib' }).boundingBox())!;
    expect(nibs.x + nibs.width).toBeLessThan(110);
    expect(800 * lying.scale).toBeGreaterThan(PHONE.width * 0.85);
    expect(800 * lying.scale).toBeLessThan(PHONE.width);
    await penStroke(cdp, curve(520, 150, 600, 170));
    await stepsReach(page, 1);
    await page.setViewportSize(PHONE);
    await settled(page);
    expect(await inkIn(page, { x: 0, y: 60, width: 390, height: 460 })).toBeGreaterThan(20);
  }));

it('shows in one tab what is drawn in another', () =>
  withSheet(DESK, async ({ page, cdp }) => {
    const other = await page.context().newPage();
    await other.setViewportSize(DESK);
    await other.goto(`${app.server.url}/sheet/${sheetId(page)}/ink`);
    await other.getByTestId('paper').waitFor();
    await settled(other);
    expect(await inkIn(other, around(660, 300))).toBe(0);
    await page.bringToFront();
    await page.getByRole('radio', { name: /^Nib 24/ }).click();
    await penStroke(cdp, curve(560, 300, 760, 300));
    await stepsReach(page, 1);
    await other.bringToFront();
    await settled(other);
    expect(await inkIn(other, around(660, 300))).toBeGreaterThan(100);
  }));
