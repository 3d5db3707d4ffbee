import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { CDPSession, Page } from 'playwright-core';
import { curve, openPage, penStroke, PHONE, saved, testApp, touch } from './harness';
import {
  asked,
  choose,
  goTo,
  inkOf,
  newSheet,
  phonePhoto,
  picturesOf,
  type PlacedPicture,
  settled,
  sheetId,
  steps,
  stepsReach,
} from './sheet-driver';

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

type Placement = PlacedPicture['placement'];

/** Where the server has the first picture. */
const placement = async (): Promise<Placement> => (await picturesOf(page))[0].placement;

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
    expect((await asked(page, '/api/sheets')).ok()).toBe(true);
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
  await settled(page);
  expect(await steps(page)).toBe(before);

  await choose(page, 'Add picture', path);
  await page.getByText('The picture stays where it is').waitFor({ timeout: 20000 });
  await stepsReach(page, before + 1);
  // 4000 x 3000 px in a paper of 600 x 800: as wide as the paper.
  expect((await placement()).scale).toBeCloseTo(600 / 4000, 9);
  const hash = createHash('sha256').update(bytes).digest('hex');
  const original = await asked(page, `/api/pictures/${hash}/original`);
  expect((await original.body()).equals(bytes)).toBe(true);
  const working = await sharp(await (await asked(page, `/api/pictures/${hash}/working`)).body());
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
  expect(await chooser.element().getAttribute('accept')).toBe('image/*');
  await settled(page);
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
    await settled(page);
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

  it('is fitted again', async () => {
    expect(await after(() => page.getByRole('button', { name: 'Fit', exact: true }).click())).toMatchObject({
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
    await after(() => page.getByRole('button', { name: 'Fit', exact: true }).click());
  });

  it('is scaled by a corner while the opposite one stays, and turned by the stem, at rest level', async () => {
    const smaller = await after(() => dragHandle('scale', 2, -60, -80));
    expect(smaller.scale).toBeGreaterThan(0.3);
    expect(smaller.scale).toBeLessThan(0.8);
    const first = [smaller.cx - 300 * smaller.scale, smaller.cy - 400 * smaller.scale];
    expect(first).toEqual([expect.closeTo(0, 6), expect.closeTo(0, 6)]);
    await after(() => page.getByRole('button', { name: /^Undo/ }).click());
    await page.keyboard.down('Alt');
    const centred = await after(() => dragHandle('scale', 2, -60, -80));
    await page.keyboard.up('Alt');
    expect([centred.cx, centred.cy]).toEqual([expect.closeTo(300, 6), expect.closeTo(400, 6)]);
    const turned = await after(() => dragHandle('turn', 0, 60, 20));
    expect(turned.turnDeg).toBeGreaterThan(10);
    expect(turned.turnDeg).toBeLessThan(60);
    expect(turned.scale).toBeCloseTo(centred.scale, 9);
  });

  it('is mirrored, turned by quarters and scaled by buttons, and undone step by step', async () => {
    const first = await placement();
    const mirrored = await after(() => page.getByRole('button', { name: 'Mirror left to right' }).click());
    // As it is seen: what leaned to the right leans to the left.
    expect(mirrored).toEqual({ ...first, mirrored: true, turnDeg: expect.closeTo(360 - first.turnDeg, 6) });
    const turned = await after(() => page.getByRole('button', { name: 'Quarter turn right' }).click());
    expect(turned.turnDeg).toBeCloseTo((360 - first.turnDeg + 90) % 360, 6);
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
    // In the middle of the picture, away from its handles.
    const box = (await page.getByTestId('handle-scale').nth(0).boundingBox())!;
    const other = (await page.getByTestId('handle-scale').nth(2).boundingBox())!;
    const [x, y] = [(box.x + other.x) / 2 + 22, (box.y + other.y) / 2 + 22];
    const now = await after(() => fingers((u) => [{ x: x + 40 * u, y }]));
    const [{ matrix }] = await inkOf(page, sheetId(page));
    expect(matrix[4]).toBeCloseTo(now.cx - before.cx, 6);
    expect(matrix[4]).toBeGreaterThan(20);
  });
});

/** Puts files into the page as the system does when they are dropped or pasted. */
const handOver = (kind: 'drop' | 'paste', names: string[]) =>
  page.evaluate(
    ([how, files]) => {
      const data = new DataTransfer();
      const canvas = document.createElement('canvas');
      canvas.width = 40;
      canvas.height = 30;
      const bytes = Uint8Array.from(atob(canvas.toDataURL('image/png').split(',')[1]), (c) => c.charCodeAt(0));
      for (const name of files) data.items.add(new File([bytes], name, { type: 'image/png' }));
      if (how === 'paste') {
        document.body.dispatchEvent(
          new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
        );
        return true;
      }
      for (const type of ['dragenter', 'dragover'])
        document.body.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }));
      const isShown = new Promise<boolean>((done) =>
        setTimeout(() => done(document.body.textContent!.includes('Let go: pictures go under the ink')), 100),
      );
      return isShown.then((shown) => {
        document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
        return shown;
      });
    },
    [kind, names] as const,
  );

describe('pictures come from anywhere, several at once', () => {
  beforeAll(async () => {
    await newSheet(page, app.server.url, 'Arrivals');
    await goTo(page, 'Place');
  });
  const names = async () => (await picturesOf(page)).map((l) => l.name);

  it('chosen together: those that can be opened come, the others are told', async () => {
    const bad = join(app.server.data, 'notes.pdf');
    writeFileSync(bad, '%PDF-1.4 no such thing');
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Add picture' }).click(),
    ]);
    expect(chooser.isMultiple()).toBe(true);
    // HEIC and PDF are decoded in a process beside the built server.
    await chooser.setFiles([join(process.cwd(), 'tests/fixtures/shapes.heic'), bad]);
    await page.getByText(/notes: This picture is damaged.*One picture came in\./).waitFor({ timeout: 20000 });
    await page.getByRole('button', { name: 'Put this message away' }).click();
    await stepsReach(page, 1);
    expect(await names()).toEqual(['shapes']);
  });

  it('dropped anywhere on Place, with a frame that says where they go', async () => {
    expect(await handOver('drop', ['one.png', 'two.png'])).toBe(true);
    await stepsReach(page, 3);
    expect(await names()).toEqual(['shapes', 'one', 'two']);
    expect(await page.getByText('Let go: pictures go under the ink').count()).toBe(0);
  });

  it('pasted anywhere on Place, and not on other stops', async () => {
    await handOver('paste', ['copied.png']);
    await stepsReach(page, 4);
    await goTo(page, 'Ink');
    await handOver('paste', ['elsewhere.png']);
    await settled(page);
    await goTo(page, 'Place');
    expect(await names()).toEqual(['shapes', 'one', 'two', 'copied']);
  });

  it('come on while another stop is open', async () => {
    await handOver('drop', ['slow.png', 'slower.png']);
    await goTo(page, 'Ink');
    await stepsReach(page, 6);
    await goTo(page, 'Place');
    expect((await names()).slice(-2)).toEqual(['slow', 'slower']);
  });

  it('each laid beside the paper: shown at any stop, moved about, scaled inside, and under the ink again', async () => {
    await page.getByRole('button', { name: /^Picture: / }).click();
    await page.getByRole('button', { name: 'Lay shapes beside the paper' }).click();
    const card = page.getByRole('region', { name: 'shapes, beside the paper' });
    await card.waitFor();
    await stepsReach(page, 7);
    expect((await picturesOf(page))[0].beside).toBe(true);
    const size = async () => (await card.locator('img').boundingBox())!;
    const before = await size();
    await card.getByRole('button', { name: 'Larger: shapes' }).click();
    expect((await size()).width).toBeCloseTo(before.width * 1.3, 0);
    const at = (await card.boundingBox())!;
    await page.mouse.move(at.x + 30, at.y + 20);
    await page.mouse.down();
    await page.mouse.move(at.x - 30, at.y + 70, { steps: 4 });
    await page.mouse.up();
    const now = (await card.boundingBox())!;
    expect([now.x - at.x, now.y - at.y]).toEqual([expect.closeTo(-60, 0), expect.closeTo(50, 0)]);
    await goTo(page, 'Ink');
    await card.waitFor();
    expect(await steps(page)).toBe(7);
    await goTo(page, 'Place');
    const list = page.getByRole('button', { name: 'Lay shapes under the ink' });
    if (!(await list.count())) await page.getByRole('button', { name: /^Picture: / }).click();
    await list.click();
    await stepsReach(page, 8);
    expect(await card.count()).toBe(0);
  });

  it('stays where it lies while it is locked, in the stack or here', async () => {
    await page.getByRole('button', { name: 'Work on copied' }).click();
    await page.getByRole('button', { name: 'Move picture' }).click();
    await page.getByRole('button', { name: 'Numbers' }).click();
    const field = page.getByRole('textbox', { name: 'Width, px' });
    const wanted = await afterOn(async () => {
      await field.fill('300');
      await field.press('Enter');
    });
    expect(wanted.placement.scale).toBeCloseTo(300 / 40, 6);
    await page.getByRole('textbox', { name: 'Turn, °' }).fill('-30');
    expect((await afterOn(() => page.getByRole('textbox', { name: 'Turn, °' }).press('Enter'))).placement.turnDeg).toBe(
      330,
    );
    // Out of range is said, and changes nothing.
    await field.fill('99999999');
    await page.getByText('Out of range').waitFor();
    const count = await steps(page);
    await field.press('Escape');
    await page.getByTestId('paper').click({ position: { x: 20, y: 90 } });
    expect(await steps(page)).toBe(count);
    // The handles' own square of a mirrored, turned picture.
    const mirrored = await afterOn(() => page.getByRole('button', { name: 'Mirror top to bottom' }).click());
    expect(mirrored.placement).toMatchObject({ mirrored: true, turnDeg: expect.closeTo(210, 6) });
  });

  it('is looked at with guides, which stay when the sheet is opened again and are never sent', async () => {
    await page.getByRole('button', { name: 'Guides' }).click();
    await page.getByRole('radio', { name: 'Perspective' }).click();
    await page.getByRole('button', { name: 'Move picture', exact: true }).click();
    const point = page.getByRole('button', { name: /^Drag vanishing point 1/ });
    const count = await steps(page);
    await point.focus();
    await page.keyboard.press('ArrowRight');
    await stepsReach(page, count + 1);
    await page.reload();
    await page.getByTestId('guides').waitFor();
    const svg = await asked(page, `/api/sheets/${sheetId(page)}`);
    const { settings } = (await svg.json()) as { settings: { guides: { kind: string; points: number[][] } } };
    expect(settings.guides.kind).toBe('perspective');
    expect(settings.guides.points[0][0]).toBeGreaterThan(-600 * 0.25);
  });
});

/** As `after`, for the topmost picture. */
async function afterOn(act: () => Promise<void>): Promise<PlacedPicture> {
  const before = await steps(page);
  await act();
  await stepsReach(page, before + 1);
  const all = await picturesOf(page);
  return all.find((l) => l.name === 'copied')!;
}
