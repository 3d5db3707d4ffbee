import sharp from 'sharp';
import type { Page } from 'playwright-core';
import { openStore } from '../../server/store';
import { DESK, openPage, PHONE, testApp } from './harness';
import { fillDemoData, painted } from './screenshots';
import { goTo, settled, steps } from './sheet-driver';
import { until } from '../measures/until';

jest.setTimeout(120000);

/** The demo with its flats hidden: only the picture is colourful. */
const app = testApp((data) => {
  fillDemoData(data);
  const store = openStore(data);
  const changes = [{ op: 'set' as const, table: 'layers' as const, field: 'visible', ids: ['flats'], before: [true], after: [false] }]; // prettier-ignore
  store.steps.append('heron-at-the-jetty', [{ id: 'hide', device: 'demo', undoable: false, label: 'Hide', changes }], new Map(), 0); // prettier-ignore
  store.close();
});

const way = (page: Page, name: string | RegExp) =>
  page.getByRole('group', { name: 'Ways of looking' }).getByRole('button', { name });

describe.each([
  ['a phone', PHONE],
  ['a wide screen', DESK],
])('ways of looking on %s', (_name, viewport) => {
  let page: Page;
  let errors: string[];
  let free: { x0: number; y0: number; x1: number; y1: number };
  beforeAll(async () => {
    ({ page, errors } = await openPage(app.browser, viewport));
    await page.goto(`${app.server.url}/sheet/heron-at-the-jetty/check`);
    await way(page, 'Lines only').waitFor();
    // Before, the sheet's small picture is shown, as it was with its flats.
    await painted(page);
    free = await page.evaluate('stage.unbarred()');
  });
  afterAll(async () => {
    expect(errors).toEqual([]);
    await page.context().close();
  });

  /** What a part of the paper's room shows: how colourful it is, and how much of it is dark. */
  async function seen(x0: number, x1: number): Promise<{ colour: number; dark: number }> {
    await settled(page);
    const left = Math.round(free.x0 + (free.x1 - free.x0) * x0);
    const width = Math.round((free.x1 - free.x0) * (x1 - x0));
    const clip = { x: left, y: free.y0 + 60, width, height: (free.y1 - free.y0) * 0.7 };
    const { data } = await sharp(await page.screenshot({ clip })).removeAlpha().raw().toBuffer({ resolveWithObject: true }); // prettier-ignore
    let [colour, dark] = [0, 0];
    for (let i = 0; i < data.length; i += 3) {
      const [least, most] = [Math.min(data[i], data[i + 1], data[i + 2]), Math.max(data[i], data[i + 1], data[i + 2])];
      colour += most - least;
      if (most < 70) dark++;
    }
    return { colour: (3 * colour) / data.length, dark: (3 * dark) / data.length };
  }
  const view = () => page.evaluate<{ x: number; y: number; scale: number; turnDeg: number }>('({ ...stage.view })');
  const drag = async (from: [number, number], to: [number, number]) => {
    await page.mouse.move(...from);
    await page.mouse.down();
    await page.mouse.move(...to, { steps: 5 });
    await page.mouse.up();
  };
  const middle = (): [number, number] => [(free.x0 + free.x1) / 2, (free.y0 + free.y1) / 2];

  it('lines only: the picture is away until it is tapped again, on the other stops too', async () => {
    const before = await seen(0.3, 0.7);
    await way(page, 'Lines only').click();
    const lines = await seen(0.3, 0.7);
    expect(lines.colour).toBeLessThan(before.colour / 2);
    await goTo(page, 'Ink');
    expect((await seen(0.3, 0.7)).colour).toBeLessThan(before.colour / 2);
    await goTo(page, 'Check');
    await way(page, 'Lines only').click();
    expect((await seen(0.3, 0.7)).colour).toBeCloseTo(before.colour, 0);
  });

  it('beside: the picture, full, at one side, the ink at the other, moving together', async () => {
    const before = await view();
    await way(page, /^Beside/).click();
    const [picture, ink] = [await seen(0.05, 0.45), await seen(0.55, 0.95)];
    expect(picture.colour).toBeGreaterThan(2 * ink.colour);
    expect(ink.dark).toBeGreaterThan(0.005);
    const fitted = await view();
    // Dragged in either window, and over from one to the other, the page goes the same way.
    const [x, y] = middle();
    const quarter = (free.x1 - free.x0) / 4;
    await drag([x - quarter, y], [x - quarter + 30, y + 20]);
    const once = await view();
    expect([once.x - fitted.x, once.y - fitted.y]).toEqual([expect.closeTo(30, 0), expect.closeTo(20, 0)]);
    await drag([x + quarter, y], [x + quarter - 30, y - 20]);
    const back = await view();
    expect([back.x - fitted.x, back.y - fitted.y]).toEqual([expect.closeTo(0, 0), expect.closeTo(0, 0)]);
    await drag([x - 20, y], [x + 20, y]);
    expect((await view()).x - back.x).toBeCloseTo(40, 0);
    await way(page, /^Beside/).click();
    await settled(page);
    expect((await view()).scale).toBeCloseTo(before.scale, 3);
  });

  it('curtain: a line that is dragged, and moved by keys, parts the picture from the ink', async () => {
    await way(page, /^Curtain/).click();
    const knob = page.getByRole('button', { name: /^Drag the curtain/ });
    const [left, right] = [await seen(0.3, 0.48), await seen(0.52, 0.7)];
    expect(left.colour).toBeGreaterThan(2 * right.colour);
    const box = (await knob.boundingBox())!;
    await drag([box.x + 22, box.y + 22], [free.x0 + (free.x1 - free.x0) * 0.75, box.y + 22]);
    expect((await seen(0.52, 0.7)).colour).toBeGreaterThan(2 * right.colour);
    const at = async () => Number(/(\d+) %/.exec((await knob.getAttribute('aria-label'))!)![1]);
    expect(await at()).toBe(75);
    await knob.focus();
    await page.keyboard.press('ArrowLeft');
    expect(await at()).toBe(73);
    await way(page, /^Curtain/).click();
    expect(await knob.count()).toBe(0);
  });

  it('mirror: the page follows the finger all the same, zooms where the pointer is, and guides are away', async () => {
    const before = await view();
    await way(page, 'Mirror').click();
    const [x, y] = middle();
    await drag([x, y], [x + 40, y + 10]);
    const dragged = await view();
    // What is seen goes right; in the mirror that is left.
    expect([dragged.x - before.x, dragged.y - before.y]).toEqual([expect.closeTo(-40, 0), expect.closeTo(10, 0)]);
    const at: [number, number] = [x + 60, y];
    const under = () => page.evaluate<[number, number]>(`stage.toPaper(...stage.seen([${at}]))`);
    const paper = await under();
    await page.mouse.move(...at);
    await page.keyboard.down('Control');
    await page.mouse.wheel(0, -200);
    await page.keyboard.up('Control');
    await settled(page);
    expect((await view()).scale).toBeGreaterThan(dragged.scale);
    const after = await under();
    expect(Math.hypot(after[0] - paper[0], after[1] - paper[1])).toBeLessThan(8);
    await way(page, 'Mirror').click();
  });

  it('squint is grey, loud ink is of one bright colour; nothing of the sheet has changed, and leaving ends them', async () => {
    const before = await steps(page);
    await way(page, /^Squint/).click();
    expect((await seen(0.3, 0.7)).colour).toBeLessThan(1.5);
    await way(page, /^Squint/).click();
    const plain = await seen(0.3, 0.7);
    await way(page, /^Loud/).click();
    const loud = await seen(0.3, 0.7);
    expect(loud.dark).toBeLessThan(plain.dark / 2);
    expect(loud.colour).toBeGreaterThan(plain.colour);
    await goTo(page, 'Ink');
    expect((await seen(0.3, 0.7)).dark).toBeGreaterThan(loud.dark);
    await goTo(page, 'Check');
    expect(await way(page, /^Loud/).getAttribute('aria-pressed')).toBe('false');
    expect(await steps(page)).toBe(before);
  });

  it('a turned phone keeps beside within its new room', async () => {
    await way(page, /^Beside/).click();
    await page.setViewportSize({ width: viewport.height, height: viewport.width });
    await settled(page);
    const { within, unbarred } = await page.evaluate<{ within: { x1: number; y1: number }; unbarred: { x1: number; y1: number } }>('({ within: stage.free(), unbarred: stage.unbarred() })'); // prettier-ignore
    expect(within.x1).toBeLessThanOrEqual(unbarred.x1);
    expect(within.y1).toBeLessThanOrEqual(unbarred.y1);
    expect(within.x1 < unbarred.x1 - 20 || within.y1 < unbarred.y1 - 20).toBe(true);
    await page.setViewportSize(viewport);
  });
});

describe.each([
  ['a phone', PHONE],
  ['a wide screen', DESK],
])('what is found on %s', (_name, viewport) => {
  let page: Page;
  let errors: string[];
  beforeAll(async () => {
    ({ page, errors } = await openPage(app.browser, viewport));
    await page.goto(`${app.server.url}/sheet/heron-at-the-jetty/check`);
    await page.getByRole('button', { name: /^Leaks \d+/ }).waitFor({ timeout: 30000 });
  });
  afterAll(async () => {
    expect(errors).toEqual([]);
    await page.context().close();
  });

  const chip = (name: string) => page.getByRole('group', { name: 'What was found' }).getByRole('button', { name: new RegExp(`^${name}`) }); // prettier-ignore
  const count = async (name: string) => Number(/\d+/.exec(await chip(name).innerText())![0]);
  async function untilCount(name: string, n: number): Promise<void> {
    await until(async () => (await count(name)) === n, `${name} ${n}`, 100);
    expect(await count(name)).toBe(n);
  }
  const openDials = async () => {
    const more = page.getByRole('button', { name: 'Dials of what is found' });
    if (await more.count()) await more.click();
  };
  const now = () =>
    page
      .getByRole('status')
      .filter({ hasText: / of \d+ · / })
      .innerText();

  it('goes from one to the other by buttons, keys and touch, and shows each in the middle', async () => {
    const all = await count('Leaks');
    expect(all).toBeGreaterThan(3);
    await chip('Leaks').click();
    expect(await now()).toMatch(new RegExp(`^1 of ${all} · [\\d.]+ px \\([\\d.]+ mm\\) `));
    await page.getByRole('button', { name: 'The finding after' }).click();
    expect(await now()).toMatch(/^2 of/);
    await page
      .getByTestId('paper')
      .focus()
      .catch(() => undefined);
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.keyboard.press('ArrowRight');
    expect(await now()).toMatch(/^3 of/);
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('ArrowLeft');
    expect(await now()).toMatch(new RegExp(`^${all} of`));
    await settled(page);
    const mark = page.getByRole('button', { name: new RegExp(`^Finding ${all}:`) });
    const box = (await mark.boundingBox())!;
    const free = { width: viewport.width, height: viewport.height };
    expect(box.x).toBeGreaterThan(0);
    expect(box.x + box.width).toBeLessThan(free.width);
    expect(await mark.getAttribute('aria-pressed')).toBe('true');
  });

  it('bridges one, and all in one step; the count reaches 0, and undo brings them back', async () => {
    const [all, before] = [await count('Leaks'), await steps(page)];
    await page.getByRole('button', { name: 'Bridge', exact: true }).click();
    await untilCount('Leaks', all - 1);
    expect(await steps(page)).toBe(before + 1);
    await page.getByRole('button', { name: `Bridge all ${all - 1}` }).click();
    await page.getByText(/^No gap up to /).waitFor();
    expect(await count('Leaks')).toBe(0);
    await page.keyboard.press('Control+z');
    await untilCount('Leaks', all - 1);
    await page.keyboard.press('Control+z');
    await untilCount('Leaks', all);
  });

  it('a dial finds more or less', async () => {
    await openDials();
    const all = await count('Leaks');
    await page.getByRole('slider', { name: /^Gaps up to/ }).focus();
    await page.keyboard.press('Home');
    await until(async () => (await count('Leaks')) < all, 'fewer leaks', 100);
    expect(await count('Leaks')).toBeLessThan(all);
  });

  it('makes thin lines bolder, those alone, in one step', async () => {
    await chip('Thin').click();
    await page.getByText('No line is too thin.').waitFor();
    await page.getByRole('slider', { name: /^Lines thinner than/ }).focus();
    for (let k = 0; k < 16; k++) await page.keyboard.press('ArrowRight');
    await settled(page);
    const thin = await count('Thin');
    expect(thin).toBeGreaterThan(0);
    await page.getByRole('img', { name: /^Widths of all lines: / }).waitFor();
    if (thin > 1) await page.getByRole('button', { name: `Bolder all ${thin}` }).click();
    else await page.getByRole('button', { name: 'Bolder', exact: true }).click();
    await page.getByText('No line is too thin.').waitFor();
    await page.keyboard.press('Control+z');
    await untilCount('Thin', thin);
  });

  it('holds the ink against the picture: edges without ink, in a part or in all of it, and lines that lie off', async () => {
    await chip('Missed').click();
    await openDials();
    await page.getByText(/% of the edges have ink\. Lines along them lie/).waitFor();
    const all = await count('Missed');
    expect(all).toBeGreaterThan(1);
    await page.getByTestId('missed-edges').waitFor();
    await page.getByRole('slider', { name: /^Faint edges/ }).focus();
    await page.keyboard.press('End');
    await until(async () => (await count('Missed')) > all, 'more that is missed', 100);
    const many = await count('Missed');
    expect(many).toBeGreaterThan(all);
    await page.getByRole('button', { name: 'Only a part: draw around it' }).click();
    const box = (await page.getByTestId('loop-layer').boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + (viewport === PHONE ? 185 : box.height / 2)];
    await page.mouse.move(x - 30, y - 30);
    await page.mouse.down();
    for (const [dx, dy] of [[30, -30], [30, 30], [-30, 30], [-30, -20]]) await page.mouse.move(x + dx, y + dy, { steps: 4 }); // prettier-ignore
    await page.mouse.up();
    await until(async () => (await count('Missed')) < many, 'less that is missed', 100);
    expect(await count('Missed')).toBeLessThan(many);
    await page.getByTestId('meant-part').waitFor();
    await page.getByRole('button', { name: 'All of it' }).click();
    await untilCount('Missed', many);
    // The same by a brush: each movement adds to it.
    await page.getByRole('button', { name: 'Only a part: paint over it' }).click();
    await page.getByTestId('paint-layer').waitFor();
    const paint = async (dy: number, half: number) => {
      await page.mouse.move(x - half, y + dy);
      await page.mouse.down();
      await page.mouse.move(x + half, y + dy, { steps: 4 });
      await page.mouse.up();
    };
    await paint(-20, 10);
    await until(async () => (await count('Missed')) < many, 'less that is missed', 100);
    const painted = await count('Missed');
    expect(painted).toBeLessThan(many);
    for (const dy of [-60, -20, 20, 60]) await paint(dy, 150);
    await until(async () => (await count('Missed')) > painted, 'more that is missed', 100);
    expect(await count('Missed')).toBeGreaterThan(painted);
    await page.getByRole('button', { name: 'Painted enough' }).click();
    await page.getByTestId('paint-layer').waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'All of it' }).click();
    await untilCount('Missed', many);
    await chip('Off').click();
    expect(await count('Off')).toBeGreaterThan(0);
    expect(await now()).toMatch(/px \([\d.]+ mm\) off in the mean, .* here, on /);
  });

  it('is up to date after an edit by another device, by itself', async () => {
    await chip('Leaks').click();
    const before = await count('Leaks');
    expect(before).toBeGreaterThan(0);
    const { page: other } = await openPage(app.browser, DESK);
    await other.goto(page.url());
    // Two devices on one machine open and look at once.
    await other.getByRole('button', { name: /^Leaks \d+/ }).click({ timeout: 30000 });
    await other.getByRole('button', { name: /^Bridge all/ }).click();
    await other.getByText(/^No gap up to /).waitFor();
    await page.evaluate(() => window.dispatchEvent(new Event('focus')));
    await until(async () => (await count('Leaks')) < before, 'fewer leaks', 100);
    expect(await count('Leaks')).toBeLessThan(before);
    await other.keyboard.press('Control+z');
    await other.getByRole('button', { name: /^Bridge all/ }).waitFor();
    await settled(other);
    await other.context().close();
  });
});
