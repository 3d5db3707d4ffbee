import type { InkLine } from '../core/areas/ink-line';
import { InkStore } from '../core/sheet/ink-store';
import { FIRST_LAYER, newSettings } from '../core/sheet/entities';
import type { PaperSize } from '../core/sheet/paper';
import { SheetModel } from '../core/sheet/sheet-model';
import { encodePath } from '../core/stroke/pack-path';
import { plainNode } from '../core/stroke/path';
import { makePen } from '../core/stroke/pen';
import { gappedDrawing, lineAlong } from '../tests/measures/gapped-drawing';
import { inkLayer, packedStrokes, strokeEntity } from '../tests/measures/sheets';

const pen = makePen('fineliner', 4, 0, false, 1);

export interface BenchSheet {
  ink: InkStore;
  model: SheetModel;
  paper: PaperSize;
}

/** A sheet with a colour layer, each line of a drawing a stroke. */
function sheetOf(lines: readonly InkLine[], side: number): BenchSheet {
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
  return { ink, model, paper: { widthPx: side, heightPx: side, ppi: 300 } };
}

/**
 * Drawings with known shapes.
 * @param side so many shapes in a row and a column. @param hatches of each.
 */
export const gappedSheet = (side: number, hatches: number): BenchSheet =>
  sheetOf(gappedDrawing(side, side, 7, hatches).lines, 20 + 200 * side);

/**
 * A page of 3000 x 3000 px with one large shape, as a head: an outline in forty lines with other shapes in it.
 * @param gapPx between the outline's lines, from edge to edge; below 0 they overlap.
 */
export function largeShapeSheet(gapPx: number): BenchSheet {
  const around = (cx: number, cy: number, size: number) => (u: number) => {
    const a = 2 * Math.PI * u;
    const r = size * (1 + 0.06 * Math.sin(5 * a));
    return [cx + r * Math.cos(a), cy + r * Math.sin(a)] as const;
  };
  const parts = 40;
  // The lines' round ends reach into the gap.
  const open = (gapPx + pen.sizePx) / (2 * Math.PI * 1350);
  const lines = Array.from({ length: parts }, (_, n) =>
    lineAlong(`o${n}`, around(1500, 1500, 1350), n / parts + open / 2, (n + 1) / parts - open / 2, 2, 60),
  );
  for (let n = 0; n < 12; n++) {
    const [cx, cy] = [700 + 400 * (n % 4), 900 + 500 * Math.floor(n / 4)];
    lines.push(lineAlong(`i${n}`, around(cx, cy, 90), 0, 1, 2, 160));
  }
  return sheetOf(lines, 3000);
}
