import { apply, compose, invert, lengthScale, type Matrix } from '../geometry/matrix';
import { LABEL_PX } from '../text/label-size';
import type { Label, Stroke, TextLayer } from './entities';
import { isLocked, isVisible } from './layer-tree';
import { ordersAbove } from './orders';
import type { SheetModel } from './sheet-model';

/** A stroke of a label. */
export type LabelStroke = Stroke & { label: Label };

/** A label that stands: its layer, its letters, and the outline beneath them, where it has or had one. */
export interface StandingLabel {
  layer: TextLayer;
  letters: LabelStroke;
  /** Deleted: it is not drawn. */
  outline?: LabelStroke;
}

/** Where the two strokes of a label lie in their layer. */
export const [OUTLINE_ORDER, LETTERS_ORDER] = ordersAbove([], 2);

/** The labels of a sheet, the lowest first. Of two that one layer should hold the one that was made first counts. */
export function labelsOf(model: SheetModel): StandingLabel[] {
  const byLayer = new Map<string, LabelStroke[]>();
  for (const stroke of model.strokes.labels() as LabelStroke[])
    byLayer.set(stroke.layerId, [...(byLayer.get(stroke.layerId) ?? []), stroke]);
  return model.stack().flatMap((layer): StandingLabel[] => {
    const strokes = layer.kind === 'text' ? (byLayer.get(layer.id) ?? []) : [];
    const letters = strokes.find((s) => !s.deleted && !s.label.isOutline);
    const outline = strokes.find((s) => s.label.isOutline);
    return letters ? [{ layer: layer as TextLayer, letters, ...(outline ? { outline } : {}) }] : [];
  });
}

/** The topmost label at a place that can be seen and changed. @param reachPx how far beside its lines counts, paper px. */
export function labelAt(model: SheetModel, x: number, y: number, reachPx: number): StandingLabel | undefined {
  return labelsOf(model).findLast(({ layer, letters: { label, matrix } }) => {
    if (!isVisible(layer, model.layers) || isLocked(layer, model.layers)) return false;
    const [u, v] = apply(invert(matrix), x, y);
    const [x0, y0, x1, y1] = label.box;
    const reach = reachPx / lengthScale(matrix);
    return u >= x0 - reach && u <= x1 + reach && v >= y0 - reach && v <= y1 + reach;
  });
}

/** The middle of a label, paper px. */
export function middleOf({ label: { box }, matrix }: Pick<LabelStroke, 'label' | 'matrix'>): [number, number] {
  const [x0, y0, x1, y1] = box;
  return apply(matrix, (x0 + x1) / 2, (y0 + y1) / 2);
}

/** How high a label's letters are set, paper px. */
export const sizeOf = ({ matrix }: Pick<Stroke, 'matrix'>): number => lengthScale(matrix) * LABEL_PX;

/** How far a label is turned, clockwise degrees, -180 to 180. */
export const turnOf = ({ matrix: [a, b] }: Pick<Stroke, 'matrix'>): number => (Math.atan2(b, a) * 180) / Math.PI;

/** A label's matrix after it was moved, and then sized and turned about its middle. */
export function movedLabel(
  stroke: Pick<LabelStroke, 'label' | 'matrix'>,
  { dx = 0, dy = 0, factor = 1, turnDeg = 0 }: { dx?: number; dy?: number; factor?: number; turnDeg?: number },
): Matrix {
  const [cx, cy] = middleOf(stroke);
  const angle = (turnDeg * Math.PI) / 180;
  const [c, s] = [factor * Math.cos(angle), factor * Math.sin(angle)];
  return compose([c, s, -s, c, cx + dx - c * cx + s * cy, cy + dy - s * cx - c * cy], stroke.matrix);
}

/** Where a label begins that is as high as `sizePx`, level, its first line about (x, y): paper px. */
export function labelMatrix(x: number, y: number, sizePx: number): Matrix {
  const k = sizePx / LABEL_PX;
  return [k, 0, 0, k, x, y + MIDDLE_OF_LETTERS * sizePx];
}

/** So far above the baseline is the middle of small letters, in sizes (common practice, no source). */
const MIDDLE_OF_LETTERS = 0.3;
