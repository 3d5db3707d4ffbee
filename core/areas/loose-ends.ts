import { lengthOf } from '../geometry/length';
import { nearestPart } from '../geometry/segment';
import type { InkLine } from './ink-line';
import type { LineSegments } from './line-segments';

const NOTHING: readonly Meeting[] = [];

/** An end of a line. */
export interface LineEnd {
  line: number;
  isStart: boolean;
  x: number;
  y: number;
  r: number;
  /** Outwards, of length 1. */
  dx: number;
  dy: number;
}

/** A place of a line, by its number and that of its point. */
export interface LinePlace {
  line: number;
  place: number;
  x: number;
  y: number;
  r: number;
}

/** An end that lies on other ink, or nearly meets it. */
export interface Meeting {
  end: LineEnd;
  at: LinePlace;
  /** Between the edges of both, px; 0 or less: they touch. */
  gap: number;
}

/** Edges closer than this touch: what is between them is less than a pixel's grey. */
export const TOUCH_PX = 0.3;
/** The way of an end is read over so many of its radii, and at least so many px. */
const WAY_RADII = 2;
const LEAST_WAY_PX = 4;
/** An end goes on to ink that lies at most this far from its own direction (72 degrees). */
const AHEAD_COS = 0.3;
/** Straight on it comes upon a line within so many times the shortest way there. */
const MOST_WAY = 2.5;
/** A tip lies within so many times the way between two ends that run together to it: those of hatching are more alike. */
const MOST_TO_TIP = 4;
/** Whatever is closer is met anyway: so many px, and this part of the line's radius in its middle, as ends taper to nothing. */
const CLOSE_PX = 1.5;
const CLOSE_RADII = 0.3;
/** A line comes near itself only beyond so many gaps along it. */
const OWN_GAPS = 3;

export function endOf(line: InkLine, number: number, isStart: boolean): LineEnd {
  const { data, count } = line;
  const at = isStart ? 0 : 3 * (count - 1);
  const [x, y, r] = [data[at], data[at + 1], data[at + 2]];
  const way = Math.max(LEAST_WAY_PX, WAY_RADII * r);
  let [bx, by] = [x, y];
  for (let k = 1; k < count; k++) {
    const from = isStart ? 3 * k : 3 * (count - 1 - k);
    [bx, by] = [data[from], data[from + 1]];
    if (lengthOf(x - bx, y - by) >= way) break;
  }
  const length = lengthOf(x - bx, y - by);
  return { line: number, isStart, x, y, r, dx: length ? (x - bx) / length : 0, dy: length ? (y - by) / length : 0 };
}

/**
 * What an end of a line meets: all other ink that it touches; or, where it touches none, the nearest ahead of it, at most
 * `gapPx` from edge to edge. Closed lines meet themselves.
 * @param mostRadius of all lines, px.
 */
export function meetingsOf(
  end: LineEnd,
  segments: LineSegments,
  gapPx: number,
  mostRadius: number,
): readonly Meeting[] {
  const touched = touchedBy(end, segments, gapPx, mostRadius);
  if (touched.length) return touched;
  const nearest = nearestAhead(end, segments, gapPx, mostRadius);
  return nearest ? [nearest] : NOTHING;
}

/** All that an end touches, each line where it is nearest. */
function touchedBy(end: LineEnd, segments: LineSegments, gapPx: number, mostRadius: number): Meeting[] {
  const touched: Meeting[] = [];
  const reach = TOUCH_PX + end.r + mostRadius;
  for (let k = 0, n = segments.search(end.x - reach, end.y - reach, end.x + reach, end.y + reach); k < n; k++) {
    const segment = segments.found[k];
    measure(end, segments, segment);
    if (near.gap > TOUCH_PX || isAtItself(end, segments, segment, gapPx)) continue;
    const meeting = { end, at: placeOf(end, segments, segment), gap: near.gap };
    const known = touched.findIndex(({ at }) => at.line === meeting.at.line);
    if (known < 0) touched.push(meeting);
    else if (meeting.gap < touched[known].gap) touched[known] = meeting;
  }
  for (const meeting of touched) meeting.gap = Math.min(0, meeting.gap);
  return touched;
}

/** The nearest place that an end which touches nothing leads to. */
function nearestAhead(end: LineEnd, segments: LineSegments, gapPx: number, mostRadius: number): Meeting | undefined {
  const { data, count } = segments.lines[end.line];
  const close = Math.max(CLOSE_PX, CLOSE_RADII * data[3 * (count >> 1) + 2]);
  const reach = gapPx + end.r + mostRadius;
  let found: Meeting | undefined;
  for (let k = 0, n = segments.search(end.x - reach, end.y - reach, end.x + reach, end.y + reach); k < n; k++) {
    const segment = segments.found[k];
    measure(end, segments, segment);
    const { gap, dx, dy, r } = near;
    if (gap > (found?.gap ?? gapPx) || isAtItself(end, segments, segment, gapPx)) continue;
    const other = segments.line[segment];
    if (gap > close && !leadsTo(end, segments.lines[other], other, dx, dy, r)) continue;
    found = { end, at: placeOf(end, segments, segment), gap };
  }
  return found;
}

/** The place of a segment that is nearest to an end: as a place of its line, the way there, the radius, and from edge to edge, px. */
const near = { place: 0, dx: 0, dy: 0, r: 0, gap: 0 };

function measure({ x, y, r: own }: LineEnd, { lines, line, at }: LineSegments, segment: number): void {
  const { data, count } = lines[line[segment]];
  const i = at[segment];
  const a = 3 * i;
  const b = i + 1 < count ? a + 3 : a;
  const along = nearestPart(data, a, b, x, y);
  near.place = i + along;
  near.dx = data[a] + along * (data[b] - data[a]) - x;
  near.dy = data[a + 1] + along * (data[b + 1] - data[a + 1]) - y;
  near.r = data[a + 2] + along * (data[b + 2] - data[a + 2]);
  near.gap = Math.sqrt(near.dx * near.dx + near.dy * near.dy) - near.r - own;
}

const placeOf = ({ x, y }: LineEnd, { line }: LineSegments, segment: number): LinePlace => ({
  line: line[segment],
  place: near.place,
  x: x + near.dx,
  y: y + near.dy,
  r: near.r,
});

/** Whether what was measured is the end's own line right behind it. */
const isAtItself = (end: LineEnd, { lines, line }: LineSegments, segment: number, gapPx: number): boolean =>
  line[segment] === end.line && !isFarAlong(lines[end.line], end, near.place, OWN_GAPS * (gapPx + end.r));

/**
 * Whether an end goes on to a place of a line, `(dx, dy)` away, where its radius is `r`: it lies ahead, and at another end
 * that one comes towards it; or both run together to a tip. Ends side by side, and one beside its longer neighbour, as those
 * of hatching, do not go on into each other.
 */
function leadsTo(end: LineEnd, line: InkLine, number: number, dx: number, dy: number, r: number): boolean {
  const least = AHEAD_COS * lengthOf(dx, dy);
  const facing = endNear(line, number, { x: end.x + dx, y: end.y + dy, r });
  if (facing && runTogether(end, facing)) return true;
  if (dx * end.dx + dy * end.dy < least) return false;
  if (facing) return -dx * facing.dx - dy * facing.dy >= least;
  return hitsAhead(end, line, MOST_WAY * lengthOf(dx, dy));
}

/** Whether two ends point to a tip that is not far beyond them, as those of a beak or a leaf. */
export function runTogether(a: LineEnd, b: LineEnd): boolean {
  const area = a.dx * b.dy - a.dy * b.dx;
  if (area === 0 || a.dx * b.dx + a.dy * b.dy <= 0) return false;
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const [own, other] = [(dx * b.dy - dy * b.dx) / area, (dx * a.dy - dy * a.dx) / area];
  const most = MOST_TO_TIP * lengthOf(dx, dy);
  return own >= 0 && own <= most && other >= 0 && other <= most;
}

/** Whether the line straight on from an end comes upon the middle of a line within so many px. */
function hitsAhead(end: LineEnd, { data, count }: InkLine, px: number): boolean {
  for (let at = 0; at < 3 * (count - 1); at += 3) {
    const [ax, ay] = [data[at] - end.x, data[at + 1] - end.y];
    const [ux, uy] = [data[at + 3] - data[at], data[at + 4] - data[at + 1]];
    const area = end.dx * uy - end.dy * ux;
    if (area === 0) continue;
    const way = (ax * uy - ay * ux) / area;
    const part = (ax * end.dy - ay * end.dx) / area;
    if (way >= 0 && way <= px && part >= 0 && part <= 1) return true;
  }
  return false;
}

/** So near to its end a line is met at the end itself: its radius, and px. */
const AT_END_PX = 1.5;

/** The end of a line that a place of it lies at, if it does. */
export function endNear(
  line: InkLine,
  number: number,
  { x, y, r }: { x: number; y: number; r: number },
): LineEnd | undefined {
  const { data, count } = line;
  for (const isStart of [true, false]) {
    const at = isStart ? 0 : 3 * (count - 1);
    if (lengthOf(data[at] - x, data[at + 1] - y) <= r + AT_END_PX) return endOf(line, number, isStart);
  }
  return undefined;
}

/** Whether a place of the end's own line is farther from it along the line than `px`. */
function isFarAlong(line: InkLine, end: LineEnd, place: number, px: number): boolean {
  const { data, count } = line;
  const step = end.isStart ? 1 : -1;
  const last = end.isStart ? Math.floor(place) : Math.ceil(place);
  let length = 0;
  for (let i = end.isStart ? 0 : count - 1; i !== last && i + step >= 0 && i + step < count; i += step) {
    const [a, b] = [3 * i, 3 * (i + step)];
    length += lengthOf(data[b] - data[a], data[b + 1] - data[a + 1]);
    if (length > px) return true;
  }
  return false;
}
