import sharp from 'sharp';
import type { Page } from 'playwright-core';
import { curve, DESK, openPage, penStroke, PHONE, testApp } from './harness';
import { asked, inkOf, phonePhoto, settled, sheetId } from './sheet-driver';
import { until } from '../measures/until';

jest.setTimeout(120000);

const app = testApp();

interface Card {
  id: string;
  name: string;
  widthPx: number;
  heightPx: number;
  ppi: number;
  overviewSeq: number | null;
}

const cards = async (page: Page): Promise<Card[]> =>
  ((await (await asked(page, '/api/sheets')).json()) as { sheets: Card[] }).sheets;

it('says what to do when the drawer is empty', async () => {
  const { page, context } = await openPage(app.browser, PHONE);
  await page.goto(app.server.url);
  await page.getByText('The drawer is empty').waitFor();
  expect(await page.getByRole('button', { name: 'Start from a picture' }).count()).toBe(1);
  await context.close();
});

describe.each([
  ['a phone', PHONE],
  ['a wide screen', DESK],
])('the drawer on %s', (where, viewport) => {
  let page: Page;
  let cdp: Awaited<ReturnType<typeof openPage>>['cdp'];
  let errors: string[];
  beforeAll(async () => {
    ({ page, cdp, errors } = await openPage(app.browser, viewport));
    await page.goto(app.server.url);
  });
  afterAll(async () => {
    expect(errors).toEqual([]);
    await page.context().close();
  });
  const card = (name: string) => page.getByRole('link', { name });
  const menu = async (name: string, entry: string) => {
    await page.getByRole('button', { name: `More for ${name}`, exact: true }).click();
    await page.getByRole('button', { name: entry, exact: true }).click();
  };

  it('makes a sheet of ISO size with px, mm and ppi, upright or lying', async () => {
    await page.getByRole('button', { name: 'Blank sheet' }).click();
    await page.getByLabel('Name').fill(`Reeds, ${where}`);
    await page.getByRole('radio', { name: 'Lying' }).click();
    // ISO 216: A4 is 210 x 297 mm; at 300 ppi 3508 x 2480 px.
    const a4 = page.getByRole('radio', { name: /^A4/ });
    expect(await a4.textContent()).toMatch(/3508\s×\s2480.*297\s×\s210\smm/);
    await a4.click();
    await page.getByRole('button', { name: 'Make sheet' }).click();
    await page.getByTestId('paper').waitFor();
    const made = (await cards(page)).find((c) => c.id === sheetId(page))!;
    expect([made.name, made.widthPx, made.heightPx, made.ppi]).toEqual([`Reeds, ${where}`, 3508, 2480, 300]);
  });

  it('refuses papers that are too large or too small, and says so', async () => {
    await page.goto(app.server.url);
    await page.getByRole('button', { name: 'Blank sheet' }).click();
    await page.getByRole('radio', { name: /My own size/ }).click();
    // 2400 px at 300 ppi are 8 in, and 203.2 mm.
    await page.getByRole('radio', { name: 'mm', exact: true }).click();
    expect(await page.getByLabel('Width, mm').inputValue()).toBe('203.2');
    await page.getByLabel('Width, mm').fill('25,4');
    await page.getByText(/300\s×\s3200\spx, 25\s×\s271\smm/).waitFor();
    await page.getByRole('radio', { name: 'in', exact: true }).click();
    expect(await page.getByLabel('Width, in').inputValue()).toBe('1');
    await page.getByRole('radio', { name: 'px', exact: true }).click();
    for (const width of ['0', '99999', 'abc']) {
      await page.getByLabel('Width, px').fill(width);
      expect(await page.getByRole('button', { name: 'Make sheet' }).isDisabled()).toBe(true);
      expect(await page.getByRole('alert').count()).toBeGreaterThan(0);
    }
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Make sheet' }).waitFor({ state: 'detached' });
  });

  it('shows the ink in the small picture, though the sheet is left before it is saved', async () => {
    await card(`Reeds, ${where}`).click();
    await page.getByTestId('paper').waitFor();
    await settled(page);
    await page.route('**/steps', async (route) => {
      await new Promise((done) => setTimeout(done, 1000));
      await route.continue();
    });
    await penStroke(cdp, curve(viewport.width / 2 - 40, 250, viewport.width / 2 + 40, 270));
    await page.getByRole('button', { name: 'Show the title bar and the stops' }).click();
    await page.getByRole('button', { name: 'Back to the drawer' }).click();
    const { id } = (await cards(page)).find((c) => c.name === `Reeds, ${where}`)!;
    const overview = () => asked(page, `/api/sheets/${id}/overview`);
    await until(async () => (await overview()).ok(), 'a small picture', 100);
    await page.unrouteAll({ behavior: 'wait' });
    const { data } = await sharp(await (await overview()).body())
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(data.filter((v) => v < 128).length).toBeGreaterThan(20);
    await page.locator(`img[src*="${id}/overview"]`).waitFor();
  });

  it('renames, duplicates, deletes, and brings back what was deleted', async () => {
    const first = `Reeds, ${where}`;
    await page.getByRole('button', { name: `More for ${first}`, exact: true }).click();
    await page.getByLabel('Name').fill('');
    await page.getByText('A sheet needs a name.').waitFor();
    await page.getByLabel('Name').fill(`Rushes, ${where}`);
    await page.getByRole('button', { name: 'Rename' }).click();
    await card(`Rushes, ${where}`).waitFor();
    expect(await card(first).count()).toBe(0);

    await menu(`Rushes, ${where}`, 'Duplicate');
    await card(`Rushes, ${where} copy`).waitFor();
    const copy = (await cards(page)).find((c) => c.name.endsWith('copy'))!;
    expect([copy.widthPx, copy.heightPx]).toEqual([3508, 2480]);
    const strokes = await inkOf(page, copy.id);
    expect(strokes.map((s) => s.layerId)).toEqual(['lines']);

    await menu(`Rushes, ${where} copy`, 'Delete');
    await page.getByText('was deleted').waitFor();
    expect((await cards(page)).some((c) => c.id === copy.id)).toBe(false);
    await page.getByRole('button', { name: 'Bring it back' }).click();
    await card(`Rushes, ${where} copy`).waitFor();
    await menu(`Rushes, ${where} copy`, 'Delete');
    await card(`Rushes, ${where} copy`).waitFor({ state: 'detached' });
  });

  it('begins a sheet as large as a picture, with the picture placed on it', async () => {
    const { path } = await phonePhoto(app.server.data);
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Start from a picture' }).click(),
    ]);
    await chooser.setFiles(path);
    // Small, so larger paper is offered first; upright: the file itself lies on its side, 800 x 600.
    const paper = page.getByRole('radiogroup', { name: 'Paper' });
    await paper.getByText(/2400\s×\s3200\spx/).waitFor();
    await paper.getByRole('radio', { name: /As large as the picture/ }).click();
    expect(await page.getByLabel('Name').inputValue()).toBe('acanthus');
    await page.getByLabel('Name').fill('Leaf');
    await page.keyboard.press('Enter');
    await page.getByText('The picture stays where it is').waitFor();
    const made = (await cards(page)).find((c) => c.id === sheetId(page))!;
    expect([made.name, made.widthPx, made.heightPx]).toEqual(['Leaf', 600, 800]);
    await page.getByRole('button', { name: 'This sheet: Leaf' }).click();
    await page.getByText(/600\s×\s800\spx, 51\s×\s68\smm, 300\sppi/).waitFor();
    await page.getByLabel('Name').fill('Acanthus leaf');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'This sheet: Acanthus leaf' }).waitFor();
    expect((await cards(page)).find((c) => c.id === sheetId(page))!.name).toBe('Acanthus leaf');
    await page.getByRole('button', { name: 'This sheet: Acanthus leaf' }).click();
    await page.getByLabel('Width, px').fill('5');
    await page.getByText('A side must be at least 16 px.').waitFor();
    // The sheet is read anew with its new size.
    const change = () => page.getByRole('button', { name: 'Change', exact: true }).click();
    await page.getByLabel('Width, px').fill('900');
    await change();
    const widthNow = async () => (await cards(page)).find((c) => c.id === made.id)?.widthPx;
    const reaches = async (width: number) => {
      await until(async () => (await widthNow()) === width, `${width} px wide`, 100);
      await settled(page);
      await page.getByText('The picture stays where it is').waitFor();
      expect([await widthNow(), sheetId(page), page.url().split('/').pop()]).toEqual([width, made.id, 'place']);
    };
    await reaches(900);
    await page.getByRole('button', { name: 'This sheet: Acanthus leaf' }).click();
    expect(await page.getByLabel('Width, px').inputValue()).toBe('900');
    await page.getByLabel('Width, px').fill('600');
    await change();
    await reaches(600);
  });

  it('says so when the server is away, and shows everything when it is back', async () => {
    await page.goto(app.server.url);
    await card(`Rushes, ${where}`).waitFor();
    await app.server.kill();
    await menu(`Rushes, ${where}`, 'Duplicate');
    await page.getByText(/cannot reach its server.*Nothing was changed/).waitFor();
    await app.server.start();
    await page.keyboard.press('Escape');
    await page.reload();
    await card(`Rushes, ${where}`).waitFor();
    expect((await cards(page)).some((c) => c.name.endsWith('copy'))).toBe(false);
  });
});
