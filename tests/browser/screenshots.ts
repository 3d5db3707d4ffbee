// Takes the pictures of docs/screenshots from the demo data: npm run shots
import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { DESK, launch, openPage, PHONE, TestServer } from './harness';
import { settled } from './sheet-driver';

const root = process.cwd();
const folder = join(root, 'docs/screenshots');
const SHEET = 'heron-at-the-jetty';

/** Fills a test server's folder with the demo's data. */
export function fillDemoData(data: string): void {
  execFileSync(join(root, 'node_modules/.bin/tsx'), [join(root, 'demo/fill.ts'), data], { stdio: 'inherit' });
}

/** Waits until the sheet is painted: its tiles, its picture, its thumbnails. */
export async function painted(page: Page): Promise<void> {
  await page.getByTestId('paper').waitFor();
  await page.waitForLoadState('networkidle');
  // The sheet's small picture lies over it until all in sight is painted.
  await page.locator('img[src*="/overview"]').first().waitFor({ state: 'detached', timeout: 30000 });
  await settled(page);
}

async function main(): Promise<void> {
  mkdirSync(folder, { recursive: true });
  const only = process.argv[2];
  const server = new TestServer();
  fillDemoData(server.data);
  await server.start(0);
  const browser = await launch();
  for (const [size, viewport] of [
    ['phone', PHONE],
    ['wide', DESK],
  ] as const) {
    const { context, page } = await openPage(browser, viewport, { colorScheme: 'light' });
    const shot = async (name: string) => {
      if (!only || `${name}-${size}`.includes(only))
        await page.screenshot({ path: join(folder, `${name}-${size}.png`) });
    };
    await page.goto(server.url);
    await page.getByText('Heron at the jetty').waitFor();
    await page.waitForLoadState('networkidle');
    await shot('drawer');
    for (const stop of size === 'phone' ? ['place', 'ink', 'send'] : ['place', 'ink']) {
      await page.goto(`${server.url}/sheet/${SHEET}/${stop}`);
      await painted(page);
      await shot(stop);
    }
    if (size === 'phone') {
      await page.goto(`${server.url}/sheet/${SHEET}/ink`);
      await painted(page);
      await page.getByRole('button', { name: /Jetty and reeds Ink/ }).click();
      await settled(page);
      await shot('stack');
      await page.goto(`${server.url}/sheet/${SHEET}/ink`);
      await painted(page);
      await page.getByRole('button', { name: /^Edit lines/ }).click();
      // A reed, and with it those around.
      const loop: [number, number][] = [
        [24, 236],
        [104, 236],
        [150, 330],
        [104, 470],
        [24, 470],
        [24, 240],
      ];
      await page.mouse.move(...loop[0]);
      await page.mouse.down();
      for (const place of loop) await page.mouse.move(...place, { steps: 6 });
      await page.mouse.up();
      await settled(page);
      await shot('edit');
      await page.goto(`${server.url}/sheet/${SHEET}/place`);
      await painted(page);
      await page.getByRole('radio', { name: 'Crop' }).click();
      await page.getByRole('slider', { name: 'Straighten, degrees' }).focus();
      for (let i = 0; i < 4; i++) await page.keyboard.press('PageUp');
      await settled(page);
      await shot('crop');
      await page.getByRole('radio', { name: 'Tone' }).click();
      await page.getByRole('radio', { name: 'Separate shadows' }).click();
      await settled(page);
      await page.getByRole('button', { name: 'Touch a shadow' }).scrollIntoViewIfNeeded();
      await settled(page);
      await shot('tone');
      // The other pictures show the photo as it came.
      await page.getByRole('button', { name: /^Undo/ }).click();
      await page.getByText('Saved', { exact: true }).waitFor();
    }
    if (size === 'phone') {
      await page.goto(`${server.url}/sheet/${SHEET}/colour`);
      await painted(page);
      await page.getByRole('button', { name: 'Show the unfilled shapes on the paper' }).click();
      await settled(page);
      await shot('colour');
    }
    await page.goto(`${server.url}/sheet/${SHEET}/check`);
    await painted(page);
    await page.getByRole('button', { name: /^Missed \d/ }).waitFor();
    if (size === 'phone') {
      // A gap from near, in the lines alone.
      await page.getByRole('button', { name: 'Lines only' }).click();
      await page.getByRole('button', { name: /^Leaks/ }).click();
      await page.getByRole('button', { name: 'The finding after' }).click();
    } else {
      await page.getByRole('button', { name: /^Curtain/ }).click();
      await page.getByRole('button', { name: /^Missed/ }).click();
      await page.keyboard.press('0');
    }
    await settled(page);
    await shot('check');
    if (size === 'phone') {
      await page.goto(`${server.url}/sheet/ferry-bell/place`);
      await painted(page);
      await page.getByRole('radio', { name: 'Lift' }).click();
      await page.getByRole('slider', { name: 'Picture opacity' }).focus();
      await page.keyboard.press('End');
      await page.getByRole('button', { name: 'Divider: as it came beside as made' }).click();
      await settled(page);
      await shot('lift');
    } else {
      await page.goto(`${server.url}/sheet/ferry-bell/colour`);
      await painted(page);
      await page.getByRole('radio', { name: 'Text', exact: true }).click();
      await page.getByRole('radio', { name: 'Ring twice for the ferry' }).click();
      await settled(page);
      await shot('colour');
      await page.goto(`${server.url}/sheet/ferry-bell/place`);
      await painted(page);
      for (const layer of ['Ferry bell', 'Shading', 'Flats', 'Ring twice for the ferry'])
        await page.getByRole('button', { name: `Hide ${layer}`, exact: true }).click();
      await page.getByRole('radio', { name: 'Trace' }).click();
      await page.getByText(/points, at most/).waitFor({ timeout: 30000 });
      await page.mouse.move(640, 330);
      await page.keyboard.down('Control');
      for (let i = 0; i < 2; i++) await page.mouse.wheel(0, -240);
      await page.keyboard.up('Control');
      await settled(page);
      await shot('trace');
    }
    await context.close();
  }
  const side = await openPage(browser, { width: PHONE.height, height: PHONE.width }, { colorScheme: 'light' });
  await side.page.goto(`${server.url}/sheet/${SHEET}/ink`);
  await painted(side.page);
  if (!only || 'ink-side'.includes(only)) await side.page.screenshot({ path: join(folder, 'ink-side.png') });
  const { page } = await openPage(browser, DESK, { colorScheme: 'dark' });
  await page.goto(`${server.url}/sheet/${SHEET}/ink`);
  await painted(page);
  if (!only || 'ink-dark'.includes(only)) await page.screenshot({ path: join(folder, 'ink-dark.png') });
  await browser.close();
  await server.remove();
  process.exit(0);
}

if (process.argv[1]?.endsWith('screenshots.ts')) void main();
