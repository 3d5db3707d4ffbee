import { Resvg } from '@resvg/resvg-js';
import { decode } from 'fast-png';
import { layer as layerSchema } from '../../contract/entities';
import { sheetPng, type PictureSource } from '../../core/formats/sheet-png';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { isPicture, isScaffolding, type LiftedLayer } from '../../core/sheet/entities';
import { sentLayers } from '../../core/sheet/sent-layers';
import { assign, planWrites, putRows, StepRefused } from '../../core/sheet/steps';
import { layerRuns } from '../../ui/canvas/layer-runs';
import { handSamples } from '../measures/strokes';
import { referenceEntity, TestSheet } from '../measures/sheets';
import { waited } from '../measures/waited';

const PAPER = { widthPx: 120, heightPx: 90, ppi: 300 };
const LIFTED: LiftedLayer = {
  ...{ id: 'page', kind: 'lifted', name: 'Page lifted', order: 'a1', deleted: false, visible: true, locked: false },
  ...{ opacity: 1, picture: { hash: 'b'.repeat(64), width: 40, height: 30 } },
  placement: { cx: 60, cy: 45, scale: 2, turnDeg: 0, mirrored: false },
  recipe: [{ id: 'l', kind: 'lift', on: true, paper: 0.9, line: 0.2, keep: 0.5, specks: 0 }],
};

/** Half covered red in a band of the paper, at any level. */
const band: PictureSource = (id, level, { x0, y0, width, height }) => {
  expect(id).toBe('page');
  const data = new Uint8ClampedArray(4 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [px, py] = [(x0 + x + 0.5) / 2 ** level, (y0 + y + 0.5) / 2 ** level];
      if (px > 30 && px < 90 && py > 40 && py < 50) data.set([128, 0, 0, 128], 4 * (y * width + x));
    }
  return Promise.resolve(data);
};

function sheet(more: Partial<LiftedLayer> = {}): TestSheet {
  const made = new TestSheet();
  made.ink1(handSamples((u) => [10 + 100 * u, 20], { ms: 300 }));
  made.model.apply([putRows('layers', { ...LIFTED, ...more })]);
  return made;
}

describe('a lifted layer', () => {
  it('is a picture and the work: no scaffolding, sent, and takes no ink', () => {
    const { model } = sheet();
    expect([isPicture(LIFTED), isScaffolding(LIFTED)]).toEqual([true, false]);
    expect(sentLayers(model).map(({ id }) => id)).toContain('page');
    expect(layerSchema.safeParse(LIFTED).success).toBe(true);
    const stroke = [...model.strokes.values()][0];
    const read = ((table: string, id: string) => (table === 'layers' ? model.layers.get(id) : undefined)) as never;
    expect(() => planWrites([putRows('strokes', { ...stroke, id: 'new', layerId: 'page' })], read)).toThrow(
      StepRefused,
    );
    expect(() => planWrites([assign('layers', LIFTED, 'kind' as never, 'ink' as never)], read)).toThrow(StepRefused);
    expect(() => planWrites([assign('layers', LIFTED, 'beside' as never, true as never)], read)).toThrow(StepRefused);
    expect(planWrites([assign('layers', LIFTED, 'recipe', [])], read)).toHaveLength(1);
    expect(planWrites([assign('layers', LIFTED, 'blend', 'multiply')], read)).toHaveLength(1);
  });

  it('is in a PNG as it lies among the others, at any size, and not where it is hidden', async () => {
    for (const level of [0, 1]) {
      const made = sheet();
      const options = { level, onPaper: false };
      const png = Buffer.concat(await waited(sheetPng(made.model, made.ink, PAPER, options, band)));
      const { data, width } = decode(png);
      const at = (x: number, y: number) => [...data.slice(4 * (y * width + x), 4 * (y * width + x) + 4)];
      const k = 2 ** level;
      expect(at(60 * k, 45 * k)).toEqual([255, 0, 0, 128]);
      expect(at(60 * k, 60 * k)).toEqual([0, 0, 0, 0]);
      expect(at(60 * k, 20 * k)[3]).toBe(255);
    }
    const hidden = sheet({ visible: false });
    const png = Buffer.concat(
      await waited(sheetPng(hidden.model, hidden.ink, PAPER, { level: 0, onPaper: false }, band)),
    );
    expect(decode(png).data[4 * (45 * 120 + 60) + 3]).toBe(0);
  });

  it('is a picture in an SVG, which another renderer draws as it is; one beyond the paper is not in it', async () => {
    const made = sheet({ opacity: 0.5 });
    const svg = await waited(sheetSvg(made.model, made.ink, PAPER, { onPaper: false, title: 'Bell' }, band));
    expect(svg).toMatch(
      /<g id="layer-2"[^>]* opacity="0.5"><title>Page lifted<\/title>\n<image x="20" y="15" width="80" height="60"/,
    );
    const { pixels, width } = new Resvg(svg, { fitTo: { mode: 'width', value: 120 } }).render();
    const at = (x: number, y: number) => [...pixels.subarray(4 * (y * width + x), 4 * (y * width + x) + 4)];
    // Half of a half, multiplied by alpha.
    const [r, g, , alpha] = at(60, 45);
    expect([Math.abs(alpha - 64) <= 1, Math.abs(r - 64) <= 1, g]).toEqual([true, true, 0]);
    expect(at(60, 60)).toEqual([0, 0, 0, 0]);
    const far = sheet({ placement: { ...LIFTED.placement, cx: 900 } });
    const without = await waited(sheetSvg(far.model, far.ink, PAPER, { onPaper: false, title: 'Bell' }, band));
    expect(without).not.toContain('<image');
  });

  it('fails a file whose picture cannot be had, and does not leave it out', async () => {
    const made = sheet();
    const none: PictureSource = () => Promise.reject(new Error('gone'));
    await expect(waited(sheetPng(made.model, made.ink, PAPER, { level: 0, onPaper: true }, none))).rejects.toThrow(
      'gone',
    );
    await expect(waited(sheetPng(made.model, made.ink, PAPER, { level: 0, onPaper: true }))).rejects.toThrow('page');
  });

  it('is shown as it lies, as loud as ink: neither hushed nor peeked, nor brought over all', () => {
    const { model } = sheet();
    const photo = referenceEntity();
    const stack = [photo, ...model.stack()];
    const runsOf = (looking: { peek: boolean; over: boolean }) => layerRuns(stack, model.settings, looking);
    const keys = (looking: { peek: boolean; over: boolean }) =>
      runsOf(looking).flatMap((run) => ('shown' in run && run.shown ? [[run.key, run.opacity]] : []));
    expect(keys({ peek: false, over: false })).toEqual([
      ['reference:photo', 0.45],
      ['lines', 1],
      ['lifted:page', 1],
    ]);
    expect(keys({ peek: true, over: false })).toEqual([
      ['lines', 1],
      ['lifted:page', 1],
    ]);
    expect(keys({ peek: false, over: true }).map(([key]) => key)).toEqual(['lines', 'lifted:page', 'reference:photo']);
  });
});
