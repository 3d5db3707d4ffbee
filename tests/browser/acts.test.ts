import sharp from 'sharp';
import type { CDPSession, Page } from 'playwright-core';
import { gappedDrawing } from '../measures/gapped-drawing';
import { polyline, PouredSheet } from '../measures/poured';
import { inkLayer, strokeEntity } from '../measures/sheets';
import { until } from '../measures/until';
import { FIRST_LAYER } from '../../core/sheet/entities';
import { putRows } from '../../core/sheet/steps';
import { makePen } from '../../core/stroke/pen';
import { encodePath } from '../../core/stroke/pack-path';
import { plainNode } from '../../core/stroke/path';
import { openStore, type Store } from '../../server/store';
import { choose, goTo, halvesPicture, newSheet, settled, steps, unfold } from './sheet-driver';
import { curve, DESK, openPage, penStroke, saved, testApp, type Point } from './harness';

jest.setTimeout(600000);

const COLUMNS = 18;
const HATCHES = 80;
const SIDE = 20 + 200 * COLUMNS;
const POURS = 200;
const ROWS_A_STEP = 500;
const LAYERS = 30;
const MANY = { widthPx: 800, heightPx: 700, ppi: 300 };

/** Some 10,000 lines; all that lies around their shapes is poured and tied, and so are 200 of the shapes. */
function fill(folder: string): void {
  const sheet = new PouredSheet(SIDE);
  for (const { data, count } of gappedDrawing(COLUMNS, COLUMNS, 7, HATCHES).lines) {
    const xy = Array.from({ length: 2 * count }, (_, i) => data[3 * (i >> 1) + (i & 1)]);
    sheet.path(polyline(false, ...xy), makePen('fineliner', 4, 0, false, 1));
  }
  sheet.pour([3, 3], '#d9cdb2');
  for (let k = 0; k < POURS; k++) sheet.pour([110 + 200 * (k % COLUMNS), 110 + 200 * Math.floor(k / COLUMNS)]);
  const store = openStore(folder);
  store.sheets.act({ id: 'make', kind: 'create', sheetId: 'large', name: 'Large', paper: sheet.paper }, 0);
  // An order that ends in 0 has no place below it.
  const rows = [...sheet.model.strokes.values()].map((row) => ({ ...row, order: `${row.order}V` }));
  const layers = [...sheet.model.layers.values()].filter(({ id }) => id !== FIRST_LAYER.id);
  const append = (id: string, change: ReturnType<typeof putRows>, parts: Map<string, Uint8Array>) =>
    store.steps.append('large', [{ id, device: 'seed', undoable: false, label: 'Fill', changes: [change] }], parts, 0);
  append('layers', putRows('layers', ...layers), new Map());
  for (let k = 0; k < rows.length; k += ROWS_A_STEP) {
    const some = rows.slice(k, k + ROWS_A_STEP);
    append(`fill${k}`, putRows('strokes', ...some), new Map(some.map(({ id }) => [id, sheet.samples.get(id)!])));
  }
  fillMany(store);
  store.close();
}

/** More layers than have canvases, with a line each: most of them share. */
function fillMany(store: Store): void {
  store.sheets.act({ id: 'many', kind: 'create', sheetId: 'many', name: 'Many', paper: MANY }, 0);
  const bytes = new Map<string, Uint8Array>();
  const layers = Array.from({ length: LAYERS }, (_, i) => inkLayer(`many${i}`, { order: `Z${two(i)}V` }));
  const strokes = layers.map(({ id }, i) => {
    const [x, y] = [60 + 90 * (i % 6), 60 + 90 * Math.floor(i / 6)];
    const nodes = [
      [x, y],
      [x + 110, y + 40],
      [x + 30, y + 120],
    ].map(([nx, ny]) => plainNode(nx, ny, 'auto'));
    bytes.set(`line-${id}`, encodePath({ closed: false, nodes }));
    return strokeEntity(`line-${id}`, { layerId: id, order: `a${two(i)}V`, colour: i % 2 ? '#8c3a2b' : '#2c3a44' });
  });
  const changes = [putRows('layers', ...layers), putRows('strokes', ...strokes)];
  store.steps.append('many', [{ id: 'many', device: 'seed', undoable: false, label: 'Fill', changes }], bytes, 0);
}
const two = (n: number): string => String(n).padStart(2, '0');
const app = testApp(fill);

type Place = readonly [x: number, y: number];

/** How many pixels of two screenshots differ. */
async function pixelsApart(a: Buffer, b: Buffer): Promise<number> {
  const [one, other] = await Promise.all([a, b].map((shot) => sharp(shot).removeAlpha().raw().toBuffer()));
  let apart = 0;
  for (let i = 0; i < one.length; i += 3) apart += Number(one.compare(other, i, i + 3, i, i + 3) !== 0);
  return apart;
}

/** A page that is worked in, and another that opens the same sheet anew whenever both are compared. */
class Trial {
  private constructor(
    readonly page: Page,
    readonly cdp: CDPSession,
    private readonly fresh: Page,
    private readonly errors: string[],
  ) {}

  static async begin(): Promise<Trial> {
    const [own, other] = [await openPage(app.browser, DESK), await openPage(app.browser, DESK)];
    return new Trial(own.page, own.cdp, other.page, own.errors);
  }

  async end(): Promise<void> {
    expect(this.errors).toEqual([]);
    for (const page of [this.page, this.fresh]) await page.context().close();
  }

  /** What a page shows of the paper, with nothing over it. */
  private async seen(page: Page): Promise<Buffer> {
    await page.mouse.move(5, 5);
    await page.mouse.move(2, 2);
    await settled(page);
    await page.evaluate(() => {
      const all: HTMLElement[] = [];
      const paper = document.querySelector<HTMLElement>('[data-testid=paper]')!;
      for (const one of paper.querySelectorAll<HTMLElement>(':scope > :not(canvas, :has(canvas))')) all.push(one);
      for (let one = paper; one !== document.documentElement; one = one.parentElement!)
        for (const other of one.parentElement!.children) if (other !== one) all.push(other as HTMLElement);
      const before = all.map(({ style }) => style?.opacity);
      for (const { style } of all) style?.setProperty('opacity', '0', 'important');
      (globalThis as unknown as { bare: unknown }).bare = () =>
        all.forEach(({ style }, i) => style && (style.opacity = before[i]));
    });
    const shot = await page.screenshot();
    await page.evaluate('bare()');
    return shot;
  }

  /** The same part of the sheet, opened anew. */
  private async opened(): Promise<Buffer> {
    const view = await this.page.evaluate<object>('({ ...stage.view })');
    await this.fresh.goto(this.page.url().replace(/\/[a-z]+$/, '/ink'));
    await this.fresh.getByTestId('paper').waitFor();
    await until(() => this.fresh.evaluate<boolean>('globalThis.stage !== undefined'), 'a stage');
    await this.fresh.evaluate(`stage.setView(${JSON.stringify(view)})`);
    return this.seen(this.fresh);
  }

  /** Until an act has been kept. */
  private async kept(before: number): Promise<void> {
    await until(async () => (await steps(this.page)) > before, 'a step', 50);
    await saved(this.page);
  }

  /**
   * Does something, takes it back, and does it again: each time the page shows what a fresh opening shows.
   * @param isFollowed by colour, which is poured anew after a redo, and may lie by a pixel otherwise beneath the lines.
   */
  async tries(act: string, does: () => Promise<unknown>, isFollowed = false): Promise<void> {
    const { page } = this;
    const before = await this.seen(page);
    let count = await steps(page);
    await does();
    await this.kept(count);
    // Colour follows a moment later, in a step of its own.
    const apart = async (other: () => Promise<Buffer>): Promise<number> => {
      let count = 0;
      const isSame = async () => (count = await pixelsApart(await this.seen(page), await other())) === 0;
      if (isFollowed) await until(isSame, 'the same').catch(() => undefined);
      else await isSame();
      return count;
    };
    const opened = () => this.opened();
    const found: Record<string, number | boolean> = { done: await apart(opened) };
    const after = await this.seen(page);
    if (process.env.LOOK) await page.screenshot({ path: `/tmp/act-${act}.png` });
    found.changes = (await pixelsApart(after, before)) > 0;
    const key = async (keys: string) => {
      count = await steps(page);
      await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
      await page.keyboard.press(keys);
      await this.kept(count);
    };
    await key('Control+z');
    found.undo = await apart(() => Promise.resolve(before));
    found.undone = await apart(opened);
    await key('Control+Shift+z');
    found.redone = await apart(opened);
    found.redo = isFollowed ? 0 : await apart(() => Promise.resolve(after));
    expect({ act, ...found }).toEqual({ act, changes: true, done: 0, undo: 0, undone: 0, redo: 0, redone: 0 });
  }
}

const row = (from: Place, to: Place, n = 24): Point[] =>
  Array.from({ length: n + 1 }, (_, k) => [
    from[0] + ((to[0] - from[0]) * k) / n,
    from[1] + ((to[1] - from[1]) * k) / n,
    0.6,
  ]);
const ring = (cx: number, cy: number, r: number): Point[] =>
  Array.from({ length: 61 }, (_, i) => [
    cx + r * Math.cos((Math.PI * i) / 30),
    cy + r * Math.sin((Math.PI * i) / 30),
    0.6,
  ]);

async function drag(page: Page, from: Place, to: Place): Promise<void> {
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(...to, { steps: 8 });
  await page.mouse.up();
}

const middleOf = async (page: Page, testId: string, n = 0): Promise<Place> => {
  const box = (await page.getByTestId(testId).nth(n).boundingBox())!;
  return [box.x + box.width / 2, box.y + box.height / 2];
};

describe('after each act of every tool, its undo and its redo, the screen is that of a fresh opening', () => {
  let trial: Trial;
  let page: Page;
  let cdp: CDPSession;
  beforeAll(async () => {
    trial = await Trial.begin();
    ({ page, cdp } = trial);
  });
  afterAll(() => trial.end());
  const radio = async (name: string | RegExp) => {
    await unfold(page);
    await page.getByRole('radio', { name, exact: true }).first().click();
  };
  const press = async (name: string | RegExp) => {
    await unfold(page);
    await page.getByRole('button', { name, exact: true }).first().click();
  };
  const tries = (...of: Parameters<Trial['tries']>) => trial.tries(...of);
  /** Picks what lies within a loop. */
  const pick = async () => {
    await penStroke(cdp, [
      ...row([420, 180], [760, 180]),
      ...row([760, 180], [760, 320]),
      ...row([760, 320], [420, 320]),
      ...row([420, 320], [420, 182]),
    ]);
    await page.getByTestId('handle-scale').first().waitFor();
  };

  it('ink, its forms and its erasers', async () => {
    await newSheet(page, app.server.url, 'Acts', '800', '900');
    for (let i = 0; i < 4; i++) await penStroke(cdp, curve(460, 150 + i * 50, 720, 140 + i * 52));
    await saved(page);
    await tries('line', () => penStroke(cdp, curve(460, 350, 720, 350)));
    await tries('ring', () => penStroke(cdp, ring(560, 520, 60)));
    await radio('Pencil');
    await tries('pencil', () => penStroke(cdp, curve(650, 460, 800, 470)));
    await radio('Fineliner');
    await radio('Oval');
    await radio('Filled');
    await tries('oval', () => drag(page, [680, 520], [780, 580]));
    await radio('Freehand');
    await radio('Line');
    await press(/^Eraser/);
    await tries('eraser', () => penStroke(cdp, row([520, 120], [540, 260])));
    await radio(/^Soft/);
    await tries('soft eraser', () => penStroke(cdp, row([640, 120], [660, 330])));
    await press(/^Eraser/);
  });

  it('edit: what is picked is moved, changed, doubled and deleted', async () => {
    await press(/^Edit lines/);
    await radio('Pick');
    await pick();
    await tries('move', () => drag(page, [600, 250], [630, 262]));
    await tries('scale', async () => {
      const [x, y] = await middleOf(page, 'handle-scale', 2);
      await drag(page, [x, y], [x + 25, y + 18]);
    });
    for (const [act, key] of [
      ['scale with the sides apart', 'Shift'],
      ['scale about the middle', 'Alt'],
    ])
      await tries(act, async () => {
        const [x, y] = await middleOf(page, 'handle-scale', 2);
        await page.keyboard.down(key);
        await drag(page, [x, y], [x + 14, y + 22]);
        await page.keyboard.up(key);
      });
    await tries('turn', async () => {
      const [x, y] = await middleOf(page, 'handle-turn');
      await drag(page, [x, y], [x + 20, y + 8]);
    });
    for (const name of ['Mirror left to right', 'Bolder', 'Finer', 'Behind the layer’s others', 'Duplicate'])
      await tries(name, () => press(name));
    // What an act has picked is not picked by its redo.
    await pick();
    await tries('pen', () => radio('Brush pen'));
    await tries('colour', () => radio('Loud pink'));
    await tries('delete', () => page.keyboard.press('Delete'));
  });

  it('edit: lines are snipped, mended, and pulled by their points and anywhere', async () => {
    await radio('Snip');
    await tries('snip', () => drag(page, [600, 330], [604, 372]));
    await radio('Mend');
    await tries('mend', () => penStroke(cdp, [...row([660, 465], [720, 430]), ...row([720, 430], [770, 470])]));
    await radio('Points');
    await page.mouse.click(500, 520);
    await page.getByTestId('bend-dots').waitFor();
    const dot = (await page.getByTestId('bend-dots').locator('rect, circle').nth(1).boundingBox())!;
    await tries('point', () => drag(page, [dot.x + dot.width / 2, dot.y + dot.height / 2], [dot.x + 24, dot.y - 12]));
    await page.keyboard.press('Escape');
    await radio('Bend');
    await tries('bend', () => drag(page, [560, 580], [570, 600]));
    await page.keyboard.press('Escape');
    await press(/^Edit lines/);
  });

  it('colour: poured, followed, painted, shaded, hatched, contoured and written', async () => {
    await goTo(page, 'Colour');
    await radio('Pour');
    await radio('#8c3a2b');
    await tries('pour', () => page.mouse.click(560, 530));
    await radio('#c98a45');
    await tries('pour again', () => page.mouse.click(560, 530));
    await tries('pour around', () => page.mouse.click(440, 640));
    await goTo(page, 'Ink');
    await radio('Fineliner');
    await tries('a line that parts a pour', () => penStroke(cdp, row([560, 440], [562, 640])), true);
    await goTo(page, 'Colour');
    await radio('Brush');
    await radio('#2c3a44');
    await tries('paint', () => penStroke(cdp, row([700, 560], [800, 610])));
    await press('Shade');
    await press(/^Shadow: /);
    await tries('shade', () => penStroke(cdp, row([540, 480], [580, 560])));
    await radio('Hatch');
    await penStroke(cdp, row([650, 600], [760, 600]));
    await page.getByText('Now the second guide.').waitFor();
    await penStroke(cdp, row([660, 650], [750, 650]));
    await tries('hatch', () => press('Keep the hatching'));
    await press('Contour');
    await tries('contour', () => press('Draw the contour'));
    await radio('Text');
    await tries('text', async () => {
      await page.mouse.click(480, 660);
      await page.getByTestId('text-begins').waitFor();
      await page.keyboard.type('Tern');
      await press('Done with this text');
    });
  });
});

describe('the same for layers and pictures', () => {
  let trial: Trial;
  let page: Page;
  beforeAll(async () => {
    trial = await Trial.begin();
    page = trial.page;
    await newSheet(page, app.server.url, 'Layers', '800', '900');
    await penStroke(trial.cdp, curve(460, 200, 720, 210));
    await unfold(page);
    await page.getByRole('button', { name: /^\+ Ink/ }).click();
    await penStroke(trial.cdp, curve(480, 120, 700, 330));
    await unfold(page);
  });
  afterAll(() => trial.end());
  const press = (name: string | RegExp) => page.getByRole('button', { name, exact: true }).first().click();
  const more = (layer: string) => press(`More for ${layer}`);
  const slide = async (name: string, key: string) => {
    await page.getByRole('slider', { name }).first().focus();
    for (let k = 0; k < 4; k++) await page.keyboard.press(key);
  };
  const tries = (...of: Parameters<Trial['tries']>) => trial.tries(...of);

  it('layers: their colour, weight, blend, place, copies and merging', async () => {
    await more('Lines 2');
    const colours = page.getByRole('radiogroup', { name: 'Colour of all lines of Lines 2' });
    await tries('colour of all', () => colours.getByRole('radio', { name: 'Loud blue' }).click());
    await tries('opacity', () => slide('Opacity of Lines 2', 'PageDown'));
    await tries('blend', () => page.getByRole('radio', { name: 'Multiply' }).click());
    await tries('kind', () =>
      page.getByRole('radiogroup', { name: 'Kind of Lines 2' }).getByRole('radio', { name: 'Rough' }).click(),
    );
    await tries('duplicate', () => press('Duplicate Lines 2'));
    await more('Lines');
    await tries('up', () => press('Move Lines up'));
    await tries('colour of the lowest', () =>
      page
        .getByRole('radiogroup', { name: 'Colour of all lines of Lines', exact: true })
        .getByRole('radio', { name: 'Loud pink' })
        .click(),
    );
    await tries('delete', () => press(/^Delete Lines, with/));
  });

  it('pictures: put in, weakened, mirrored and turned', async () => {
    await goTo(page, 'Place');
    const path = await halvesPicture(app.server.data, '#6b2d2d', '#d9cdb2');
    await tries('picture', () => choose(page, 'Add picture', path));
    await more('halves');
    await tries('opacity of a picture', () => slide('Opacity of halves', 'PageDown'));
    await press('Move picture');
    await press('Move the picture alone');
    await tries('mirrored picture', () => press('Mirror left to right'));
    await tries('turned picture', () => press('Quarter turn right'));
    await tries('picture by its corner', async () => {
      const [x, y] = await middleOf(page, 'handle-scale', 2);
      await drag(page, [x, y], [x - 24, y - 18]);
    });
  });
});

describe('the same where many layers share their canvases', () => {
  it('a line on one of them, another opacity and another place of others', async () => {
    const trial = await Trial.begin();
    const { page, cdp } = trial;
    await page.goto(`${app.server.url}/sheet/many/ink`);
    await page.getByTestId('paper').waitFor();
    await settled(page);
    await page.getByRole('radio', { name: 'Fineliner' }).click();
    await trial.tries('a line', () => penStroke(cdp, row([480, 300], [760, 420])));
    await unfold(page);
    const press = (name: string) => page.getByRole('button', { name, exact: true }).first().click();
    await press('More for many12');
    await trial.tries('opacity of a layer that shares', async () => {
      await page.getByRole('slider', { name: 'Opacity of many12' }).focus();
      for (let k = 0; k < 4; k++) await page.keyboard.press('PageDown');
    });
    await trial.tries('multiplied', () => page.getByRole('radio', { name: 'Multiply' }).click());
    await trial.tries('up', () => press('Move many12 up'));
    await trial.end();
  });
});

describe('the same on 10,000 lines with what lies around them poured and tied', () => {
  it('a line through the colour, and an eraser through its lines', async () => {
    const trial = await Trial.begin();
    const { page, cdp } = trial;
    await page.goto(`${app.server.url}/sheet/large/ink`);
    await page.getByTestId('paper').waitFor();
    await settled(page);
    await page.evaluate('stage.setView({ ...stage.view, scale: 0.9, x: 200, y: -900 })');
    await settled(page);
    await page.getByRole('radio', { name: 'Fineliner' }).click();
    await trial.tries('a line through the colour', () => penStroke(cdp, row([430, 160], [820, 640], 60)), true);
    await unfold(page);
    await page
      .getByRole('button', { name: /^Eraser/ })
      .first()
      .click();
    await trial.tries('an eraser', () => penStroke(cdp, row([450, 300], [700, 320], 30)), true);
    expect(await page.getByText(/was not taken/).count()).toBe(0);
    await trial.end();
  });
});
