import { Simplifier, type PointSink } from './simplifier';
import type { Spine } from './spine';

/** Takes the part of a line that lies between two places, simplified; it begins and ends exactly there. */
export class LinePart implements PointSink {
  private readonly simplifier = new Simplifier();
  private readonly last = { x: 0, y: 0, r: 0, place: NaN };
  private from = 0;
  private to = 0;
  private hasBegun = false;
  private hasEnded = false;

  /** Begins another line. @param tolerancePx as {@link Simplifier}. */
  restart(from: number, to: number, tolerancePx: number): void {
    this.simplifier.restart(tolerancePx);
    this.from = from;
    this.to = to;
    this.last.place = NaN;
    this.hasBegun = this.hasEnded = false;
  }

  add(x: number, y: number, r: number, out: Spine, place: number): void {
    const { last, simplifier } = this;
    if (place >= this.from && !this.hasEnded) {
      if (!this.hasBegun && place > this.from && last.place < this.from)
        this.addBetween(x, y, r, place, this.from, out);
      this.hasBegun = true;
      if (place > this.to) this.addBetween(x, y, r, place, this.to, out);
      else simplifier.add(x, y, r, out, place);
      this.hasEnded = place >= this.to;
    }
    last.x = x;
    last.y = y;
    last.r = r;
    last.place = place;
  }

  flush(out: Spine): void {
    this.simplifier.flush(out);
  }

  /** Adds the point at `wanted`, between the last one and this. */
  private addBetween(x: number, y: number, r: number, place: number, wanted: number, out: Spine): void {
    const { last } = this;
    const u = (wanted - last.place) / (place - last.place);
    const { simplifier } = this;
    simplifier.add(last.x + u * (x - last.x), last.y + u * (y - last.y), last.r + u * (r - last.r), out, wanted);
  }
}

/** Takes every point of a line as it comes, with its place. */
export class MeasuredLine implements PointSink {
  readonly places: number[] = [];

  add(x: number, y: number, r: number, out: Spine, place: number): void {
    out.push(x, y, r, place);
    this.places.push(place);
  }

  flush(): void {}
}
