import { fittedCubics, unit, type Cubic, type Direction, type FitRule, type PointRow } from '../stroke/cubic-fit';
import type { Outline } from '../stroke/outline';

/** How far curves may lie from the contour that they stand for, paper px. */
export const CURVE_PX = 0.05;
/** A bit less is aimed at: places are rounded later, by up to 0.007 px. */
const AIM_PX = 0.034;
/** A contour that turns by more than this at a point (35 degrees) has a corner there; the cosine. */
const CORNER_COS = 0.82;
/** Points nearer to each other than this are one. */
const SAME_PX = 0.004;
/** Longer sides are looked at between their ends, too: so often at most. */
const LONG_PX = 4;
const MOST_BETWEEN = 8;

/** A closed contour: from its first point by curves, or straight where there is none, each to the next point. */
export interface CurvedContour {
  x: number;
  y: number;
  pieces: { x: number; y: number; curve?: Cubic }[];
}

/**
 * Contours as cubic curves: corners stay, the rest is at most {@link CURVE_PX} off.
 * @param outline closed contours; those of less than three points are left out.
 */
export function curvedOutline({ xy, ends }: Outline): CurvedContour[] {
  let from = 0;
  return ends.flatMap((end) => {
    const contour = new Contour(xy, from, end);
    from = end;
    return contour.count < 3 ? [] : contour.curved();
  });
}

/** The points of one contour, without those that lie on each other. */
class Contour {
  private readonly x: number[] = [];
  private readonly y: number[] = [];

  constructor(xy: Float64Array, from: number, end: number) {
    for (let i = from; i < end; i++) {
      const last = this.x.length - 1;
      const [x, y] = [xy[2 * i], xy[2 * i + 1]];
      if (last < 0 || Math.hypot(x - this.x[last], y - this.y[last]) > SAME_PX) {
        this.x.push(x);
        this.y.push(y);
      }
    }
    const last = this.count - 1;
    if (last > 0 && Math.hypot(this.x[0] - this.x[last], this.y[0] - this.y[last]) <= SAME_PX) {
      this.x.pop();
      this.y.pop();
    }
  }

  get count(): number {
    return this.x.length;
  }

  curved(): CurvedContour {
    const { count } = this;
    const corners = Array.from({ length: count }, (_, i) => i).filter((i) => this.turnAt(i) < CORNER_COS);
    // One that is round all over begins anywhere.
    const stops = corners.length ? corners : [0];
    const begin = stops[0];
    const pieces = stops.flatMap((stop, n) => {
      const next = n + 1 < stops.length ? stops[n + 1] : begin + count;
      return this.stretch(stop, next, corners.length === 0);
    });
    return { x: this.x[begin], y: this.y[begin], pieces };
  }

  /** The cosine of the turn at a point. */
  private turnAt(i: number): number {
    const { x, y, count } = this;
    const [a, b] = [(i + count - 1) % count, (i + 1) % count];
    const [ax, ay, bx, by] = [x[i] - x[a], y[i] - y[a], x[b] - x[i], y[b] - y[i]];
    return (ax * bx + ay * by) / (Math.hypot(ax, ay) * Math.hypot(bx, by));
  }

  /** The curves from one point to another, with no corner between; indices go on beyond the last point. */
  private stretch(from: number, to: number, isClosed: boolean): CurvedContour['pieces'] {
    const { count } = this;
    const at = (i: number) => [this.x[i % count], this.y[i % count]] as const;
    if (to - from === 1) {
      const [x, y] = at(to);
      return [{ x, y }];
    }
    const row = rowOf(Array.from({ length: to - from + 1 }, (_, n) => at(from + n)));
    const last = row.x.length - 1;
    return fittedCubics(row, 0, last, ruleFor(row, isClosed)).map(({ to: end, curve }) => ({
      x: row.x[end],
      y: row.y[end],
      curve,
    }));
  }
}

/** Points with others between those that are far from each other. */
function rowOf(points: readonly (readonly [number, number])[]): PointRow {
  const [x, y, s] = [[points[0][0]], [points[0][1]], [0]];
  for (let i = 1; i < points.length; i++) {
    const [ax, ay] = points[i - 1];
    const [bx, by] = points[i];
    const length = Math.hypot(bx - ax, by - ay);
    const parts = Math.min(MOST_BETWEEN + 1, Math.max(1, Math.ceil(length / LONG_PX)));
    const before = s[s.length - 1];
    for (let n = 1; n <= parts; n++) {
      const u = n / parts;
      x.push(ax + (bx - ax) * u);
      y.push(ay + (by - ay) * u);
      s.push(before + length * u);
    }
  }
  return { x: Float64Array.from(x), y: Float64Array.from(y), s: Float64Array.from(s) };
}

/** @param isClosed the row comes back to where it began and passes on there. */
function ruleFor(row: PointRow, isClosed: boolean): FitRule {
  const last = row.x.length - 1;
  const seam = isClosed ? passing(row, last - 1, 0, 1) : undefined;
  return {
    nearPx: AIM_PX,
    directionAt: (i, from, to, step) => {
      if (seam && (i === 0 || i === last)) return [step * seam[0], step * seam[1]];
      return endDirection(row, i, i + step, to - from > 1 ? i + 2 * step : i + step);
    },
    passingAt: (i) => passing(row, i - 1, i, i + 1),
  };
}

/** The tangent at b of the circle through a, b and c: its own direction where they lie in a row. */
function passing({ x, y }: PointRow, a: number, b: number, c: number): Direction {
  const [ax, ay, bx, by] = [x[b] - x[a], y[b] - y[a], x[c] - x[b], y[c] - y[b]];
  const [before, after] = [ax * ax + ay * ay, bx * bx + by * by];
  return unit(ax * after + bx * before, ay * after + by * before);
}

/** The tangent at a, towards b, of the circle through a, b and c. */
function endDirection(row: PointRow, a: number, b: number, c: number): Direction {
  const { x, y } = row;
  const [ux, uy] = unit(x[b] - x[a], y[b] - y[a]);
  if (b === c) return [ux, uy];
  const [tx, ty] = passing(row, a, b, c);
  const along = 2 * (tx * ux + ty * uy);
  return [along * ux - tx, along * uy - ty];
}
