import sharp from 'sharp';
import type { CDPSession, Page } from 'playwright-core';
import { curve, DESK, openPage, penStroke, PHONE, testApp, touch, type Point } from './harness';
import { hideRing, inkOf, newSheet, settled, sheetId, stepsReach, unfold } from './sheet-driver';
import { until } from '../measures/until';

jest.setTimeout(180000);
const app = testApp();

const along = (points: readonly (readonly [number, number])[], each = 8): Point[] =>
  points
    .slice(1)
    .flatMap(([x, y], i) =>
      Array.from({ length: each }, (_, n): Point => [
        points[i][0] + ((x - points[i][0]) * (n + 1)) / each,
        points[i][1] + ((y - points[i][1]) * (n + 1)) / each,
      ]),
    );

/** Five waves below each other, then editing is on. */
async function fiveLines(page: Page, cdp: CDPSession, x: number, width: number): Promise<void> {
  for (let i = 0; i < 5; i++) await penStroke(cdp, curve(x, 150 + i * 50, x + width, 140 + i * 52));
  await stepsReach(page, 5);
  await page.getByRole('button', { name: /^Edit lines/ }).click();
  await page.getByText('Touch a line, or draw a loop around several').waitFor();
}

const standing = async (page: Page) => (await inkOf(page, sheetId(page))).filter((s) => !s.deleted);
const moves = async (page: Page) => (await standing(page)).map((s) => Math.round(s.matrix[4] + s.matrix[5]));

describe.each([
  ['a phone', PHONE, 60, 260],
  ['a wide screen', DESK, 460, 260],
])('editing lines on %s', (_name, viewport, x, width) => {
  it('snips a part between two lines, then several with one movement, and takes it back', async () => {
    const { page, cdp, errors, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, 'Snip', '800', '900');
    const [top, left] = [150, x + 10];
    for (const dy of [0, 60, 120])
      await penStroke(
        cdp,
        along(
          [
            [left - 10, top + dy],
            [left + 240, top + dy],
          ],
          20,
        ),
      );
    for (const dx of [60, 160])
      await penStroke(
        cdp,
        along(
          [
            [left + dx, top - 40],
            [left + dx, top + 170],
          ],
          20,
        ),
      );
    await stepsReach(page, 5);
    await page.getByRole('button', { name: /^Edit lines/ }).click();
    await page.getByRole('radio', { name: 'Snip' }).click();
    const dark = async (px: number, py: number) => {
      await hideRing(page);
      const { data } = await sharp(await page.screenshot({ clip: { x: px - 4, y: py - 6, width: 8, height: 12 } }))
        .greyscale()
        .raw()
        .toBuffer({ resolveWithObject: true });
      return Math.min(...data) < 100;
    };
    const row = async (dy: number) => [
      await dark(left + 30, top + dy),
      await dark(left + 110, top + dy),
      await dark(left + 200, top + dy),
    ];
    expect(await row(0)).toEqual([true, true, true]);
    await page.mouse.click(left + 110, top + 2);
    await stepsReach(page, 6);
    expect(await row(0)).toEqual([true, false, true]);
    expect(await standing(page)).toHaveLength(6);
    // What goes is shown while the pen is down.
    await page.mouse.move(left + 112, top + 40);
    await page.mouse.down();
    await page.mouse.move(left + 112, top + 140, { steps: 12 });
    await settled(page);
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/snip-${viewport.width}.png` });
    await page.mouse.up();
    await stepsReach(page, 7);
    expect([await row(60), await row(120)]).toEqual([
      [true, false, true],
      [true, false, true],
    ]);
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/snipped-${viewport.width}.png` });
    await page.keyboard.press('Control+z');
    await stepsReach(page, 8);
    expect([await row(60), await row(120)]).toEqual([
      [true, true, true],
      [true, true, true],
    ]);
    expect(errors).toEqual([]);
    await context.close();
  });

  it('mends a line: it takes the new way, and is one line as before', async () => {
    const { page, cdp, errors, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, 'Mend', '800', '900');
    await penStroke(cdp, curve(x, 200, x + width, 200));
    await stepsReach(page, 1);
    await page.getByRole('button', { name: /^Edit lines/ }).click();
    await page.getByRole('radio', { name: 'Mend' }).click();
    await page.getByText('Draw a part of a line anew').waitFor();
    const way = Array.from(
      { length: 30 },
      (_, i) =>
        [
          x + 70 + (120 * i) / 29,
          200 + 20 * Math.sin((7 * (70 + (120 * i) / 29)) / width) + 70 * Math.sin((Math.PI * i) / 29) ** 2,
        ] as const,
    );
    await page.mouse.move(...way[0]);
    await page.mouse.down();
    for (const at of way) await page.mouse.move(...at);
    await page.mouse.up();
    await stepsReach(page, 2);
    const lines = await standing(page);
    expect(lines).toHaveLength(1);
    expect((await inkOf(page, sheetId(page))).filter((s) => s.deleted)).toHaveLength(1);
    // Drawn where no line is, it says what to do.
    await penStroke(cdp, curve(x, 420, x + 60, 420));
    await page.getByText(/No line is near where this begins or ends/).waitFor();
    await page.keyboard.press('Control+z');
    await stepsReach(page, 3);
    expect((await standing(page)).map((s) => s.id)).not.toEqual(lines.map((s) => s.id));
    expect(errors).toEqual([]);
    await context.close();
  });

  it('picks by a loop, moves by dragging, and undo shows to the last pixel what was there', async () => {
    const { page, cdp, errors, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, 'Edit', '800', '900');
    await fiveLines(page, cdp, x, width);
    // What lies over the paper is not looked at.
    const clip = { x: x - 10, y: 110, width: width + 20, height: 360 };
    const seen = async () => {
      await hideRing(page);
      return sharp(await page.screenshot({ clip }))
        .removeAlpha()
        .raw()
        .toBuffer();
    };
    const before = await seen();
    // The page has no time for the pen while it goes around: places that come together are all of the loop.
    await page.evaluate(() =>
      addEventListener(
        'pointerdown',
        () =>
          setTimeout(() => {
            for (const end = performance.now() + 500; performance.now() < end;);
          }),
        { once: true, capture: true },
      ),
    );
    await penStroke(
      cdp,
      along([
        [x - 30, 180],
        [x + width + 30, 180],
        [x + width + 30, 320],
        [x - 30, 320],
        [x - 30, 182],
      ]),
    );
    await page.getByText('3 lines').first().waitFor();
    // Within the frame a drag moves them: once it is there.
    await page
      .getByTestId(/^handle-/)
      .first()
      .waitFor();
    await penStroke(
      cdp,
      along([
        [x + 130, 250],
        [x + 150, 340],
      ]),
    );
    await stepsReach(page, 6);
    expect((await moves(page)).filter((v) => v > 50)).toHaveLength(3);
    await page.getByRole('button', { name: 'Bolder', exact: true }).click();
    await stepsReach(page, 7);
    expect(new Set((await standing(page)).map((s) => Math.round(s.pen.sizePx))).size).toBe(2);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await stepsReach(page, 9);
    await page.keyboard.press('Escape');
    await page.getByText('Nothing picked').or(page.getByText('Touch a line')).first().waitFor();
    await until(async () => (await seen()).equals(before), 'what was seen before', 100);
    expect((await seen()).equals(before)).toBe(true);
    expect(errors).toEqual([]);
    await context.close();
  });

  it('does with what is picked all that there is: handles, every button, another layer, another sheet', async () => {
    const { page, cdp, errors, context } = await openPage(app.browser, viewport);
    await newSheet(page, app.server.url, `Another ${x}`, '800', '900');
    await newSheet(page, app.server.url, 'Acts', '800', '900');
    await fiveLines(page, cdp, x, width);
    let count = 5;
    /** Presses a button, and waits for its step. */
    const act = async (name: string | RegExp, exact = true) => {
      await page.getByRole('button', { name, exact }).first().click();
      await stepsReach(page, ++count);
    };
    const loop = [[x - 30, 180], [x + width + 30, 180], [x + width + 30, 320], [x - 30, 320], [x - 30, 182]] as const; // prettier-ignore
    await penStroke(cdp, along(loop));
    await page.getByText('3 lines').first().waitFor();
    const picked = (await standing(page)).slice(1, 4).map((s) => s.id);
    const lines = async () => (await standing(page)).filter((s) => picked.includes(s.id));
    const drag = async (handle: string, dx: number, dy: number, meanwhile = async () => {}) => {
      await page.getByTestId(handle).first().waitFor();
      const box = (await page.getByTestId(handle).last().boundingBox())!;
      await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
      await page.mouse.down();
      for (let i = 1; i <= 5; i++)
        await page.mouse.move(box.x + box.width / 2 + (dx * i) / 5, box.y + box.height / 2 + (dy * i) / 5);
      await meanwhile();
      await page.mouse.up();
      await stepsReach(page, ++count);
    };
    const area = async () => Math.abs((await lines())[0].matrix[0] * (await lines())[0].matrix[3] - (await lines())[0].matrix[1] * (await lines())[0].matrix[2]); // prettier-ignore
    await drag('handle-scale', -12, 9);
    expect(Math.abs((await area()) - 1)).toBeGreaterThan(0.02);
    const inProportion = (await lines())[0].matrix;
    expect(inProportion[3]).toBeCloseTo(inProportion[0], 6);
    // Shift lets the sides go apart; which keys there are is told meanwhile.
    await page.keyboard.down('Shift');
    await drag('handle-scale', -14, 0, () => page.getByText('Shift: width and height apart').waitFor());
    await page.keyboard.up('Shift');
    expect(await page.getByText('Shift: width and height apart').count()).toBe(0);
    const apart = (await lines())[0].matrix;
    expect([apart[0] > inProportion[0] * 1.01, apart[3]]).toEqual([true, expect.closeTo(inProportion[3], 6)]);
    await act(/^Undo/);
    await drag('handle-turn', 14, 6);
    expect(Math.abs((await lines())[0].matrix[1])).toBeGreaterThan(0.01);
    await act('Turn by 15 degrees');
    const upright = (await lines())[0].matrix;
    await act('Mirror left to right');
    const { matrix } = (await lines())[0];
    const det = (m: readonly number[]) => m[0] * m[3] - m[1] * m[2];
    expect(Math.sign(det(matrix))).toBe(-Math.sign(det(upright)));
    const size = (await lines())[0].pen.sizePx;
    await act('Finer');
    expect((await lines())[0].pen.sizePx).toBeLessThan(size);
    await act('Group: picked together from now on');
    expect(new Set((await lines()).map((s) => s.group)).size).toBe(1);
    await act('Ungroup');
    expect((await lines()).every((s) => !s.group)).toBe(true);
    const placeOf = async (id: string) => {
      const all = (await standing(page)).sort((a, b) => (a.order < b.order ? -1 : 1));
      return all.findIndex((s) => s.id === id);
    };
    await act('In front of the layer’s others');
    expect(await placeOf(picked[2])).toBe(4);
    await act('Behind the layer’s others');
    expect(await placeOf(picked[0])).toBe(0);
    await act('Up: over the next line');
    expect(await placeOf(picked[0])).toBe(1);
    await act('Down: under the next line');
    expect(await placeOf(picked[0])).toBe(0);
    await act('Duplicate');
    expect(await standing(page)).toHaveLength(8);
    await act('Delete');
    expect(await standing(page)).toHaveLength(5);
    // What was copied can be put down on another sheet.
    await page.keyboard.press('Control+a');
    await page.getByText('5 lines').first().waitFor();
    await page.getByRole('button', { name: 'Copy', exact: true }).click();
    await act('Cut');
    expect(await standing(page)).toHaveLength(0);
    await unfold(page);
    await page.getByRole('button', { name: 'Back to the drawer' }).click();
    await page.getByText(`Another ${x}`).click();
    await page.getByTestId('paper').waitFor();
    await page.getByRole('button', { name: /^Edit lines/ }).click();
    await page.getByRole('button', { name: 'Paste', exact: true }).click();
    await stepsReach(page, 1);
    expect(await standing(page)).toHaveLength(5);
    expect(errors).toEqual([]);
    await context.close();
  });
});

it('picks by touch and adds with Shift; keys move, copy, paste and delete what is picked', async () => {
  const { page, cdp, errors, context } = await openPage(app.browser, DESK);
  await newSheet(page, app.server.url, 'Keys', '800', '900');
  await fiveLines(page, cdp, 460, 260);
  const [first] = curve(460, 150, 720, 140);
  await page.mouse.click(first[0] + 1, first[1] + 1);
  await page.getByText('1 line', { exact: true }).first().waitFor();
  await page.keyboard.down('Shift');
  await page.mouse.click(461, 201);
  await page.keyboard.up('Shift');
  await page.getByText('2 lines', { exact: true }).first().waitFor();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowDown');
  await stepsReach(page, 7);
  expect((await moves(page)).filter((v) => v === 11)).toHaveLength(2);
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  await stepsReach(page, 8);
  expect(await standing(page)).toHaveLength(7);
  await page.keyboard.press('Delete');
  await stepsReach(page, 9);
  expect(await standing(page)).toHaveLength(5);
  await page.keyboard.press('Control+a');
  await page.getByText('5 lines', { exact: true }).first().waitFor();
  // All that made the lines, live: nothing is kept while the slider moves, one step when it rests.
  const size = page.getByRole('slider', { name: 'Size of the picked lines' });
  await size.focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('PageUp');
  await stepsReach(page, 10);
  const sizes = (await standing(page)).map((s) => s.pen.sizePx);
  expect(new Set(sizes).size).toBe(1);
  expect(sizes[0]).toBeGreaterThan(10);
  await page.getByRole('radio', { name: 'Pencil' }).click();
  await page.getByRole('radio', { name: 'Loud pink' }).click();
  await stepsReach(page, 12);
  expect((await standing(page)).map((s) => [s.pen.kind, s.colour])[0]).toEqual(['pencil', '#c2185b']);
  await page.getByLabel('Turn, °').fill('x');
  expect(await page.getByRole('button', { name: /Numbers only/ }).isDisabled()).toBe(true);
  await page.getByLabel('Turn, °').fill('90');
  await page.getByLabel('Scale, %').fill('50');
  await page.getByRole('button', { name: 'Move by these' }).click();
  await stepsReach(page, 13);
  expect((await standing(page)).map((s) => Math.round(s.matrix[1] * 100))).toEqual([50, 50, 50, 50, 50]);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await page.getByRole('radio', { name: 'Brush pen' }).waitFor();
  expect(errors).toEqual([]);
  await context.close();
});

it('moves, scales and turns what is picked with two fingers that begin in its frame, and the page beside it', async () => {
  const { page, cdp, errors, context } = await openPage(app.browser, PHONE);
  await newSheet(page, app.server.url, 'Fingers', '800', '900');
  await fiveLines(page, cdp, 60, 260);
  await page.getByRole('button', { name: /everything that can be/ }).click();
  await page.getByRole('button', { name: 'All on Lines' }).click();
  await page.getByRole('button', { name: /everything that can be/ }).click();
  await page.getByText('5 lines').waitFor();
  await settled(page);
  const pinch = async (y: number, by: number) => {
    const fingers = (spread: number, dy: number) => [
      { x: 190 - spread, y: y + dy, id: 1 },
      { x: 190 + spread, y: y + dy, id: 2 },
    ];
    await touch(cdp, 'touchStart', fingers(40, 0).slice(0, 1));
    await touch(cdp, 'touchStart', fingers(40, 0));
    for (let i = 1; i <= 12; i++) await touch(cdp, 'touchMove', fingers(40 + by * i, 2 * i));
    await touch(cdp, 'touchEnd', []);
    await settled(page);
  };
  await pinch(240, -1.5);
  await stepsReach(page, 6);
  expect((await standing(page)).every((s) => s.matrix[0] < 0.8)).toBe(true);
  const zoom = page.getByRole('button', { name: /Zoom and turn/ });
  const shown = await zoom.textContent();
  await pinch(460, 2);
  expect(await zoom.textContent()).not.toBe(shown);
  await stepsReach(page, 6);
  expect(errors).toEqual([]);
  await context.close();
});
