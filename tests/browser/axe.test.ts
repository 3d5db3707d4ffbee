import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { DESK, openPage, PHONE, testApp } from './harness';
import { fillDemoData, painted } from './screenshots';
import { settled } from './sheet-driver';

const AXE = readFileSync(join(__dirname, '../../node_modules/axe-core/axe.min.js'), 'utf8');

// All screens one after the other: a minute and a half where nothing else runs.
jest.setTimeout(300000);

const app = testApp(fillDemoData);

interface Violation {
  id: string;
  impact: string;
  nodes: { html: string; failureSummary: string }[];
}

/** What axe-core finds that is serious or critical. */
async function serious(page: Page): Promise<string[]> {
  await page.evaluate(AXE);
  const { violations } = (await page.evaluate('axe.run()')) as { violations: Violation[] };
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${v.id}: ${v.nodes.map((n) => `${n.html.slice(0, 160)} ${n.failureSummary}`).join('; ')}`);
}

/** The tools of Place, with all that they unfold, and the list of pictures. */
async function placeTools(page: Page): Promise<Record<string, string[]>> {
  const found: Record<string, string[]> = {};
  for (const fold of ['Numbers', 'Guides']) await page.getByRole('button', { name: fold }).click();
  found.lay = await serious(page);
  await page.getByRole('radio', { name: 'Crop' }).click();
  await page.getByRole('slider', { name: 'Straighten, degrees' }).waitFor();
  found.crop = await serious(page);
  await page.getByRole('radio', { name: 'A page, by its corners' }).click();
  found.page = await serious(page);
  await page.getByRole('radio', { name: 'Tone' }).click();
  await page.getByRole('button', { name: 'More', exact: true }).click();
  found.tone = await serious(page);
  for (const fold of ['Your own tones', 'Tone steps', 'Edges', 'Palette'])
    await page.getByRole('button', { name: new RegExp(`^${fold}`) }).click();
  await page.getByRole('button', { name: 'Divider: as it came beside as made' }).click();
  found.moreTone = await serious(page);
  await page.getByRole('radio', { name: 'Lift' }).click();
  await page.getByRole('button', { name: 'Lift the lines' }).click();
  await page.getByRole('button', { name: 'Light, tint' }).click();
  found.lift = await serious(page);
  await page.getByRole('radio', { name: 'Trace' }).click();
  await page.getByText(/points, at most|no lines here/).waitFor({ timeout: 30000 });
  found.trace = await serious(page);
  await page.getByRole('radio', { name: 'Lift' }).click();
  await page.getByRole('button', { name: 'Light, tint' }).click();
  await page.getByRole('button', { name: 'Not lifted' }).click();
  await page.getByRole('button', { name: /^Picture: / }).click();
  found.pictures = await serious(page);
  return found;
}

/** What Check finds, with its dials and lists. */
async function finders(page: Page): Promise<Record<string, string[]>> {
  const found: Record<string, string[]> = {};
  await page.getByRole('button', { name: /^Curtain/ }).click();
  for (const finder of ['Missed', 'Off', 'Leaks', 'Thin']) {
    await page.getByRole('button', { name: new RegExp(`^${finder} \\d`) }).click();
    const dials = page.getByRole('button', { name: 'Dials of what is found' });
    if (await dials.count()) await dials.click();
    await settled(page);
    found[finder] = await serious(page);
  }
  return found;
}

/** All that is set of colour, while one is taken, and where it is taken from; and of a text. */
async function colours(page: Page): Promise<Record<string, string[]>> {
  const found: Record<string, string[]> = {};
  const open = page.getByRole('button', { name: 'Open the colour and its settings' });
  if (await open.count()) await open.click();
  for (const fold of ['Colours of the picture', 'Swatches of this sheet'])
    await page.getByRole('button', { name: fold, exact: true }).click();
  await settled(page);
  found['colour settings'] = await serious(page);
  await page.getByRole('button', { name: 'Take a colour from the picture' }).click();
  await settled(page);
  found['taking a colour'] = await serious(page);
  await page.getByRole('button', { name: 'Take no colour' }).click();
  await page.getByRole('radio', { name: 'Text', exact: true }).click();
  await page.getByRole('button', { name: 'New text' }).click();
  await page.getByLabel('What the text says').fill('Tern 漢');
  await page.getByRole('radiogroup', { name: 'Texts of this sheet' }).waitFor();
  await page.getByRole('switch', { name: 'Outline around the letters' }).click();
  await page.getByText(/^This font has no letter for/).waitFor();
  found['a text'] = await serious(page);
  return found;
}

describe.each([
  ['a phone', PHONE, 'light'],
  ['a phone', PHONE, 'dark'],
  ['a wide screen', DESK, 'light'],
  ['a wide screen', DESK, 'dark'],
] as const)('axe-core finds nothing serious on %s', (_name, viewport, colorScheme) => {
  it(`in the ${colorScheme} theme`, async () => {
    const { page, context } = await openPage(app.browser, viewport, { colorScheme });
    await page.goto(app.server.url);
    await page.getByText('Heron at the jetty').waitFor();
    const found: Record<string, string[]> = { drawer: await serious(page) };
    await page.getByRole('button', { name: 'Blank sheet' }).click();
    await page.getByRole('button', { name: 'Make sheet' }).waitFor();
    await settled(page);
    found['new sheet'] = await serious(page);
    for (const stop of ['place', 'ink', 'check', 'colour', 'send']) {
      await page.goto(`${app.server.url}/sheet/heron-at-the-jetty/${stop}`);
      await painted(page);
      found[stop] = await serious(page);
      if (stop === 'place') Object.assign(found, await placeTools(page));
      if (stop === 'check') Object.assign(found, await finders(page));
      if (stop === 'colour') Object.assign(found, await colours(page));
      const stack = page.getByRole('button', { name: /Jetty and reeds Ink/ });
      if (await stack.count()) {
        await stack.click();
        await page.getByRole('button', { name: 'More for Heron', exact: true }).click();
        found.stack = await serious(page);
      }
    }
    await page.goto(`${app.server.url}/keys`);
    await page.getByText('Peek: picture').waitFor();
    found.keys = await serious(page);
    await context.close();
    expect(Object.fromEntries(Object.entries(found).filter(([, v]) => v.length))).toEqual({});
  });
});
