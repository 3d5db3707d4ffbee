import Flatbush from 'flatbush';
import { type Box } from '../geometry/box';
import { nearestPart } from '../geometry/segment';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { StrokeRecord } from '../sheet/ink-record';
import { isErased } from '../sheet/lines-near';
import type { DrawableStroke } from '../raster/draw-stroke';
import { isFaded } from '../stroke/pen';
import { copyOf, type Spine } from '../stroke/spine';

/** Under a line a pour goes on to so far from the line's edge, and no farther than so far from its middle, px. */
const FROM_EDGE_PX = 0.5;
const MOST_PX = 2;
/** A line whose middle is no farther than this from a pour's border lies on it, px. */
const ON_BORDER_PX = 0.75;
/** Between two places of a border at which lines are looked for, px. */
const STEP_PX = 4;
/** Records whose samples are asked for at once. */
const PART = 64;

/**
 * A pour's border as it leaves for where it is not known how small it will be seen: as wide as the lines on it hide, so that
 * colours on both sides of a line overlap by more than a pixel of paper.
 * @param spine of the pour, paper px. @returns a copy that is nowhere thinner.
 */
export function* widenedUnderLines(ink: InkStore, record: StrokeRecord, spine: Spine): Generator<Pause, Spine> {
  const wide = copyOf(spine);
  // What shines through would be seen to be there twice.
  const isSolid = record.pen.opacity === undefined || record.pen.opacity === 1;
  if (!record.stroke.pour || !isSolid) return wide;
  const lines = yield* HidingLines.of(ink, record.stroke.pour.against, record.box);
  const { data, count } = wide;
  let before = count > 1 ? radiusUnder(lines, spine, count - 1, 0) : 0;
  for (let i = 0; i < count; i++) {
    const after = radiusUnder(lines, spine, i, (i + 1) % count);
    data[3 * i + 2] = Math.max(data[3 * i + 2], Math.min(before, after));
    before = after;
  }
  return wide;
}

/** How wide a border may be all along between two of its points. */
function radiusUnder(lines: HidingLines, { data }: Spine, from: number, to: number): number {
  const [ax, ay, bx, by] = [data[3 * from], data[3 * from + 1], data[3 * to], data[3 * to + 1]];
  const steps = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / STEP_PX));
  let least = MOST_PX;
  for (let k = 0; k <= steps && least > 0; k++)
    least = Math.min(least, lines.radiusAt(ax + (k / steps) * (bx - ax), ay + (k / steps) * (by - ay)) - FROM_EDGE_PX);
  return least;
}

/** Lines that nothing shines through, found by a place on them. */
class HidingLines {
  private readonly index: Flatbush | undefined;

  /** @param pieces of which line each is, and which of its points it begins at. */
  private constructor(
    private readonly lines: readonly DrawableStroke[],
    private readonly pieces: readonly (readonly [line: number, point: number])[],
  ) {
    if (!pieces.length) return;
    this.index = new Flatbush(pieces.length);
    for (const [line, i] of pieces) {
      const { data } = lines[line].spine;
      const [ax, ay, bx, by] = [data[3 * i], data[3 * i + 1], data[3 * i + 3], data[3 * i + 4]];
      this.index.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
    }
    this.index.finish();
  }

  static *of(ink: InkStore, layerIds: readonly string[], box: Box): Generator<Pause, HidingLines> {
    const lines: DrawableStroke[] = [];
    const pieces: [number, number][] = [];
    for (const layerId of layerIds) {
      const found = ink.find(layerId, box).filter(isHiding);
      for (let from = 0; from < found.length; from += PART)
        for (const record of yield* ink.readable(found, from, from + PART)) {
          const line = ink.drawable(record, 0, 'exact');
          for (let i = 0; i + 1 < line.spine.count; i++) pieces.push([lines.length, i]);
          lines.push(line);
        }
    }
    return new HidingLines(lines, pieces);
  }

  /** The radius of the widest line whose middle lies at a place, px; 0 where there is none. */
  radiusAt(x: number, y: number): number {
    const near = this.index?.search(x - ON_BORDER_PX, y - ON_BORDER_PX, x + ON_BORDER_PX, y + ON_BORDER_PX) ?? [];
    let widest = 0;
    for (const n of near) {
      const [line, i] = this.pieces[n];
      const { spine, holes } = this.lines[line];
      const { data } = spine;
      const u = nearestPart(data, 3 * i, 3 * i + 3, x, y);
      const [px, py, across] = [0, 1, 2].map((k) => data[3 * i + k] + u * (data[3 * i + 3 + k] - data[3 * i + k]));
      // A flat nib's line is nowhere thinner than the nib.
      const r = across * (spine.footprint?.flat ?? 1);
      if (r <= widest || Math.hypot(px - x, py - y) > ON_BORDER_PX || isErased(holes, { x, y })) continue;
      widest = r;
    }
    return widest;
  }
}

const isHiding = ({ pen, stroke }: StrokeRecord): boolean =>
  !stroke.pour && !pen.fades && !isFaded(pen) && (pen.opacity === undefined || pen.opacity === 1);
