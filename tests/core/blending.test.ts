import { createCanvas } from '@napi-rs/canvas';
import { BLENDS, layOver, type Blend } from '../../core/raster/compose';
import { layParts, type Part } from '../../core/raster/lay-parts';
import { makePixels, type Pixels } from '../../core/raster/pixels';
import { newSettings, type Layer } from '../../core/sheet/entities';
import { finish } from '../../core/sheet/ink-work';
import { layersOf, layerTree } from '../../core/sheet/layer-tree';
import type { SheetModel } from '../../core/sheet/sheet-model';
import { layerRuns, type Run } from '../../ui/canvas/layer-runs';
import { inkLayer as layer, groupLayer as group, modelOf, referenceEntity } from '../measures/sheets';
import { random } from '../measures/strokes';

describe('blending, against W3C Compositing and Blending Level 1', () => {
  const noise = (seed: number, opaque = false): Pixels => {
    const rnd = random(seed);
    const pixels = makePixels(0, 0, 16, 16);
    for (let i = 0; i < pixels.data.length; i += 4) {
      const a = opaque ? 255 : Math.floor(rnd() * 256);
      for (let c = 0; c < 3; c++) pixels.data[i + c] = Math.floor(rnd() * (a + 1));
      pixels.data[i + 3] = a;
    }
    return pixels;
  };
  const copyOf = (p: Pixels): Pixels => ({ ...p, data: p.data.slice() });

  it.each(BLENDS)('%s is its formula within one step, whatever the alphas', (blend) => {
    const mix = {
      normal: (_b: number, s: number) => s,
      multiply: (b: number, s: number) => b * s,
      screen: (b: number, s: number) => b + s - b * s,
    };
    const [under, over] = [noise(11), noise(12)];
    const found = copyOf(under);
    layOver(found, over, 1, blend);
    for (let i = 0; i < found.data.length; i += 4) {
      const [ab, as] = [under.data[i + 3] / 255, over.data[i + 3] / 255];
      for (let c = 0; c < 3; c++) {
        const [cb, cs] = [ab && under.data[i + c] / 255 / ab, as && over.data[i + c] / 255 / as];
        // co = as x (1 - ab) x Cs + as x ab x B(Cb, Cs) + (1 - as) x ab x Cb
        const co = as * (1 - ab) * cs + as * ab * mix[blend](cb, cs) + (1 - as) * ab * cb;
        expect(Math.abs(found.data[i + c] / 255 - co)).toBeLessThanOrEqual(1.01 / 255);
        expect(found.data[i + c]).toBeLessThanOrEqual(found.data[i + 3]);
      }
    }
  });

  it.each(['multiply', 'screen'] as const)('%s is what a canvas does (@napi-rs/canvas)', (blend) => {
    const canvas = createCanvas(1, 1);
    const ctx = canvas.getContext('2d');
    const rnd = random(5);
    for (let n = 0; n < 200; n++) {
      const [b, s] = [0, 1].map(() => [0, 1, 2].map(() => Math.floor(rnd() * 256)));
      ctx.globalCompositeOperation = 'source-over';
      ctx.fillStyle = `rgb(${b.join(',')})`;
      ctx.fillRect(0, 0, 1, 1);
      ctx.globalCompositeOperation = blend;
      ctx.fillStyle = `rgb(${s.join(',')})`;
      ctx.fillRect(0, 0, 1, 1);
      const target = { ...makePixels(0, 0, 1, 1), data: new Uint8ClampedArray([...b, 255]) };
      layOver(target, { ...makePixels(0, 0, 1, 1), data: new Uint8ClampedArray([...s, 255]) }, 1, blend);
      const { data } = ctx.getImageData(0, 0, 1, 1);
      target.data.forEach((v, i) => expect(Math.abs(v - data[i])).toBeLessThanOrEqual(1));
    }
  });

  it.each(BLENDS)('lets neighbours that are all %s be laid over each other first', (blend) => {
    const layers = new Map(['a', 'b', 'c'].map((id, i) => [id, noise(20 + i)]));
    const parts: Part[] = [...layers.keys()].map((id) => ({ id, opacity: 0.8, blend }));
    const draw = function* (id: string) {
      return layers.get(id);
    };
    const [one, together] = [noise(3, true), noise(3, true)];
    finish(layParts(one, parts, draw));
    const first = makePixels(0, 0, 16, 16);
    finish(layParts(first, parts, draw));
    layOver(together, first, 1, blend);
    one.data.forEach((v, i) => expect(Math.abs(v - together.data[i])).toBeLessThanOrEqual(2));
  });

  it('passes through groups that are neither weakened nor blended, and isolates others', () => {
    const layers = new Map([
      ['a', noise(31)],
      ['b', noise(32)],
    ]);
    const draw = function* (id: string) {
      return layers.get(id);
    };
    const parts: Part[] = [
      { id: 'a', opacity: 1 },
      { id: 'b', opacity: 1, blend: 'multiply' },
    ];
    const laid = (opacity: number) => {
      const target = noise(33, true);
      finish(layParts(target, [{ parts, opacity }], draw));
      return target;
    };
    const plain = noise(33, true);
    finish(layParts(plain, parts, draw));
    expect(laid(1).data).toEqual(plain.data);
    // Within a weakened group nothing is multiplied with what lies below it.
    const alone = makePixels(0, 0, 16, 16);
    finish(layParts(alone, parts, draw));
    const weak = noise(33, true);
    layOver(weak, alone, 0.5);
    expect(laid(0.5).data).toEqual(weak.data);
  });
});

describe('the canvases of groups', () => {
  const settings = { ...newSettings(300), target: 'a', hush: 0.5, veil: 0.3 };
  const plain = { peek: false, over: false };
  const words = (runs: readonly Run[]): string =>
    runs.map((r) => (r.kind === 'group' ? `[${words(r.runs)}]${r.opacity}` : r.key)).join(' ');
  const runs = (model: SheetModel, looking: Parameters<typeof layerRuns>[2] = plain, most?: number) =>
    words(layerRuns(model.stack(), settings, looking, most));

  it('are those of its layers, held together only where it is mixed as a whole', () => {
    expect(
      runs(modelOf(layer('a'), layer('b', { parent: 'g' }), layer('c', { parent: 'g' }), group('g'), layer('d'))),
    ).toBe('a b c d');
    const mixed = modelOf(
      layer('a'),
      layer('b', { parent: 'g' }),
      layer('c', { parent: 'g' }),
      group('g', { opacity: 0.5 }),
    );
    expect(runs(mixed)).toBe('a [b c]0.5');
    // Where there may not be so many it is one, with what it holds in the shared pixels.
    expect(runs(mixed, plain, 2)).toBe('a [b@1000+c@1000]0.5');
    const more = modelOf(layer('a'), layer('b', { parent: 'g' }), group('g', { opacity: 0.5 }), layer('c'), layer('d'));
    expect(runs(more, plain, 2)).toBe('a (b@1000)@500+c@1000+d@1000');
  });

  it('share one only with neighbours that are blended alike', () => {
    const blends: Blend[] = ['multiply', 'multiply', 'screen', 'normal', 'normal'];
    const model = modelOf(layer('a'), ...blends.map((blend, i) => layer(`l${i}`, { blend } as Partial<Layer>)));
    expect(runs(model, plain, 2)).toBe('a l0@1000multiply+l1@1000multiply l2 l3@1000+l4@1000');
    const drawn = layerRuns(model.stack(), settings, plain, 2);
    expect(drawn.map((r) => ('blend' in r ? r.blend : ''))).toEqual(['normal', 'multiply', 'screen', 'normal']);
  });

  it('show a layer or group alone, whatever its eye, with the groups around it', () => {
    const model = modelOf(
      referenceEntity(),
      layer('a'),
      layer('b', { parent: 'g', visible: false }),
      layer('c', { parent: 'g' }),
      group('g', { visible: false }),
    );
    const shown = (solo: string) => {
      const of = (list: readonly Run[]): string[] =>
        list.flatMap((r) => (r.kind === 'group' ? of(r.runs) : r.kind !== 'veil' && r.shown ? r.key : []));
      return of(layerRuns(model.stack(), settings, { ...plain, solo }));
    };
    expect(shown('b')).toEqual(['b']);
    expect(shown('g')).toEqual(['c']);
    expect(shown('photo')).toEqual(['reference:photo']);
    // One that is gone: everything as it is.
    expect(shown('gone')).toEqual(['reference:photo', 'a']);
  });

  it('put the veil above the outermost that holds the topmost picture, and take pictures out of groups on over', () => {
    const model = modelOf(
      referenceEntity({ parent: 'g' }),
      layer('b', { parent: 'g' }),
      group('g', { opacity: 0.5 }),
      layer('a'),
    );
    expect(runs(model)).toBe('[reference:photo b]0.5 veil a');
    expect(runs(model, { peek: false, over: true })).toBe('[b]0.5 a reference:photo');
    const passed = modelOf(referenceEntity({ parent: 'g' }), layer('b', { parent: 'g' }), group('g'), layer('a'));
    expect(runs(passed)).toBe('reference:photo veil b a');
    expect(layersOf(layerTree(passed.layers.values())).map(({ id }) => id)).toEqual(['photo', 'b', 'g', 'a']);
  });
});
