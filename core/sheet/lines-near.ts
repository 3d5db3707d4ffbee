import { nearestPart } from '../geometry/segment';
import type { Spine } from '../stroke/spine';
import type { DrawableStroke } from '../raster/draw-stroke';
import type { InkStore } from './ink-store';
import type { Pause } from './ink-work';

/** A line beside a place of the paper. */
export interface NearLine {
  id: string;
  /** The nearest point in the middle of the line, paper px. */
  x: number;
  y: number;
  /** From the place to the edge of the line, px; 0 or less within it. */
  gap: number;
}

/** Records whose samples are asked for at once. */
const PART = 64;

/**
 * The lines of a layer whose edge lies within `reach` px of a place, first drawn first; not where they are erased. Of a flat nib
 * the edge is taken to be that of its whole width.
 */
export function* linesNear(
  ink: InkStore,
  layerId: string,
  x: number,
  y: number,
  reach: number,
): Generator<Pause, NearLine[]> {
  const found = ink.find(layerId, { x0: x - reach, y0: y - reach, x1: x + reach, y1: y + reach });
  const near: NearLine[] = [];
  for (let from = 0; from < found.length; from += PART)
    for (const record of yield* ink.readable(found, from, from + PART)) {
      if (record.pen.fades) continue;
      const { spine, holes } = ink.drawable(record, 0, 'exact');
      const point = nearestOn(spine, x, y);
      if (spine.fill && encloses(spine, x, y)) point.gap = Math.min(point.gap, 0);
      if (point.gap <= reach && !isErased(holes, point))
        near.push({ id: record.stroke.id, x: point.x, y: point.y, gap: point.gap });
    }
  return near;
}

/** Whether a point lies where a line is erased. */
export const isErased = (holes: DrawableStroke['holes'], { x, y }: { x: number; y: number }): boolean =>
  holes.some(({ spine }) => nearestOn(spine, x, y).gap < 0);

/** The point of a spine whose edge is nearest to (x, y), and its place along it. */
export function nearestOn(
  { data, count }: Spine,
  x: number,
  y: number,
): { x: number; y: number; gap: number; place: number } {
  const best = { x: NaN, y: NaN, gap: Infinity, place: 0 };
  for (let i = 0; i < Math.max(Math.min(1, count), count - 1); i++) {
    const a = 3 * i;
    const b = count > 1 ? a + 3 : a;
    const u = nearestPart(data, a, b, x, y);
    const px = data[a] + u * (data[b] - data[a]);
    const py = data[a + 1] + u * (data[b + 1] - data[a + 1]);
    const d = Math.sqrt((x - px) * (x - px) + (y - py) * (y - py));
    const gap = d - (data[a + 2] + u * (data[b + 2] - data[a + 2]));
    if (gap < best.gap) {
      best.x = px;
      best.y = py;
      best.gap = gap;
      best.place = i + u;
    }
  }
  return best;
}

/** Whether a line, its ends joined straight, winds around a place. */
function encloses({ data, count }: Spine, x: number, y: number): boolean {
  let winding = 0;
  for (let i = 0; i < count; i++) {
    const a = 3 * i;
    const b = 3 * ((i + 1) % count);
    const [ay, by] = [data[a + 1], data[b + 1]];
    if (ay <= y === by <= y) continue;
    if (data[a] + ((y - ay) * (data[b] - data[a])) / (by - ay) > x) winding += ay < by ? 1 : -1;
  }
  return winding !== 0;
}
