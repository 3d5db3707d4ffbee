import { Resvg } from '@resvg/resvg-js';
import { decode } from 'fast-png';
import type { CDPSession, Page } from 'playwright-core';
import { apply } from '../../core/geometry/matrix';
import type { Stroke } from '../../core/sheet/entities';
import { middleOf, sizeOf, type LabelStroke } from '../../core/sheet/labels';
import { DESK, fingerStroke, openPage, penStroke, PHONE, testApp, type Point } from './harness';
import { until } from '../measures/until';
import {
  choose,
  goTo,
  halvesPicture,
  inkOf,
  newSheet,
  paperPixels,
  send,
  settled,
  sheetId,
  steps,
  stepsReach,
  unfold,
} from './sheet-driver';

jest.setTimeout(60000);

const app = testApp();

type Place = readonly [x: number, y: number];

// Paper px: two rings side by side, and a small one between them.
const [LEFT, RIGHT, SMALL]: [Place, Place, Place] = [
  [190, 260],
  [400, 260],
  [295, 372],
];
const ABOVE: Place = [295, 100];
const ring = ([cx, cy]: Place, r: number): Place[] =>
  Array.from({ length: 61 }, (_, i) => {
    const a = (2 * Math.PI * i) / 60;
    return [cx + r * Math.cos(a), cy + r * Math.sin(a)];
  });
const row = (from: Place, to: Place): Place[] =>
  Array.from({ length: 31 }, (_, k) => [from[0] + ((to[0] - from[0]) * k) / 30, from[1] + ((to[1] - from[1]) * k) / 30]); // prettier-ignore

describe.each([
  ['a phone', PHONE],
  ['a wide screen', DESK],
])('from an inked page to a coloured one on %s', (where, viewport) => {
  const isPhone = where === 'a phone';
  let page: Page;
  let cdp: CDPSession;
  let errors: string[];
  /** Where places of the paper are on the screen now. */
  const onScreen = async (places: readonly Place[]): Promise<[number, number][]> => {
    const box = (await page.getByTestId('paper').boundingBox())!;
    const found = await page.evaluate<[number, number][]>(
      `${JSON.stringify(places)}.map((at) => stage.toScreen(...at))`,
    );
    return found.map(([sx, sy]) => [sx + box.x, sy + box.y]);
  };
  const draw = async (places: readonly Place[]) => {
    const points = (await onScreen(places)).map(([sx, sy]): Point => [sx, sy, 0.6]);
    await (isPhone ? fingerStroke(cdp, points) : penStroke(cdp, points));
    await settled(page);
  };
  const tap = async (place: Place) => {
    const [at] = await onScreen([place]);
    await page.mouse.click(...at);
    await settled(page);
  };
  /** Goes down at one place and on to another, and stays down. */
  const goWith = async (from: Place, to: Place) => {
    const [a, b] = await onScreen([from, to]);
    await page.mouse.move(...a);
    await page.mouse.down();
    await page.mouse.move(...b, { steps: 12 });
  };
  const untilPours = async (suits: (all: Stroke[]) => boolean): Promise<Stroke[]> => {
    let all: Stroke[] = [];
    const isThere = async () => {
      all = (await inkOf(page, sheetId(page))).filter((s) => s.pour && !s.deleted);
      return suits(all);
    };
    await until(isThere, 'pours', 150);
    return all;
  };
  const take = (name: string) => page.getByRole('radio', { name, exact: true }).first().click();
  /** The colour of the screen at a place, with the ring of the nib away. */
  const seen = async (place: Place): Promise<string> => {
    await page.mouse.move(3, 3);
    return shown(place);
  };
  const shown = async (place: Place): Promise<string> => (await shownAt([place]))[0];
  const shownAt = async (places: readonly Place[]): Promise<string[]> => {
    const { data, width } = await paperPixels(page);
    const box = (await page.getByTestId('paper').boundingBox())!;
    return (await onScreen(places)).map(([sx, sy]) => {
      const at = 4 * (Math.round(sy - box.y) * width + Math.round(sx - box.x));
      return `#${[...data.subarray(at, at + 3)].map((v) => v.toString(16).padStart(2, '0')).join('')}`;
    });
  };

  beforeAll(async () => {
    ({ page, cdp, errors } = await openPage(app.browser, viewport));
    await newSheet(page, app.server.url, `Colour on ${where}`);
    for (const [middle, r] of [[LEFT, 85], [RIGHT, 85], [SMALL, 15]] as const) await draw(ring(middle, r)); // prettier-ignore
    await goTo(page, 'Colour');
    await page.getByRole('radio', { name: 'Pour' }).waitFor();
    await settled(page);
  });
  afterAll(async () => {
    expect(errors).toEqual([]);
    await page.context().close();
  });

  it('a tap pours a shape, on a layer of its own beneath the ink; undo takes both back', async () => {
    const before = await steps(page);
    if (isPhone) await page.getByText('New colour layer').waitFor();
    await take('#8c3a2b');
    await tap(LEFT);
    const [pour] = await untilPours((all) => all.length === 1);
    expect(pour).toMatchObject({ colour: '#8c3a2b', tied: true, pour: { against: ['lines'] } });
    expect(await steps(page)).toBe(before + 1);
    expect([await seen(LEFT), await seen(RIGHT)]).toEqual(['#8c3a2b', '#ffffff']);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await untilPours((all) => all.length === 0);
    expect(await seen(LEFT)).toBe('#ffffff');
    if (isPhone) await page.getByText('New colour layer').waitFor();
    await page.getByRole('button', { name: /^Redo/ }).click();
    await untilPours((all) => all.length === 1);
    expect(await seen(LEFT)).toBe('#8c3a2b');
  });

  it('poured again it is one pour, in another colour another', async () => {
    const before = await steps(page);
    await tap([176, 272]);
    expect(await steps(page)).toBe(before);
    await take('#c98a45');
    await tap([176, 272]);
    const all = await untilPours(([one]) => one?.colour === '#c98a45');
    expect(all).toHaveLength(1);
    expect(await steps(page)).toBe(before + 1);
  });

  it('dragged across shapes it pours them in one step; while held they are shown', async () => {
    const before = await steps(page);
    await take('#2c3a44');
    await goWith(LEFT, RIGHT);
    await page.getByTestId('held-shapes').waitFor();
    await settled(page);
    await page.mouse.up();
    const all = await untilPours((found) => found.length === 2 && found.every((s) => s.colour === '#2c3a44'));
    expect(all).toHaveLength(2);
    expect(await steps(page)).toBe(before + 1);
    expect([await seen(LEFT), await seen(RIGHT)]).toEqual(['#2c3a44', '#2c3a44']);
  });

  it('a second finger gives it up', async () => {
    const before = await steps(page);
    const [[x, y]] = await onScreen([ABOVE]);
    const [one, two] = [
      { x, y, id: 1 },
      { x: x + 40, y, id: 2 },
    ];
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [one] });
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [one, two] });
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
    await settled(page);
    expect(await steps(page)).toBe(before);
    expect(await page.getByTestId('held-shapes').count()).toBe(0);
  });

  it('a line across a poured shape parts it, and both parts keep the colour; without the line it is one', async () => {
    await goTo(page, 'Ink');
    await settled(page);
    await draw(row([190, 150], [190, 370]));
    const parted = await untilPours((all) => all.length === 3);
    expect(parted.map(({ colour }) => colour)).toEqual(['#2c3a44', '#2c3a44', '#2c3a44']);
    await unfold(page);
    await page.getByRole('button', { name: /^Undo/ }).click();
    expect(await untilPours((all) => all.length === 2)).toHaveLength(2);
    await settled(page);
    expect([await seen([150, 260]), await seen([230, 260])]).toEqual(['#2c3a44', '#2c3a44']);
  });

  const settings = async (does: () => Promise<void>) => {
    if (isPhone) await page.getByRole('button', { name: 'Open the colour and its settings' }).click();
    await does();
    if (isPhone) await page.getByRole('button', { name: 'Close the colour and its settings' }).click();
  };

  it('shadow lies on the flats alone, while it is painted and after', async () => {
    await goTo(page, 'Colour');
    await page.getByRole('radio', { name: 'Brush' }).click();
    await settings(async () => {
      await page.getByRole('radiogroup', { name: 'Nib' }).getByRole('radio').last().click();
      await page.getByRole('button', { name: 'Shade', exact: true }).click();
      await page.getByRole('button', { name: /^Shadow: / }).click();
    });
    const before = await steps(page);
    await goWith([190, 300], [190, 440]);
    await settled(page);
    // #2c3a44 multiplied by #9a9bb5 is #1b2330; a line drawn fast is narrow, and lies somewhere near. Beyond the ring lies nothing.
    const across = (y: number) => shownAt(Array.from({ length: 49 }, (_, k): Place => [178 + k / 2, y]));
    const isShaded = (found: string) => parseInt(found.slice(1, 3), 16) < 0x24;
    const looks = async () => [(await across(315)).some(isShaded), new Set(await across(385))];
    expect(await looks()).toEqual([true, new Set(['#ffffff'])]);
    await page.mouse.up();
    await settled(page);
    await page.mouse.move(3, 3);
    expect(await looks()).toEqual([true, new Set(['#ffffff'])]);
    expect(await steps(page)).toBe(before + 1);
    await unfold(page);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await settled(page);
    expect(await seen([190, 318])).toBe('#2c3a44');
  });

  it('hatching goes from one guide to the other, is looked at first, kept in one step and picked together', async () => {
    await page.getByRole('radio', { name: 'Hatch' }).click();
    await draw(row([130, 240], [250, 240]));
    await page.getByText('Now the second guide.').waitFor();
    await draw(row([140, 290], [240, 290]));
    const words = await page.getByText(/^\d+ strokes$/).textContent();
    const before = await steps(page);
    expect(before).toBe(await steps(page));
    await page.keyboard.press('Escape');
    await page.getByText(/^Draw a guide/).waitFor();
    await draw(row([130, 240], [250, 240]));
    await draw(row([140, 290], [240, 290]));
    expect(await page.getByText(/^\d+ strokes$/).textContent()).toBe(words);
    // From the tray, or beside the eraser where a pen has folded that away.
    await page.getByRole('button', { name: 'Keep the hatching' }).click();
    await settled(page);
    expect(await steps(page)).toBe(before + 1);
    const hatches = (await inkOf(page, sheetId(page))).filter((s) => s.group && !s.deleted);
    expect(`${hatches.length} strokes`).toBe(words);
    expect(new Set(hatches.map((s) => `${s.group} ${s.layerId}`)).size).toBe(1);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await settled(page);
    expect((await inkOf(page, sheetId(page))).filter((s) => s.group && !s.deleted)).toHaveLength(0);
    await unfold(page);
    // The layer for shadow goes, too: colour lands where it did.
    await page.getByRole('button', { name: 'Undo: New layer Shadow' }).click();
    await page.getByRole('radio', { name: 'Pour' }).click();
  });

  it('small shapes beside colour are counted, shown, and filled at a touch', async () => {
    await goTo(page, 'Colour');
    await take('#d9cdb2');
    // All around: the small ring is left out.
    await tap(ABOVE);
    await page.getByText('1 small shape unfilled').first().waitFor();
    await page.getByRole('button', { name: 'Show the unfilled shapes on the paper' }).click();
    await page.getByTestId('unfilled-marks').locator('div').first().waitFor();
    await page.getByRole('button', { name: /^Fill (it|all) with the colour beside/ }).click();
    const all = await untilPours((found) => found.length === 4);
    expect(all.filter(({ colour }) => colour === '#d9cdb2')).toHaveLength(2);
    await page.getByText('1 small shape unfilled').first().waitFor({ state: 'detached' });
    expect(await seen(SMALL)).toBe('#d9cdb2');
  });

  it('colour that would run out of a shape says where, and is poured once the gap is bridged; undo takes both', async () => {
    await goTo(page, 'Ink');
    // A ring with a door at its right.
    const open = ring([480, 520], 60).filter(([x, y]) => x < 500 || Math.abs(y - 520) > 10);
    await draw(open);
    await goTo(page, 'Colour');
    await page.getByRole('radio', { name: 'Pour' }).click();
    await take('#8c3a2b');
    const before = await steps(page);
    await tap([480, 520]);
    await page.getByText(/^Ran out here: a gap of /).waitFor();
    await page.getByTestId('ran-out-marks').getByText('Ran out here').waitFor();
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/ran-out-${viewport.width}.png` });
    expect(await steps(page)).toBe(before);
    await page.getByRole('button', { name: 'Pour nothing' }).click();
    await page.getByTestId('ran-out-marks').waitFor({ state: 'detached' });
    await tap([480, 520]);
    await page.getByRole('button', { name: 'Bridge and pour' }).click();
    await settled(page);
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/bridged-${viewport.width}.png` });
    expect(await seen([480, 520])).toBe('#8c3a2b');
    const outside = await seen([560, 600]);
    expect(outside).not.toBe('#8c3a2b');
    await unfold(page);
    await page.getByRole('button', { name: 'Undo: Bridge, and pour' }).click();
    await settled(page);
    expect(await seen([480, 520])).not.toBe('#8c3a2b');
    await page.getByRole('button', { name: /^Undo/ }).click();
    await settled(page);
  });

  it('a colour is taken from the drawing, with a loupe, and the number of one is typed', async () => {
    await page.getByRole('button', { name: 'Take a colour from the picture' }).click();
    await page.getByRole('radio', { name: 'Drawing' }).click();
    await goWith(RIGHT, LEFT);
    await page.getByTestId('loupe').getByText('#2c3a44').waitFor();
    const [above] = await onScreen([ABOVE]);
    await page.mouse.move(...above, { steps: 3 });
    await page.getByTestId('loupe').getByText('#d9cdb2').waitFor();
    await page.mouse.up();
    await page.getByTestId('loupe').waitFor({ state: 'detached' });
    expect(await page.getByRole('radio', { name: '#d9cdb2' }).first().getAttribute('aria-checked')).toBe('true');
    if (isPhone) await page.getByRole('button', { name: 'Open the colour and its settings' }).click();
    const field = page.getByLabel('Number of the colour');
    await field.fill('no colour');
    await page.getByText('Six digits or letters').waitFor();
    await field.fill('4A6');
    await field.press('Enter');
    await page.getByRole('img', { name: 'Colour in the hand: #44aa66' }).waitFor();
    if (isPhone) await page.getByRole('button', { name: 'Close the colour and its settings' }).click();
  });

  it('painted by hand colour lies beneath the ink; on Ink lines land where they did', async () => {
    await page.getByRole('radio', { name: 'Brush' }).click();
    await draw(row([220, 60], [380, 60]));
    const painted = (await inkOf(page, sheetId(page))).filter((s) => s.colour === '#44aa66');
    expect(painted).toHaveLength(1);
    expect(painted[0].layerId).not.toBe('lines');
    // Columns fold when a pen comes near.
    await unfold(page);
    await page.getByRole('radio', { name: 'Pour' }).click();
    await goTo(page, 'Ink');
    await draw(row([220, 450], [380, 450]));
    const lines = (await inkOf(page, sheetId(page))).filter((s) => !s.pour && s.layerId === 'lines' && !s.deleted);
    expect(lines).toHaveLength(4);
  });

  it('a contour goes around all lines, on a layer of its own, in one step', async () => {
    await goTo(page, 'Colour');
    const before = await steps(page);
    await settings(async () => {
      await page.getByRole('button', { name: 'Contour', exact: true }).click();
      await page.getByRole('button', { name: 'Draw the contour' }).click();
      await page.getByText(/ on Contour now\./).waitFor({ timeout: 20000 });
    });
    expect(await steps(page)).toBe(before + 1);
    const ink = (await inkOf(page, sheetId(page))).filter((s) => !s.deleted);
    const contour = ink.filter((s) => !s.pour && !['lines', ...ink.filter((one) => one.pour).map((one) => one.layerId)].includes(s.layerId)); // prettier-ignore
    // The rings stand apart, and so does the line below them.
    expect(contour.map(({ colour }) => colour)).toEqual(['#000000', '#000000', '#000000', '#000000']);
    // It ends some 1.4 mm beyond the ring, at 300 px an inch 17 px.
    expect([await seen([190, 260 - 95]), await seen([190, 260 - 70])]).toEqual(['#000000', '#2c3a44']);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await settled(page);
  });

  it('a text is written where the paper is tapped, set, moved, sized and undone', async () => {
    const label = async (suits: (of: LabelStroke) => boolean = () => true): Promise<LabelStroke> => {
      let found: Stroke[] = [];
      const isThere = async () => {
        found = (await inkOf(page, sheetId(page))).filter((s) => s.label && !s.deleted && !s.label.isOutline);
        return found.length === 1 && suits(found[0] as LabelStroke);
      };
      await until(isThere, 'a text', 150);
      return found[0] as LabelStroke;
    };
    await page.getByRole('radio', { name: 'Text', exact: true }).click();
    await take('#2c3a44');
    await tap([140, 480]);
    await page.getByTestId('text-begins').waitFor();
    await page.keyboard.type('Tern');
    const first = await label();
    expect(first).toMatchObject({ colour: '#2c3a44', label: { text: 'Tern', font: 'hand', align: 'left' } });
    // The field is written in still.
    await page.keyboard.type(' & Tide');
    await label((s) => s.label.text === 'Tern & Tide');
    await settings(async () => {
      await page.getByRole('radio', { name: 'Shout', exact: true }).click();
      await label((s) => s.label.font === 'shout');
      await page.getByRole('switch', { name: 'Outline around the letters' }).click();
      await settled(page);
    });
    const outlines = (await inkOf(page, sheetId(page))).filter((s) => s.label?.isOutline && !s.deleted);
    expect(outlines).toMatchObject([{ colour: '#ffffff', label: { text: 'Tern & Tide', font: 'shout' } }]);
    // By its letters, then by a corner.
    await goWith(middleOf(await label()), [300, 520]);
    await page.mouse.up();
    const moved = await label((s) => s.matrix[4] !== first.matrix[4]);
    expect(middleOf(moved)[0]).toBeCloseTo(300, -1);
    const corner = (await page.getByTestId('handle-scale').nth(2).boundingBox())!;
    const [cx, cy] = [corner.x + corner.width / 2, corner.y + corner.height / 2];
    await page.mouse.move(cx, cy);
    await page.mouse.down();
    await page.mouse.move(cx + 30, cy + 10, { steps: 6 });
    await page.mouse.up();
    const sized = await label((s) => sizeOf(s) > sizeOf(moved) * 1.1);
    // The opposite corner stays.
    const firstCorner = ({ label: { box }, matrix }: typeof sized) => apply(matrix, box[0], box[1]);
    expect(firstCorner(sized)[0]).toBeCloseTo(firstCorner(moved)[0], 3);
    expect(firstCorner(sized)[1]).toBeCloseTo(firstCorner(moved)[1], 3);
    await page.getByRole('button', { name: 'Undo: Size text' }).click();
    await label((s) => sizeOf(s) === sizeOf(moved));
    // It can be seen: letters on what is around them.
    const [x0, y0, x1, y1] = moved.label.box;
    const spots = Array.from({ length: 200 }, (_, k): Place => apply(moved.matrix, x0 + ((x1 - x0) * k) / 200, y0 + 0.62 * (y1 - y0))); // prettier-ignore
    await page.mouse.move(3, 3);
    await settled(page);
    const colours = new Set(await shownAt(spots));
    expect([colours.has('#2c3a44'), colours.has('#ffffff')]).toEqual([true, true]);
  });

  it('a text is gone by a key, and brought back; keys move it; let go of, a tap begins another', async () => {
    const standing = async () => (await inkOf(page, sheetId(page))).filter((s) => s.label && !s.label.isOutline);
    const before = (await standing())[0] as LabelStroke;
    // Keys are the field's as long as it is written in.
    await page.getByRole('button', { name: /^Undo/ }).focus();
    await page.keyboard.press('ArrowRight');
    await settled(page);
    expect((await standing())[0].matrix[4]).toBeGreaterThan(before.matrix[4]);
    await page.keyboard.press('Delete');
    await page.getByRole('button', { name: 'Bring it back' }).click();
    await settled(page);
    await tap(middleOf(before));
    await page.getByLabel('What the text says').waitFor();
    expect(await page.getByLabel('What the text says').inputValue()).toBe('Tern & Tide');
    await page.getByRole('button', { name: 'Done with this text' }).click();
    await page.getByText('Tap where a text begins, or tap one to change it.').waitFor();
    await page.getByRole('button', { name: 'New text' }).click();
    await page.getByTestId('text-begins').waitFor();
    await page.keyboard.press('Escape');
    await page.getByTestId('text-begins').waitFor({ state: 'detached' });
    expect(await standing()).toHaveLength(1);
    await page.getByRole('radio', { name: 'Pour' }).click();
  });

  it('is sent as it is seen: PNG, and SVG drawn by a reference library', async () => {
    await goTo(page, 'Send');
    const png = decode((await send(page, ['PNG'], 'Send PNG')).bytes);
    const svg = (await send(page, ['SVG'], 'Send SVG')).bytes.toString();
    // Flats are curves.
    expect(/<path fill="#2c3a44" d="[^"]*c/.test(svg)).toBe(true);
    const theirs = new Resvg(svg, { fitTo: { mode: 'width', value: png.width } }).render();
    expect([theirs.width, theirs.height]).toEqual([png.width, png.height]);
    const { pixels } = theirs;
    const channels = png.data.length / (png.width * png.height);
    let off = 0;
    for (let i = 0; i < png.width * png.height; i++)
      for (let c = 0; c < 3; c++) if (Math.abs(pixels[4 * i + c] - png.data[channels * i + c]) > 40) off++;
    expect(off / (3 * png.width * png.height)).toBeLessThan(0.001);
  });
});

it('the colours of the picture come into the hand and among the swatches, as they are without hush', async () => {
  const { page, errors } = await openPage(app.browser, DESK);
  await newSheet(page, app.server.url, 'Palette');
  await goTo(page, 'Place');
  await choose(page, 'Add picture', await halvesPicture(app.server.data, '#204080', '#d8c8a0'));
  await stepsReach(page, 1);
  await goTo(page, 'Colour');
  await page.getByRole('button', { name: 'Colours of the picture', exact: true }).click();
  const palette = page.getByRole('radiogroup', { name: 'Colours of the picture, dark first' });
  const dark = palette.getByRole('radio', { name: '#204080' });
  await dark.click();
  await page.getByRole('img', { name: 'Colour in the hand: #204080' }).waitFor();
  expect(await dark.getAttribute('aria-checked')).toBe('true');
  await page.getByRole('button', { name: 'Into the sheet’s swatches' }).click();
  await stepsReach(page, 2);
  await page.getByRole('button', { name: 'All are among the sheet’s swatches' }).waitFor();
  expect(errors).toEqual([]);
  await page.context().close();
});
