import { grow, overlaps, type Box } from '../geometry/box';
import { spineBox, type DrawableStroke } from '../raster/draw-stroke';
import { enclosed, inkOutline } from '../stroke/nib-outline';
import { OutlineWorkspace, type Outline } from '../stroke/outline';
import { copyOf, partOf, type Spine } from '../stroke/spine';
import { polygonsOf, simplified, unionOf, unitedOutline, without, type Polygon } from './polygons';

/** Cones that are cut at once. */
const PIECE_CONES = 12;

/**
 * What erasures have left of a stroke, as an outline to be filled nonzero.
 *
 * The stroke is cut piece by piece, each by the parts of erasures near it, one after the other: what
 * is left of a piece stays simple, however often it was erased, so the work grows with the number of
 * erasures and not with its square. What it fills is one piece. Pieces overlap in a disc; what is left of them is united.
 * Yields now and then, so that a caller can stop.
 */
export function* erasedOutline(
  { spine, holes }: DrawableStroke,
  arcTolerancePx: number,
  work: OutlineWorkspace,
): Generator<void, Outline> {
  const left: Polygon[] = [];
  /** What is left of what it encloses: an area with holes, unlike the pieces. */
  let inside: Polygon[] | undefined;
  let cuts = 0;
  const cones = spine.fill === 'alone' ? [] : [...piecesOf(spine)].map(([from, to]) => partOf(spine, from, to));
  const pieces = cones.map((piece) => ({ piece, of: () => polygonsOf(inkOutline(piece, arcTolerancePx, work)) }));
  if (spine.fill) pieces.push({ piece: spine, of: () => simplified(enclosed(spine)) });
  for (const { piece, of } of pieces) {
    const box = grow(spineBox(piece), 1);
    let rest = of();
    for (const hole of holes) {
      if (!overlaps(hole.box, box)) continue;
      for (const near of partsNear(hole.spine, box)) {
        rest = without(rest, polygonsOf(inkOutline(near, arcTolerancePx, work)));
        if (++cuts % 32 === 0) yield;
        if (!rest.length) break;
      }
      if (!rest.length) break;
    }
    if (piece === spine) inside = rest;
    else for (const path of rest) left.push(path);
  }
  const lines = unitedOutline(left);
  return inside ? unionOf(inside, polygonsOf(lines)) : lines;
}

/**
 * Points from and to (not included) of pieces that share a point with the next. Where the line was cut no piece ends
 * within its radius: its disc would reach over the cut.
 */
function* piecesOf(spine: Spine): Generator<[from: number, to: number]> {
  const { data, count } = spine;
  const isNear = (i: number, end: number) => {
    const dx = data[3 * i] - data[3 * end];
    const dy = data[3 * i + 1] - data[3 * end + 1];
    const r = data[3 * i + 2];
    return dx * dx + dy * dy < r * r;
  };
  const reachesOver = (i: number) => (spine.isCutStart && isNear(i, 0)) || (spine.isCutEnd && isNear(i, count - 1));
  for (let from = 0; from < Math.max(1, count - 1);) {
    let last = Math.min(count - 1, from + PIECE_CONES);
    while (last < count - 1 && reachesOver(last)) last++;
    yield [from, last + 1];
    from = Math.max(from + 1, last);
  }
}

/** The stretches of a spine whose cones touch a box. */
function* partsNear(spine: Spine, box: Box): Generator<Spine> {
  if (spine.count === 1) {
    if (overlaps(spineBox(spine), box)) yield spine;
    return;
  }
  let from = -1;
  for (let i = 0; i + 1 < spine.count; i++) {
    const touches = overlaps(spineBox(partOf(spine, i, i + 2)), box);
    if (touches && from < 0) from = i;
    if (!touches && from >= 0) {
      yield partOf(spine, from, i + 1);
      from = -1;
    }
  }
  if (from >= 0) yield partOf(spine, from, spine.count);
}

/**
 * A line with what it encloses. A line that crosses itself goes around a part of that the other way: taken together as they
 * are, the two would leave each other out where they overlap.
 */
export function filledOutline(spine: Spine, arcTolerancePx: number, work: OutlineWorkspace): Outline {
  const line = copyOf(spine);
  line.fill = undefined;
  return unionOf(simplified(enclosed(spine)), simplified(inkOutline(line, arcTolerancePx, work)));
}
