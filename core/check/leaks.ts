import { closing } from '../areas/closing';
import type { InkLine } from '../areas/ink-line';
import { LinePieces } from '../areas/line-pieces';
import { endNear, type LineEnd, type LinePlace } from '../areas/loose-ends';
import { finish } from '../sheet/ink-store';

/** A gap through which colour would run. */
export interface Leak {
  end: LineEnd;
  at: LinePlace;
  /** What it lies at is an end, too. */
  otherEnd?: LineEnd;
  /** From edge to edge, px. */
  gapPx: number;
  /** The shape that it opens runs out to what lies around its lines; otherwise into another shape. */
  runsOut: boolean;
  /** How large the smaller shape is that it opens, px2. */
  areaPx: number;
}

/**
 * Gaps of at most `gapPx` in what would be closed shapes (see {@link closing}), unless what lies around all lines is on both
 * sides. Widest first.
 * @param lines middles of all ink that closes shapes.
 * @returns yields the part that is done.
 */
export function* leaksIn(lines: readonly InkLine[], gapPx: number): Generator<number, Leak[]> {
  const { touching, open, arrangement, parts } = yield* closing(new LinePieces(lines), gapPx);
  const { tieSides, areas } = arrangement;
  const leaks: Leak[] = [];
  open.forEach(({ end, at, gap }, n) => {
    if (!parts[n]) return;
    const tie = touching.length + n;
    const sides = [areas[tieSides[2 * tie]], areas[tieSides[2 * tie + 1]]];
    const inner = sides.filter((area) => area > 0).map((area) => area / 2);
    if (!inner.length) return;
    const otherEnd = endNear(lines[at.line], at.line, at);
    leaks.push({ end, at, otherEnd, gapPx: gap, runsOut: inner.length < 2, areaPx: Math.min(...inner) });
  });
  return leaks.sort((a, b) => b.gapPx - a.gapPx || a.end.line - b.end.line);
}

/** The same at once. */
export const findLeaks = (lines: readonly InkLine[], gapPx: number): Leak[] => finish(leaksIn(lines, gapPx));
