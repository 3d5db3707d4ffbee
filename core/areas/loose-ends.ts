import { nearestPart } from '../geometry/segment';
import { widestRadius, type InkLine } from './ink-line';
import type { LinePieces } from './line-pieces';

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
const TOUCH_PX = 0.3;
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
/** Lines between two looks at whether to go on. */
const AT_A_TIME = 1000;
/** A line comes near itself only beyond so many gaps along it. */
const OWN_GAPS = 3;

/**
 * What each end of the lines meets: all other ink that it touches; or, where it touches none, the nearest ahead of it, at
 * most `gapPx` from edge to edge. An end that meets nothing is in no list. Closed lines meet themselves.
 * @returns yields the part that is done.
 */
export function* meetings(pieces: LinePieces, gapPx: number): Generator<number, Meeting[]> {
  const { lines } = pieces;
  const most = widestRadius(lines);
  const found: Meeting[] = [];
  for (const [l, line] of lines.entries()) {
    for (const isStart of [true, false]) {
      const end = endOf(line, l, isStart);
      found.push(...met(end, pieces, gapPx, most));
    }
    if (l % AT_A_TIME === AT_A_TIME - 1) yield l / lines.length;
  }
  return found;
}

export function endOf(line: InkLine, number: number, isStart: boolean): LineEnd {
  const { data, count } = line;
  const at = isStart ? 0 : 3 * (count - 1);
  const [x, y, r] = [data[at], data[at + 1], data[at + 2]];
  const way = Math.max(LEAST_WAY_PX, WAY_RADII * r);
  let [bx, by] = [x, y];
  for (let k = 1; k < count; k++) {
    const from = isStart ? 3 * k : 3 * (count - 1 - k);
    [bx, by] = [data[from], data[from + 1]];
    if (Math.hypot(x - bx, y - by) >= way) break;
  }
  const length = Math.hypot(x - bx, y - by);
  return { line: number, isStart, x, y, r, dx: length ? (x - bx) / length : 0, dy: length ? (y - by) / length : 0 };
}

function met(end: LineEnd, pieces: LinePieces, gapPx: number, mostRadius: number): Meeting[] {
  const { lines } = pieces;
  const reach = Math.max(gapPx, TOUCH_PX) + end.r + mostRadius;
  const own = lines[end.line];
  const close = Math.max(CLOSE_PX, CLOSE_RADII * own.data[3 * (own.count >> 1) + 2]);
  let [best, at]: [number, LinePlace | undefined] = [gapPx, undefined];
  // Of each line that it touches the nearest place.
  const touched = new Map<number, Meeting>();
  for (const piece of pieces.within(end.x - reach, end.y - reach, end.x + reach, end.y + reach)) {
    const other = pieces.line[piece];
    const line = lines[other];
    const { data } = line;
    for (let i = pieces.from[piece], to = Math.max(pieces.to[piece], i + 1); i < to; i++) {
      const a = 3 * i;
      const b = i + 1 < line.count ? a + 3 : a;
      const along = nearestPart(data, a, b, end.x, end.y);
      const dx = data[a] + along * (data[b] - data[a]) - end.x;
      const dy = data[a + 1] + along * (data[b + 1] - data[a + 1]) - end.y;
      const r = data[a + 2] + along * (data[b + 2] - data[a + 2]);
      const within = Math.max(best, TOUCH_PX) + r + end.r;
      // Within it the gap is narrower than any before.
      if (within < 0 || dx * dx + dy * dy > within * within) continue;
      const gap = Math.sqrt(dx * dx + dy * dy) - r - end.r;
      const place = { place: i + along, x: end.x + dx, y: end.y + dy, r };
      if (gap > best && gap > TOUCH_PX) continue;
      if (other === end.line && !isFarAlong(line, end, place.place, OWN_GAPS * (gapPx + end.r))) continue;
      if (gap <= TOUCH_PX) {
        const known = touched.get(other);
        if (!known || gap < known.gap)
          touched.set(other, { end, at: { line: other, ...place }, gap: Math.min(0, gap) });
      }
      if (gap > best || (gap > close && !leadsTo(end, line, other, place))) continue;
      [best, at] = [gap, { line: other, ...place }];
    }
  }
  if (touched.size) return [...touched.values()];
  return at ? [{ end, at, gap: best }] : [];
}

/**
 * Whether an end goes on to a place of a line: it lies ahead, and at another end that one comes towards it; or both run
 * together to a tip. Ends side by side, and one beside its longer neighbour, as those of hatching, do not go on into each other.
 */
function leadsTo(end: LineEnd, line: InkLine, number: number, at: Omit<LinePlace, 'line'>): boolean {
  const [dx, dy] = [at.x - end.x, at.y - end.y];
  const least = AHEAD_COS * Math.hypot(dx, dy);
  const facing = endNear(line, number, at);
  if (facing && runTogether(end, facing)) return true;
  if (dx * end.dx + dy * end.dy < least) return false;
  if (facing) return -dx * facing.dx - dy * facing.dy >= least;
  return hitsAhead(end, line, MOST_WAY * Math.hypot(dx, dy));
}

/** Whether two ends point to a tip that is not far beyond them, as those of a beak or a leaf. */
export function runTogether(a: LineEnd, b: LineEnd): boolean {
  const area = a.dx * b.dy - a.dy * b.dx;
  if (area === 0 || a.dx * b.dx + a.dy * b.dy <= 0) return false;
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const [own, other] = [(dx * b.dy - dy * b.dx) / area, (dx * a.dy - dy * a.dx) / area];
  const most = MOST_TO_TIP * Math.hypot(dx, dy);
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
    if (Math.hypot(data[at] - x, data[at + 1] - y) <= r + AT_END_PX) return endOf(line, number, isStart);
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
    length += Math.hypot(data[b] - data[a], data[b + 1] - data[a + 1]);
    if (length > px) return true;
  }
  return false;
}
