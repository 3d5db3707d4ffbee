import type { Footprint } from './footprint';
import { outlineOf, OutlineWorkspace, type Outline } from './outline';
import { copyOf, Spine } from './spine';
import { directionWithin, piecesOf } from './turning-nib';

/**
 * The outline of a line, whatever its nib: filled by the nonzero rule. A flat nib's is worked out where the nib is round, and
 * brought back; where the nib turns along the line, cone by cone.
 * @param tolerancePx as {@link outlineOf}. A soft edge and grain are no matter of outlines.
 */
export function inkOutline(spine: Spine, tolerancePx: number, work = new OutlineWorkspace()): Outline {
  if (spine.fill) {
    const line = copyOf(spine);
    line.fill = undefined;
    const inside = enclosed(spine);
    return spine.fill === 'alone' ? inside : joined([inside, inkOutline(line, tolerancePx, work)]);
  }
  const { footprint, own, count } = spine;
  if (!footprint || footprint.flat === 1) return outlineOf(spine, tolerancePx, work);
  if (!own) return flatOutline(spine, footprint, tolerancePx, work);
  const pieces: Outline[] = [];
  for (let i = 0; i < Math.max(Math.min(1, count), count - 1); i++) {
    const number = piecesOf(spine, i, 1, footprint);
    for (let n = 0; n < number; n++) {
      const cone = new Spine(2);
      for (const u of count > 1 ? [n / number, (n + 1) / number] : [0]) push(cone, spine, i, u);
      // Where the line was cut, it ends; at its joints it has discs.
      cone.isCutStart = i === 0 && n === 0 && spine.isCutStart;
      cone.isCutEnd = i + 2 >= count && n + 1 === number && spine.isCutEnd;
      const [ex, ey] = directionWithin(spine, i, (n + 0.5) / number, footprint);
      pieces.push(flatOutline(cone, { ...footprint, ex, ey }, tolerancePx, work));
    }
  }
  return joined(pieces);
}

/** What a line encloses, its ends joined straight, clockwise as all outlines are. */
export function enclosed({ data, count }: Spine): Outline {
  let area = 0;
  for (let i = 0; i < count; i++) {
    const a = 3 * i;
    const b = 3 * ((i + 1) % count);
    area += data[a] * data[b + 1] - data[b] * data[a + 1];
  }
  const xy = new Float64Array(2 * count);
  for (let i = 0; i < count; i++) {
    const at = 3 * (area < 0 ? count - 1 - i : i);
    xy[2 * i] = data[at];
    xy[2 * i + 1] = data[at + 1];
  }
  return { xy, ends: [count] };
}

/** Adds the point at the part `u` of the way from point i of a spine to the next. */
function push(out: Spine, { data, count }: Spine, i: number, u: number): void {
  const a = 3 * i;
  const b = i + 1 < count ? a + 3 : a;
  const at = (k: number) => data[a + k] + u * (data[b + k] - data[a + k]);
  out.push(at(0), at(1), at(2));
}

function flatOutline(spine: Spine, { flat, ex, ey }: Footprint, tolerancePx: number, work: OutlineWorkspace): Outline {
  const round = new Spine(spine.count);
  round.isCutStart = spine.isCutStart;
  round.isCutEnd = spine.isCutEnd;
  for (let at = 0; at < 3 * spine.count; at += 3) {
    const x = spine.data[at];
    const y = spine.data[at + 1];
    round.push(ex * x + ey * y, (ex * y - ey * x) / flat, spine.data[at + 2]);
  }
  const outline = outlineOf(round, tolerancePx, work);
  const { xy } = outline;
  for (let at = 0; at < xy.length; at += 2) {
    const x = xy[at];
    const y = flat * xy[at + 1];
    xy[at] = ex * x - ey * y;
    xy[at + 1] = ey * x + ex * y;
  }
  return outline;
}

function joined(outlines: readonly Outline[]): Outline {
  const xy = new Float64Array(outlines.reduce((sum, o) => sum + o.xy.length, 0));
  const ends: number[] = [];
  let at = 0;
  for (const outline of outlines) {
    xy.set(outline.xy, at);
    for (const end of outline.ends) ends.push(at / 2 + end);
    at += outline.xy.length;
  }
  return { xy, ends };
}
