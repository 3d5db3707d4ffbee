import { FIRST_LAYER, newSettings, type Layer } from '../../core/sheet/entities';
import { layerRuns } from '../../ui/canvas/layer-runs';
import { wheelWish } from '../../ui/canvas/page-wheel';
import { groupLayer } from '../measures/sheets';
import { LINE_WIDTHS_MM, positionOfSize, sizeAtPosition } from '../../core/stroke/line-widths';
import { stepsOfDrag } from '../../ui/screens/sheet/frame/step-drag';
import { uncutHeight } from '../../ui/screens/sheet/frame/uncut-height';
import { fileNameFor } from '../../ui/session/pick-file';
import { paperLike } from '../../ui/session/pictures';
import { DARK, LIGHT, type Theme } from '../../ui/theme/theme';
import { settingsOf } from '../../core/stroke/pen';
import { ownSettings, penSlice, steadyOf, type PenState } from '../../ui/store/pen-slice';

/** Relative luminance and contrast. WCAG 2.2, with the sRGB curve of IEC 61966-2-1. */
function contrast(a: string, b: string): number {
  const luminance = (hex: string) => {
    const [r, g, bl] = [1, 3, 5].map((i) => {
      const v = parseInt(hex.slice(i, i + 2), 16) / 255;
      return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
    });
    return 0.2126 * r + 0.7152 * g + 0.0722 * bl;
  };
  const [hi, lo] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (hi + 0.05) / (lo + 0.05);
}

describe('the colours of the interface, against WCAG 2.2', () => {
  it.each([LIGHT, DARK])('$name: text 4.5:1 and control edges 3:1 on every ground', (theme: Theme) => {
    for (const ground of [theme.page, theme.card, theme.raised, theme.desk, theme.chosen]) {
      for (const ink of [theme.text, theme.quiet, theme.accent, theme.warning])
        expect(contrast(ink, ground)).toBeGreaterThanOrEqual(4.5);
      expect(contrast(theme.edge, ground)).toBeGreaterThanOrEqual(3);
    }
    expect(contrast(theme.onAccent, theme.accent)).toBeGreaterThanOrEqual(4.5);
    expect(contrast(theme.onWarning, theme.warning)).toBeGreaterThanOrEqual(4.5);
  });
});

describe('the canvases of a stack', () => {
  const layer = (id: string, kind: Layer['kind'], more: Partial<Layer> = {}) =>
    ({ ...FIRST_LAYER, id, kind, name: id, ...more }) as Layer;
  /** Bottom first. */
  const laid = (...layers: Layer[]) =>
    layers.map((one, n): Layer => ({ ...one, order: `b${String(n).padStart(2, '0')}V` }));
  const stack = laid(
    layer('photo', 'reference'),
    layer('rough', 'rough'),
    layer('a', 'ink'),
    layer('b', 'ink', { opacity: 0.5 }),
    layer('lines', 'ink'),
  );
  const settings = { ...newSettings(300), hush: 0.4, veil: 0.3 };
  const keys = (looking = { peek: false, over: false }, s = settings) => layerRuns(stack, s, looking).map((r) => r.key);

  it('are one for each layer of ink and one for neighbouring references; the veil lies on the picture', () => {
    expect(keys()).toEqual(['reference:photo', 'veil', 'rough', 'a', 'b', 'lines']);
    const runs = layerRuns(stack, settings, { peek: false, over: false });
    expect(runs[0]).toMatchObject({ opacity: 0.4, shown: true });
    expect(runs[2]).toMatchObject({ opacity: 0.4 });
    expect(runs[4]).toMatchObject({ opacity: 0.5, parts: [{ id: 'b', opacity: 1 }], blend: 'normal' });
    const two = layerRuns(laid(stack[0], layer('sketch', 'reference', { opacity: 0.5 }), ...stack.slice(1)), settings, {
      peek: false,
      over: false,
    });
    expect(two[0]).toMatchObject({ key: 'reference:photo+sketch', layers: [{ opacity: 1 }, { opacity: 0.5 }] });
  });

  it('leave out what lies beside the paper; each picture has a veil of its own, but not over all and full', () => {
    const pictures = laid(
      layer('photo', 'reference', { veil: 0.2 } as Partial<Layer>),
      layer('mood', 'reference', { beside: true } as Partial<Layer>),
      ...stack.slice(1),
    );
    const [run, veil] = layerRuns(pictures, settings, { peek: false, over: false });
    expect(run).toMatchObject({ key: 'reference:photo', layers: [{ opacity: 1, veil: 0.2 }] });
    expect(veil.kind).toBe('veil');
    const over = layerRuns(pictures, settings, { peek: false, over: true }).find((r) => r.kind === 'reference');
    expect(over).toMatchObject({ key: 'reference:photo', layers: [{ opacity: 1, veil: 0 }] });
    const alone = layerRuns(laid(pictures[1], ...stack.slice(1)), settings, { peek: false, over: false });
    expect(alone.map((r) => r.kind)).not.toContain('reference');
    // A veil over nothing would only make the paper whiter.
    expect(alone.map((r) => r.kind)).not.toContain('veil');
  });

  it('are shared by neighbours that are not the target where there may not be so many', () => {
    const most = (n: number, s: readonly Layer[] = stack) =>
      layerRuns(s, settings, { peek: false, over: false }, n).map((r) => r.key);
    expect(most(5)).toEqual(['reference:photo', 'veil', 'rough', 'a', 'b', 'lines']);
    // Each layer with its opacity in the shared pixels.
    expect(most(4)).toEqual(['reference:photo', 'veil', 'rough', 'a@1000+b@500', 'lines']);
    expect(most(3)).toEqual(['reference:photo', 'veil', 'rough@400+a@1000+b@500', 'lines']);
    const thirty = laid(...Array.from({ length: 30 }, (_, n) => layer(`l${n}`, n % 2 ? 'ink' : 'rough')));
    const target = { ...settings, target: 'l15' };
    expect(layerRuns(thirty, target, { peek: false, over: false }, 4)).toHaveLength(3);
    // A hidden layer needs none.
    const hidden = thirty.map((l, n) => (n === 3 ? { ...l, visible: false } : l));
    expect(layerRuns(hidden, target, { peek: false, over: false }).map((r) => r.key)).not.toContain('l3');
  });

  it('of roughs that share are hushed as a whole: however hush is dragged, the same is painted', () => {
    const roughs = laid(
      ...['r', 's', 't'].map((id, n) => layer(id, 'rough', { opacity: 1 - n / 4 })),
      layer('lines', 'ink'),
    );
    const at = (hush: number) => layerRuns(roughs, { ...settings, hush }, { peek: false, over: false }, 2);
    expect(at(0.4).map((r) => r.key)).toEqual(['r@1000+s@750+t@500', 'lines']);
    for (const hush of [0, 0.2, 1]) {
      expect(at(hush).map((r) => r.key)).toEqual(at(0.4).map((r) => r.key));
      expect(at(hush)[0].opacity).toBe(hush);
    }
    const held = [
      groupLayer('g', { blend: 'multiply', opacity: 0.5, order: 'Z0' }),
      ...roughs.slice(0, 3).map((l) => ({ ...l, parent: 'g' })),
      roughs[3],
    ];
    const grouped = (hush: number) => layerRuns(held, { ...settings, hush }, { peek: false, over: false }, 1);
    expect(grouped(0.2).map((r) => r.key)).toEqual(grouped(1).map((r) => r.key));
    expect(grouped(0.2)[0]).toMatchObject({ kind: 'ink', opacity: 0.1, blend: 'multiply' });
  });

  it('hide scaffolding on a peek, veil too, and lay the picture on top, full, on over', () => {
    const peek = layerRuns(stack, settings, { peek: true, over: false });
    expect(peek.map((r) => ('shown' in r ? r.shown : true))).toEqual([false, false, true, true, true]);
    const over = layerRuns(stack, settings, { peek: false, over: true });
    expect(over[over.length - 1]).toMatchObject({ key: 'reference:photo', opacity: 1, shown: true });
    // Ink drawn meanwhile is not hidden by it.
    const inked = layerRuns(stack, settings, { peek: false, over: true, inkOver: true });
    expect(inked.slice(-2).map((r) => r.key)).toEqual(['reference:photo', 'lines']);
  });
});

describe('the height of an opened tray', () => {
  it('cuts through no control', () => {
    const rows = [0, 60, 120, 180, 240].map((top) => ({ top, bottom: top + 48 }));
    expect(uncutHeight(rows, 172, 50)).toBe(172);
    expect(uncutHeight(rows, 200, 50)).toBe(174);
    // Two beside each other, of unequal heights.
    expect(uncutHeight([...rows, { top: 100, bottom: 190 }], 200, 50)).toBe(54);
    // Rows that nearly touch: the one before stays whole.
    const dense = [0, 52, 104, 156].map((top) => ({ top, bottom: top + 48 }));
    expect(uncutHeight(dense, 130, 50)).toBe(102);
    expect(uncutHeight([{ top: 0, bottom: 500 }], 200, 80)).toBe(80);
    expect(uncutHeight([], 200, 80)).toBe(200);
  });
});

describe('the pen in the hand', () => {
  const { take, setPen, resetPen } = penSlice.actions;
  const after = (state: PenState, ...acts: Parameters<typeof penSlice.reducer>[1][]) =>
    acts.reduce((s, act) => penSlice.reducer(s, act), state);
  const fresh = penSlice.getInitialState();

  it('keeps what is set of each pen apart, until it is again as it came', () => {
    const set = after(
      fresh,
      take('brush'),
      setPen({ opacity: 0.4 }),
      setPen({ taperIn: 2 }),
      take('dip'),
      setPen({ smallest: 0.6 }),
    );
    expect(ownSettings(set, 'brush')).toEqual({ ...settingsOf('brush'), opacity: 0.4, taperIn: 2 });
    expect(ownSettings(set, 'dip')).toEqual({ ...settingsOf('dip'), smallest: 0.6 });
    const reset = after(set, take('brush'), resetPen());
    expect(ownSettings(reset, 'brush')).toEqual(settingsOf('brush'));
    expect(ownSettings(reset, 'dip').smallest).toBe(0.6);
  });

  it('is what was kept, with what came since: a pen that is not known is another', () => {
    globalThis.localStorage = {
      getItem: () => JSON.stringify({ kind: 'quill', steady: { dip: 80 }, handSteady: {}, erasing: true }),
    } as unknown as Storage;
    const kept = penSlice.getInitialState();
    delete (globalThis as { localStorage?: Storage }).localStorage;
    expect(kept).toMatchObject({ kind: 'dip', steady: { dip: 80 }, erasing: false, own: {}, pens: [], keptId: null });
    expect(steadyOf({ ...kept, kind: 'brush' })).toBe(55);
    expect(steadyOf({ ...kept, device: 'pen' })).toBe(80);
  });
});

describe('small things', () => {
  it('moves with the wheel and zooms with Ctrl, finer for a trackpad', () => {
    const e = { deltaX: 0, deltaY: 100, deltaMode: 0, ctrlKey: false, metaKey: false, shiftKey: false };
    expect(wheelWish(e)).toEqual({ kind: 'move', dx: -0, dy: -100 });
    expect(wheelWish({ ...e, shiftKey: true })).toMatchObject({ dx: -100 });
    expect(wheelWish({ ...e, ctrlKey: true })).toMatchObject({ kind: 'zoom', factor: expect.closeTo(0.835, 2) });
    expect(wheelWish({ ...e, ctrlKey: true, deltaY: -10 })).toMatchObject({ factor: expect.closeTo(1.094, 2) });
  });

  it('names files after the sheet, in any script, and never empty', () => {
    expect(fileNameFor('Heron at the jetty', 'png')).toBe('Heron-at-the-jetty.png');
    expect(fileNameFor('  Ña/..\\b: 鷺? ', 'svg')).toBe('Ña-b-鷺.svg');
    expect(fileNameFor('///', 'png')).toBe('sheet.png');
    // Marks belong to their letters (Devanagari, Thai), joiners to their emoji.
    expect(fileNameFor('हिन्दी चित्र', 'png')).toBe('हिन्दी-चित्र.png');
    expect(fileNameFor('ภาพที่ ๑', 'png')).toBe('ภาพที่-๑.png');
    expect(fileNameFor('Ferry 👩🏽‍🎨 & 🇳🇴', 'png')).toBe('Ferry-👩🏽‍🎨-🇳🇴.png');
    expect(fileNameFor('\u0301\u200d', 'svg')).toBe('sheet.svg');
    // Cut between characters as they are read, never within one.
    expect(fileNameFor('👩🏽‍🎨'.repeat(90), 'png')).toBe(`${'👩🏽‍🎨'.repeat(80)}.png`);
    expect(fileNameFor('Heron', 'png', ['2x', 'clear'])).toBe('Heron-2x-clear.png');
  });

  it('makes paper as large as a picture, within the limits', () => {
    expect(paperLike({ width: 4000, height: 3000 })).toEqual({ widthPx: 4000, heightPx: 3000, ppi: 300 });
    expect(Math.max(paperLike({ width: 40000, height: 100 }).widthPx)).toBe(20000);
  });

  it('steps line widths by the square root of 2 (ISO 128-2), as rounded there', () => {
    for (let i = 1; i < LINE_WIDTHS_MM.length; i++)
      expect(LINE_WIDTHS_MM[i] / LINE_WIDTHS_MM[i - 1]).toBeCloseTo(Math.SQRT2, 0.5);
  });

  it('sets nib sizes by even ratios, from 1 to 120 px, and finds each again', () => {
    expect([0, 100].map(sizeAtPosition)).toEqual([1, 120]);
    for (let p = 0; p < 100; p++) {
      expect(sizeAtPosition(p + 1)).toBeGreaterThanOrEqual(sizeAtPosition(p));
      expect(Math.abs(positionOfSize(sizeAtPosition(p)) - p)).toBeLessThanOrEqual(1);
    }
    expect([positionOfSize(0.5), positionOfSize(500)]).toEqual([0, 100]);
  });

  it('goes a step further every 24 px along undo, either way, and nowhere once it has left', () => {
    expect(stepsOfDrag(20, 5, 9)).toEqual({ kind: 'tap' });
    expect(stepsOfDrag(24, 5, 9)).toEqual({ kind: 'steps', steps: 1 });
    expect(stepsOfDrag(-75, 20, 9)).toEqual({ kind: 'steps', steps: 3 });
    expect(stepsOfDrag(900, 0, 4)).toEqual({ kind: 'steps', steps: 4 });
    expect(stepsOfDrag(75, -80, 9)).toEqual({ kind: 'left' });
    expect(stepsOfDrag(75, 0, 0)).toEqual({ kind: 'tap' });
  });
});
