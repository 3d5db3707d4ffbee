import { join } from 'node:path';
import sharp from 'sharp';
import type { Page } from 'playwright-core';
import { DESK, openPage, PHONE, testApp } from './harness';
import { asked, choose, goTo, newSheet, picturesOf, send, settled, sheetId, steps, stepsReach } from './sheet-driver';

jest.setTimeout(120000);

const app = testApp();
/** A page of our own, photographed askew on a table in uneven light. */
const PAGE = join(process.cwd(), 'demo/bell/photo.jpg');

const layersOf = async (page: Page) => {
  const head = (await (await asked(page, `/api/sheets/${sheetId(page)}`)).json()) as {
    layers: { id: string; kind: string; name: string; visible: boolean; recipe?: { kind: string; keep: number }[] }[];
  };
  return head.layers;
};

describe.each([
  ['a phone', PHONE],
  ['a wide screen', DESK],
])('lifting on %s', (_name, viewport) => {
  let page: Page;
  let errors: string[];
  beforeAll(async () => {
    ({ page, errors } = await openPage(app.browser, viewport));
    await newSheet(page, app.server.url, `Lift ${viewport.width}`, '900', '1200');
    await goTo(page, 'Place');
    await choose(page, 'Add picture', PAGE);
    await stepsReach(page, 1);
    await page.getByRole('slider', { name: 'Picture opacity' }).focus();
    await page.keyboard.press('End');
    await stepsReach(page, 2);
    await page.getByRole('radio', { name: 'Crop' }).click();
    await page.getByRole('radio', { name: 'A page, by its corners' }).click();
    await page.getByRole('button', { name: 'Find the page' }).click();
    await settled(page);
    await page.getByRole('button', { name: 'Square up' }).click();
    await stepsReach(page, 3);
    await page.getByRole('radio', { name: 'Lift' }).click();
  });
  afterAll(() => expect(errors).toEqual([]));

  const recipe = async () => (await picturesOf(page))[0].recipe ?? [];
  /** The part of the paper on the screen that is of the loud ground's colour, and that is dark. */
  async function seen(): Promise<{ loud: number; dark: number }> {
    await settled(page);
    const { data, info } = await sharp(await page.getByTestId('paper').screenshot())
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    let [n, loud, dark] = [0, 0, 0];
    // The paper's own middle: bars lie over the rest.
    for (let y = Math.floor(info.height * 0.14); y < info.height * 0.3; y++)
      for (let x = Math.floor(info.width * 0.42); x < info.width * 0.58; x++) {
        const [r, g, b] = data.subarray(3 * (y * info.width + x), 3 * (y * info.width + x) + 3);
        n++;
        if (g > r && r > b + 60 && g > 180) loud++;
        if (Math.max(r, g, b) < 110) dark++;
      }
    return { loud: loud / n, dark: dark / n };
  }

  it('makes lines on clear paper in one step: on a loud ground the paper is gone, the lines are there', async () => {
    if (viewport === PHONE) await page.getByRole('button', { name: 'Lift the lines' }).scrollIntoViewIfNeeded();
    await page.getByRole('button', { name: 'Lift the lines' }).click();
    await stepsReach(page, 4);
    expect((await recipe()).map(({ kind }) => kind)).toEqual(['crop', 'even', 'lift']);
    await page.getByRole('radio', { name: 'Loud' }).first().click();
    const { loud, dark } = await seen();
    expect(loud).toBeGreaterThan(0.75);
    expect(dark).toBeGreaterThan(0.002);
    expect(await steps(page)).toBe(4);
  });

  it('has a dial for how much survives, live, one step; specks are dropped by size', async () => {
    const keep = page.getByRole('slider', { name: 'How much survives of faint lines' });
    await keep.focus();
    const before = (await recipe()).at(-1)!.keep;
    const few = await seen();
    for (let i = 0; i < 3; i++) await page.keyboard.press('PageUp');
    await stepsReach(page, 5);
    expect((await recipe()).at(-1)!.keep).toBeCloseTo(before + 0.3, 6);
    expect((await seen()).dark).toBeGreaterThanOrEqual(few.dark);
    await page.getByRole('slider', { name: /^Specks up to/ }).focus();
    await page.keyboard.press('ArrowRight');
    await stepsReach(page, 6);
  });

  it('takes a touched paper and a touched line, and shows the page as it came meanwhile', async () => {
    const was = (await recipe()).at(-1)!;
    await page.getByRole('button', { name: 'Touch the paper' }).click();
    await page.getByRole('img', { name: 'Touch the bare paper' }).waitFor();
    expect((await seen()).loud).toBeLessThan(0.05);
    const box = (await page.getByTestId('touch-tone').boundingBox())!;
    await page.mouse.click(box.x + box.width * 0.5, box.y + box.height * (viewport === PHONE ? 0.11 : 0.14));
    await stepsReach(page, 7);
    expect((await recipe()).at(-1)!.paper).not.toBe(was.paper);
    expect((await seen()).loud).toBeGreaterThan(0.7);
  });

  it('is a reference to ink over, or a layer that is sent: both follow their recipe, and undo takes it away', async () => {
    await page.getByRole('button', { name: 'As a lifted layer' }).click();
    await stepsReach(page, 8);
    const layers = await layersOf(page);
    expect(layers.map(({ kind, visible }) => `${kind} ${visible}`).sort()).toEqual(['ink true', 'lifted true', 'reference false']); // prettier-ignore
    await page.getByText('A lifted layer is work: it is sent, and takes no ink.').waitFor();
    const keep = page.getByRole('slider', { name: 'How much survives of faint lines' });
    await keep.focus();
    await page.keyboard.press('Home');
    await stepsReach(page, 9);
    const [lifted, photo] = ['lifted', 'reference'].map((kind) => layers.find((l) => l.kind === kind)!.id);
    const now = new Map((await layersOf(page)).map((l) => [l.id, l.recipe?.at(-1)?.keep]));
    expect([now.get(lifted), now.get(photo)! > 0.5]).toEqual([0, true]);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await stepsReach(page, 10);
  });

  it('leaves in a PNG on nothing, and in an SVG as a picture', async () => {
    await goTo(page, 'Send');
    const png = await send(page, ['PNG', 'Transparent'], 'Send PNG');
    const { data, info } = await sharp(png.bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([900, 1200]);
    let [clear, full] = [0, 0];
    for (let at = 3; at < data.length; at += 4) {
      if (data[at] === 0) clear++;
      if (data[at] > 200) full++;
    }
    expect(clear / (900 * 1200)).toBeGreaterThan(0.85);
    expect(full).toBeGreaterThan(8000);
    const svg = await send(page, ['SVG'], 'Send SVG');
    expect(svg.bytes.toString()).toContain('<image ');
  });
});
