import { closed, type Closing, type Gap } from '../areas/closing';
import type { InkLine } from '../areas/ink-line';
import { endNear, type LineEnd, type LinePlace } from '../areas/loose-ends';

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

/** A gap as a leak. @param lines of the closing, by their numbers. */
export function leakOf(
  { end, at, gap }: Gap,
  lines: readonly InkLine[],
  about: Pick<Leak, 'runsOut' | 'areaPx'>,
): Leak {
  return { end, at, otherEnd: endNear(lines[at.line], at.line, at), gapPx: gap, ...about };
}

/**
 * The gaps that are left between lines (see {@link Closing}), unless what lies around all lines is on both sides. Widest
 * first. Lines are told by their numbers in the closing's segments.
 */
export function leaksOf({ gaps, segments, subdivision }: Closing): Leak[] {
  const { areas } = subdivision.faces;
  const leaks: Leak[] = [];
  for (const gap of gaps) {
    const sides = gap.parts && subdivision.sidesOf(gap.tie);
    if (!sides) continue;
    const inner = sides.map((area) => areas[area] / 2).filter((area) => area > 0);
    if (!inner.length) continue;
    leaks.push(leakOf(gap, segments.lines, { runsOut: inner.length < 2, areaPx: Math.min(...inner) }));
  }
  return leaks.sort((a, b) => b.gapPx - a.gapPx || a.end.line - b.end.line);
}

/** Of gaps of at most `gapPx` between the middles of all ink that closes shapes. */
export const findLeaks = (lines: readonly InkLine[], gapPx: number): Leak[] => leaksOf(closed(lines, gapPx));
