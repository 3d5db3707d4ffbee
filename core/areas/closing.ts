import { arrange, type Arrangement, type Tie } from './arrangement';
import { isHatching } from './hatching';
import type { LinePieces } from './line-pieces';
import { endNear, meetings, type Meeting } from './loose-ends';

/** What the ends of lines meet, and which gaps would part shapes if they were closed. */
export interface Closing {
  /** Ends that lie on other ink, and after them those that nearly do: in this order they are the arrangement's ties. */
  touching: readonly Meeting[];
  open: readonly Meeting[];
  /** With all of them joined. */
  arrangement: Arrangement;
  /** Of each that is open whether a join parts two shapes: only then is it a gap in what would be a closed shape. */
  parts: readonly boolean[];
}

/** A shape is so many times as broad as the gap that opens it, at least; what is narrower lies between lines of hatching. */
const LEAST_BREADTH = 2;
/** And of the widest gap that is looked for. */
const LEAST_OF_REACH = 0.75;
/** Two ends that meet each other do so within this, besides their widths and gaps, px. */
const TWIN_PX = 1.5;

/**
 * Joins the ends of lines to what they touch, and to what they nearly meet, at most `gapPx` away; and tells which of these
 * gaps part the paper into two areas that are both broader by far than the gap. Ends that lead nowhere, as those of hatching,
 * close nothing.
 * @returns yields the part that is done.
 */
export function* closing(pieces: LinePieces, gapPx: number): Generator<number, Closing> {
  const { lines } = pieces;
  const met = yield* within(0, 0.4, meetings(pieces, gapPx));
  const touching = withoutSame(met.filter(({ gap }) => gap <= 0));
  const open = withoutTwins(met.filter(({ gap }) => gap > 0).sort((a, b) => a.gap - b.gap));
  const arrangement = yield* within(0.4, 0.6, arrange(pieces, [...touching, ...open].map(tieOf(lines))));
  const { tieSides, areas, borders } = arrangement;
  const breadth = (face: number) => (borders[face] > 0 ? areas[face] / borders[face] : 0);
  const isShape = (face: number, gap: number) =>
    areas[face] < 0 || breadth(face) >= Math.max(LEAST_BREADTH * gap, LEAST_OF_REACH * gapPx);
  const parts = open.map(({ end, at, gap }, n) => {
    const tie = touching.length + n;
    const [left, right] = [tieSides[2 * tie], tieSides[2 * tie + 1]];
    if (left < 0 || left === right || !isShape(left, gap) || !isShape(right, gap)) return false;
    // A line of hatching that stops short of the other side divides nothing that anyone would fill by itself.
    return endNear(lines[at.line], at.line, at) !== undefined || !isHatching(pieces, end.line);
  });
  return { touching, open, arrangement, parts };
}

/** Work that is a part of more. */
function* within<T>(from: number, share: number, work: Generator<number, T>): Generator<number, T> {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    yield from + share * step.value;
  }
}

const tieOf =
  (lines: LinePieces['lines']) =>
  ({ end, at }: Meeting): Tie => ({
    a: { line: end.line, place: end.isStart ? 0 : lines[end.line].count - 1, x: end.x, y: end.y },
    b: at,
  });

/** Two ends that touch each other are joined once: joins that lie on each other could not be gone around. */
function withoutSame(meetings: readonly Meeting[]): Meeting[] {
  const known = new Set<string>();
  return meetings.filter(({ end, at }) => {
    const key = [`${end.x},${end.y}`, `${at.x},${at.y}`].sort().join(' ');
    return !known.has(key) && known.add(key);
  });
}

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
