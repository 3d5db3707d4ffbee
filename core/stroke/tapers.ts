import type { Pen } from './pen';

/** How a pen's line goes from thin to full at its start, and back at its end. */
export class Tapers {
  inPx = 0;
  outPx = 0;
  /** Where the one at the end begins, px along the line. */
  outFrom = 0;
  /** They had no room: they were shortened, in proportion. */
  isShort = false;
  private end = 0;

  /**
   * For a stroke of length `end`, paper px.
   * @param measuredPx tapers in parts of the length are parts of so much of it at most.
   */
  set(pen: Pen, end: number, measuredPx: number): void {
    const measured = end < measuredPx ? end : measuredPx;
    const inPx = pen.taperInPx + (pen.taperInPart ?? 0) * measured;
    const outPx = pen.taperOutPx + (pen.taperOutPart ?? 0) * measured;
    const both = inPx + outPx;
    // A dot stays round: what lies within the nib itself is not tapered.
    const room = Math.max(0, end - pen.sizePx / 2);
    this.isShort = both > room;
    const part = this.isShort ? room / both : 1;
    this.inPx = inPx * part;
    this.outPx = outPx * part;
    this.outFrom = end - this.outPx;
    this.end = end;
  }

  /** There are none. */
  clear(end: number): void {
    this.inPx = this.outPx = 0;
    this.outFrom = this.end = end;
    this.isShort = false;
  }

  /** What they leave of a radius at a place. */
  tapered(r: number, s: number): number {
    const { inPx, outFrom, outPx, end } = this;
    let out = r;
    if (s < inPx) out *= eased(s / inPx);
    if (s > outFrom && outPx > 0) out *= eased(s < end ? (end - s) / outPx : 0);
    return out;
  }

  /**
   * Into how many straight pieces a piece of the line has to be cut for them, squared.
   * @param r the larger radius at its ends.
   */
  squaredPieces(r: number, from: number, to: number, tolerancePx: number): number {
    const { inPx, outFrom, outPx } = this;
    const ds = to - from;
    // A straight piece of a taper that covers the part u of it is off by r u^2 / 4.
    const off = r / (4 * tolerancePx);
    let squared = 0;
    if (from < inPx) squared = (off * ds * ds) / (inPx * inPx);
    if (to > outFrom && outPx > 0) squared = Math.max(squared, (off * ds * ds) / (outPx * outPx));
    return squared;
  }
}

/** Rises from 0 to 1 with a rounded shoulder. */
const eased = (u: number): number => u * (2 - u);
