import { InkLines } from '../core/areas/ink-lines';
import { contourAround } from '../core/fill/contour';
import { AreaFinder } from '../core/fill/area-finder';
import { following } from '../core/fill/following';
import { POUR_PEN } from '../core/fill/pour-path';
import { pourTarget } from '../core/fill/pouring';
import { ranOut } from '../core/fill/ran-out';
import type { Place } from '../core/fill/shape-inside';
import { unfilledShapes } from '../core/fill/unfilled';
import { drawStroke, RasterWorkspace } from '../core/raster/draw-stroke';
import { makePixels } from '../core/raster/pixels';
import { finish } from '../core/sheet/ink-work';
import { InkStore } from '../core/sheet/ink-store';
import { putRows } from '../core/sheet/steps';
import { encodePath } from '../core/stroke/pack-path';
import { plainNode } from '../core/stroke/path';
import { makePen } from '../core/stroke/pen';
import { strokeEntity } from '../tests/measures/sheets';
import { gappedSheet, largeShapeSheet, type BenchSheet } from './gapped-sheet';
import { figure, heldBy, median, type Figure } from './report';

const BOUNDS = { against: ['lines'], gapPx: 8 };

/** Gaps up to 5 mm at 300 ppi are looked for. */
const WIDE_PX = 59;

/** Code that has run as often is compiled. */
const WARM_UP = 6;

const middleOf = (side: number, n: number): Place => [110 + 200 * (n % side), 110 + 200 * Math.floor(n / side)];

function timed<T>(work: () => T): [ms: number, result: T] {
  const began = performance.now();
  const result = work();
  return [performance.now() - began, result];
}

/** Pours: against filling pixels, by the number of strokes, and made anew after an edit. */
export async function pouring(): Promise<Figure[]> {
  return [
    ...(await againstPixels()),
    ...bySize(),
    ...tied(),
    ...background(9, 20),
    ...background(18, 80),
    ...runningOut(18, 80),
  ];
}

/**
 * A pour found and drawn on a page of 3000 x 3000 px, with gaps closed; and the same shape, its lines without gaps, filled by
 * a general library.
 */
async function againstPixels(): Promise<Figure[]> {
  const large = largeShapeSheet(5);
  const closed = largeShapeSheet(-4);
  const many = gappedSheet(15, 6);
  return [
    ...(await versus('a large shape', large, closed, [1500, 1180])),
    ...(await versus('all around 225 shapes with hatching', many, many, [3, 3])),
  ];
}

async function versus(what: string, sheet: BenchSheet, closed: BenchSheet, at: Place): Promise<Figure[]> {
  const { widthPx, heightPx } = sheet.paper;
  const work = new RasterWorkspace(widthPx, heightPx);
  const lines = closed.ink.draw('lines', 0, makePixels(0, 0, widthPx, heightPx), work)!;
  (globalThis as { window?: unknown }).window ??= globalThis;
  const { default: FloodFill } = await import('q-floodfill');
  const page = makePixels(0, 0, widthPx, heightPx);
  const image = { width: widthPx, height: heightPx, data: lines.data.slice(), colorSpace: 'srgb' };
  const own: number[] = [];
  const theirs: number[] = [];
  for (let k = 0; k < WARM_UP + 9; k++) {
    const [ms] = timed(() => {
      const target = finish(pourTarget(sheet.ink, new AreaFinder(new InkLines()), sheet.paper, BOUNDS, undefined, at))!;
      const row = strokeEntity('p', { layerId: 'flats', pen: POUR_PEN });
      const flat = new InkStore();
      flat.follow([{ kind: 'insert', table: 'strokes', row }], new Map([['p', target.shape.bytes]]));
      drawStroke(page, flat.drawable(flat.ofLayer('flats')[0], 0, 'exact'), 1, work);
    });
    own.push(ms);
    image.data.set(lines.data);
    theirs.push(timed(() => new FloodFill(image as never).fill('rgba(200,100,50,255)', at[0], at[1], 60))[0]);
  }
  const [ours, flood] = [own, theirs].map((times) => median(times.slice(WARM_UP)));
  return [
    figure(`pouring: ${what} on 3000 x 3000 px, gaps closed`, ours, 'ms'),
    figure(`pouring: the same, the first of all`, own[0], 'ms'),
    figure(`pouring: the same by q-floodfill, without gaps`, flood, 'ms', flood / ours, 'as long (at least 5)'),
  ];
}

function bySize(): Figure[] {
  const figures: Figure[] = [];
  for (const [side, hatches] of [
    [9, 80],
    [18, 80],
  ] as const) {
    const { ink, paper } = gappedSheet(side, hatches);
    const finder = new AreaFinder(new InkLines());
    const at = (n: number) => timed(() => finish(pourTarget(ink, finder, paper, BOUNDS, undefined, middleOf(side, n))))[0]; // prettier-ignore
    const first = at(0);
    const next = Array.from({ length: 12 }, (_, n) => at(n + side * 3));
    const held = heldBy(() => {
      const whole = new AreaFinder(new InkLines());
      finish(pourTarget(ink, whole, paper, BOUNDS, undefined, [3, 3]));
      return whole;
    });
    const [around] = timed(() => finish(pourTarget(ink, new AreaFinder(new InkLines()), paper, BOUNDS, undefined, [3, 3]))); // prettier-ignore
    const ways = { widthPx: 14, uneven: 0.6, gapPx: 8 };
    const [contour] = timed(() => finish(contourAround(ink, ['lines'], paper, ways)));
    figures.push(
      figure(`pouring: a contour around ${ink.size} strokes, ${paper.widthPx} x ${paper.heightPx} px`, contour, 'ms'),
      figure(`pouring: the first shape on a sheet of ${ink.size} strokes`, first, 'ms'),
      figure(`pouring: the next ones, anywhere, of ${ink.size} strokes`, median(next), 'ms'),
      figure(`pouring: all that lies around, of ${ink.size} strokes`, around, 'ms'),
      figure(`pouring: what is kept of all ${ink.size} strokes then`, held, 'MB', (1024 * held) / ink.size, 'KB a stroke'), // prettier-ignore
    );
  }
  return figures;
}

/** Whether colour runs out of a shape: in shapes that are open, and between them, where it lies in none. */
function runningOut(side: number, hatches: number): Figure[] {
  const { ink, paper } = gappedSheet(side, hatches);
  const bounds = { ...BOUNDS, gapPx: 0.8 };
  const finders = { near: new AreaFinder(new InkLines()), wide: new AreaFinder(new InkLines()) };
  const ms = (at: Place) => {
    const { shape, reachesEdge } = finish(pourTarget(ink, finders.near, paper, bounds, 'flats', at))!;
    const flooded = { at, size: shape.size, reachesEdge };
    return timed(() => finish(ranOut(ink, finders, paper, bounds, 'flats', flooded, WIDE_PX)));
  };
  const found = (of: readonly [number, unknown][]) => of.filter(([, out]) => out !== undefined).length;
  const inside = Array.from({ length: 40 }, (_, n) => ms(middleOf(side, 8 * n)));
  const between = Array.from({ length: 40 }, (_, n) => ms(middleOf(side, 8 * n).map((v) => v + 98) as Place));
  const times = (of: readonly [number, unknown][]) => of.map(([time]) => time);
  return [
    figure(
      `pouring: whether colour runs out, tapped in shapes of ${ink.size} strokes`,
      median(times(inside)),
      'ms',
      found(inside),
      'of 40 do',
    ),
    figure('pouring: the same between them, the first, which joins all lines over wide gaps', between[0][0], 'ms'),
    figure('pouring: the next ones', median(times(between.slice(1))), 'ms', found(between), 'of 40 are asked about'),
  ];
}

/** All that lies around the shapes of a sheet is poured and tied; lines are drawn in it. */
function background(side: number, hatches: number): Figure[] {
  const { ink, model, paper } = gappedSheet(side, hatches);
  const finder = new AreaFinder(new InkLines());
  const target = finish(pourTarget(ink, finder, paper, BOUNDS, 'flats', [3, 3]))!;
  const pour = { seeds: [target.shape.seed], ...BOUNDS };
  const stroke = strokeEntity('around', { layerId: 'flats', pen: POUR_PEN, pour, tied: true });
  ink.follow(model.apply([putRows('strokes', stroke)]), new Map([['around', target.shape.bytes]]));
  const times: number[] = [];
  const parts: number[] = [];
  for (let k = 0; k < 14; k++) {
    const nodes = [plainNode(205 + 20 * k, 208, 'corner'), plainNode(235 + 20 * k, 210, 'corner')];
    const row = strokeEntity(`drawn${k}`, { pen: makePen('fineliner', 4, 0, false, 1), order: `b${k}V` });
    const bytes = encodePath({ closed: false, nodes });
    const changed = ink.follow(model.apply([putRows('strokes', row)]), new Map([[row.id, bytes]]));
    const [ms] = timed(() => {
      const work = following(ink, finder, paper, ['flats'], changed);
      for (let began = performance.now(), isDone = false; !isDone; began = performance.now()) {
        isDone = work.next().done === true;
        if (k > WARM_UP) parts.push(performance.now() - began);
      }
    });
    if (k > WARM_UP) times.push(ms);
  }
  return [
    figure(
      `pouring: all around, of ${ink.size} strokes, is poured and tied; it follows a line drawn in it`,
      median(times),
      'ms',
    ),
    figure(`pouring: the longest part of that, of ${ink.size} strokes`, Math.max(...parts), 'ms'),
  ];
}

/** 200 shapes that are poured and tied; one line is moved. */
function tied(): Figure[] {
  const side = 15;
  const { ink, model, paper } = gappedSheet(side, 6);
  const finder = new AreaFinder(new InkLines());
  let count = 0;
  for (let n = 0; n < side * side && count < 200; n++) {
    const target = finish(pourTarget(ink, finder, paper, BOUNDS, 'flats', middleOf(side, n)));
    if (!target || target.reachesEdge || target.pouredId) continue;
    const id = `pour${count++}`;
    const pour = { seeds: [target.shape.seed], ...BOUNDS };
    const stroke = strokeEntity(id, { layerId: 'flats', pen: POUR_PEN, pour, tied: true, order: `a${String(count).padStart(4, '0')}V` }); // prettier-ignore
    ink.follow(model.apply([putRows('strokes', stroke)]), new Map([[id, target.shape.bytes]]));
  }
  const line = ink.ofLayer('lines').find(({ stroke }) => stroke.id === `s${side * 3 + 3}a`)!;
  const times: number[] = [];
  let made = 0;
  for (let k = 1; k <= 9; k++) {
    const matrix = [1, 0, 0, 1, 0.3 * (k % 2), 0] as const;
    const changed = [{ layerId: 'lines', box: line.box }];
    ink.follow([{ kind: 'assign', table: 'strokes', id: line.stroke.id, field: 'matrix', value: matrix }], new Map());
    const [ms, followed] = timed(() => finish(following(ink, finder, paper, ['flats'], changed)));
    times.push(ms);
    made = followed.length;
  }
  const [unfilled] = timed(() => finish(unfilledShapes(ink, new AreaFinder(new InkLines()), paper, BOUNDS, { colourIds: ['flats'], inkIds: ['lines'] }))); // prettier-ignore
  return [
    figure(`pouring: of ${count} tied pours, those of a line that moved made anew (${made}; at most 100)`, median(times), 'ms'), // prettier-ignore
    figure(`pouring: small shapes without colour on that sheet`, unfilled, 'ms'),
  ];
}
