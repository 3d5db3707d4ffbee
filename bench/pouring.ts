import { InkLines } from '../core/areas/ink-lines';
import { contourAround } from '../core/fill/contour';
import { AreaFinder } from '../core/fill/area-finder';
import { following } from '../core/fill/following';
import { POUR_PEN } from '../core/fill/pour-path';
import { pourTarget } from '../core/fill/pouring';
import type { Place } from '../core/fill/shape-inside';
import { unfilledShapes } from '../core/fill/unfilled';
import { drawStroke, RasterWorkspace } from '../core/raster/draw-stroke';
import { makePixels } from '../core/raster/pixels';
import { finish, InkStore } from '../core/sheet/ink-store';
import type { PaperSize } from '../core/sheet/paper';
import { putRows } from '../core/sheet/steps';
import { SheetModel } from '../core/sheet/sheet-model';
import { FIRST_LAYER, newSettings } from '../core/sheet/entities';
import { encodePath } from '../core/stroke/pack-path';
import { plainNode } from '../core/stroke/path';
import { makePen } from '../core/stroke/pen';
import { gappedDrawing } from '../tests/measures/gapped-drawing';
import { inkLayer, openedInk, packedStrokes, strokeEntity } from '../tests/measures/sheets';
import { figure, median, type Figure } from './report';

const BOUNDS = { against: ['lines'], gapPx: 8 };

/** A sheet of a drawing with known shapes: each of its lines a stroke. */
function sheetOf(side: number, hatches: number): { ink: InkStore; model: SheetModel; paper: PaperSize } {
  const { lines } = gappedDrawing(side, side, 7, hatches);
  const pen = makePen('fineliner', 4, 0, false, 1);
  const parts = new Map<string, Uint8Array>();
  const strokes = lines.map(({ id, data, count }, n) => {
    const nodes = Array.from({ length: count }, (_, i) => plainNode(data[3 * i], data[3 * i + 1], 'corner'));
    parts.set(id, encodePath({ closed: false, nodes }));
    return strokeEntity(id, { pen, order: `a${String(n).padStart(6, '0')}V` });
  });
  // Each of them is at hand: what is measured is the work, not the way of the samples.
  const ink = new InkStore(Infinity);
  ink.open(packedStrokes(strokes, parts));
  ink.provide([...parts.keys()], parts);
  const model = new SheetModel(newSettings(300), [FIRST_LAYER, inkLayer('flats', { kind: 'colour' })]);
  for (const stroke of strokes) model.strokes.set(stroke.id, stroke);
  const px = 20 + 200 * side;
  return { ink, model, paper: { widthPx: px, heightPx: px, ppi: 300 } };
}

const middleOf = (side: number, n: number): Place => [110 + 200 * (n % side), 110 + 200 * Math.floor(n / side)];

function timed<T>(work: () => T): [ms: number, result: T] {
  const began = performance.now();
  const result = work();
  return [performance.now() - began, result];
}

/** Pours: against filling pixels, by the number of strokes, and made anew after an edit. */
export async function pouring(): Promise<Figure[]> {
  return [...(await againstPixels()), ...bySize(), ...tied()];
}

/** A shape of a page of 3000 x 3000 px, found and drawn, with gaps closed; and the same filled by a general library. */
async function againstPixels(): Promise<Figure[]> {
  const side = 15;
  const { ink, paper } = sheetOf(side, 6);
  const work = new RasterWorkspace(paper.widthPx, paper.heightPx);
  const lines = ink.draw('lines', 0, makePixels(0, 0, paper.widthPx, paper.heightPx), work)!;
  (globalThis as { window?: unknown }).window ??= globalThis;
  const { default: FloodFill } = await import('q-floodfill');
  const ours: number[] = [];
  const theirs: number[] = [];
  const page = makePixels(0, 0, paper.widthPx, paper.heightPx);
  for (let k = 0; k < 5; k++) {
    const finder = new AreaFinder(new InkLines());
    // All around: the largest there is.
    const [ms] = timed(() => {
      const target = finish(pourTarget(ink, finder, paper, BOUNDS, undefined, [3, 3]))!;
      const stroke = strokeEntity('p', { layerId: 'flats', pen: POUR_PEN });
      const flat = openedInk([stroke], [], new Map([['p', target.shape.bytes]]));
      drawStroke(page, flat.drawable(flat.ofLayer('flats')[0], 0, 'exact'), 1, work);
    });
    ours.push(ms);
    const image = { width: lines.width, height: lines.height, data: lines.data.slice(), colorSpace: 'srgb' };
    theirs.push(timed(() => new FloodFill(image as never).fill('rgba(200,100,50,255)', 3, 3, 60))[0]);
  }
  return [
    figure('pouring: all around the shapes of 3000 x 3000 px, gaps closed', median(ours), 'ms'),
    figure('pouring: the same by q-floodfill, gaps open', median(theirs), 'ms', median(theirs) / median(ours), 'as long (at least 5)'), // prettier-ignore
  ];
}

function bySize(): Figure[] {
  const figures: Figure[] = [];
  for (const [side, hatches] of [
    [9, 80],
    [18, 80],
  ] as const) {
    const { ink, paper } = sheetOf(side, hatches);
    const finder = new AreaFinder(new InkLines());
    const at = (n: number) => timed(() => finish(pourTarget(ink, finder, paper, BOUNDS, undefined, middleOf(side, n))))[0]; // prettier-ignore
    const first = at(0);
    const next = Array.from({ length: 12 }, (_, n) => at(n + side * 3));
    const [around] = timed(() => finish(pourTarget(ink, new AreaFinder(new InkLines()), paper, BOUNDS, undefined, [3, 3]))); // prettier-ignore
    const ways = { widthPx: 14, uneven: 0.6, gapPx: 8 };
    const [contour] = timed(() => finish(contourAround(ink, ['lines'], paper, ways)));
    figures.push(
      figure(`pouring: a contour around ${ink.size} strokes, ${paper.widthPx} x ${paper.heightPx} px`, contour, 'ms'),
      figure(`pouring: the first shape on a sheet of ${ink.size} strokes`, first, 'ms'),
      figure(`pouring: the next ones, anywhere, of ${ink.size} strokes`, median(next), 'ms'),
      figure(`pouring: all that lies around, of ${ink.size} strokes`, around, 'ms'),
    );
  }
  return figures;
}

/** 200 shapes that are poured and tied; one line is moved. */
function tied(): Figure[] {
  const side = 15;
  const { ink, model, paper } = sheetOf(side, 6);
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
