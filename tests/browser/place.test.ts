import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { CDPSession, Page } from 'playwright-core';
import { curve, openPage, penStroke, PHONE, saved, testApp, touch } from './harness';
import { choose, goTo, inkOf, newSheet, phonePhoto, sheetId, steps, stepsReach } from './sheet-driver';

jest.setTimeout(120000);

const app = testApp();
let page: Page;
let cdp: CDPSession;
let errors: string[];

beforeAll(async () => {
  ({ page, cdp, errors } = await openPage(app.browser, PHONE));
  await newSheet(page, app.server.url, 'Placing');
  await goTo(page, 'Place');
});
afterAll(() => expect(errors).toEqual([]));

interface Placement {
  cx: number;
  cy: number;
  scale: number;
  turnDeg: number;
  mirrored: boolean;
}

/** Where the server has the first picture. */
async function placement(): Promise<Placement> {
  const head = (await (await page.request.get(`${app.server.url}/api/sheets/${sheetId(page)}`)).json()) as {
    layers: { kind: string; deleted: boolean; placement?: Placement }[];
  };
  return head.layers.find((l) => l.kind === 'reference' && !l.deleted)!.placement!;
}

/** Does something that is one step, waits for it, and gives the placement then. */
async function after(act: () => Promise<void>): Promise<Placement> {
  const before = await steps(page);
  await act();
  await stepsReach(page, before + 1);
  return placement();
}

async function fingers(path: (u: number) => { x: number; y: number }[]): Promise<void> {
  const at = (u: number) => path(u).map((p, id) => ({ ...p, id }));
  await touch(cdp, 'touchStart', at(0).slice(0, 1));
  if (path(0).length > 1) await touch(cdp, 'touchStart', at(0));
  for (let i = 1; i <= 10; i++) await touch(cdp, 'touchMove', at(i / 10));
  await touch(cdp, 'touchEnd', []);
}

async function dragHandle(name: string, nth: number, dx: number, dy: number): Promise<void> {
  const box = (await page.getByTestId(`handle-${name}`).nth(nth).boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let i = 1; i <= 8; i++) await page.mouse.move(x + (dx * i) / 8, y + (dy * i) / 8);
  await page.mouse.up();
}

describe('bad pictures are told, and leave everything as it was', () => {
  const file = (name: string, bytes: Buffer | string) => {
    const path = join(app.server.data, name);
    writeFileSync(path, bytes);
    return path;
  };
  const noise = () => sharp({ create: { width: 300, height: 300, channels: 3, background: '#88aacc' } });

  it.each<[string, RegExp, () => Promise<string>]>([
    ['an empty file', /This file is empty/, async () => file('empty.jpg', '')],
    ['a text', /not a picture that can be opened/, async () => file('notes.png', 'a list of reeds')],
    [
      'a JPEG cut short',
      /damaged or cut short/,
      async () => {
        const whole = await noise().jpeg().toBuffer();
        return file('cut.jpg', whole.subarray(0, Math.floor(whole.length * 0.6)));
      },
    ],
    [
      'over 100 megapixels',
      /at most 100 million/,
      async () =>
        file(
          'huge.png',
          await sharp({ create: { width: 10100, height: 10000, channels: 3, background: '#ffffff' } })
            .png({ compressionLevel: 9 })
            .toBuffer(),
        ),
    ],
    ['over 50 MB', /a picture may have 50 MB/, async () => file('heavy.png', Buffer.alloc(51 * 1024 * 1024))],
  ])('%s', async (_name, message, make) => {
    const before = await steps(page);
    await choose(page, 'Add picture', await make());
    await page.getByText(message).waitFor({ timeout: 20000 });
    await page.getByRole('button', { name: 'Put this message away' }).click();
    expect(await steps(page)).toBe(before);
    expect((await page.request.get(`${app.server.url}/api/sheets`)).ok()).toBe(true);
    await page.getByRole('button', { name: 'Add picture' }).waitFor();
  });
});

it('takes a 12-megapixel photo with progress shown, stops when told to, and keeps its bytes untouched', async () => {
  const path = join(app.server.data, 'large.jpg');
  const noise = { type: 'gaussian' as const, mean: 128, sigma: 30 };
  const bytes = await sharp({ create: { width: 4000, height: 3000, channels: 3, background: '#888888', noise } })
    .jpeg({ quality: 90 })
    .toBuffer();
  writeFileSync(path, bytes);
  const before = await steps(page);
  await choose(page, 'Add picture', path);
  await page.getByRole('progressbar').waitFor();
  await page.getByRole('button', { name: 'Stop' }).click();
  await page.getByRole('button', { name: 'Add picture', exact: true }).waitFor();
  await page.waitForTimeout(1500);
  expect(await steps(page)).toBe(before);

  await choose(page, 'Add picture', path);
  await page.getByText('The picture stays where it is').waitFor({ timeout: 20000 });
  await stepsReach(page, before + 1);
  // 4000 x 3000 px in a paper of 600 x 800: as wide as the paper.
  expect((await placement()).scale).toBeCloseTo(600 / 4000, 9);
  const hash = createHash('sha256').update(bytes).digest('hex');
  const original = await page.request.get(`${app.server.url}/api/pictures/${hash}/original`);
  expect((await original.body()).equals(bytes)).toBe(true);
  const working = await sharp(await (await page.request.get(`${app.server.url}/api/pictures/${hash}/working`)).body());
  expect((await working.metadata()).width).toBe(4000);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await stepsReach(page, before + 2);
});

it('asks the camera for a photo, the one that looks away from the artist', async () => {
  const before = await steps(page);
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Take a photo' }).click(),
  ]);
  // W3C HTML Media Capture: "environment" is the camera at the back.
  expect(await chooser.element().getAttribute('capture')).toBe('environment');
  expect(await chooser.element().getAttribute('accept')).toContain('image/jpeg');
  await page.waitForTimeout(300);
  expect(await steps(page)).toBe(before);
});

describe('a picture is placed by fingers, handles, buttons and keys', () => {
  beforeAll(async () => {
    const { path } = await phonePhoto(app.server.data);
    await choose(page, 'Add picture', path);
    await page.getByText('The picture stays where it is').waitFor();
    await saved(page);
  });

  it('arrives fitted and centred, and stays while "Move picture" is off', async () => {
    expect(await placement()).toEqual({ cx: 300, cy: 400, scale: 1, turnDeg: 0, mirrored: false });
    const before = await steps(page);
    await fingers((u) => [{ x: 150 + 60 * u, y: 200 }]);
    await page.waitForTimeout(500);
    expect(await steps(page)).toBe(before);
    expect(await page.getByTestId('handle-scale').count()).toBe(0);
  });

  it('is dragged by one finger, in one step', async () => {
    await page.getByRole('button', { name: /Zoom and turn/ }).click();
    await page.getByRole('button', { name: 'Move picture' }).click();
    const { cx, cy, scale } = await after(() => fingers((u) => [{ x: 150 + 40 * u, y: 200 + 20 * u }]));
    expect(scale).toBe(1);
    expect(cx).toBeGreaterThan(340);
    expect((cx - 300) / (cy - 400)).toBeCloseTo(2, 1);
  });

  it('is scaled and turned by two fingers', async () => {
    const found = await after(() =>
      fingers((u) => {
        const angle = (u * 30 * Math.PI) / 180;
        const r = 40 + 40 * u;
        const [x, y] = [r * Math.cos(angle), r * Math.sin(angle)];
        return [
          { x: 195 - x, y: 220 - y },
          { x: 195 + x, y: 220 + y },
        ];
      }),
    );
    expect(found.scale).toBeCloseTo(2, 1);
    expect(found.turnDeg).toBeCloseTo(30, 0);
  });

  it('is reset to where it came', async () => {
    expect(await after(() => page.getByRole('button', { name: 'Reset' }).click())).toMatchObject({
      cx: 300,
      cy: 400,
      scale: 1,
      turnDeg: 0,
    });
  });

  it('has its handles within reach when it fills the paper, beside and not beneath the bars', async () => {
    for (const [name, count] of [
      ['scale', 4],
      ['turn', 1],
    ] as const)
      for (let i = 0; i < count; i++) {
        const box = (await page.getByTestId(`handle-${name}`).nth(i).boundingBox())!;
        const hit = await page.evaluate(
          ([x, y]) => document.elementFromPoint(x, y)?.closest('[data-testid^=handle]')?.getAttribute('data-testid'),
          [box.x + 22, box.y + 22],
        );
        expect(hit).toBe(`handle-${name}`);
      }
    expect((await after(() => dragHandle('turn', 0, 50, 10))).turnDeg).toBeGreaterThan(2);
    await after(() => page.getByRole('button', { name: 'Reset' }).click());
  });

  it('is scaled about its centre by a corner, and turned by the stem, at rest level', async () => {
    const smaller = await after(() => dragHandle('scale', 2, -60, -80));
    expect(smaller.scale).toBeGreaterThan(0.3);
    expect(smaller.scale).toBeLessThan(0.8);
    expect([smaller.cx, smaller.cy]).toEqual([expect.closeTo(300, 6), expect.closeTo(400, 6)]);
    const turned = await after(() => dragHandle('turn', 0, 60, 20));
    expect(turned.turnDeg).toBeGreaterThan(10);
    expect(turned.turnDeg).toBeLessThan(60);
    expect(turned.scale).toBeCloseTo(smaller.scale, 9);
  });

  it('is mirrored, turned by quarters and scaled by buttons, and undone step by step', async () => {
    const first = await placement();
    const mirrored = await after(() => page.getByRole('button', { name: 'Mirror' }).click());
    expect(mirrored).toEqual({ ...first, mirrored: true });
    const turned = await after(() => page.getByRole('button', { name: 'Quarter turn right' }).click());
    expect(turned.turnDeg).toBeCloseTo(first.turnDeg + 90, 6);
    const larger = await after(() => page.getByRole('button', { name: 'Larger' }).click());
    expect(larger.scale).toBeCloseTo(first.scale * 1.05, 6);
    for (let i = 0; i < 3; i++) await after(() => page.getByRole('button', { name: /^Undo/ }).click());
    expect(await placement()).toEqual(first);
  });

  it('is moved by keys: arrows, and a degree at a time', async () => {
    const first = await placement();
    await page.getByTestId('paper').click({ position: { x: 20, y: 120 } });
    const moved = await after(() => page.keyboard.press('ArrowRight'));
    expect(moved.cx).toBeGreaterThan(first.cx);
    expect(moved.cy).toBeCloseTo(first.cy, 9);
    const turned = await after(() => page.keyboard.press('.'));
    expect(turned.turnDeg).toBeCloseTo(first.turnDeg + 1, 6);
  });

  it('asks whether the ink goes along, and takes it along in the same step', async () => {
    await goTo(page, 'Ink');
    await penStroke(cdp, curve(110, 250, 280, 260));
    await saved(page);
    await goTo(page, 'Place');
    await page.getByRole('button', { name: 'Move picture' }).click();
    await page.getByRole('button', { name: 'Move the ink along' }).click();
    const before = await placement();
    const now = await after(() => fingers((u) => [{ x: 150 + 40 * u, y: 200 }]));
    const [{ matrix }] = await inkOf(page, sheetId(page));
    expect(matrix[4]).toBeCloseTo(now.cx - before.cx, 6);
    expect(matrix[4]).toBeGreaterThan(20);
  });
});
