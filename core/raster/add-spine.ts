import type { Spine } from '../stroke/spine';
import { addBody } from './add-body';
import { addDisc, addDot } from './add-disc';
import { addThinEnd, END_LENGTH } from './add-thin-end';
import { ConeFrame, mitre } from './cone-frame';
import type { CoverageMask } from './coverage-mask';
import { REACH, THIN_END } from './half-plane';

/** A cone whose radius changes by this much per px of its length is no line at its ends. */
const BLUNT = 0.5;

/** Where a spine lies in a level's grid: `gridPx = paperPx * scale` (a power of two for tiles). */
export type LevelScale = number;

const JOINT = 0;
const END = 1;
const CUT = 2;

/** Which part of a stroke a spine is. */
export interface SpinePart {
  /** First cone to draw; what comes before it is taken to be in already, and only looked at for the joint. */
  from?: number;
  /** It ends with the last one. Otherwise the last cone is left out: how it is joined is not known yet. */
  ends?: boolean;
}

/**
 * Max-blends the union of a spine's round cones (the convex hulls of neighbouring discs) into `mask`.
 *
 * Each cone adds its body, straight between the points where the tangents touch its discs; ends and joints add
 * discs. Where the turn is slight, neighbouring bodies meet in a mitre instead, and nothing is computed twice.
 * Ends thinner than a pixel fade. Where the line was cut, its last body ends straight across, without a disc.
 *
 * @param spine paper px, finite, radii >= 0 (not checked). Not modified.
 * @param scale grid px per paper px, > 0; multiplying by a power of two loses no bits.
 * @see the distance to an uneven capsule. Edge error against 8 x 8 supersampling: see bench coverage.
 */
export function addSpine(
  mask: CoverageMask,
  spine: Spine,
  scale: LevelScale,
  { from = 0, ends = true }: SpinePart = {},
): void {
  const { data, count } = spine;
  if (count === 1 && from === 0 && ends) addDot(mask, data[0] * scale, data[1] * scale, data[2] * scale);
  const first = spine.isCutStart ? CUT : END;
  const last = spine.isCutEnd ? CUT : END;
  const stop = ends ? count - 1 : count - 2;
  let cone = new ConeFrame();
  let next = new ConeFrame();
  // The cone that `next` holds, and the mitre before it.
  let held = -1;
  let before = -1;
  for (let i = from; i < stop; i++) {
    if (misses(mask, data, 3 * i, scale)) continue;
    if (held !== i) {
      next.set(spine, i, scale);
      before = -1;
      if (i > 0) {
        cone.set(spine, i - 1, scale);
        before = mitre(cone, next);
      }
    }
    const spare = cone;
    cone = next;
    next = spare;
    const isLast = i + 2 === count;
    let after = -1;
    if (!isLast) {
      next.set(spine, i + 1, scale);
      after = mitre(cone, next);
      held = i + 1;
    }
    addConePart(mask, cone, i === 0 ? first : JOINT, isLast ? last : JOINT, before, after);
    before = after;
  }
}

/** A mitre's corner lies at most 0.24 of the radius with its reach beyond the disc's own reach (`mitre`). */
const CORNER = 1.25;

/** Whether nothing of the cone at `a` can show in the mask. */
function misses({ x0, y0, width, height }: CoverageMask, data: Float64Array, a: number, scale: number): boolean {
  const ra = (data[a + 2] * scale + REACH) * CORNER;
  const rb = (data[a + 5] * scale + REACH) * CORNER;
  const ax = data[a] * scale - x0;
  const bx = data[a + 3] * scale - x0;
  if ((ax + ra < 0 && bx + rb < 0) || (ax - ra > width && bx - rb > width)) return true;
  const ay = data[a + 1] * scale - y0;
  const by = data[a + 4] * scale - y0;
  return (ay + ra < 0 && by + rb < 0) || (ay - ra > height && by - rb > height);
}

/** What a side of a cone is: joined to the next one, the stroke's own end, or where it was cut. */
type ConeEnd = typeof JOINT | typeof END | typeof CUT;

/** One cone with the joint or end at its far side, and the stroke's beginning if it is the first. */
function addConePart(
  mask: CoverageMask,
  cone: ConeFrame,
  near: ConeEnd,
  far: ConeEnd,
  before: number,
  after: number,
): void {
  const { ra, rb, sin, length, hasBody } = cone;
  // A blunt end is seen as a disc, however small: there is no line that could fade.
  const isLine = hasBody && Math.abs(sin) < BLUNT;
  const fadesIn = near === END && isLine && ra < THIN_END;
  const fadesOut = far === END && isLine && rb < THIN_END;
  if (near === END && !fadesIn) addDisc(mask, cone.ax, cone.ay, ra);
  if (hasBody) {
    let bodyFrom = near === CUT ? 0 : before >= 0 ? -before : sin * ra;
    let bodyTo = far === CUT ? length : after >= 0 ? length + after : length + sin * rb;
    const limit = fadesIn && fadesOut ? Math.min(END_LENGTH, length / 2) : END_LENGTH;
    if (fadesIn) {
      bodyFrom = limit;
      addThinEnd(mask, cone, true, limit, fadesOut ? length : Infinity);
    }
    if (fadesOut) {
      bodyTo = length - limit;
      addThinEnd(mask, cone, false, limit, fadesIn ? length : Infinity);
    }
    if (bodyFrom < bodyTo) addBody(mask, cone, bodyFrom, bodyTo);
  }
  if (after < 0 && !fadesOut && far !== CUT) addDisc(mask, cone.bx, cone.by, rb);
}
