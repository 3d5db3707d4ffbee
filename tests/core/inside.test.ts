import { createCanvas } from '@napi-rs/canvas';
import { Resvg } from '@resvg/resvg-js';
import { decode } from 'fast-png';
import { layer as layerSchema } from '../../contract/entities';
import { sheetPng } from '../../core/formats/sheet-png';
import { sheetSvg } from '../../core/formats/sheet-svg';
import { keepInside } from '../../core/raster/compose';
import { layParts, type Part } from '../../core/raster/lay-parts';
import { makePixels, type Pixels } from '../../core/raster/pixels';
import type { InkableLayer, Layer } from '../../core/sheet/entities';
import { finish } from '../../core/sheet/ink-work';
import { mergeOf } from '../../core/sheet/merging';
import { insideOf } from '../../core/sheet/laid-parts';
import { assign, putRows, type Assign } from '../../core/sheet/steps';
import { makePen } from '../../core/stroke/pen';
import { canvasesOf, layerRuns, type InkRun, type ReferenceRun } from '../../ui/canvas/layer-runs';
import { groupLayer as group, inkLayer, modelOf, referenceEntity, TestSheet } from '../measures/sheets';
import { handSamples, random } from '../measures/strokes';

const colour = (id: string, more: Partial<InkableLayer> = {}): InkableLayer =>
  inkLayer(id, { kind: 'colour', ...more } as Partial<Layer>);

describe('what a layer is kept inside of', () => {
  const boundsOf = (...layers: Layer[]) => Object.fromEntries(insideOf(modelOf(...layers).tree()));

  it('is the colour beneath it, not lines, not what is kept inside itself, not what lies above', () => {
    expect(
      boundsOf(
        colour('skin'),
        colour('coat'),
        inkLayer('lines'),
        colour('shadow', { inside: true }),
        colour('light', { inside: true }),
        colour('above'),
      ),
    ).toEqual({ shadow: ['skin', 'coat'], light: ['skin', 'coat'] });
  });

  it('is that of its own group first, then what lies beneath the group', () => {
    expect(
      boundsOf(
        colour('sea'),
        group('boat'),
        colour('hull', { parent: 'boat' }),
        colour('dark', { parent: 'boat', inside: true }),
        group('shades'),
        colour('dusk', { parent: 'shades', inside: true }),
      ),
    ).toEqual({ dark: ['hull'], dusk: ['sea', 'hull'] });
  });

  it('is nothing where no colour lies beneath: it shows everywhere', () => {
    expect(boundsOf(inkLayer('lines'), colour('shadow', { inside: true }), colour('flat'))).toEqual({});
  });

  it('does not depend on how strong the colour is and whether it is shown', () => {
    const shade = colour('shade', { inside: true });
    expect(boundsOf(colour('flat', { visible: false, opacity: 0.2 }), shade)).toEqual({ shade: ['flat'] });
  });

  it('is a field of what takes ink, and of nothing else', () => {
    const model = modelOf(colour('flat'), group('g'), referenceEntity());
    const set = (id: string): Assign => ({
      ...assign('layers', model.layers.get(id) as InkableLayer, 'inside', true),
    });
    model.apply([set('flat')]);
    expect(model.layers.get('flat')).toMatchObject({ inside: true });
    for (const id of ['g', 'photo']) expect(() => model.apply([set(id)])).toThrow(/inside/);
    expect(layerSchema.safeParse(colour('flat', { inside: true })).success).toBe(true);
    expect(layerSchema.safeParse({ ...group('g'), inside: true }).success).toBe(false);
  });

  it('keeps layers apart that would look otherwise when merged', () => {
    const model = modelOf(colour('flat'), colour('shade', { inside: true }));
    expect(mergeOf(model, ['flat', 'shade'])).toEqual({ kind: 'grouped', because: 'inside' });
  });
});

describe('keeping inside, against W3C Compositing and Blending Level 1', () => {
  const noise = (seed: number): Pixels => {
    const rnd = random(seed);
    const pixels = makePixels(0, 0, 16, 16);
    for (let i = 0; i < pixels.data.length; i += 4) {
      const a = rnd() < 0.2 ? 0 : rnd() < 0.3 ? 255 : Math.floor(rnd() * 256);
      for (let c = 0; c < 3; c++) pixels.data[i + c] = Math.floor(rnd() * (a + 1));
      pixels.data[i + 3] = a;
    }
    return pixels;
  };

  it('is destination-in within one step', () => {
    const [above, below] = [noise(1), noise(2)];
    const kept = { ...above, data: above.data.slice() };
    keepInside(kept, below);
    kept.data.forEach((v, i) => {
      const exact = (above.data[i] * below.data[i - (i % 4) + 3]) / 255;
      expect(Math.abs(v - exact)).toBeLessThanOrEqual(0.51);
    });
  });

  it('is what a canvas does (@napi-rs/canvas)', () => {
    const ctx = createCanvas(1, 1).getContext('2d');
    for (let a = 0; a <= 255; a += 15)
      for (const b of [0, 3, 128, 254, 255]) {
        ctx.globalCompositeOperation = 'copy';
        ctx.fillStyle = `rgba(0,0,0,${a / 255})`;
        ctx.fillRect(0, 0, 1, 1);
        ctx.globalCompositeOperation = 'destination-in';
        ctx.fillStyle = `rgba(0,0,0,${b / 255})`;
        ctx.fillRect(0, 0, 1, 1);
        const one = (v: number): Pixels => ({ ...makePixels(0, 0, 1, 1), data: new Uint8ClampedArray([0, 0, 0, v]) });
        const own = one(a);
        keepInside(own, one(b));
        expect(Math.abs(own.data[3] - ctx.getImageData(0, 0, 1, 1).data[3])).toBeLessThanOrEqual(1);
      }
  });

  it('leaves what was drawn as it was, for it is kept', () => {
    const layers = new Map(['flat', 'shade'].map((id, i) => [id, noise(5 + i)]));
    const before = [...layers.values()].map(({ data }) => data.slice());
    const parts: Part[] = [{ id: 'shade', opacity: 0.5, inside: ['flat', 'gone'] }];
    const target = makePixels(0, 0, 16, 16);
    finish(
      layParts(target, parts, function* (id) {
        return layers.get(id);
      }),
    );
    expect([...layers.values()].map(({ data }) => data)).toEqual(before);
    expect(target.data.some((v) => v > 0)).toBe(true);
  });
});

describe('a shade over flats, sent', () => {
  const PAPER = { widthPx: 240, heightPx: 160, ppi: 300 };

  function shaded(more: Partial<InkableLayer> = {}): TestSheet {
    const sheet = new TestSheet();
    const layers = [
      colour('sea', { order: 'a1' }),
      colour('boat', { order: 'a2' }),
      colour('shade', { order: 'a3', inside: true, blend: 'multiply', ...more }),
    ];
    sheet.put([putRows('layers', ...layers)], []);
    const line = (
      layerId: string,
      y: number,
      sizePx: number,
      ink: string,
      kind: 'fineliner' | 'wash' = 'fineliner',
    ) => {
      sheet.layerId = layerId;
      sheet.ink1(
        handSamples((u) => [30 + 180 * u, y], { ms: 300, tremorPx: 0 }),
        makePen(kind, sizePx, 0, false, 1),
        ink,
      );
    };
    line('sea', 60, 40, '#88bbcc');
    line('boat', 110, 24, '#cc9955');
    sheet.layerId = 'shade';
    // Across both, and beyond.
    sheet.ink1(
      handSamples((u) => [80, 5 + 150 * u], { ms: 300, tremorPx: 0 }),
      makePen('fineliner', 50, 0, false, 1),
      '#9090b0',
    );
    sheet.ink1(
      handSamples((u) => [160, 5 + 150 * u], { ms: 300, tremorPx: 0 }),
      makePen('wash', 40, 0, false, 1),
      '#703060',
    );
    return sheet;
  }
  const pngOf = (s: TestSheet) =>
    decode(Buffer.concat(finish(sheetPng(s.model, s.ink, PAPER, { level: 0, onPaper: false }))));
  const svgOf = (s: TestSheet) => finish(sheetSvg(s.model, s.ink, PAPER, { onPaper: false, title: 'Shade' }));

  it('lies on them alone', () => {
    const { data } = pngOf(shaded());
    const at = (x: number, y: number) => [...data.slice(4 * (y * PAPER.widthPx + x), 4 * (y * PAPER.widthPx + x) + 4)];
    expect(at(80, 20)).toEqual([0, 0, 0, 0]);
    expect(at(80, 85)).toEqual([0, 0, 0, 0]);
    // Multiplied: 0x88 x 0x90 / 255, and so on.
    expect(at(80, 60)).toEqual([77, 106, 141, 255]);
    expect(at(80, 110)).toEqual([115, 86, 59, 255]);
  });

  it.each([
    ['as it is', {}],
    ['weak', { opacity: 0.5 } as const],
    ['laid normally', { blend: 'normal' } as const],
  ])('%s, the SVG drawn by a reference library (resvg) is the PNG', (_name, more) => {
    const sheet = shaded(more);
    const svg = svgOf(sheet);
    expect(svg.match(/<mask /g)).toHaveLength(1);
    const { pixels } = new Resvg(svg, { fitTo: { mode: 'width', value: PAPER.widthPx } }).render();
    const own = pngOf(sheet).data;
    let [sum, most] = [0, 0];
    for (let i = 3; i < own.length; i += 4) {
      const off = Math.abs(own[i] - pixels[i]);
      sum += off;
      most = Math.max(most, off);
      if (own[i] === 255 && pixels[i] === 255)
        for (let c = 1; c <= 3; c++) most = Math.max(most, Math.abs(own[i - c] - pixels[i - c]));
    }
    expect(sum / (own.length / 4)).toBeLessThan(0.2);
    expect(most).toBeLessThan(48);
  });

  it('stays where it is when its flats are hidden, and lies everywhere when they are gone', () => {
    const sheet = shaded();
    const set = (field: 'visible' | 'deleted', value: boolean) =>
      sheet.put(
        ['sea', 'boat'].map((id) => assign('layers', sheet.model.layers.get(id)!, field, value)),
        [],
      );
    const alphaAt = (x: number, y: number) => pngOf(sheet).data[4 * (y * PAPER.widthPx + x) + 3];
    set('visible', false);
    expect([alphaAt(80, 60), alphaAt(80, 20)]).toEqual([255, 0]);
    expect(svgOf(sheet)).toContain('<mask ');
    set('deleted', true);
    expect([alphaAt(80, 60), alphaAt(80, 20)]).toEqual([255, 255]);
    expect(svgOf(sheet)).not.toContain('<mask ');
  });
});

it('a canvas is decided by what its layer is kept inside of, and names it', () => {
  const model = modelOf(colour('flat'), colour('shade', { inside: true }), inkLayer('lines'), inkLayer('more'));
  const settings = { ...model.settings, target: 'shade' };
  const inks = (most?: number) =>
    canvasesOf(layerRuns(model.stack(), settings, { peek: false, over: false }, most)) as InkRun[];
  const run = inks().find(({ ids }) => ids.includes('shade'))!;
  expect(run).toMatchObject({ ids: ['shade'], deciding: ['shade', 'flat'] });
  expect(run.parts).toEqual([{ id: 'shade', opacity: 1, inside: ['flat'] }]);
  const other = { ...settings, target: 'more' };
  const shared = (canvasesOf(layerRuns(model.stack(), other, { peek: false, over: false }, 2)) as InkRun[])[0];
  expect(shared).toMatchObject({ ids: ['flat', 'shade', 'lines'], deciding: ['flat', 'shade', 'flat', 'lines'] });
  const apart = modelOf(colour('flat'), colour('shade'), inkLayer('lines'), inkLayer('more'));
  expect((canvasesOf(layerRuns(apart.stack(), other, { peek: false, over: false }, 2)) as InkRun[])[0].key).not.toBe(
    shared.key,
  );
});

it('the picture lies over the drawing in flat values, while that is looked at, and not while it is peeked away', () => {
  const model = modelOf(referenceEntity({ opacity: 0.3 }), colour('flat'), inkLayer('lines'));
  const looks = (more: object) => layerRuns(model.stack(), model.settings, { peek: false, over: false, ...more });
  const plain = looks({});
  expect(looks({ tones: 4 }).slice(0, -1)).toEqual(plain);
  const top = looks({ tones: 4 }).at(-1) as ReferenceRun;
  expect(top).toMatchObject({ kind: 'reference', blend: 'multiply', shown: true, key: 'tones:reference:photo' });
  expect(top.layers[0]).toMatchObject({ opacity: 1, layer: { id: 'photo:tones' } });
  expect(top.layers[0].layer.recipe!.at(-1)).toMatchObject({ kind: 'steps', thresholds: [0.25, 0.5, 0.75] });
  expect(looks({ tones: 4, peek: true })).toEqual(looks({ peek: true }));
  expect(looks({ tones: 4, over: true })).toEqual(looks({ over: true }));
});
