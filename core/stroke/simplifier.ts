import type { Spine } from './spine';

/** What takes the points of a line in their order; `place` grows along the line, in the measure of whoever walks it. */
export interface PointSink {
  add(x: number, y: number, r: number, out: Spine, place: number): void;
  /** There are no more. */
  flush(out: Spine): void;
}

/** Longest run that may wait for a decision; bounds the work per point and the undecided tail. */
const MAX_RUN = 12;
/** Values of a waiting point: x, y, r and its place. */
const POINT = 4;

/**
 * Drops spine points as they stream by: a run is dropped while each of its points lies within the
 * tolerance of the cone that replaces it, in place and in radius.
 * What is emitted depends on the points so far only, never on later ones.
 * @see the opening-window form of Douglas & Peucker (1973), with the radius as a third coordinate.
 */
export class Simplifier implements PointSink {
  private run = new Float64Array(POINT * (MAX_RUN + 1));
  private length = 0;
  private started = false;

  private tolerancePx = 0;

  /** Begins a new line, with how far a dropped point may lie from what replaces it, >= 0. */
  restart(tolerancePx: number): void {
    this.tolerancePx = tolerancePx;
    this.length = 0;
    this.started = false;
  }

  /** Takes the next point; emits the one before it when that has become necessary. */
  add(x: number, y: number, r: number, out: Spine, place: number): void {
    if (!this.started) {
      this.started = true;
      out.push(x, y, r, place);
    } else if (this.length && (this.length === MAX_RUN || !this.fits(x, y, r, out))) {
      this.flush(out);
    }
    const at = POINT * this.length++;
    this.run[at] = x;
    this.run[at + 1] = y;
    this.run[at + 2] = r;
    this.run[at + 3] = place;
  }

  /** Emits the last point, which always stands. */
  flush(out: Spine): void {
    if (!this.length) return;
    const at = POINT * (this.length - 1);
    out.push(this.run[at], this.run[at + 1], this.run[at + 2], this.run[at + 3]);
    this.length = 0;
  }

  /** Makes this a copy of `other` (same tolerance), to look ahead without deciding anything. */
  copyFrom(other: Simplifier): void {
    this.run.set(other.run);
    this.length = other.length;
    this.started = other.started;
  }

  /** Whether the whole run lies within tolerance of the cone from the last emitted point to (x, y, r). */
  private fits(x: number, y: number, r: number, out: Spine): boolean {
    const a = 3 * (out.count - 1);
    const ax = out.data[a];
    const ay = out.data[a + 1];
    const ar = out.data[a + 2];
    const dx = x - ax;
    const dy = y - ay;
    const sq = dx * dx + dy * dy;
    if (sq === 0) return false;
    const limit = this.tolerancePx * this.tolerancePx;
    for (let i = 0; i < this.length; i++) {
      const px = this.run[POINT * i] - ax;
      const py = this.run[POINT * i + 1] - ay;
      const u = (px * dx + py * dy) / sq;
      if (u < 0 || u > 1) return false;
      const ex = px - u * dx;
      const ey = py - u * dy;
      const er = this.run[POINT * i + 2] - (ar + u * (r - ar));
      if (ex * ex + ey * ey > limit || er * er > limit) return false;
    }
    return true;
  }
}
