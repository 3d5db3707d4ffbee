import sharp from 'sharp';
import type { CDPSession, Page } from 'playwright-core';
import { until } from '../measures/until';
import { curve, DESK, fingerStroke, openPage, penStroke, PHONE, saved, testApp } from './harness';
import {
  asked,
  choose,
  goTo,
  hideRing,
  inkIn,
  inkOf,
  newSheet,
  phonePhoto,
  settled,
  sheetId,
  steps,
  stepsReach,
  unfold,
} from './sheet-driver';

jest.setTimeout(120000);
const app = testApp();

interface At {
  page: Page;
  cdp: CDPSession;
}

async function withSheet(viewport: { width: number; height: number }, work: (at: At) => Promise<void>): Promise<void> {
  const { page, cdp, errors, context } = await openPage(app.browser, viewport);
  await newSheet(page, app.server.url, 'Hand');
  await work({ page, cdp });
  expect(errors).toEqual([]);
  await context.close();
}

const view = (page: Page) =>
  page.evaluate(
    () =>
      JSON.parse(document.querySelector<HTMLElement>('[data-testid=paper]')!.dataset.view!) as {
        scale: number;
        x: number;
        y: number;
      },
  );
const layersOf = async (page: Page) => {
  const id = /sheet\/([^/]+)/.exec(page.url())![1];
  const answer = await asked(page, `/api/sheets/${id}`);
  return (
    (await answer.json()) as {
      layers: { id: string; name: string; order: string; placement?: { scale: number; cx: number } }[];
    }
  ).layers;
};
const addPhoto = async (page: Page) => {
  await goTo(page, 'Place');
  const { path } = await phonePhoto(app.server.data);
  await choose(page, 'Add picture', path);
  await page.getByText('The picture stays where it is').waitFor();
};
const pen = (
  cdp: CDPSession,
  type: 'mousePressed' | 'mouseMoved' | 'mouseReleased',
  x: number,
  y: number,
  more: object,
) =>
  cdp.send('Input.dispatchMouseEvent', {
    type,
    x,
    y,
    pointerType: 'pen',
    button: 'left',
    buttons: 1,
    force: 0.5,
    ...more,
  });

describe('a stroke', () => {
  it('ends where the phone is turned, and what follows draws nothing through the new view', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      await pen(cdp, 'mousePressed', 100, 300, { clickCount: 1 });
      for (let x = 105; x <= 200; x += 5) await pen(cdp, 'mouseMoved', x, 300, {});
      await page.setViewportSize({ width: 844, height: 390 });
      await settled(page);
      // Well below what was drawn: that lies at about 186 now.
      for (let x = 300; x <= 500; x += 10) await pen(cdp, 'mouseMoved', x, 300, {});
      await pen(cdp, 'mouseReleased', 500, 300, { clickCount: 1, buttons: 0 });
      await stepsReach(page, 1);
      expect(await inkIn(page, { x: 360, y: 285, width: 130, height: 30 })).toBe(0);
      expect(await inkIn(page, { x: 390, y: 170, width: 100, height: 32 })).toBeGreaterThan(30);
    }));

  it('wholly off the paper is no step', () =>
    withSheet(DESK, async ({ page, cdp }) => {
      const { x } = await view(page);
      await penStroke(cdp, curve(x - 60, 300, x - 40, 420, 20, 0));
      await settled(page);
      expect(await steps(page)).toBe(0);
    }));

  it('is not begun by the side button of a pen, which moves the page', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      const before = await view(page);
      const side = { button: 'right', buttons: 2 };
      await pen(cdp, 'mousePressed', 100, 300, { clickCount: 1, ...side });
      for (let x = 105; x <= 200; x += 5) await pen(cdp, 'mouseMoved', x, 300, side);
      await pen(cdp, 'mouseReleased', 200, 300, { clickCount: 1, button: 'right', buttons: 0 });
      await settled(page);
      expect(await steps(page)).toBe(0);
      expect((await view(page)).x).toBeGreaterThan(before.x + 50);
    }));

  it('drawn while Over is held is seen at once', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      await addPhoto(page);
      await goTo(page, 'Ink');
      await page.getByRole('radio', { name: /^Nib 24/ }).click();
      await page.getByRole('radio', { name: 'Loud pink' }).click();
      await page.keyboard.down('o');
      await settled(page);
      await penStroke(cdp, curve(100, 300, 290, 300, 40, 0));
      await settled(page);
      const shot = await page.screenshot({ clip: { x: 180, y: 290, width: 30, height: 20 } });
      const { data } = await sharp(shot).removeAlpha().raw().toBuffer({ resolveWithObject: true });
      let pink = 0;
      for (let i = 0; i < data.length; i += 3) if (data[i] > 150 && data[i + 1] < 60 && data[i + 2] > 50) pink++;
      expect(pink).toBeGreaterThan(100);
      await page.keyboard.up('o');
    }));
});

describe('turning the phone', () => {
  it('shows the drawing at its place and size, in its own pixels', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      await addPhoto(page);
      await goTo(page, 'Ink');
      await penStroke(cdp, curve(120, 300, 280, 320));
      await stepsReach(page, 2);
      for (const size of [{ width: 844, height: 390 }, PHONE]) {
        await page.setViewportSize(size);
        await settled(page);
        const shapes = await page.evaluate(() =>
          [...document.querySelectorAll<HTMLCanvasElement>('[data-testid=paper] canvas')].map((c) => {
            const { width, height } = c.getBoundingClientRect();
            return [width, height, c.width, c.height];
          }),
        );
        expect(shapes.length).toBeGreaterThan(1);
        for (const shape of shapes) expect(shape).toEqual([size.width, size.height, size.width, size.height]);
      }
    }));
});

describe('at a desk', () => {
  it('a held key inks without a button, until it is let go or the pointer leaves the paper', () =>
    withSheet(DESK, async ({ page }) => {
      await page.mouse.move(560, 300);
      await page.keyboard.down('i');
      for (let i = 1; i <= 12; i++) await page.mouse.move(560 + 8 * i, 300 + 3 * i);
      await page.keyboard.up('i');
      await stepsReach(page, 1);
      await page.mouse.move(700, 500);
      expect(await steps(page)).toBe(1);
      const [line] = await inkOf(page, sheetId(page));
      expect(line.pen.widthFrom).toBe('speed');
      expect(await inkIn(page, { x: 560, y: 290, width: 100, height: 60 })).toBeGreaterThan(10);
      // Over a column it draws nothing; what was begun ends at its edge.
      await page.mouse.move(560, 360);
      await page.keyboard.down('i');
      for (let x = 560; x >= 40; x -= 40) await page.mouse.move(x, 360);
      await stepsReach(page, 2);
      await page.mouse.move(560, 400);
      await page.keyboard.up('i');
      await page.waitForTimeout(200);
      expect(await steps(page)).toBe(2);
    }));

  it('keys go to the paper after a button was clicked', () =>
    withSheet(DESK, async ({ page, cdp }) => {
      await penStroke(cdp, curve(500, 300, 700, 300));
      await stepsReach(page, 1);
      await unfold(page);
      await page.getByRole('button', { name: /^Undo/ }).click();
      await stepsReach(page, 2);
      const before = await view(page);
      await page.keyboard.down(' ');
      await page.mouse.move(600, 400);
      await page.mouse.down();
      await page.mouse.move(660, 430, { steps: 6 });
      await page.mouse.up();
      await page.keyboard.up(' ');
      await settled(page);
      expect((await view(page)).x).toBeCloseTo(before.x + 60, 0);
      expect(await steps(page)).toBe(2);
      // Redo is still there, and Ctrl Y is one of its keys.
      await page.keyboard.press('Control+y');
      await stepsReach(page, 3);
    }));

  it('arrows and the wheel move and scale the picture, a gesture a step', () =>
    withSheet(DESK, async ({ page }) => {
      await addPhoto(page);
      await page.getByRole('button', { name: 'Move picture' }).click();
      const before = await steps(page);
      const placed = async () => (await layersOf(page)).find((l) => l.placement)!.placement!;
      const first = await placed();
      for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
      await stepsReach(page, before + 1);
      expect((await placed()).cx).toBeGreaterThan(first.cx);
      await page.mouse.move(660, 300);
      for (let i = 0; i < 6; i++) await page.mouse.wheel(0, -100);
      await stepsReach(page, before + 2);
      expect((await placed()).scale).toBeGreaterThan(first.scale * 1.4);
      expect(await page.getByText(/% · 0°$/).count()).toBeGreaterThan(0);
    }));

  it('Escape leaves the page of keys for the stop it was opened from', () =>
    withSheet(DESK, async ({ page }) => {
      await goTo(page, 'Place');
      await goTo(page, 'Send');
      await page.keyboard.press('?');
      await page.getByRole('heading', { name: 'Keys' }).waitFor();
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: 'Send PNG' }).waitFor();
      expect(page.url()).toMatch(/\/send$/);
    }));

  it('Enter in the name makes the sheet', async () => {
    const { page, context } = await openPage(app.browser, DESK);
    await page.goto(app.server.url);
    await page.getByRole('button', { name: 'Blank sheet' }).click();
    await page.getByLabel('Name').fill('By Enter');
    await page.keyboard.press('Enter');
    await page.getByTestId('paper').waitFor();
    await page.getByRole('button', { name: 'This sheet: By Enter' }).waitFor();
    await context.close();
  });
});

describe('on a phone', () => {
  it('nothing but paper, undo and eraser, and back, while the paper stays where it is', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      for (let i = 0; i < 4; i++) await page.keyboard.press('+');
      await settled(page);
      const before = await view(page);
      // Nothing says Saved here: the server is asked.
      const written = async (count: number) => {
        await until(async () => (await steps(page)) >= count, `${count} steps`, 100);
        expect(await steps(page)).toBe(count);
      };
      await page.getByRole('button', { name: 'Nothing but the paper' }).click();
      for (const gone of [/^Peek/, /Open its settings/, /Back to the drawer/, /Zoom and turn/])
        expect(await page.getByRole('button', { name: gone }).count()).toBe(0);
      expect(await page.getByRole('tab').count()).toBe(0);
      // Where the tray was one draws now.
      await penStroke(cdp, curve(120, 690, 260, 720));
      await written(1);
      expect(await view(page)).toEqual(before);
      await page.getByRole('button', { name: /^Undo/ }).click();
      await written(2);
      await page.getByRole('button', { name: /^Eraser: tap/ }).click();
      await page.getByRole('button', { name: /^Eraser: tap/ }).click();
      await page.getByRole('button', { name: 'Bring the bars back' }).click();
      await page.getByRole('button', { name: /Open its settings/ }).waitFor();
      expect(await view(page)).toEqual(before);
      // The system's Back leaves it as well, and not the sheet.
      await page.getByRole('button', { name: 'Nothing but the paper' }).click();
      await page.waitForTimeout(100);
      await page.goBack();
      await page.getByRole('button', { name: /Open its settings/ }).waitFor();
      expect(page.url()).toMatch(/\/ink$/);
    }));

  it('lines are looked at on other grounds, and nothing of the sheet changes', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      await penStroke(cdp, curve(100, 200, 290, 200));
      await stepsReach(page, 1);
      const colourAt = async (x: number, y: number) => {
        const { data } = await sharp(await page.screenshot({ clip: { x, y, width: 1, height: 1 } }))
          .raw()
          .toBuffer({ resolveWithObject: true });
        return [...data.subarray(0, 3)];
      };
      await page.getByRole('button', { name: /^Lines Ink/ }).click();
      const ground = page.getByRole('radiogroup', { name: 'Ground beneath the lines' });
      const shown: Record<string, number[]> = {};
      for (const name of ['Paper', 'Dark', 'Loud', 'Clear']) {
        await ground.getByRole('radio', { name }).click();
        shown[name] = await colourAt(60, 100);
      }
      expect(shown).toMatchObject({ Paper: [255, 255, 255], Dark: [35, 39, 47], Loud: [181, 238, 79] });
      expect([216, 255]).toContain(shown.Clear[0]);
      // What will be sent is looked at on what it is sent on; back in Ink the artist's ground is there again.
      await ground.getByRole('radio', { name: 'Dark' }).click();
      await goTo(page, 'Send');
      await page.getByRole('button', { name: 'Send PNG' }).waitFor();
      expect(await colourAt(60, 100)).not.toEqual([35, 39, 47]);
      await goTo(page, 'Ink');
      expect(await colourAt(60, 100)).toEqual([35, 39, 47]);
      expect(await steps(page)).toBe(1);
    }));

  it("a line beneath goes under the layer's others, and stays there", () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      await penStroke(cdp, curve(100, 300, 290, 300));
      await stepsReach(page, 1);
      await page.getByRole('radio', { name: 'Loud pink' }).click();
      await page.getByRole('button', { name: /Open its settings/ }).click();
      await page.getByRole('switch', { name: /^Beneath/ }).click();
      await page.getByRole('button', { name: /Close its settings/ }).click();
      await penStroke(cdp, curve(195, 240, 200, 360));
      await stepsReach(page, 2);
      const [first, second] = await inkOf(page, sheetId(page));
      expect([first.colour, second.colour]).toEqual(['#c2185b', '#000000']);
      await settled(page);
      await hideRing(page);
      // Where they cross, the black one is seen.
      const crossing = await sharp(await page.screenshot({ clip: { x: 180, y: 280, width: 30, height: 40 } }))
        .raw()
        .toBuffer({ resolveWithObject: true });
      const redness = Array.from({ length: 40 }, (_, y) => {
        const row = Array.from({ length: 30 }, (_, x) => crossing.data[crossing.info.channels * (y * 30 + x)]);
        return Math.min(...row);
      });
      expect(Math.min(...redness)).toBeLessThan(20);
      expect(redness.filter((v) => v > 150).length).toBeGreaterThan(10);
    }));

  it('the stops stay where they are after the first stroke, a tap away', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      const place = page.getByRole('tab', { name: 'Place' });
      const nib = page.getByRole('radio', { name: /^Nib 24/ });
      const before = [await place.boundingBox(), await nib.boundingBox()];
      await fingerStroke(cdp, curve(100, 300, 290, 300));
      await stepsReach(page, 1);
      expect([await place.boundingBox(), await nib.boundingBox()]).toEqual(before);
      await place.click();
      await page.getByRole('button', { name: 'Add picture' }).waitFor();
    }));

  it('keys do what can be seen: none of another stop, and Space is the paper’s once the pointer is over it', () =>
    withSheet(DESK, async ({ page }) => {
      const view = () => page.getByTestId('paper').getAttribute('data-view');
      // Saved is said, and the browser saves no page.
      await page.keyboard.press('Control+s');
      await page.getByText('All of it is saved: each line is as soon as it is drawn.').waitFor();
      await page.getByRole('slider', { name: 'Steady' }).click();
      const before = await view();
      await page.mouse.move(640, 400);
      await page.keyboard.down(' ');
      await page.mouse.down();
      await page.mouse.move(700, 430, { steps: 5 });
      await page.mouse.up();
      await page.keyboard.up(' ');
      await until(async () => (await view()) !== before, 'the page is moved');
      expect(await steps(page)).toBe(0);
      // Nor does the browser zoom where the wheel is over a column.
      const isTaken = await page.evaluate(() => {
        const wheel = new WheelEvent('wheel', { ctrlKey: true, deltaY: -100, bubbles: true, cancelable: true });
        document.querySelector('[role=slider]')!.dispatchEvent(wheel);
        return wheel.defaultPrevented;
      });
      expect(isTaken).toBe(true);
      await goTo(page, 'Colour');
      await page.keyboard.press('e');
      await goTo(page, 'Ink');
      await page.getByRole('button', { name: /^Edit lines/ }).waitFor();
      expect(await page.getByText('Touch a line, or draw a loop around several').count()).toBe(0);
    }));

  it("the system's Back closes the opened tray, not the sheet", () =>
    withSheet(PHONE, async ({ page }) => {
      const button = page.getByRole('button', { name: /its settings$/ });
      await button.click();
      await page.getByRole('img', { name: 'Your last stroke with this pen' }).waitFor();
      const box = (await page.getByRole('img', { name: 'Your last stroke with this pen' }).boundingBox())!;
      // Tray, hush row and stops cover at most half of the screen.
      expect(box.y).toBeGreaterThan(PHONE.height / 2);
      await page.goBack();
      await page.getByRole('img', { name: 'Your last stroke with this pen' }).waitFor({ state: 'detached' });
      expect(page.url()).toMatch(/\/ink$/);
      await button.click();
      await button.click();
      await settled(page);
      expect(page.url()).toMatch(/\/ink$/);
    }));

  it('a tray that stands open shows all that there is room for, above its button', () =>
    withSheet(PHONE, async ({ page }) => {
      await goTo(page, 'Send');
      const larger = (await page.getByRole('radio', { name: '2x' }).boundingBox())!;
      const send = (await page.getByRole('button', { name: 'Send PNG' }).boundingBox())!;
      expect(larger.y + larger.height).toBeLessThan(send.y);
      // Without that button, bars and tray stay below the middle of the screen.
      const peek = (await page.getByRole('button', { name: /^Peek/ }).boundingBox())!;
      expect(peek.y + send.height + 2 * 6 + 1).toBeGreaterThanOrEqual(PHONE.height / 2);
    }));

  it('the columns fold away for a pen and come back at the edge; set to stay, they stay', () =>
    withSheet(DESK, async ({ page, cdp }) => {
      const chip = page.getByRole('button', { name: 'Show the title bar and the stops' });
      await penStroke(cdp, curve(560, 300, 700, 300));
      await chip.waitFor();
      // A hand at work is let finish first.
      await saved(page);
      await settled(page);
      await until(async () => {
        await page.mouse.move(300, 400);
        await page.mouse.move(4, 400);
        return (await chip.count()) === 0;
      }, 'the columns are back');
      await page.getByRole('button', { name: 'Settings' }).click();
      await page.getByRole('switch', { name: /^The columns stay/ }).click();
      await page.keyboard.press('Escape');
      await penStroke(cdp, curve(560, 400, 700, 400));
      await stepsReach(page, 2);
      expect(await chip.count()).toBe(0);
      // What an icon does is said where a mouse rests on it, with its key.
      expect(await page.getByRole('button', { name: /^Undo/ }).getAttribute('title')).toMatch(/^Undo: .* \(Ctrl Z\)$/);
    }));

  it('a colour of one’s own is typed at Ink, and the next line has it', () =>
    withSheet(DESK, async ({ page, cdp }) => {
      await page.getByRole('button', { name: /^My colour/ }).click();
      await page.getByLabel('Number of the colour').fill('4A6');
      await page.getByLabel('Number of the colour').press('Enter');
      await penStroke(cdp, curve(560, 300, 700, 300));
      await stepsReach(page, 1);
      expect((await inkOf(page, sheetId(page)))[0].colour).toBe('#44aa66');
    }));

  it('steadiness is within reach, and a finger begins steadier than a pen', () =>
    withSheet(PHONE, async ({ page, cdp }) => {
      const steady = page.getByRole('slider', { name: 'Steady' });
      expect(await steady.getAttribute('aria-valuenow')).toBe('55');
      await penStroke(cdp, curve(100, 300, 290, 300));
      await stepsReach(page, 1);
      expect(await steady.getAttribute('aria-valuenow')).toBe('35');
      await steady.click();
      expect(await steady.getAttribute('aria-valuenow')).toBe('55');
      await steady.focus();
      await page.keyboard.press('ArrowLeft');
      expect(await steady.getAttribute('aria-valuenow')).toBe('54');
    }));

  it.each([
    ['a phone', PHONE],
    ['a wide screen', DESK],
  ])('a pen is set as the artist likes it, by touch and keys, and is so after a reload: %s', (_, viewport) =>
    withSheet(viewport, async ({ page, cdp }) => {
      const [x, y] = viewport === PHONE ? [100, 200] : [500, 300];
      const openPen = async () => {
        await unfold(page);
        if (viewport === PHONE) await page.getByRole('button', { name: /Open its settings$/ }).click();
      };
      const closePen = async () => {
        if (viewport === PHONE) await page.getByRole('button', { name: /Close its settings$/ }).click();
      };
      await openPen();
      await page.getByRole('radio', { name: 'Brush pen' }).click();
      const opacity = page.getByRole('slider', { name: 'Ink opacity' });
      await opacity.focus();
      for (let i = 0; i < 6; i++) await page.keyboard.press('PageDown');
      expect(await opacity.getAttribute('aria-valuetext')).toBe('40 %');
      await page.getByRole('slider', { name: 'Width half way' }).focus();
      await page.keyboard.press('Home');
      const light = page.getByRole('slider', { name: 'Lightest pressure' });
      await light.scrollIntoViewIfNeeded();
      const knob = (await light.boundingBox())!;
      await page.mouse.move(knob.x + 22, knob.y + 22);
      await page.mouse.down();
      await page.mouse.move(knob.x + 42, knob.y + 22, { steps: 4 });
      await page.mouse.up();
      const lightest = Number(await light.getAttribute('aria-valuenow')) / 100;
      expect(lightest).toBeGreaterThan(0.14);
      await page.getByRole('slider', { name: 'Start taper' }).focus();
      await page.keyboard.press('Home');
      await closePen();
      await penStroke(cdp, curve(x, y, x + 180, y + 60));
      await stepsReach(page, 1);
      const [line] = await inkOf(page, sheetId(page));
      expect(line.pen).toMatchObject({
        kind: 'brush',
        opacity: 0.4,
        taperInPx: 0,
        smallest: 0.03,
        widthFrom: 'pressure',
      });
      expect(line.pen.press).toEqual({ light: lightest, firm: 0.9, middle: 0.05 });
      expect(line.pen.taperOutPx).toBeGreaterThan(0);
      // Grey on white: 60 % of what lies beneath shows.
      await settled(page);
      await hideRing(page);
      const shown = await sharp(await page.screenshot({ clip: { x, y, width: 180, height: 60 } }))
        .greyscale()
        .stats();
      expect(Math.abs(shown.channels[0].min - 153)).toBeLessThanOrEqual(2);
      await page.reload();
      await page.getByTestId('paper').waitFor();
      await openPen();
      expect(await page.getByRole('radio', { name: 'Brush pen' }).getAttribute('aria-checked')).toBe('true');
      expect(await opacity.getAttribute('aria-valuetext')).toBe('40 %');
      await page.getByRole('button', { name: 'Brush pen as it came' }).click();
      expect(await opacity.getAttribute('aria-valuetext')).toBe('100 %');
      expect(await page.getByRole('button', { name: 'Brush pen as it came' }).count()).toBe(0);
    }),
  );

  it('layers are dragged to where they should lie', () =>
    withSheet(PHONE, async ({ page }) => {
      await page.getByRole('button', { name: /^Lines Ink/ }).click();
      for (const name of ['+ Ink: add an ink layer', '+ Rough: add a rough layer'])
        await page.getByRole('button', { name }).click();
      await stepsReach(page, 2);
      const grip = page.getByRole('button', { name: 'Drag Rough, or move it with the arrow keys' });
      const box = (await grip.boundingBox())!;
      await page.mouse.move(box.x + 10, box.y + 20);
      await page.mouse.down();
      await page.mouse.move(box.x + 10, box.y + 20 + 62, { steps: 8 });
      await page.mouse.up();
      await stepsReach(page, 3);
      const names = async () => (await layersOf(page)).sort((a, b) => (a.order < b.order ? 1 : -1)).map((l) => l.name);
      expect(await names()).toEqual(['Lines 2', 'Rough', 'Lines']);
      await grip.focus();
      await page.keyboard.press('ArrowUp');
      await stepsReach(page, 4);
      expect(await names()).toEqual(['Rough', 'Lines 2', 'Lines']);
    }));

  it('makes no empty file, and looks at no picture where there is none', () =>
    withSheet(PHONE, async ({ page }) => {
      expect(await page.getByRole('slider', { name: 'Picture opacity' }).getAttribute('aria-disabled')).toBe('true');
      expect(await page.getByRole('button', { name: /^Peek/ }).isDisabled()).toBe(true);
      await goTo(page, 'Send');
      await page.getByText(/Nothing is drawn on the layers that are sent/).waitFor();
      expect(await page.getByRole('button', { name: 'Send PNG' }).isDisabled()).toBe(true);
    }));

  it('on its side has the whole height for the paper', async () => {
    const { page, cdp, errors, context } = await openPage(app.browser, { width: 844, height: 390 });
    await newSheet(page, app.server.url, 'Side', '2480', '3508');
    const { scale } = await view(page);
    expect(3508 * scale).toBeGreaterThan(390 * 0.85);
    for (const name of ['Undo', 'Redo', 'Eraser', 'Peek', 'Back to the drawer'])
      expect(await page.getByRole('button', { name: new RegExp(`^${name}`) }).count()).toBe(1);
    await penStroke(cdp, curve(420, 120, 520, 200));
    await stepsReach(page, 1);
    await page.getByRole('button', { name: /^Stops, layers and the rest/ }).click();
    await page.getByRole('tab', { name: 'Send' }).click();
    await page.getByRole('button', { name: 'Send PNG' }).waitFor();
    expect(errors).toEqual([]);
    await context.close();
  });
});
