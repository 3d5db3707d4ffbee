import Flatbush from 'flatbush';
import { grow } from '../geometry/box';
import { nearestPart } from '../geometry/segment';
import { spineBox } from '../raster/draw-stroke';
import type { InkStore } from '../sheet/ink-store';
import type { StrokeRecord } from '../sheet/ink-record';
import { BREATH, type Pause } from '../sheet/ink-work';
import { isErased } from '../sheet/lines-near';
import { isFaded, isOpaque } from '../stroke/pen';
import { copyOf, type Spine } from '../stroke/spine';

/** Under a line a pour goes on to so far from the line's edge, and no farther than so far from its middle, px. */
const FROM_EDGE_PX = 0.5;
const MOST_PX = 2;
/** A line whose middle is no farther than this from a pour's border lies on it, px. */
const ON_BORDER_PX = 0.75;
/** Between two places of a border at which lines are looked for, px. */
const STEP_PX = 4;
/** How much wider a border becomes for each px along it. */
const MOST_SLOPE = 0.25;
/** Lines that are looked at before others have a turn. */
const PART = 64;

/**
 * A pour's border as it leaves for where it is not known how small it will be seen: as wide as the lines on it hide, so that
 * colours on both sides of a line overlap by more than a pixel of paper. The lines are looked at one after the other, so that
 * what is kept meanwhile grows with the border and not with them.
 * @param spine of the pour, paper px. @returns one that is nowhere thinner.
 */
export function* widenedUnderLines(ink: InkStore, record: StrokeRecord, spine: Spine): Generator<Pause, Spine> {
  const { pour } = record.stroke;
  // What shines through would be seen to be there twice.
  if (!pour || !isOpaque(record.pen)) return spine;
  const border = new Border(spine);
  for (const layerId of pour.against) {
    const lines = ink.find(layerId, record.box).filter(isHiding);
    for (let from = 0; from < lines.length; from += PART) {
      for (const line of yield* ink.readable(lines, from, from + PART)) {
        const { spine: middle, holes } = ink.drawable(line, 0, 'exact');
        border.note(middle, (x, y) => isErased(holes, { x, y }));
      }
      yield BREATH;
    }
  }
  return border.widened();
}

const isHiding = ({ pen, stroke }: StrokeRecord): boolean =>
  !stroke.pour && !pen.fades && !isFaded(pen) && isOpaque(pen);

/** A closed border, and how wide the widest line is at each of its places. */
class Border {
  /** `x, y` of each, and of which of the spine's pieces it is. */
  private readonly places: number[] = [];
  private readonly pieces: number[] = [];
  private readonly index: Flatbush;
  private readonly radii: Float64Array;

  /** @param spine at least one point. */
  constructor(private readonly spine: Spine) {
    const { data, count } = spine;
    for (let i = 0; i < count; i++) {
      const [a, b] = [3 * i, 3 * ((i + 1) % count)];
      const [dx, dy] = [data[b] - data[a], data[b + 1] - data[a + 1]];
      const steps = Math.max(1, Math.ceil(Math.hypot(dx, dy) / STEP_PX));
      for (let k = 0; k <= steps; k++) {
        this.places.push(data[a] + (k / steps) * dx, data[a + 1] + (k / steps) * dy);
        this.pieces.push(i);
      }
    }
    this.index = new Flatbush(this.pieces.length);
    for (let n = 0; n < this.places.length; n += 2) this.index.add(this.places[n], this.places[n + 1]);
    this.index.finish();
    this.radii = new Float64Array(this.pieces.length);
  }

  /** Takes in a line. @param isGone whether it is erased at a place. */
  note(line: Spine, isGone: (x: number, y: number) => boolean): void {
    const { data, count, footprint } = line;
    const { places, radii } = this;
    const box = grow(spineBox(line), ON_BORDER_PX);
    if (!this.index.search(box.x0, box.y0, box.x1, box.y1).length) return;
    for (let i = 0; i + 1 < count; i++) {
      const [a, b] = [3 * i, 3 * i + 3];
      const x0 = Math.min(data[a], data[b]) - ON_BORDER_PX;
      const x1 = Math.max(data[a], data[b]) + ON_BORDER_PX;
      const y0 = Math.min(data[a + 1], data[b + 1]) - ON_BORDER_PX;
      const y1 = Math.max(data[a + 1], data[b + 1]) + ON_BORDER_PX;
      for (const n of this.index.search(x0, y0, x1, y1)) {
        const [x, y] = [places[2 * n], places[2 * n + 1]];
        const u = nearestPart(data, a, b, x, y);
        const at = (k: number) => data[a + k] + u * (data[b + k] - data[a + k]);
        // A flat nib's line is nowhere thinner than the nib.
        const radius = at(2) * (footprint?.flat ?? 1);
        if (radius > radii[n] && Math.hypot(at(0) - x, at(1) - y) <= ON_BORDER_PX && !isGone(x, y)) radii[n] = radius;
      }
    }
  }

  /** The border, as wide at each point as is hidden all along the pieces on both of its sides. */
  widened(): Spine {
    const wide = copyOf(this.spine);
    const { data, count } = wide;
    const hidden = new Float64Array(count).fill(MOST_PX);
    this.pieces.forEach((i, n) => (hidden[i] = Math.min(hidden[i], this.radii[n] - FROM_EDGE_PX)));
    for (let i = 0; i < count; i++) {
      const radius = Math.min(hidden[i], hidden[(i + count - 1) % count]);
      if (data[3 * i + 2] < radius) data[3 * i + 2] = radius;
    }
    // Both ways, and past its beginning.
    for (let n = 0; n < 2 * count; n++) slope(data, n % count, (n + 1) % count);
    for (let n = 2 * count; n > 0; n--) slope(data, n % count, (n - 1) % count);
    return wide;
  }
}

/** A point is no wider than one beside it allows: a disc that held its neighbour's would have an outline of its own. */
function slope(data: Float64Array, from: number, to: number): void {
  const [a, b] = [3 * from, 3 * to];
  const most = data[a + 2] + MOST_SLOPE * Math.hypot(data[b] - data[a], data[b + 1] - data[a + 1]);
  if (data[b + 2] > most) data[b + 2] = most;
}
