import { join } from 'node:path';
import sharp from 'sharp';
import { DESK, openPage, testApp } from './harness';
import { choose, goTo, newSheet, settled, stepsReach } from './sheet-driver';

jest.setTimeout(180000);

const app = testApp();

/** As large as a device gets a picture, and noisy: that takes its time. */
async function largePhoto(path: string): Promise<string> {
  const noise = { type: 'gaussian' as const, mean: 150, sigma: 40 };
  await sharp({ create: { width: 4096, height: 3072, channels: 3, background: '#888', noise } })
    .jpeg({ quality: 60 })
    .toFile(path);
  return path;
}

it('says how far a picture is that takes long, and stops: coarse then, and finished when it is wanted', async () => {
  const { page, errors } = await openPage(app.browser, DESK);
  await newSheet(page, app.server.url, 'Long work', '4096', '3072');
  await goTo(page, 'Place');
  await choose(page, 'Add picture', await largePhoto(join(app.server.data, 'large.jpg')));
  await stepsReach(page, 1);
  await page.getByTestId('paper').hover({ position: { x: 640, y: 400 } });
  await page.keyboard.down('Control');
  for (let n = 0; n < 12; n++) await page.mouse.wheel(0, -240);
  await page.keyboard.up('Control');
  const working = page.getByRole('progressbar', { name: /Working the picture out/ });
  await page.getByRole('radio', { name: 'Lift' }).click();
  await page.getByRole('button', { name: 'Lift the lines' }).click();
  await working.waitFor();
  expect(Number(await working.getAttribute('aria-valuenow'))).toBeLessThan(100);
  await page.getByRole('button', { name: 'Stop' }).click();
  await page.getByText('Stopped: shown coarsely. What was done is kept.').waitFor();
  await stepsReach(page, 2);
  await settled(page);
  expect(await working.count()).toBe(0);
  await page.getByRole('button', { name: 'Finish it' }).click();
  await working.waitFor();
  expect(await page.getByText('Stopped: shown coarsely').count()).toBe(0);
  await working.waitFor({ state: 'detached', timeout: 60000 });
  // Stopped, and then changed: nothing speaks of it any more.
  expect(await page.getByRole('button', { name: 'Finish it' }).count()).toBe(0);
  expect(errors).toEqual([]);
});
