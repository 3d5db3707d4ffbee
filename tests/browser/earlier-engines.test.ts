import { encodeFrame } from '../../contract/frame';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { handSamples } from '../measures/strokes';
import { inkedElsewhere, strokeEntity } from '../measures/sheets';
import { curve, openPage, penStroke, PHONE, testApp } from './harness';
import { inkIn, settled } from './sheet-driver';
import { until } from '../measures/until';

jest.setTimeout(120000);
const app = testApp();
const PAPER = { widthPx: 600, heightPx: 800, ppi: 300 };

async function sheetNamed(id: string): Promise<void> {
  const answer = await fetch(`${app.server.url}/api/drawer`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ id: `make-${id}`, kind: 'create', sheetId: id, name: id, paper: PAPER }),
  });
  expect(answer.status).toBe(200);
}

/** Fewer dark pixels than a line has on the screen, more than those of one's own. */
const LINE_PX = 8000;

/** A line across the whole paper, inked by another device with an engine. */
async function inkElsewhere(sheet: string, engine: number, y: number): Promise<void> {
  const stroke = strokeEntity(`by-${engine}-${y}`, { engine, pen: makePen('fineliner', 60, 30, true, 1) });
  const bytes = encodeSamples(handSamples((u) => [20 + 560 * u, y], { ms: 500 }));
  const answer = await fetch(`${app.server.url}/api/sheets/${sheet}/steps`, {
    method: 'POST',
    body: encodeFrame({ steps: [inkedElsewhere(stroke)] }, new Map([[stroke.id, bytes]])),
  });
  expect(answer.status).toBe(200);
}

describe('ink of earlier engines', () => {
  it.each([1, 2, 3])('of engine %d is shown, whether it was there or comes from another device', async (engine) => {
    const sheet = `engine-${engine}`;
    await sheetNamed(sheet);
    await inkElsewhere(sheet, engine, 300);
    const { page, cdp, errors, context } = await openPage(app.browser, PHONE);
    await page.goto(`${app.server.url}/sheet/${sheet}/ink`);
    const box = (await page.getByTestId('paper').boundingBox())!;
    await settled(page);
    const there = await inkIn(page, box);
    expect(there).toBeGreaterThan(LINE_PX);
    await inkElsewhere(sheet, engine, 500);
    // What another device has inked comes with the answer to a line of one's own.
    await penStroke(cdp, curve(box.x + 160, box.y + 60, box.x + 220, box.y + 70, 12, 0));
    await until(async () => (await inkIn(page, box)) > there + LINE_PX, 'the line of the other device');
    expect(errors).toEqual([]);
    await context.close();
  });

  it('of the first is shown at once where it comes before the later file', async () => {
    const sheet = 'first-early';
    await sheetNamed(sheet);
    const { page, cdp, errors, context } = await openPage(app.browser, PHONE);
    await page.goto(`${app.server.url}/sheet/${sheet}/ink`);
    const box = (await page.getByTestId('paper').boundingBox())!;
    const before = await inkIn(page, box);
    await inkElsewhere(sheet, 1, 400);
    await penStroke(cdp, curve(box.x + 160, box.y + 60, box.x + 220, box.y + 70, 12, 0));
    await until(async () => (await inkIn(page, box)) > before + LINE_PX, 'the line of the other device');
    expect(errors).toEqual([]);
    await context.close();
  });
});
