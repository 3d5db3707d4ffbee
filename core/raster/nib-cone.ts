import type { Footprint } from '../stroke/footprint';
import { OWN, type Spine } from '../stroke/spine';
import { directionWithin } from '../stroke/turning-nib';

/**
 * One cone of a spine that is drawn by its {@link Footprint}, in grid px. It is worked out where the nib is round: the
 * matrix `xx, xy, yx, yy` takes a vector of the grid there, the width's direction first. Lengths there are those of the nib's width.
 */
export class NibCone {
  ax = 0;
  ay = 0;
  ra = 0;
  bx = 0;
  by = 0;
  rb = 0;
  /** Strengths 0 to 1 at both ends. */
  ka = 1;
  kb = 1;
  /** Rows of the matrix to the round nib's plane. */
  xx = 1;
  xy = 0;
  yx = 0;
  yy = 1;
  /** The axis in that plane, a unit vector. */
  ux = 1;
  uy = 0;
  /** Along the axis and beside it in that plane, as linear forms of grid px from the first centre. */
  alongX = 0;
  alongY = 0;
  besideX = 0;
  besideY = 0;
  /** Sine and cosine of the angle between the axis' normal and the tangents' normals. */
  sin = 0;
  cos = 0;
  /** Length of the tangents. */
  tangent = 0;
  /** Whether the discs have common tangents, i.e. neither holds the other. */
  hasBody = false;

  /**
   * Takes over a piece of the cone from point i to i + 1, of `pieces` that it is cut into; of a spine of one point, its
   * disc. A nib that turns has one direction a piece.
   */
  set(spine: Spine, i: number, scale: number, footprint: Footprint, piece = 0, pieces = 1): void {
    const { data, own, count } = spine;
    const a = 3 * i;
    const b = count > 1 ? a + 3 : a;
    const u = piece / pieces;
    const v = (piece + 1) / pieces;
    this.ax = between(data[a], data[b], u) * scale;
    this.ay = between(data[a + 1], data[b + 1], u) * scale;
    this.ra = between(data[a + 2], data[b + 2], u) * scale;
    this.bx = between(data[a], data[b], v) * scale;
    this.by = between(data[a + 1], data[b + 1], v) * scale;
    this.rb = between(data[a + 2], data[b + 2], v) * scale;
    this.ka = this.kb = 1;
    if (own) {
      const p = OWN * i;
      const q = count > 1 ? p + OWN : p;
      this.ka = between(own[p], own[q], u);
      this.kb = between(own[p], own[q], v);
    }
    const [ex, ey] = directionWithin(spine, i, (u + v) / 2, footprint);
    this.turn(footprint.flat, ex, ey);
    this.frame();
  }

  private turn(flat: number, ex: number, ey: number): void {
    if (flat === 1) {
      this.xx = this.yy = 1;
      this.xy = this.yx = 0;
      return;
    }
    this.xx = ex;
    this.xy = ey;
    this.yx = -ey / flat;
    this.yy = ex / flat;
  }

  private frame(): void {
    const dx = this.bx - this.ax;
    const dy = this.by - this.ay;
    const x = this.xx * dx + this.xy * dy;
    const y = this.yx * dx + this.yy * dy;
    const dr = this.ra - this.rb;
    const sq = x * x + y * y;
    this.hasBody = sq > dr * dr;
    if (!this.hasBody) return;
    const length = Math.sqrt(sq);
    const ux = (this.ux = x / length);
    const uy = (this.uy = y / length);
    this.alongX = ux * this.xx + uy * this.yx;
    this.alongY = ux * this.xy + uy * this.yy;
    this.besideX = ux * this.yx - uy * this.xx;
    this.besideY = ux * this.yy - uy * this.xy;
    this.sin = dr / length;
    this.cos = Math.sqrt(1 - this.sin * this.sin);
    this.tangent = this.cos * length;
  }

  /** Takes over a cone and lets it go on straight at either side, px of the grid; no further than to where it has no width. */
  stretch(cone: NibCone, before: number, after: number): void {
    Object.assign(this, cone);
    if (!cone.hasBody) return;
    const { ax, ay, ra, bx, by, rb } = cone;
    const length = Math.hypot(bx - ax, by - ay);
    const most = (r: number, other: number, px: number) =>
      r < other ? Math.min(px / length, r / (other - r)) : px / length;
    const near = most(ra, rb, before);
    const far = most(rb, ra, after);
    this.ax -= near * (bx - ax);
    this.ay -= near * (by - ay);
    this.ra -= near * (rb - ra);
    this.bx += far * (bx - ax);
    this.by += far * (by - ay);
    this.rb += far * (rb - ra);
    this.tangent *= 1 + near + far;
  }

  /** Whether a point of the grid lies before this cone's first tangent points: there its first disc is nearest. */
  isBefore(px: number, py: number): boolean {
    const dx = px - this.ax;
    const dy = py - this.ay;
    const along = dx * this.alongX + dy * this.alongY;
    const beside = dx * this.besideX + dy * this.besideY;
    return this.cos * along < this.sin * (beside < 0 ? -beside : beside);
  }
}

/** Exactly `b` at 1. */
const between = (a: number, b: number, u: number): number => (u === 1 ? b : a + u * (b - a));
