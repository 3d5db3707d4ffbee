import { finish } from '../sheet/ink-store';
import { arrange, type Tie } from './arrangement';
import { isHatching } from './hatching';
import type { InkLine } from './ink-line';
import { LinePieces } from './line-pieces';
import { endNear, meetings, type LineEnd, type LinePlace, type Meeting } from './loose-ends';

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

/** A shape is so many times as broad as the gap that opens it, at least; what is narrower lies between lines of hatching. */
const LEAST_BREADTH = 2;
/** And of the widest gap that is looked for. */
const LEAST_OF_REACH = 0.75;
/** Two ends that meet each other do so within this, besides their widths and gaps, px. */
const TWIN_PX = 1.5;

/**
 * Gaps of at most `gapPx` in what would be closed shapes: loose ends that nearly meet other ink, where a join would part
 * the paper into two areas that are both broader by far than the gap. Ends that lead nowhere, as those of hatching, close nothing
 * and are no leaks. Widest first.
 * @param lines middles of all ink that closes shapes.
 * @returns yields the part that is done.
 */
export function* leaksIn(lines: readonly InkLine[], gapPx: number): Generator<number, Leak[]> {
  const pieces = new LinePieces(lines);
  const met = yield* within(0, 0.4, meetings(pieces, gapPx));
  const touching = met.filter(({ gap }) => gap <= 0);
  const open = withoutTwins(met.filter(({ gap }) => gap > 0).sort((a, b) => a.gap - b.gap));
  const ties = [...touching, ...open].map(tieOf(lines));
  const { tieSides, areas, borders } = yield* within(0.4, 0.6, arrange(pieces, ties));
  const leaks: Leak[] = [];
  const breadth = (face: number) => (borders[face] > 0 ? areas[face] / borders[face] : 0);
  const isShape = (face: number, gap: number) =>
    areas[face] < 0 || breadth(face) >= Math.max(LEAST_BREADTH * gap, LEAST_OF_REACH * gapPx);
  open.forEach((meeting, n) => {
    const tie = touching.length + n;
    const [left, right] = [tieSides[2 * tie], tieSides[2 * tie + 1]];
    if (left < 0 || left === right || !isShape(left, meeting.gap) || !isShape(right, meeting.gap)) return;
    const inner = [left, right].filter((face) => areas[face] > 0).map((face) => areas[face] / 2);
    if (!inner.length) return;
    const { end, at, gap } = meeting;
    const otherEnd = endNear(lines[at.line], at.line, at);
    // A line of hatching that stops short of the other side divides nothing that anyone would fill by itself.
    if (!otherEnd && isHatching(pieces, end.line)) return;
    leaks.push({ end, at, otherEnd, gapPx: gap, runsOut: inner.length < 2, areaPx: Math.min(...inner) });
  });
  return leaks.sort((a, b) => b.gapPx - a.gapPx || a.end.line - b.end.line);
}

/** The same at once. */
export const findLeaks = (lines: readonly InkLine[], gapPx: number): Leak[] => finish(leaksIn(lines, gapPx));

/** Work that is a part of more. */
function* within<T>(from: number, share: number, work: Generator<number, T>): Generator<number, T> {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    yield from + share * step.value;
  }
}

const tieOf =
  (lines: readonly InkLine[]) =>
  ({ end, at }: Meeting): Tie => ({
    a: { line: end.line, place: end.isStart ? 0 : lines[end.line].count - 1, x: end.x, y: end.y },
    b: at,
  });

/** Two ends that meet each other are one gap; and so are two ends of the same two lines close to each other. */
function withoutTwins(sorted: readonly Meeting[]): Meeting[] {
  const kept: Meeting[] = [];
  const byLine = new Map<number, Meeting[]>();
  for (const meeting of sorted) {
    const { end, at } = meeting;
    const isTwin = (byLine.get(at.line) ?? []).some((other) => {
      if (other.at.line !== end.line) return false;
      const reach = meeting.gap + other.gap + end.r + at.r + TWIN_PX;
      return Math.hypot(other.end.x - at.x, other.end.y - at.y) <= reach && Math.hypot(other.at.x - end.x, other.at.y - end.y) <= reach; // prettier-ignore
    });
    if (isTwin) continue;
    kept.push(meeting);
    const same = byLine.get(end.line);
    if (same) same.push(meeting);
    else byLine.set(end.line, [meeting]);
  }
  return kept;
}
