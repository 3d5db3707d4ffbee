import { createCanvas, GlobalFonts } from '@napi-rs/canvas';
import { Resvg } from '@resvg/resvg-js';
import * as fc from 'fast-check';
import { decode } from 'fast-png';
import { layer as layerSchema, stroke as strokeSchema, FIELD_SCHEMAS } from '../../contract/entities';
import { sheetPng } from '../../core/formats/sheet-png';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { apply } from '../../core/geometry/matrix';
import { drawStroke, RasterWorkspace, spineBox } from '../../core/raster/draw-stroke';
import { makePixels, parseColour } from '../../core/raster/pixels';
import { LABEL_FONTS, MOST_LABEL, type LabelFont, type LabelWords, type TextLayer } from '../../core/sheet/entities';
import { toleranceAt } from '../../core/sheet/ink-box';
import { finish } from '../../core/sheet/ink-work';
import { labelAt, labelMatrix, labelsOf, LETTERS_ORDER, middleOf, movedLabel, OUTLINE_ORDER, sizeOf, turnOf, type LabelStroke } from '../../core/sheet/labels'; // prettier-ignore
import { assign, putRows, StepRefused } from '../../core/sheet/steps';
import { encodePath } from '../../core/stroke/pack-path';
import { decodePath } from '../../core/stroke/path';
import { ENGINE, type Pen } from '../../core/stroke/pen';
import { SpineMaker } from '../../core/stroke/spine-maker';
import { joinedContours, laidLabel } from '../../core/text/label-shape';
import { LETTERS_PEN, outlinePen, outlineWidth } from '../../core/text/label-pens';
import { LABEL_PX } from '../../core/text/label-size';
import { labelFontBytes } from '../../demo/label-font';
import { advancesIn, lettersIn } from '../measures/label-fonts';
import { strokeEntity, TestSheet } from '../measures/sheets';

for (const font of LABEL_FONTS) GlobalFonts.register(Buffer.from(labelFontBytes(font)), `label ${font}`);

const WORDS: LabelWords = { text: 'Ferry bell', font: 'serif', align: 'left', spacing: 1.2 };
const TEXTS = ['Ferry bell', 'AVATAR To Ty', 'fjord office ffi', '“Ünïcødé” — 3½', "We've got 20% off", 'Żółć'];

const bytesOf = (words: LabelWords): Uint8Array =>
  encodePath(joinedContours(laidLabel(lettersIn(words.font), words).contours.flat())!);

describe('a line of letters', () => {
  it.each(LABEL_FONTS)(
    "in %s is as wide as the font's own advance widths say (its hmtx table, read by hand)",
    (font) => {
      const advance = advancesIn(font);
      for (let code = 0x20; code < 0x7f; code++) {
        const one = String.fromCharCode(code);
        expect([one, lettersIn(font).set(one).width]).toEqual([one, advance(one)]);
      }
    },
  );

  it.each(LABEL_FONTS)('in %s is kerned and joined as a reference library (@napi-rs/canvas) does it', (font) => {
    const context = createCanvas(8, 8).getContext('2d');
    context.font = `1000px "label ${font}"`;
    for (const text of TEXTS)
      expect(Math.abs(1000 * lettersIn(font).set(text).width - context.measureText(text).width)).toBeLessThan(0.1);
  });

  it('joins letters where the font has one for several', () => {
    expect(lettersIn('serif').set('ffi').letters).toHaveLength(1);
    expect(lettersIn('serif').set('fif').letters).toHaveLength(2);
  });

  it('says what the font has no letter for, once each; a letter in two pieces is one', () => {
    expect(lettersIn('hand').lacking('a 漢\n漢 🐦 e\u0301')).toEqual(['漢', '🐦']);
    const width = (text: string) => lettersIn('hand').set(text).width;
    expect(width('e\u0301')).toBe(width('é'));
  });
});

/** How much of each pixel a label's letters cover, 0 to 255, in one colour at a scale; (0, 0) lies at (x, y). */
function cover(words: LabelWords, pen: Pen, [w, h]: [number, number], [x, y]: [number, number], sizePx: number) {
  const scale = sizePx / LABEL_PX;
  const spine = new SpineMaker().ofBytes(bytesOf(words), pen, ENGINE, toleranceAt(Math.log2(scale)));
  const pixels = makePixels(-x, -y, w, h);
  const stroke = { spine, box: spineBox(spine), colour: parseColour('#000000'), holes: [] };
  drawStroke(pixels, stroke, scale, new RasterWorkspace(w, h));
  return pixels.data.filter((_, i) => i % 4 === 3);
}

/**
 * The same by the reference library: drawn larger, so that letters are its paths, not its small glyphs, and averaged.
 * @param outlinePx how far an outline stands out around them.
 */
function reference(
  words: LabelWords,
  [w, h]: [number, number],
  [x, y]: [number, number],
  sizePx: number,
  outlinePx = 0,
) {
  const fine = Math.ceil(300 / sizePx);
  const context = createCanvas(fine * w, fine * h).getContext('2d');
  context.font = `${fine * sizePx}px "label ${words.font}"`;
  context.textAlign = words.align === 'middle' ? 'center' : words.align;
  words.text.split('\n').forEach((line, n) => {
    const at = fine * (y + n * words.spacing * sizePx);
    context.fillText(line, fine * x, at);
    if (!outlinePx) return;
    context.lineWidth = 2 * fine * outlinePx;
    context.lineJoin = 'round';
    context.strokeText(line, fine * x, at);
  });
  const { data } = context.getImageData(0, 0, fine * w, fine * h);
  const out = new Float64Array(w * h);
  for (let i = 0; i < w * h * fine * fine; i++)
    out[Math.floor(Math.floor(i / (fine * w)) / fine) * w + Math.floor((i % (fine * w)) / fine)] += data[4 * i + 3] / fine / fine; // prettier-ignore
  return out;
}

/** What cannot be seen, of 255. */
const FAINT = 4;

/** Pixels that one picture covers where the other covers nothing near. */
function straysOf(a: ArrayLike<number>, b: ArrayLike<number>, width: number): number {
  const isNear = (at: number) => [-1, 0, 1].some((dy) => [-1, 0, 1].some((dx) => (b[at + dy * width + dx] ?? 0) > 0));
  let strays = 0;
  for (let i = 0; i < a.length; i++) if (a[i] > FAINT && !isNear(i)) strays++;
  return strays;
}

/** How far two pictures differ: the mean, and strays of either. */
function off(a: ArrayLike<number>, b: ArrayLike<number>, width: number) {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += Math.abs(a[i] - b[i]);
  return { mean: sum / a.length, strays: straysOf(a, b, width) + straysOf(b, a, width) };
}

describe('the letters of a label', () => {
  it.each(LABEL_FONTS)(
    'in %s cover what a reference library (@napi-rs/canvas) fills, and nothing between them',
    (font) => {
      const words: LabelWords = { text: 'KRAK! figs\nOil & 80% i:j', font, align: 'middle', spacing: 1.1 };
      for (const sizePx of [24, 60, 200]) {
        const size: [number, number] = [6 * sizePx, 3 * sizePx];
        const at: [number, number] = [3 * sizePx, Math.round(1.2 * sizePx)];
        const { mean, strays } = off(
          cover(words, LETTERS_PEN, size, at, sizePx),
          reference(words, size, at, sizePx),
          size[0],
        );
        expect(strays).toBe(0);
        // The library hints what is small to its own grid.
        expect(mean).toBeLessThan(sizePx < 50 ? 2.5 : 1);
      }
    },
  );

  it('with an outline cover as much more as its line stands out, and nothing between letters', () => {
    const words: LabelWords = { text: 'BOOM: i%', font: 'shout', align: 'left', spacing: 1.2 };
    for (const width of [0.02, 0.1]) {
      const pen = outlinePen(width);
      expect(outlineWidth(pen)).toBeCloseTo(width, 12);
      const ours = cover(words, pen, [700, 300], [60, 200], 160);
      const { mean, strays } = off(ours, reference(words, [700, 300], [60, 200], 160, width * 160), 700);
      expect(strays).toBe(0);
      expect(mean).toBeLessThan(1);
    }
  });

  it('never shows how its curves are joined, whatever it says and however small it is', () => {
    const text = fc.string({ unit: fc.constantFrom(...'ijMo8%&:;"äg \n'), minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(
        text,
        fc.constantFrom<LabelFont>('serif', 'shout', 'hand'),
        fc.integer({ min: 6, max: 90 }),
        (said, font, sizePx) => {
          const words: LabelWords = { text: said, font, align: 'left', spacing: 1 };
          fc.pre(laidLabel(lettersIn(font), words).contours.length > 0);
          const size: [number, number] = [10 * sizePx, 14 * sizePx];
          const ours = cover(words, LETTERS_PEN, size, [sizePx, 2 * sizePx], sizePx);
          // What is drawn letter by letter has no joins between letters.
          const { contours } = laidLabel(lettersIn(font), words);
          const apart = new Uint16Array(ours.length);
          for (const letter of contours)
            for (const ring of letter) {
              const spine = new SpineMaker().ofBytes(encodePath(joinedContours([ring])!), LETTERS_PEN, ENGINE, toleranceAt(Math.log2(sizePx / LABEL_PX))); // prettier-ignore
              const pixels = makePixels(-sizePx, -2 * sizePx, ...size);
              drawStroke(pixels, { spine, box: spineBox(spine), colour: parseColour('#000000'), holes: [] }, sizePx / LABEL_PX, new RasterWorkspace(...size)); // prettier-ignore
              apart.forEach((v, i) => (apart[i] = v + pixels.data[4 * i + 3]));
            }
          expect(straysOf(ours, apart, size[0])).toBe(0);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('lie where lines begin, end or have their middle, and one line below the other', () => {
    const boxOf = (more: Partial<LabelWords>) =>
      laidLabel(lettersIn('plain'), { ...WORDS, font: 'plain', ...more }).box;
    const width = lettersIn('plain').set('Ferry bell').width * LABEL_PX;
    expect(boxOf({ align: 'left' }).filter((_, i) => i % 2 === 0)).toEqual([0, width]);
    expect(boxOf({ align: 'right' }).filter((_, i) => i % 2 === 0)).toEqual([-width, 0]);
    expect(boxOf({ align: 'middle' }).filter((_, i) => i % 2 === 0)).toEqual([-width / 2, width / 2]);
    expect(boxOf({ text: 'Ferry bell\n\nx' })[3] - boxOf({})[3]).toBeCloseTo(2 * 1.2 * LABEL_PX, 9);
  });

  it('are kept as a path that is read back; of blanks there is none; the longest is not too long', () => {
    const path = decodePath(bytesOf(WORDS));
    expect(path.closed).toBe(true);
    expect(
      joinedContours(laidLabel(lettersIn('hand'), { ...WORDS, font: 'hand', text: ' \n ' }).contours.flat()),
    ).toBeUndefined();
    for (const font of LABEL_FONTS)
      expect(() => bytesOf({ ...WORDS, font, text: '%'.repeat(MOST_LABEL) })).not.toThrow();
  });
});

const layer = (id = 'text', more: Partial<TextLayer> = {}): TextLayer => ({
  ...{ id, kind: 'text', deleted: false, name: id, order: 'a5', visible: true, locked: false, opacity: 1 },
  ...more,
});

/** A sheet with a label on a layer of its own, and an outline around it. */
function labelled({ outline = true, matrix = labelMatrix(60, 90, 64), more = {} as Partial<TextLayer> } = {}) {
  const sheet = new TestSheet();
  const words: LabelWords = { text: 'Tern & Tide\nB8%', font: 'serif', align: 'left', spacing: 1.1 };
  const { box } = laidLabel(lettersIn('serif'), words);
  const bytes = bytesOf(words);
  const mark = { layerId: 'text', matrix, label: { ...words, box } };
  const letters = strokeEntity('letters', { ...mark, order: LETTERS_ORDER, colour: '#a03b22', pen: LETTERS_PEN });
  const around = strokeEntity('around', { ...mark, order: OUTLINE_ORDER, colour: '#17605c', pen: outlinePen(0.08), label: { ...mark.label, isOutline: true } }); // prettier-ignore
  const strokes = outline ? [around, letters] : [letters];
  sheet.put([putRows('layers', layer('text', more)), putRows('strokes', ...strokes)], strokes.map(({ id }) => [id, bytes])); // prettier-ignore
  return sheet;
}

const PAPER = { widthPx: 480, heightPx: 240, ppi: 300 };

describe('a label on a sheet', () => {
  it.each([
    ['level', labelMatrix(60, 90, 64), {}],
    [
      'turned',
      movedLabel(labelled().model.strokes.get('letters') as LabelStroke, { turnDeg: -12, dx: 10, dy: 20 }),
      {},
    ],
    ['weak and multiplied', labelMatrix(60, 90, 64), { opacity: 0.5, blend: 'multiply' as const }],
  ])('%s: the SVG drawn by a reference library (resvg) is the PNG', (_name, matrix, more) => {
    const { ink, model } = labelled({ matrix, more });
    const svg = finish(sheetSvg(model, ink, PAPER, { onPaper: true, title: 'Labels' }));
    expect(svg).not.toContain('<text');
    const { data: own, channels } = decode(
      Buffer.concat(finish(sheetPng(model, ink, PAPER, { level: 0, onPaper: true }))),
    );
    const { pixels } = new Resvg(svg, { fitTo: { mode: 'width', value: PAPER.widthPx } }).render();
    let [sum, most] = [0, 0];
    for (let i = 0; i < own.length; i++) {
      const offBy = Math.abs(own[i] - pixels[4 * Math.floor(i / channels) + (i % channels)]);
      sum += offBy;
      most = Math.max(most, offBy);
    }
    expect(sum / own.length).toBeLessThan(0.35);
    // Where two parts of an outline meet in one pixel, ours takes the larger of both.
    expect(most).toBeLessThan(110);
  });

  it('is found by its layer, with its outline, also one that was taken away; and not when it is gone', () => {
    const { model } = labelled();
    const [found] = labelsOf(model);
    expect([found.layer.id, found.letters.id, found.outline?.id]).toEqual(['text', 'letters', 'around']);
    model.apply([assign('strokes', model.strokes.get('around')!, 'deleted', true)]);
    expect(labelsOf(model)[0].outline?.deleted).toBe(true);
    model.apply([assign('layers', model.layers.get('text')!, 'deleted', true)]);
    expect(labelsOf(model)).toEqual([]);
  });

  it('is touched on its lines and a little beside them, where it can be seen and changed', () => {
    const { model } = labelled();
    const at = (x: number, y: number) => labelAt(model, x, y, 10)?.layer.id;
    expect([at(100, 85), at(52, 85), at(45, 85), at(100, 220)]).toEqual(['text', 'text', undefined, undefined]);
    for (const field of ['locked', 'visible'] as const) {
      const before = model.layers.get('text')!;
      model.apply([assign('layers', before, field, field === 'locked')]);
      expect(at(100, 85)).toBeUndefined();
      model.apply([assign('layers', model.layers.get('text')!, field, before[field])]);
    }
    expect(at(100, 85)).toBe('text');
  });

  it('is moved, sized and turned about its middle', () => {
    const stroke = labelled().model.strokes.get('letters') as LabelStroke;
    expect(sizeOf(stroke)).toBeCloseTo(64, 9);
    expect(turnOf(stroke)).toBe(0);
    const matrix = movedLabel(stroke, { dx: 7, dy: -3, factor: 1.5, turnDeg: 30 });
    const moved = { ...stroke, matrix };
    expect(sizeOf(moved)).toBeCloseTo(96, 9);
    expect(turnOf(moved)).toBeCloseTo(30, 9);
    const [x, y] = middleOf(stroke);
    expect(middleOf(moved)[0]).toBeCloseTo(x + 7, 9);
    expect(middleOf(moved)[1]).toBeCloseTo(y - 3, 9);
    // A quarter turn: what was to the right of the middle lies below it.
    const quarter = movedLabel(stroke, { turnDeg: 90 });
    const [bx0, by0, bx1] = stroke.label.box;
    const [ax, ay] = apply(quarter, bx1, (by0 + stroke.label.box[3]) / 2);
    expect([ax - x, ay - y]).toEqual([expect.closeTo(0, 6), expect.closeTo(((bx1 - bx0) / 2) * (64 / LABEL_PX), 6)]);
  });

  it('takes nothing but its letters, and no other layer takes these', () => {
    const { model } = labelled();
    const put = (more: object) => () => model.apply([putRows('strokes', strokeEntity('x', more))]);
    const { label } = model.strokes.get('letters')!;
    expect(put({ layerId: 'text' })).toThrow(StepRefused);
    expect(put({ layerId: 'lines', label })).toThrow(StepRefused);
    expect(() => model.apply([assign('sheet', model.settings, 'target', 'text')])).toThrow(StepRefused);
    expect(() => model.apply([assign('layers', model.layers.get('text')!, 'kind' as never, 'ink' as never)])).toThrow(StepRefused); // prettier-ignore
  });

  it('passes the door as it is; what a later opening could not read does not', () => {
    const { model } = labelled();
    const letters = model.strokes.get('letters')!;
    expect(layerSchema.parse(layer())).toEqual(layer());
    expect(strokeSchema.parse(letters)).toEqual(letters);
    const bad = (more: object) => FIELD_SCHEMAS.strokes.label.safeParse({ ...letters.label, ...more }).success;
    expect(bad({})).toBe(true);
    expect([{ text: '' }, { text: 'a\u0000b' }, { text: 'x'.repeat(MOST_LABEL + 1) }, { font: 'other' }, { spacing: NaN }, { box: [0, 0, 1] }, { shape: '~a' }].map(bad)).toEqual(Array(7).fill(false)); // prettier-ignore
    expect(FIELD_SCHEMAS.strokes.label.safeParse(null).success).toBe(false);
  });

  it('says something else by another shape, and undo brings the first one back', () => {
    const sheet = labelled({ outline: false });
    const picture = () => finish(sheetPng(sheet.model, sheet.ink, PAPER, { level: 0, onPaper: true }));
    const before = Buffer.concat(picture());
    const { label } = sheet.model.strokes.get('letters')!;
    const words: LabelWords = { ...WORDS, text: 'Low water' };
    const next = { ...words, box: laidLabel(lettersIn('serif'), words).box, shape: 'other' };
    sheet.put([assign('strokes', sheet.model.strokes.get('letters')!, 'label', next)], [['other', bytesOf(words)]]);
    expect(Buffer.concat(picture()).equals(before)).toBe(false);
    sheet.undo();
    expect(sheet.model.strokes.get('letters')!.label).toEqual(label);
    expect(Buffer.concat(picture()).equals(before)).toBe(true);
  });
});
