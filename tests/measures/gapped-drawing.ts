import { inkLine, type InkLine } from '../../core/areas/ink-line';
import { random } from './strokes';

/** A gap that was left on purpose: its middle, and how wide it is from edge to edge, px. */
export interface KnownGap {
  x: number;
  y: number;
  px: number;
}

type At = (u: number) => readonly [x: number, y: number];

/** A line along `at` between two parts of it, of an even radius. */
export function lineAlong(id: string, at: At, from: number, to: number, r: number, points = 40): InkLine {
  const data = new Float64Array(3 * points);
  for (let i = 0; i < points; i++) {
    const [x, y] = at(from + ((to - from) * i) / (points - 1));
    data.set([x, y, r], 3 * i);
  }
  return inkLine(id, 'ink', data);
}

/** A shape's outline: a wobbling oval, once around from 0 to 1. */
const blob =
  (cx: number, cy: number, size: number, wobble: number, phase: number): At =>
  (u) => {
    const a = 2 * Math.PI * u;
    const r = size * (1 + wobble * Math.sin(3 * a + phase));
    return [cx + r * Math.cos(a), cy + 0.8 * r * Math.sin(a)];
  };

/** How far along, as a part, a gap of `px` is on an outline at `u`; its lines' ends are round, of radius `r`. */
function partOfGap(at: At, u: number, px: number): number {
  const [x, y] = at(u);
  const [a, b] = at(u + 1e-4);
  return px / (Math.hypot(a - x, b - y) / 1e-4);
}

/**
 * Shapes in a grid, each of two lines. Some are closed, some have one gap, some two: their widths are known. Within each
 * hatching hangs on to the outline at one end, and nearly meets itself or nothing at the other; strokes lie about.
 * @param hatches of each shape.
 */
export function gappedDrawing(
  columns: number,
  rows: number,
  seed: number,
  hatches: number,
): { lines: InkLine[]; gaps: KnownGap[] } {
  const rnd = random(seed);
  const lines: InkLine[] = [];
  const gaps: KnownGap[] = [];
  const r = 2;
  for (let k = 0; k < columns * rows; k++) {
    const [cx, cy] = [110 + 200 * (k % columns), 110 + 200 * Math.floor(k / columns)];
    const outline = blob(cx, cy, 70 + 15 * rnd(), 0.12 * rnd(), 6.28 * rnd());
    // The two halves overlap, but where a gap is left.
    const cuts = [0.02 + 0.2 * rnd(), 0.5 + 0.3 * rnd()];
    const kind = Math.floor(3 * rnd());
    const widths = cuts.map((_, n) => (n < kind ? 1 + 6 * rnd() : -8));
    const [a, b] = cuts.map((u, n) => partOfGap(outline, u, widths[n] + 2 * r) / 2);
    lines.push(lineAlong(`s${k}a`, outline, cuts[0] + a, cuts[1] - b, r));
    lines.push(lineAlong(`s${k}b`, outline, cuts[1] + b, cuts[0] + 1 - a, r));
    cuts.forEach((u, n) => {
      const [x, y] = outline(u);
      if (n < kind) gaps.push({ x, y, px: widths[n] });
    });
    // Side by side, as a hand hatches: in one direction, or nearly, from the outline inwards, some to the other side.
    const lean = 6.28 * rnd();
    for (let h = 0; h < hatches; h++) {
      const from = 0.05 + (0.9 * (h + 0.5)) / hatches;
      const [x, y] = outline(from);
      const turn = lean + 0.2 * (rnd() - 0.5);
      const [dx, dy] = [Math.cos(turn), Math.sin(turn)];
      const inwards = (cx - x) * dx + (cy - y) * dy;
      // Not along the outline.
      if (inwards < 25) continue;
      const length = inwards * (0.4 + 1.2 * rnd());
      const passes = cuts
        .map((u) => outline(u))
        .some(([gx, gy]) => {
          const along = Math.min(length, Math.max(0, (gx - x) * dx + (gy - y) * dy));
          return Math.hypot(x + along * dx - gx, y + along * dy - gy) < 16;
        });
      // None through a gap: it would close it.
      if (passes) continue;
      lines.push(lineAlong(`s${k}h${h}`, (u) => [x + length * u * dx, y + length * u * dy], 0, 1, 1, 8));
    }
    const [tx, ty] = [cx - 100 + 20 * rnd(), cy - 100 + 20 * rnd()];
    for (let t = 0; t < 4; t++)
      lines.push(lineAlong(`s${k}t${t}`, (u) => [tx + 14 * u, ty + 5 * t + 3 * u * rnd()], 0, 1, 1, 6));
  }
  return { lines, gaps };
}
