import Flatbush from 'flatbush';
import { Loop } from '../geometry/loop';
import { nearestPart } from '../geometry/segment';

/** What was painted over: everything as near to the way `[x, y, ...]` as its radius, paper px. */
export interface PaintedWay {
  xy: Float64Array;
  radiusPx: number;
}

/** A part of a picture: all that lies in one of the loops `[x, y, ...]` or was painted over, paper px. */
export interface MeantPart {
  loops: readonly Float64Array[];
  ways: readonly PaintedWay[];
}

/** Tells what belongs to a part. Loops of fewer than three places hold nothing; a part without any is all there is. */
export class Meant {
  private readonly loops: Loop[];
  /** Pieces of the ways, from place to place, and their radii. */
  private readonly pieces: Float64Array[] = [];
  private readonly radii: number[] = [];
  private readonly index: Flatbush | undefined;

  constructor({ loops, ways }: MeantPart) {
    this.loops = loops.filter((xy) => xy.length >= 6).map((xy) => new Loop(xy));
    for (const { xy, radiusPx } of ways)
      for (let i = 0; i < Math.max(2, xy.length - 2) && xy.length >= 2; i += 2) {
        const j = Math.min(i + 2, xy.length - 2);
        this.pieces.push(Float64Array.of(xy[i], xy[i + 1], xy[j], xy[j + 1]));
        this.radii.push(radiusPx);
      }
    if (!this.pieces.length) return;
    this.index = new Flatbush(this.pieces.length);
    this.pieces.forEach(([ax, ay, bx, by], n) => {
      const r = this.radii[n];
      this.index!.add(Math.min(ax, bx) - r, Math.min(ay, by) - r, Math.max(ax, bx) + r, Math.max(ay, by) + r);
    });
    this.index.finish();
  }

  holds(x: number, y: number): boolean {
    if (!this.loops.length && !this.index) return true;
    if (this.loops.some((loop) => loop.holds(x, y))) return true;
    return (this.index?.search(x, y, x, y) ?? []).some((n) => {
      const piece = this.pieces[n];
      const u = nearestPart(piece, 0, 2, x, y);
      const [px, py] = [piece[0] + u * (piece[2] - piece[0]), piece[1] + u * (piece[3] - piece[1])];
      return Math.hypot(x - px, y - py) <= this.radii[n];
    });
  }
}
