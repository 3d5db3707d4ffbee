import { Resvg } from '@resvg/resvg-js';
import { curvedOutline } from '../core/formats/curved-outline';
import { pathData } from '../core/formats/svg-path';
import { sheetSvg } from '../core/formats/sheet-svg';
import { RasterWorkspace } from '../core/raster/draw-stroke';
import { makePixels } from '../core/raster/pixels';
import { toleranceAt } from '../core/sheet/ink-box';
import { finish } from '../core/sheet/ink-work';
import { inkOutline } from '../core/stroke/nib-outline';
import type { Outline } from '../core/stroke/outline';
import { isFaded, makePen, PEN_KINDS, type Pen } from '../core/stroke/pen';
import { spineOf } from '../core/stroke/spine-maker';
import type { Samples } from '../core/stroke/samples';
import { gappedDrawing } from '../tests/measures/gapped-drawing';
import { averagedAlpha } from '../tests/measures/pictures';
import { polyline, PouredSheet } from '../tests/measures/poured';
import { difference } from '../tests/measures/stroke-error';
import { TestSheet } from '../tests/measures/sheets';
import { handSamples, random } from '../tests/measures/strokes';
import { alternate, figure, type Figure } from './report';

const SIDE = 900;
/** The reference renderer draws so many times as fine, and is averaged: it has few steps between empty and full. */
const FINE = 4;
const EACH = 60;

/** Strokes of a hand, 80 to 480 px long. */
function strokesFor(kind: number): Samples[] {
  const rnd = random(11 + kind);
  return Array.from({ length: EACH }, (_, n) => {
    const [x, y, l, bend, wave] = [60 + 300 * rnd(), 120 + 640 * rnd(), 80 + 400 * rnd(), 80 * rnd(), 2 + 5 * rnd()];
    const way = (u: number) => [x + l * u, y + bend * Math.sin(wave * u)] as const;
    return handSamples(way, { ms: 400 + 700 * rnd(), hz: 90, seed: n + 1, tremorPx: 0.2 });
  });
}

/** Strokes that do not touch each other: where two edges share a pixel, it matters whether they are laid over each other in it. */
const apartFor = (kind: number): Samples[] =>
  Array.from({ length: 11 }, (_, n) =>
    handSamples((u) => [60 + 760 * u, 70 + 75 * n + (8 + 2 * kind) * Math.sin(n + 9 * u)], {
      ms: 900,
      hz: 90,
      seed: n + 1,
      tremorPx: 0.2,
    }),
  );

/** Path data of straight pieces, as it was before curves. */
function straightData({ xy, ends }: Outline): string {
  const short = (v: number) => String(Math.round(v * 100) / 100);
  let [from, d] = [0, ''];
  for (const end of ends) {
    for (let i = from; i < end; i++) d += `${i === from ? 'M' : 'L'}${short(xy[2 * i])} ${short(xy[2 * i + 1])}`;
    d += 'Z';
    from = end;
  }
  return d;
}

/** What a stroke is as SVG: points and bytes against straight pieces, time, and difference from our own pixels. */
export function svg(): Figure[] {
  const pens = PEN_KINDS.filter((kind) => !isFaded(makePen(kind, 9, 30, true, 1))).map((kind, k) => ({
    name: kind as string,
    pen: makePen(kind, 4 + 3 * k, 30, true, 1) as Pen,
    strokes: strokesFor(k),
  }));
  const outlines = pens.flatMap(({ pen, strokes }) =>
    strokes.map((samples) => inkOutline(spineOf(samples, pen, toleranceAt(2)), 0.02)),
  );
  const count = outlines.length;
  const points = outlines.reduce((sum, o) => sum + o.xy.length / 2, 0);
  const pieces = outlines.reduce((sum, o) => sum + curvedOutline(o).reduce((n, c) => n + c.pieces.length, 0), 0);
  const bytes = outlines.reduce((sum, o) => sum + pathData(o).length, 0);
  const straight = outlines.reduce((sum, o) => sum + straightData(o).length, 0);
  const [fitting, making] = alternate(
    3,
    () => outlines.forEach(pathData),
    () =>
      pens.forEach(({ pen, strokes }) =>
        strokes.forEach((samples) => straightData(inkOutline(spineOf(samples, pen, toleranceAt(2)), 0.02))),
      ),
  );
  return [
    figure('svg: curves a stroke', pieces / count, 'curves', pieces / points, 'straight pieces, at most 0.33'),
    figure('svg: bytes a stroke', bytes / count, 'bytes', bytes / straight, 'straight pieces, at most 0.6'),
    figure('svg: fitting a stroke', fitting / count, 'ms', fitting / making, 'making its line and outline'),
    ...pens.flatMap(({ name, pen }, k) => differences(name, pen, apartFor(k))),
    ...poured(),
  ];
}

const COLUMNS = 18;
const POURS = 200;

/** Some 10,000 lines with 200 poured shapes and all that lies around them, against the same without colour. */
function poured(): Figure[] {
  const sheet = new PouredSheet(20 + 200 * COLUMNS);
  for (const { data, count } of gappedDrawing(COLUMNS, COLUMNS, 7, 80).lines) {
    const xy = Array.from({ length: 2 * count }, (_, i) => data[3 * (i >> 1) + (i & 1)]);
    sheet.path(polyline(false, ...xy), makePen('fineliner', 4, 0, false, 1));
  }
  const lines = partsOf(sheet);
  sheet.pour([3, 3]);
  for (let k = 0; k < POURS; k++) sheet.pour([110 + 200 * (k % COLUMNS), 110 + 200 * Math.floor(k / COLUMNS)]);
  const all = partsOf(sheet);
  const sum = (parts: readonly number[]) => parts.reduce((a, b) => a + b, 0);
  const what = `${sheet.ink.size} lines and pours`;
  return [
    figure(`svg: ${what}`, sum(all) / 1000, 's', sum(all) / sum(lines), 'the lines alone'),
    figure(
      `svg: the longest part of that`,
      Math.max(...all),
      'ms',
      Math.max(...all) / Math.max(...lines),
      'of the lines',
    ),
  ];
}

/** How long each part of writing a sheet takes, ms: after each others have a turn. */
function partsOf({ model, ink, paper }: PouredSheet): number[] {
  const parts: number[] = [];
  const writing = sheetSvg(model, ink, paper, { onPaper: false, title: 'Poured' });
  for (let isDone = false; !isDone;) {
    const began = performance.now();
    isDone = writing.next().done === true;
    parts.push(performance.now() - began);
  }
  return parts;
}

function differences(name: string, pen: Pen, strokes: readonly Samples[]): Figure[] {
  const sheet = new TestSheet();
  for (const samples of strokes) sheet.ink1(samples, pen);
  const paper = { widthPx: SIDE, heightPx: SIDE, ppi: 300 };
  const text = finish(sheetSvg(sheet.model, sheet.ink, paper, { onPaper: false, title: name }));
  const { pixels } = new Resvg(text, { fitTo: { mode: 'width', value: FINE * SIDE } }).render();
  const theirs = averagedAlpha(pixels, SIDE, FINE);
  const { data } = sheet.ink.draw('lines', 0, makePixels(0, 0, SIDE, SIDE), new RasterWorkspace(SIDE, SIDE))!;
  const found = difference(
    theirs,
    Float64Array.from({ length: SIDE * SIDE }, (_, i) => data[4 * i + 3] / 255),
  );
  return [
    figure(
      `svg: ${name}, mean difference of an edge pixel`,
      found.mean,
      'of coverage',
      undefined,
      'resvg, at most 0.02',
    ),
    figure(`svg: ${name}, largest`, found.largest, 'of coverage', undefined, 'resvg, at most 0.15'),
    figure(`svg: ${name}, pixels further apart than 0.15`, found.far, 'pixels'),
  ];
}
