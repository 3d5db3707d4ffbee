import type { Guides } from './entities';
import type { PaperSize } from './paper';

/** A straight line, paper px. */
export type Segment = readonly [x0: number, y0: number, x1: number, y1: number];

type Point = [x: number, y: number];
type Side = Omit<PaperSize, 'ppi'>;

export const LEAST_SQUARES = 2;
export const MOST_SQUARES = 60;
/** Lines through a vanishing point that lies on the paper stand so far apart, degrees. */
const FAN_DEG = 15;
/** Of one that lies beyond it, so many cross the paper. */
const FAN_LINES = 17;

/** The lines that guides are made of, cut to the paper. */
export function guideLines({ kind, squares, points }: Guides, paper: Side): Segment[] {
  if (kind === 'thirds') return grid(paper, paper.widthPx / 3, paper.heightPx / 3);
  if (kind === 'squares') {
    const side = Math.max(paper.widthPx, paper.heightPx) / squares;
    return grid(paper, side, side);
  }
  const horizon = points.length > 1 ? [through(points[0], points[1], paper)] : [];
  return [...horizon, ...points.flatMap((point) => fan(point, paper))].filter((line) => line !== undefined);
}

/** Where vanishing points stand to begin with: on a horizon in the middle, right and left of the paper, and far above. */
export function firstPoints(count: number, { widthPx, heightPx }: Side): Point[] {
  const middle = heightPx / 2;
  if (count === 1) return [[widthPx / 2, middle]];
  const beside: Point[] = [
    [-widthPx * 0.25, middle],
    [widthPx * 1.25, middle],
  ];
  return count === 2 ? beside : [...beside, [widthPx / 2, -heightPx]];
}

function grid({ widthPx, heightPx }: Side, stepX: number, stepY: number): Segment[] {
  const lines: Segment[] = [];
  // Lines that fall on the edge of the paper, but for rounding, show nothing.
  for (let x = stepX; x < widthPx - stepX / 1000; x += stepX) lines.push([x, 0, x, heightPx]);
  for (let y = stepY; y < heightPx - stepY / 1000; y += stepY) lines.push([0, y, widthPx, y]);
  return lines;
}

/** Lines through a point: all around, or over the angle under which the paper is seen from it. */
function fan([x, y]: Point, paper: Side): (Segment | undefined)[] {
  const { widthPx, heightPx } = paper;
  const isOnPaper = x > 0 && x < widthPx && y > 0 && y < heightPx;
  if (isOnPaper)
    return Array.from({ length: 180 / FAN_DEG }, (_, i) => ray([x, y], (i * FAN_DEG * Math.PI) / 180, paper));
  const toMiddle = Math.atan2(heightPx / 2 - y, widthPx / 2 - x);
  const angles = [
    [0, 0],
    [widthPx, 0],
    [widthPx, heightPx],
    [0, heightPx],
  ].map(([cx, cy]) => wrapped(Math.atan2(cy - y, cx - x) - toMiddle));
  const [least, most] = [Math.min(...angles), Math.max(...angles)];
  return Array.from({ length: FAN_LINES }, (_, i) =>
    ray([x, y], toMiddle + least + ((i + 0.5) / FAN_LINES) * (most - least), paper),
  );
}

const wrapped = (angle: number): number => Math.atan2(Math.sin(angle), Math.cos(angle));

const ray = ([x, y]: Point, angle: number, paper: Side) =>
  through([x, y], [x + Math.cos(angle), y + Math.sin(angle)], paper);

/** The endless line through two points, cut to the paper; undefined: it misses it. @see Liang & Barsky 1984 */
function through([ax, ay]: Point, [bx, by]: Point, { widthPx, heightPx }: Side): Segment | undefined {
  const dx = bx - ax;
  const dy = by - ay;
  let from = -Infinity;
  let to = Infinity;
  for (const [p, q] of [
    [-dx, ax],
    [dx, widthPx - ax],
    [-dy, ay],
    [dy, heightPx - ay],
  ]) {
    if (p === 0) {
      if (q < 0) return undefined;
    } else if (p < 0) from = Math.max(from, q / p);
    else to = Math.min(to, q / p);
  }
  // Two points in one place give no line.
  if (!(from < to) || !Number.isFinite(from) || !Number.isFinite(to)) return undefined;
  return [ax + from * dx, ay + from * dy, ax + to * dx, ay + to * dy];
}
