import type { Footprint } from '../stroke/footprint';
import type { Spine } from '../stroke/spine';
import { piecesOf } from '../stroke/turning-nib';
import type { LevelScale, SpinePart } from './add-spine';
import type { CoverageMask } from './coverage-mask';
import { flatEndCover } from './flat-end';
import { RAMPS, rampAt, RAMP_STEPS, REACH } from './half-plane';
import { NibCone } from './nib-cone';

/**
 * Max-blends the ink of a nib that is flat, soft or unevenly strong into `mask`: the union of the cones between its
 * footprints, each pixel with its strength and, within the soft edge, less the further out it lies.
 *
 * A flat nib is an oval: in a plane stretched across it the nib is round, and the cones are those of `addSpine`. Edges are
 * measured in the grid itself: a distance there is divided by the length of its gradient, which is exact for straight
 * edges. Each pixel takes its value from the cone beside which it lies; pixels on the outside of a joint, between two
 * cones, take theirs from the disc of the joint: so along a line each pixel is looked at about once.
 *
 * @param spine paper px, finite, radii >= 0 (not checked). Not modified.
 * @param scale grid px per paper px, > 0.
 */
export function addNib(
  mask: CoverageMask,
  spine: Spine,
  footprint: Footprint,
  scale: LevelScale,
  { from = 0, ends = true }: SpinePart = {},
): void {
  const { count } = spine;
  if (count === 0 || (count === 1 && !ends)) return;
  const stop = ends ? Math.max(1, count - 1) : count - 2;
  const pieces = (i: number) => piecesOf(spine, i, scale, footprint);
  let cone = new NibCone();
  let next = new NibCone();
  next.set(spine, from, scale, footprint, 0, pieces(from));
  for (let i = from; i < stop; i++) {
    const number = pieces(i);
    for (let piece = 0; piece < number; piece++) {
      const spare = cone;
      cone = next;
      next = spare;
      const goesOn = piece + 1 < number || i + 2 < count;
      if (piece + 1 < number) next.set(spine, i, scale, footprint, piece + 1, number);
      else if (goesOn) next.set(spine, i + 1, scale, footprint, 0, pieces(i + 1));
      drawer.hasStart = i === 0 && piece === 0 && !spine.isCutStart;
      drawer.hasEnd = goesOn || !spine.isCutEnd;
      drawer.next = goesOn ? next : undefined;
      drawer.set(cone, footprint);
      drawer.draw(mask);
    }
  }
}

/** The straight edge on one side of a cone, in grid px from its first centre. */
class Side {
  /** Unit normal, outwards, and how far along it the edge lies. */
  x = 0;
  y = 0;
  r = 0;
  /** Lengths in the round nib's plane a grid px across the edge. */
  steep = 1;
  /** Along the tangent, in that plane. */
  tangentX = 0;
  tangentY = 0;
  ramp = 0;

  set(cone: NibCone, hand: 1 | -1): void {
    const { sin, cos, alongX, alongY, besideX, besideY } = cone;
    const x = sin * alongX + hand * cos * besideX;
    const y = sin * alongY + hand * cos * besideY;
    this.steep = Math.sqrt(x * x + y * y);
    this.x = x / this.steep;
    this.y = y / this.steep;
    this.r = cone.ra / this.steep;
    this.tangentX = cos * alongX - hand * sin * besideX;
    this.tangentY = cos * alongY - hand * sin * besideY;
    this.ramp = rampAt(this.x, this.y);
  }
}

/** So far beyond a joint a flat nib's straight edges go on, px: the disc of a thin nib covers no pixel between two cones. */
const BEYOND_PX = 0.5;
/** A pixel that feels the line's end reaches no further along it, px. */
const TIP_PX = 2;

/** Draws cones; what is known of the one at hand stays in the fields. */
class ConeDrawer {
  /** Whether the line begins here with its own half disc, and whether it goes on at the far side, or ends there round. */
  hasStart = true;
  hasEnd = true;
  /** The cone that it goes on into. */
  next: NibCone | undefined;
  private cone = new NibCone();
  private soft = 0;
  private flat = 1;
  private beyond = 0;
  /** So far along the axis from an end, in the round nib's plane, a pixel feels how the end is shaped. */
  private tip = 0;
  /** The cone, going on straight where the line goes on. */
  private readonly hull = new NibCone();
  private slabFrom = 0;
  private slabTo = 0;
  private readonly plus = new Side();
  private readonly minus = new Side();
  /** A run of a row, px from the first centre. */
  private lo = 0;
  private hi = 0;

  set(cone: NibCone, { soft, flat }: Footprint): void {
    this.cone = cone;
    this.soft = soft;
    this.flat = flat;
    const isTip = flat < 1 && soft === 0 && (this.hasStart || !this.next);
    this.tip = -Infinity;
    if (isTip) this.hull.stretch(cone, this.hasStart ? 0 : TIP_PX, this.next ? TIP_PX : 0);
    if (!cone.hasBody) return;
    this.plus.set(cone, 1);
    this.minus.set(cone, -1);
    const { tangentX: x, tangentY: y } = this.plus;
    const perPx = Math.sqrt(x * x + y * y);
    this.beyond = flat < 1 ? BEYOND_PX * perPx : 0;
    if (isTip) this.tip = REACH * perPx;
    this.setSlab(perPx);
  }

  /** How far along the axis the cone's own pixels reach: what is beyond belongs to its neighbours. @param perPx its steepness. */
  private setSlab(perPx: number): void {
    const { cone, next } = this;
    const lean = cone.sin < 0 ? -cone.sin : cone.sin;
    const widest = cone.ra > cone.rb ? cone.ra : cone.rb;
    // Pixels are looked at by their centres.
    const spare = lean * (widest + perPx) + REACH * perPx;
    this.slabFrom = this.hasStart ? -cone.ra - spare : -spare / cone.cos;
    let fan = this.hasEnd ? cone.rb : 0;
    if (next?.hasBody) {
      const dot = cone.ux * next.ux + cone.uy * next.uy;
      const cross = cone.ux * next.uy - cone.uy * next.ux;
      const turn = dot > 0 ? (cross < 0 ? -cross : cross) + lean + (next.sin < 0 ? -next.sin : next.sin) : 1;
      // A nib that turns has another plane in its next piece.
      if (turn < 1 && cone.xx === next.xx && cone.xy === next.xy) fan *= turn;
    }
    this.slabTo = (cone.tangent + spare + this.beyond) / cone.cos + fan;
  }

  draw(mask: CoverageMask): void {
    const { width, height, data, rowFrom, rowTo, x0, y0 } = mask;
    const { cone, flat } = this;
    const { ax, ay, bx, by, ra, rb, hasBody } = cone;
    // How far an oval of radius 1 reaches sideways, and up and down.
    const wide = flat === 1 ? 1 : Math.sqrt(cone.xx * cone.xx + flat * flat * cone.xy * cone.xy);
    const high = flat === 1 ? 1 : Math.sqrt(cone.xy * cone.xy + flat * flat * cone.xx * cone.xx);
    const left = Math.min(ax - ra * wide, bx - rb * wide) - REACH;
    const right = Math.max(ax + ra * wide, bx + rb * wide) + REACH;
    const rowA = Math.max(0, Math.ceil(Math.min(ay - ra * high, by - rb * high) - REACH - 0.5) - y0);
    const rowB = Math.min(height - 1, Math.floor(Math.max(ay + ra * high, by + rb * high) + REACH - 0.5) - y0);
    if (rowA > rowB || left >= x0 + width || right <= x0) return;
    const isEven = hasBody && cone.ka === 1 && cone.kb === 1;
    const { plus, minus } = this;
    const { alongX, besideX, sin, cos, tangent } = cone;
    const isSoft = hasBody && this.soft > 0 && isNearlyEven(ra / plus.steep, rb / plus.steep);
    const perTangent = 1 / tangent;
    const perFadeA = this.perFade(ra);
    const fadeStep = this.perFade(rb) - perFadeA;
    const inkA = this.inkOf(ra, cone.ka);
    const inkStep = this.inkOf(rb, cone.kb) - inkA;
    let touchedA = height;
    let touchedB = -1;
    for (let j = rowA; j <= rowB; j++) {
      const py = y0 + j + 0.5;
      const h = py - ay;
      this.lo = left - ax;
      this.hi = right - ax;
      if (hasBody) this.clipToStrip(h);
      const begin = Math.max(0, Math.ceil(ax + this.lo - 0.5) - x0);
      const end = Math.min(width - 1, Math.floor(ax + this.hi - 0.5) - x0);
      if (!(begin <= end)) continue;
      if (isEven) this.clipToFull(h);
      const fullFrom = isEven ? Math.max(begin, Math.ceil(ax + this.lo - 0.5) - x0) : end + 1;
      const fullTo = isEven ? Math.min(end, Math.floor(ax + this.hi - 0.5) - x0) : end;
      const hasFull = fullFrom <= fullTo;
      const row = j * width;
      let from = width;
      let to = 0;
      const alongRow = h * cone.alongY;
      const besideRow = h * cone.besideY;
      const plusRow = plus.r - h * plus.y + 0.5;
      const minusRow = minus.r - h * minus.y + 0.5;
      for (let i = begin; i <= end; i++) {
        if (hasFull && i === fullFrom) {
          data.fill(255, row + fullFrom, row + fullTo + 1);
          if (i < from) from = i;
          i = fullTo;
          to = i + 1;
          continue;
        }
        const was = data[row + i];
        if (was === 255) continue;
        let value: number;
        const dx = x0 + i + 0.5 - ax;
        const beside = dx * besideX + besideRow;
        const at = cos * (dx * alongX + alongRow) - sin * (beside < 0 ? -beside : beside);
        if (isSoft && at >= 0 && at <= tangent) {
          // `faded` of the edge, without its divisions.
          const u = at * perTangent;
          const f = (beside < 0 ? minusRow - dx * minus.x : plusRow - dx * plus.x) * (perFadeA + u * fadeStep);
          if (f <= 0) continue;
          value = ((f >= 1 ? 1 : f * f * (3 - 2 * f)) * (inkA + u * inkStep) + 0.5) | 0;
        } else value = this.valueAt(x0 + i + 0.5, py);
        if (value <= was) continue;
        data[row + i] = value;
        if (i < from) from = i;
        to = i + 1;
      }
      if (from >= to) continue;
      if (from < rowFrom[j]) rowFrom[j] = from;
      if (to > rowTo[j]) rowTo[j] = to;
      if (j < touchedA) touchedA = j;
      touchedB = j;
    }
    if (touchedA < mask.top) mask.top = touchedA;
    if (touchedB >= mask.bottom) mask.bottom = touchedB + 1;
  }

  /** By how much a soft edge of the body gains with each px inwards. */
  private perFade(r: number): number {
    return 1 / ((this.soft * r) / this.plus.steep + 1);
  }

  /** The ink of a soft body well within its edge, 0 to 255: what is thinner than a px is as much weaker. */
  private inkOf(r: number, strength: number): number {
    const half = r / this.plus.steep;
    return 255 * strength * (half < 0.5 ? 2 * half : 1);
  }

  /** Leaves of the run what lies between the edges, with their reach, and not beyond the neighbours. @param h the row, px below the first centre. */
  private clipToStrip(h: number): void {
    const { plus, minus } = this;
    this.clip(plus.x, plus.r + REACH - h * plus.y);
    this.clip(minus.x, minus.r + REACH - h * minus.y);
    const { alongX, alongY } = this.cone;
    this.clip(alongX, this.slabTo - h * alongY);
    this.clip(-alongX, h * alongY - this.slabFrom);
  }

  /** Leaves of the run what is wholly covered, as far as straight lines tell. */
  private clipToFull(h: number): void {
    const { plus, minus, cone, soft } = this;
    const depth = soft * Math.max(cone.ra, cone.rb);
    const reach = soft > 0 ? 0.5 : REACH;
    this.clip(plus.x, plus.r - depth / plus.steep - reach - h * plus.y);
    this.clip(minus.x, minus.r - depth / minus.steep - reach - h * minus.y);
    this.clip(-plus.tangentX, h * plus.tangentY);
    this.clip(-minus.tangentX, h * minus.tangentY);
    this.clip(plus.tangentX, cone.tangent - h * plus.tangentY);
    this.clip(minus.tangentX, cone.tangent - h * minus.tangentY);
  }

  /** Leaves of the run where `slope * x <= rest`. */
  private clip(slope: number, rest: number): void {
    if (slope > 0) {
      const x = rest / slope;
      if (x < this.hi) this.hi = x;
    } else if (slope < 0) {
      const x = rest / slope;
      if (x > this.lo) this.lo = x;
    } else if (rest < 0) this.hi = -Infinity;
  }

  /** The ink of the pixel with its centre there, 0 to 255. */
  private valueAt(px: number, py: number): number {
    const { cone, next } = this;
    const dx = px - cone.ax;
    const dy = py - cone.ay;
    if (!cone.hasBody) {
      if (this.flat < 1 && this.soft === 0 && (this.hasStart || !next))
        return this.ofEnds(px, py, cone.ra > cone.rb ? cone.ka : cone.kb);
      const a = this.hasStart ? this.ofDisc(dx, dy, cone.ra, cone.ka) : 0;
      const b = this.hasEnd ? this.ofDisc(px - cone.bx, py - cone.by, cone.rb, cone.kb) : 0;
      return a > b ? a : b;
    }
    const beside = dx * cone.besideX + dy * cone.besideY;
    const at = cone.cos * (dx * cone.alongX + dy * cone.alongY) - cone.sin * (beside < 0 ? -beside : beside);
    if (this.hasStart && at < this.tip) return this.ofEnds(px, py, cone.ka);
    if (!next && this.hasEnd && at > cone.tangent - this.tip) return this.ofEnds(px, py, cone.kb);
    if (at < 0) return this.hasStart ? this.ofDisc(dx, dy, cone.ra, cone.ka) : 0;
    if (at > (next ? cone.tangent + this.beyond : cone.tangent)) {
      if (!this.hasEnd || (next?.hasBody && !next.isBefore(px, py))) return 0;
      return this.ofDisc(px - cone.bx, py - cone.by, cone.rb, cone.kb);
    }
    const u = at < cone.tangent ? at / cone.tangent : 1;
    const near = beside < 0 ? this.minus : this.plus;
    const far = beside < 0 ? this.plus : this.minus;
    const strength = cone.ka + u * (cone.kb - cone.ka);
    const inside = near.r - dx * near.x - dy * near.y;
    if (this.soft > 0)
      return this.faded(inside, u < 1 ? cone.ra + u * (cone.rb - cone.ra) : cone.rb, near.steep, strength);
    if (inside <= -REACH) return 0;
    const beyond = far.r - dx * far.x - dy * far.y;
    const cover = ramped(near.ramp, inside) + ramped(far.ramp, beyond) - 255;
    return cover <= 0 ? 0 : (cover * strength + 0.5) | 0;
  }

  /** The ink of a pixel at the end of a hard, flat nib. */
  private ofEnds(px: number, py: number, strength: number): number {
    return (255 * flatEndCover(this.hull, px, py) * strength + 0.5) | 0;
  }

  /** The ink of a pixel (dx, dy) from the centre of a disc. */
  private ofDisc(dx: number, dy: number, r: number, strength: number): number {
    const { xx, xy, yx, yy } = this.cone;
    const x = xx * dx + xy * dy;
    const y = yx * dx + yy * dy;
    const d = Math.sqrt(x * x + y * y);
    // In the middle the nearest edge lies across the nib.
    const nx = d > 0 ? (x * xx + y * yx) / d : yx;
    const ny = d > 0 ? (x * xy + y * yy) / d : yy;
    const steep = Math.sqrt(nx * nx + ny * ny);
    const inside = (r - d) / steep;
    if (this.soft > 0) return this.faded(inside, r, steep, strength);
    if (inside <= -REACH) return 0;
    const ramp = rampAt(nx / steep, ny / steep);
    const cover = ramped(ramp, inside) + ramped(ramp, (r + d) / steep) - 255;
    return cover <= 0 ? 0 : (cover * strength + 0.5) | 0;
  }

  /**
   * The ink so far inside an edge that fades over `soft` of the radius: smoothly from half a px outside of it to half a
   * px beyond the fading. What is thinner than a px is as much weaker.
   */
  private faded(inside: number, r: number, steep: number, strength: number): number {
    const half = r / steep;
    const f = (inside + 0.5) / (this.soft * half + 1);
    if (f <= 0) return 0;
    const weight = half < 0.5 ? 2 * half * strength : strength;
    return ((f >= 1 ? 1 : f * f * (3 - 2 * f)) * 255 * weight + 0.5) | 0;
  }
}

/**
 * Whether what a soft edge's radius means may be taken as a straight line between two ends: half of the width there, px.
 * Where the nib becomes much finer, or thinner than a px at one end alone, it is no straight line.
 */
const isNearlyEven = (a: number, b: number): boolean =>
  a < 0.5 === b < 0.5 && Math.abs(a - b) <= EVEN_PART * Math.max(a, b);
const EVEN_PART = 0.4;

/** 0 to 255 for a pixel so far inside an edge with that ramp. */
const ramped = (ramp: number, inside: number): number =>
  inside >= REACH ? 255 : inside < -REACH ? 0 : RAMPS[ramp + (((inside + REACH) * RAMP_STEPS) | 0)];

const drawer = new ConeDrawer();
