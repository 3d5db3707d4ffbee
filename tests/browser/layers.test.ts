import sharp from 'sharp';
import type { CDPSession, Page } from 'playwright-core';
import type { Layer } from '../../core/sheet/entities';
import { DESK, openPage, penStroke, PHONE, saved, testApp, touch, type Point } from './harness';
import { asked, goTo, hideRing, inkOf, newSheet, send, settled, sheetId, unfold } from './sheet-driver';

jest.setTimeout(180000);
const app = testApp();

const straight = (x0: number, y0: number, x1: number, y1: number): Point[] =>
  Array.from({ length: 24 }, (_, i) => [x0 + ((x1 - x0) * i) / 23, y0 + ((y1 - y0) * i) / 23, 1]);

async function layersOf(page: Page): Promise<Layer[]> {
  await saved(page);
  const answer = await asked(page, `/api/sheets/${sheetId(page)}`);
  const { layers } = (await answer.json()) as { layers: Layer[] };
  return layers.filter((l) => !l.deleted);
}
const layerNamed = async (page: Page, name: string) => (await layersOf(page)).find((l) => l.name === name)!;

/** Rows as they are listed, top first. */
const rowNames = async (page: Page): Promise<string[]> => {
  const grips = page.getByRole('list', { name: 'Layers, top first' }).getByRole('button', { name: /^Drag / });
  const labels = await grips.evaluateAll((all) => all.map((one) => one.getAttribute('aria-label')!));
  return labels.map((label) => /^Drag (.*), or move/.exec(label)![1]);
};

/** What a place of the screen shows. */
async function colourAt(page: Page, x: number, y: number): Promise<number[]> {
  await hideRing(page);
  await settled(page);
  const shot = await page.screenshot({ clip: { x: x - 1, y: y - 1, width: 2, height: 2 } });
  return [...(await sharp(shot).removeAlpha().raw().toBuffer()).subarray(0, 3)];
}
const isNear = (found: number[], wanted: number[]) =>
  found.forEach((v, i) => expect(Math.abs(v - wanted[i])).toBeLessThanOrEqual(2));

const LOUD_PINK = [0xc2, 0x18, 0x5b];
const LOUD_BLUE = [0x00, 0x77, 0xc8];
const multiplied = LOUD_PINK.map((v, i) => Math.round((v * LOUD_BLUE[i]) / 255));

interface Screen {
  page: Page;
  cdp: CDPSession;
  /** Where the two lines cross, and a place on each alone. */
  cross: [number, number];
  openStack(): Promise<void>;
  closeStack(): Promise<void>;
}

describe.each([
  ['a phone', PHONE, 195, 250],
  ['a wide screen', DESK, 640, 300],
])('layers on %s', (_name, viewport, x, y) => {
  async function screen(name: string, work: (s: Screen) => Promise<void>): Promise<void> {
    const { page, cdp, errors, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, name, '800', '900');
    const isLow = viewport === PHONE;
    const chip = page.getByRole('button', { expanded: false, name: /(Ink|Rough|Colour|locked|hidden)/ }).first();
    const list = page.getByRole('list', { name: 'Layers, top first' });
    const openStack = async () => {
      await unfold(page);
      if (isLow && !(await list.count())) await chip.click();
      await list.waitFor();
    };
    const closeStack = async () => {
      if (!isLow || !(await list.count())) return;
      await page.keyboard.press('Escape');
      // It goes a moment later; a key that something else took leaves it open.
      const chips = page.getByRole('button', { expanded: true, name: /(Ink|Rough|Colour)/ });
      await list.waitFor({ state: 'detached', timeout: 2000 }).catch(() => chips.last().click());
      await list.waitFor({ state: 'detached' });
    };
    await work({ page, cdp, cross: [x, y], openStack, closeStack });
    expect(errors).toEqual([]);
    await context.close();
  }

  /** Two crossing lines, the lower pink, the upper blue, each on its own layer. */
  async function crossed({ page, cdp, openStack, closeStack }: Screen): Promise<void> {
    await page
      .getByRole('radio', { name: /^Nib 24/ })
      .first()
      .click();
    await penStroke(cdp, straight(x - 70, y, x + 70, y));
    await openStack();
    await page.getByRole('button', { name: /^\+ Ink/ }).click();
    await closeStack();
    await penStroke(cdp, straight(x, y - 70, x, y + 70));
    await openStack();
    await colour(page, 'Lines', 'Loud pink');
    await colour(page, 'Lines 2', 'Loud blue');
    await saved(page);
  }

  /** Gives all lines of a layer a colour. */
  async function colour(page: Page, layer: string, name: string): Promise<void> {
    await more(page, layer);
    const colours = page.getByRole('radiogroup', { name: `Colour of all lines of ${layer}`, exact: true });
    await colours.getByRole('radio', { name }).click();
    await more(page, layer);
  }
  const more = (page: Page, layer: string) =>
    page.getByRole('button', { name: `More for ${layer}`, exact: true }).click();

  it('are blended, weakened together and sent as they look; merged only where the look stays', () =>
    screen('Blend', async (s) => {
      const { page, cross } = s;
      await crossed(s);
      isNear(await colourAt(page, ...cross), LOUD_BLUE);
      await more(page, 'Lines 2');
      await page.getByRole('radio', { name: 'Multiply' }).click();
      isNear(await colourAt(page, ...cross), multiplied);
      // Merging would change that: they go into a group, and that is said.
      await page.getByRole('button', { name: 'Merge down: Lines 2 into the layer below' }).click();
      await page.getByText(/One of them mixes with what is below.*They are together in a group instead/).waitFor();
      isNear(await colourAt(page, ...cross), multiplied);
      expect(await rowNames(page)).toEqual(['Lines and Lines 2', 'Lines 2', 'Lines']);
      // The group as a whole at half.
      await more(page, 'Lines and Lines 2');
      const opacity = page.getByRole('slider', { name: 'Opacity of Lines and Lines 2' });
      await opacity.focus();
      for (let i = 0; i < 5; i++) await page.keyboard.press('PageDown');
      const half = [...multiplied, ...LOUD_PINK].map((v) => Math.round(v * 0.5 + 127.5));
      isNear(await colourAt(page, ...cross), half.slice(0, 3));
      isNear(await colourAt(page, cross[0] + 50, cross[1]), half.slice(3));
      await saved(page);
      expect(await layerNamed(page, 'Lines and Lines 2')).toMatchObject({ opacity: 0.5, kind: 'group' });
      await page.reload();
      await page.getByTestId('paper').waitFor();
      isNear(await colourAt(page, ...cross), half.slice(0, 3));
      await goTo(page, 'Send');
      const { bytes } = await send(page, [], 'Send PNG');
      const { data, info } = await sharp(bytes).removeAlpha().raw().toBuffer({ resolveWithObject: true });
      // As the screen shows it, within 2 of 255.
      const colours: number[][] = [];
      for (let i = 0; i < data.length; i += info.channels) colours.push([...data.subarray(i, i + 3)]);
      const isSent = (wanted: number[]) => colours.some((c) => c.every((v, k) => Math.abs(v - wanted[k]) <= 2));
      expect([half.slice(0, 3), half.slice(3), LOUD_BLUE].map(isSent)).toEqual([true, true, false]);
    }));

  it('are merged down with one touch, and an undo parts them again', () =>
    screen('Merge', async (s) => {
      const { page, cross } = s;
      await crossed(s);
      await more(page, 'Lines 2');
      await page.getByRole('button', { name: 'Merge down: Lines 2 into the layer below' }).click();
      await page.getByRole('button', { name: 'More for Lines 2', exact: true }).waitFor({ state: 'detached' });
      isNear(await colourAt(page, ...cross), LOUD_BLUE);
      const lines = async () => (await inkOf(page, sheetId(page))).map((l) => l.layerId);
      await saved(page);
      expect(await lines()).toEqual(['lines', 'lines']);
      await page.keyboard.press('Control+z');
      await page.getByRole('button', { name: 'More for Lines 2', exact: true }).waitFor();
      await saved(page);
      expect(new Set(await lines()).size).toBe(2);
    }));

  it('several are picked at once, grouped, dragged by finger and by keys, folded, and looked at alone', () =>
    screen('Groups', async (s) => {
      const { page, cdp, cross, closeStack, openStack } = s;
      await crossed(s);
      await page.getByRole('button', { name: /^\+ Rough/ }).click();
      await page.getByRole('button', { name: 'More for Rough', exact: true }).waitFor();
      await page.getByRole('button', { name: /^Several/ }).click();
      await page.getByText('Touch the layers to pick them').waitFor();
      expect(await page.getByRole('button', { name: 'Delete', exact: true }).isDisabled()).toBe(true);
      await page.getByRole('checkbox', { name: 'Pick Lines', exact: true }).click();
      await page.getByRole('checkbox', { name: 'Pick Lines 2' }).click();
      await page.getByText('2 of 3 picked').waitFor();
      await page.getByRole('button', { name: 'Group 2 layers' }).click();
      await page.getByRole('button', { name: 'More for Group', exact: true }).waitFor();
      expect(await rowNames(page)).toEqual(['Rough', 'Group', 'Lines 2', 'Lines']);

      // With the keys: one place down is into the group.
      const grip = page.getByRole('button', { name: 'Drag Rough, or move it with the arrow keys' });
      await grip.focus();
      await page.keyboard.press('ArrowDown');
      await page.getByRole('listitem').nth(1).getByText('Rough').first().waitFor();
      expect(await rowNames(page)).toEqual(['Group', 'Rough', 'Lines 2', 'Lines']);
      const group = await layerNamed(page, 'Group');
      expect((await layerNamed(page, 'Rough')).parent).toBe(group.id);
      // By finger: one row down, and no further out.
      await grip.scrollIntoViewIfNeeded();
      const box = (await grip.boundingBox())!;
      const from = { x: box.x + 10, y: box.y + 20, id: 1 };
      await touch(cdp, 'touchStart', [from]);
      for (let i = 1; i <= 8; i++) await touch(cdp, 'touchMove', [{ ...from, y: from.y + 8 * i }]);
      await touch(cdp, 'touchEnd', []);
      await page.getByRole('listitem').nth(2).getByText('Rough').first().waitFor();
      expect(await rowNames(page)).toEqual(['Group', 'Lines 2', 'Rough', 'Lines']);
      expect((await layerNamed(page, 'Rough')).parent).toBe(group.id);

      await page.getByRole('button', { name: 'Close Group' }).click();
      await page.getByRole('button', { name: 'Open Group' }).waitFor();
      expect(await rowNames(page)).toEqual(['Group']);
      await page.getByRole('button', { name: 'Open Group' }).click();

      // Alone: what is not looked at is away, and comes back when something else is inked on.
      await more(page, 'Lines');
      await page.getByRole('button', { name: 'Solo: look at Lines alone' }).click();
      isNear(await colourAt(page, ...cross), LOUD_PINK);
      isNear(await colourAt(page, cross[0], cross[1] + 50), [255, 255, 255]);
      await page.getByRole('button', { name: 'Show all', exact: true }).click();
      isNear(await colourAt(page, cross[0], cross[1] + 50), LOUD_BLUE);
      await page.getByRole('button', { name: 'Solo: look at Lines alone' }).click();
      await page.getByRole('button', { name: 'Lines 2 Ink' }).last().click();
      expect(await page.getByRole('button', { name: 'Show all', exact: true }).count()).toBe(0);
      await closeStack();
      await openStack();
      isNear(await colourAt(page, ...cross), LOUD_BLUE);
    }));

  it('tell what goes with them when they are deleted, and bring it back', () =>
    screen('Delete', async (s) => {
      const { page, cross } = s;
      await crossed(s);
      await more(page, 'Lines 2');
      await page.getByText('Delete takes Lines 2, with 1 line. Undo brings it back.').waitFor();
      await page.getByRole('button', { name: 'Delete Lines 2, with 1 line' }).click();
      await page.getByText('Lines 2, with 1 line deleted.').waitFor();
      isNear(await colourAt(page, ...cross), LOUD_PINK);
      await page.getByRole('button', { name: 'Bring it back' }).click();
      isNear(await colourAt(page, ...cross), LOUD_BLUE);
    }));

  it('begin a second pass: a hushed rough below a fresh layer, where the next line lands', () =>
    screen('Passes', async ({ page, cdp, cross, openStack, closeStack }) => {
      await penStroke(cdp, straight(x - 70, y, x + 70, y));
      await openStack();
      await more(page, 'Lines');
      await page.getByRole('button', { name: /^Two passes/ }).click();
      await page.getByRole('button', { name: 'More for Lines 2', exact: true }).waitFor();
      expect(Object.fromEntries((await layersOf(page)).map((l) => [l.name, l.kind]))).toEqual({
        Lines: 'rough',
        'Lines 2': 'ink',
      });
      const [grey] = await colourAt(page, ...cross);
      expect(grey).toBeGreaterThan(110);
      await closeStack();
      await penStroke(cdp, straight(x, y - 70, x, y + 70));
      await saved(page);
      const second = await layerNamed(page, 'Lines 2');
      expect((await inkOf(page, sheetId(page))).map((l) => l.layerId).sort()).toEqual(['lines', second.id].sort());
      // Kinds are changed back by hand.
      await openStack();
      if (!(await page.getByRole('radio', { name: 'Rough', exact: true }).count())) await more(page, 'Lines');
      await page
        .getByRole('radiogroup', { name: 'Kind of Lines', exact: true })
        .getByRole('radio', { name: 'Colour' })
        .click();
      await page.getByText('Colour', { exact: true }).first().waitFor();
      expect((await layerNamed(page, 'Lines')).kind).toBe('colour');
      isNear(await colourAt(page, cross[0] + 50, cross[1]), [0, 0, 0]);
    }));
});
