import { finish } from '../sheet/ink-work';
import { Meant, type MeantPart } from './meant-part';
import type { EdgeChains } from './edge-chains';
import { nearestPart } from '../geometry/segment';
import { inkLine, lengthOfLine, widestRadius, type InkLine } from '../areas/ink-line';
import { LineSegments } from '../areas/line-segments';

/** A stretch of a picture's edge without ink. */
export interface MissedEdge {
  /** `[x, y, ...]`, paper px. */
  points: Float64Array<ArrayBuffer>;
  lengthPx: number;
  /** Its middle. */
  x: number;
  y: number;
}

/** How far a line that follows an edge lies off it. */
export interface OffLine {
  id: string;
  layerId: string;
  meanPx: number;
  mostPx: number;
  /** Where it is farthest off. */
  x: number;
  y: number;
}

export interface Compared {
  /** Longest first. */
  missed: MissedEdge[];
  /** Lines that follow an edge and lie farther off than is near, in the mean; the one farthest off first. */
  off: OffLine[];
  /** The part of the edges that has ink, 0 to 1; NaN: there are none. */
  share: number;
  /** Of all lines that follow an edge, over their length, px; NaN: there are none. */
  meanPx: number;
  mostPx: number;
}

export interface NearRule {
  /** Ink as near as this to an edge, from its rim, is that edge's; paper px. */
  nearPx: number;
  /** Shorter stretches are not told, px. */
  leastPx: number;
  /** Only that is meant; absent: all of it. */
  part?: MeantPart;
}

/**
 * A line follows an edge where it lies within so many times what is near and goes its way (within 25 degrees); does so
 * along this part of it at least, and is so many times as long: what is shorter is hatching and texture.
 */
const FOLLOWS = 3;
const SAME_WAY_COS = 0.9;
const FOLLOWS_PART = 0.6;
const FOLLOWS_LENGTHS = 5;
/** The way of an edge is read over so many of its points to both sides. */
const WAY_POINTS = 4;
/** Its places are looked at every so many px. */
const LOOK_PX = 4;
/** Between two looks at whether to go on. */
const CHAINS_AT_A_TIME = 50;
const LINES_AT_A_TIME = 100;
/** Ink that is missing for less than so many px between two inked stretches is not missing. */
const BRIDGED = 1;

/**
 * Holds a drawing against the edges of its picture, both ways.
 * @param edges on the paper, px.
 * @returns yields the part that is done.
 */
export function* comparing(lines: readonly InkLine[], edges: EdgeChains, rule: NearRule): Generator<number, Compared> {
  const meant = rule.part && new Meant(rule.part);
  const isMeant = (x: number, y: number) => !meant || meant.holds(x, y);
  const missed = yield* missedEdges(lines, edges, rule, isMeant);
  return { ...missed, ...(yield* offLines(lines, edges, rule, isMeant)) };
}

/** The same at once. */
export const compare = (lines: readonly InkLine[], edges: EdgeChains, rule: NearRule): Compared =>
  finish(comparing(lines, edges, rule));

type IsMeant = (x: number, y: number) => boolean;

function* missedEdges(lines: readonly InkLine[], { points, starts }: EdgeChains, rule: NearRule, isMeant: IsMeant) {
  const segments = new LineSegments(lines);
  const widest = widestRadius(lines);
  const missed: MissedEdge[] = [];
  let [all, inked] = [0, 0];
  for (let c = 0; c + 1 < starts.length; c++) {
    let open: number[] = [];
    const close = () => {
      const found = stretch(open);
      if (found && found.lengthPx >= rule.leastPx) missed.push(found);
      open = [];
    };
    let lastInked = Infinity;
    for (let i = starts[c]; i < starts[c + 1]; i++) {
      const [x, y] = [points[2 * i], points[2 * i + 1]];
      const step = i > starts[c] ? Math.hypot(x - points[2 * i - 2], y - points[2 * i - 1]) : 0;
      if (!isMeant(x, y)) {
        close();
        continue;
      }
      all += step;
      lastInked += step;
      if (segments.hasInk(x, y, rule.nearPx, widest)) {
        inked += step;
        lastInked = 0;
        close();
      } else if (lastInked > BRIDGED) open.push(x, y);
    }
    close();
    if (c % CHAINS_AT_A_TIME === 0) yield (0.6 * c) / starts.length;
  }
  return { missed: missed.sort((a, b) => b.lengthPx - a.lengthPx), share: all > 0 ? inked / all : NaN };
}

function stretch(xy: readonly number[]): MissedEdge | undefined {
  if (xy.length < 4) return undefined;
  let lengthPx = 0;
  for (let i = 2; i < xy.length; i += 2) lengthPx += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
  const m = 2 * (xy.length >> 2);
  return { points: Float64Array.from(xy), lengthPx, x: xy[m], y: xy[m + 1] };
}

function* offLines(lines: readonly InkLine[], edges: EdgeChains, { nearPx }: NearRule, isMeant: IsMeant) {
  const index = new LineSegments(chainLines(edges));
  const reach = FOLLOWS * nearPx;
  const off: OffLine[] = [];
  let [sum, count, mostPx] = [0, 0, 0];
  for (const [n, line] of lines.entries()) {
    if (n % LINES_AT_A_TIME === 0) yield 0.6 + (0.4 * n) / lines.length;
    let [looked, followed, own, most, mx, my] = [0, 0, 0, -1, 0, 0];
    if (lengthOfLine(line) < FOLLOWS_LENGTHS * nearPx) continue;
    eachPlace(line, (x, y, dx, dy) => {
      if (!isMeant(x, y)) return;
      looked++;
      const far = besideEdge(index, x, y, dx, dy, reach);
      if (far === undefined) return;
      followed++;
      own += far;
      if (far > most) [most, mx, my] = [far, x, y];
    });
    if (!followed || followed < FOLLOWS_PART * looked) continue;
    sum += own;
    count += followed;
    mostPx = Math.max(mostPx, most);
    if (own / followed > nearPx) off.push({ id: line.id, layerId: line.layerId, meanPx: own / followed, mostPx: most, x: mx, y: my }); // prettier-ignore
  }
  return { off: off.sort((a, b) => b.meanPx - a.meanPx), meanPx: count ? sum / count : NaN, mostPx };
}

function chainLines({ points, starts }: EdgeChains): InkLine[] {
  return Array.from({ length: starts.length - 1 }, (_, c) => {
    const [from, to] = [starts[c], starts[c + 1]];
    const data = new Float64Array(3 * (to - from));
    for (let i = from; i < to; i++) {
      data[3 * (i - from)] = points[2 * i];
      data[3 * (i - from) + 1] = points[2 * i + 1];
    }
    return inkLine(`edge${c}`, '', data);
  });
}

/** Places along a line's middle, every few px, and the line's way there. */
function eachPlace({ data, count }: InkLine, tell: (x: number, y: number, dx: number, dy: number) => void): void {
  for (let i = 1; i < count; i++) {
    const a = 3 * i;
    const [dx, dy] = [data[a] - data[a - 3], data[a + 1] - data[a - 2]];
    const length = Math.hypot(dx, dy);
    const steps = Math.max(1, Math.ceil(length / LOOK_PX));
    for (let k = 0; k < steps && length > 0; k++) {
      const u = (k + 0.5) / steps;
      tell(data[a - 3] + u * dx, data[a - 2] + u * dy, dx / length, dy / length);
    }
  }
}

/** From a place to the nearest edge within `reach` that goes the same way; undefined: there is none. */
function besideEdge(
  index: LineSegments,
  x: number,
  y: number,
  wayX: number,
  wayY: number,
  reach: number,
): number | undefined {
  let best = reach * reach;
  let found: number | undefined;
  for (let k = 0, n = index.search(x - reach, y - reach, x + reach, y + reach); k < n; k++) {
    const { data, count } = index.lines[index.line[index.found[k]]];
    if (count < 2) continue;
    const i = index.at[index.found[k]];
    const [a, b] = [3 * i, 3 * i + 3];
    const u = nearestPart(data, a, b, x, y);
    const dx = data[a] + u * (data[b] - data[a]) - x;
    const dy = data[a + 1] + u * (data[b + 1] - data[a + 1]) - y;
    if (dx * dx + dy * dy > best) continue;
    const [p, q] = [3 * Math.max(0, i - WAY_POINTS), 3 * Math.min(count - 1, i + 1 + WAY_POINTS)];
    const [ex, ey] = [data[q] - data[p], data[q + 1] - data[p + 1]];
    if (Math.abs(ex * wayX + ey * wayY) < SAME_WAY_COS * Math.hypot(ex, ey)) continue;
    best = dx * dx + dy * dy;
    found = Math.sqrt(best);
  }
  return found;
}
