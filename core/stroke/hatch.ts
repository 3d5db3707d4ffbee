import type { Pen } from './pen';
import { plainNode, type StrokePath } from './path';
import { smoothed } from './pulls';

/** How strokes are laid between two guides. */
export interface HatchWays {
  /** Between neighbours, square to them, where the guides are as far apart as they are on average, paper px, > 0. */
  apartPx: number;
  /** How far a stroke goes along the guides while it crosses from one to the other, in widths between them; 0: straight across. */
  lean: number;
  /** How much strokes wander, 0 to 1. */
  wave: number;
  /** They are crossed by others. */
  crosses: boolean;
}

/** A set of strokes has no more than this. */
export const MOST_HATCHES = 3000;
/** At which angle strokes are crossed (common practice, no source). */
const CROSSING_DEG = 50;
/** Nodes of a stroke: enough to wander a little. */
const NODES = 5;
/** Of all waviness: how far strokes leave their way sideways, and lie off their place, in distances between neighbours. */
const WANDER = 0.45;
const ASTRAY = 0.25;
/** And how far they begin and end off the guides, in parts of their length. */
const OVER = 0.06;
/** Shorter ones, in distances between neighbours, are specks in corners. */
const SHORTEST = 0.6;

/**
 * Strokes from one guide to the other: they follow the guides in direction and spacing, since places at the same part of the
 * length of both belong together. A guide drawn the other way round is turned. The same guides and ways give the same
 * strokes, so that a dial moves them and no chance does.
 * @param a, b places `[x0, y0, ...]`, paper px, one at least. Not modified.
 * @returns open paths, each from the first guide to the second; none where the guides enclose nothing.
 * @throws {RangeError} more than {@link MOST_HATCHES} in a set.
 */
export function hatched(a: Float64Array, b: Float64Array, ways: HatchWays): StrokePath[] {
  const field = new Between(a, b);
  if (!(field.length > 0) || !(field.width > 0)) return [];
  const { lean, crosses } = ways;
  const own = laid(field, ways, lean, 0);
  if (!crosses) return own;
  const back = Math.atan(lean) + ((lean > 0 ? -1 : 1) * CROSSING_DEG * Math.PI) / 180;
  return [...own, ...laid(field, ways, Math.tan(back), 1)];
}

/** One set of strokes. @param lean as {@link HatchWays} has it. @param set tells their wandering from another's. */
function laid(field: Between, { apartPx, wave }: HatchWays, lean: number, set: number): StrokePath[] {
  // A stroke goes this far along, as a part of the guides' length.
  const slope = (lean * field.width) / field.length;
  // Strokes that lean lie nearer to each other than their ends do.
  const step = (apartPx * Math.hypot(1, lean)) / field.length;
  const [from, to] = [Math.min(0, -slope), Math.max(1, 1 - slope)];
  const count = Math.floor((to - from) / step) + 1;
  if (count > MOST_HATCHES) throw new RangeError(`${count} strokes are more than ${MOST_HATCHES}`);
  const first = from + (to - from - (count - 1) * step) / 2;
  const strokes: StrokePath[] = [];
  for (let k = 0; k < count; k++) {
    const chance = (n: number) => chanceOf(set, k, n);
    const u = first + (k + ASTRAY * wave * chance(0)) * step;
    const [v0, v1] = slope === 0 ? [0, 1] : within(-u / slope, (1 - u) / slope);
    if (!(v1 > v0)) continue;
    const over = OVER * wave * (v1 - v0);
    const ends = [v0 + over * chance(1), v1 + over * chance(2)];
    const places = Array.from({ length: NODES }, (_, n) => {
      const v = ends[0] + (n / (NODES - 1)) * (ends[1] - ends[0]);
      return field.at(u + slope * v, v);
    });
    if (lengthOf(places) >= SHORTEST * apartPx)
      strokes.push(pathThrough(wandering(places, WANDER * wave * apartPx, chance)));
  }
  return strokes;
}

/** The part of 0 to 1 between two values in any order. */
const within = (p: number, q: number): [number, number] => [Math.max(0, Math.min(p, q)), Math.min(1, Math.max(p, q))];

type Place = readonly [x: number, y: number];

/** Places that leave their way sideways, the ends less than the middle. */
function wandering(places: readonly Place[], byPx: number, chance: (n: number) => number): Place[] {
  if (byPx === 0) return [...places];
  return places.map(([x, y], i) => {
    const [before, after] = [places[Math.max(0, i - 1)], places[Math.min(places.length - 1, i + 1)]];
    const [dx, dy] = [after[0] - before[0], after[1] - before[1]];
    const isEnd = i === 0 || i === places.length - 1;
    const off = ((isEnd ? 0.3 : 1) * byPx * chance(3 + i)) / (Math.hypot(dx, dy) || 1);
    return [x - off * dy, y + off * dx];
  });
}

const pathThrough = (places: readonly Place[]): StrokePath =>
  smoothed({ closed: false, nodes: places.map(([x, y]) => plainNode(x, y, 'auto')) });

const lengthOf = (places: readonly Place[]): number =>
  places.reduce((sum, [x, y], i) => (i ? sum + Math.hypot(x - places[i - 1][0], y - places[i - 1][1]) : 0), 0);

/** A number from -1 to 1 that looks like chance, always the same. @see the finalizer of MurmurHash3 (Appleby, public domain). */
function chanceOf(set: number, k: number, n: number): number {
  let h = (set * 0x9e3779b1 + k * 0x85ebca6b + n * 0xc2b2ae35) | 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 31 - 1;
}

/** What lies between two guides: a place for each part of their length and of the way from one to the other. */
class Between {
  /** The mean of both guides, paper px. */
  readonly length: number;
  /** The mean distance between them, paper px. */
  readonly width: number;
  private readonly a: Guide;
  private readonly b: Guide;

  constructor(a: Float64Array, b: Float64Array) {
    this.a = new Guide(a);
    this.b = new Guide(isOtherWay(a, b) ? turned(b) : b);
    this.length = (this.a.length + this.b.length) / 2;
    let sum = 0;
    for (let k = 0; k < LOOKS; k++) {
      const u = (k + 0.5) / LOOKS;
      const [[ax, ay], [bx, by]] = [this.a.at(u), this.b.at(u)];
      sum += Math.hypot(bx - ax, by - ay);
    }
    this.width = sum / LOOKS;
  }

  /** @param u along the guides, 0 to 1. @param v from the first to the second, somewhat beyond them too. */
  at(u: number, v: number): Place {
    const part = Math.min(1, Math.max(0, u));
    const [[ax, ay], [bx, by]] = [this.a.at(part), this.b.at(part)];
    return [ax + v * (bx - ax), ay + v * (by - ay)];
  }
}

/** Places at which the distance is looked at. */
const LOOKS = 64;

/** A line that is walked by the part of its length. */
class Guide {
  readonly length: number;
  private readonly ends: Float64Array;

  constructor(private readonly xy: Float64Array) {
    const count = xy.length / 2;
    this.ends = new Float64Array(count);
    for (let i = 1; i < count; i++)
      this.ends[i] = this.ends[i - 1] + Math.hypot(xy[2 * i] - xy[2 * i - 2], xy[2 * i + 1] - xy[2 * i - 1]);
    this.length = this.ends[count - 1];
  }

  at(u: number): Place {
    const { ends, xy } = this;
    const to = u * this.length;
    let [low, high] = [0, ends.length - 1];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (ends[middle] <= to) low = middle;
      else high = middle;
    }
    const span = ends[high] - ends[low];
    const part = span > 0 ? (to - ends[low]) / span : 0;
    return [
      xy[2 * low] + part * (xy[2 * high] - xy[2 * low]),
      xy[2 * low + 1] + part * (xy[2 * high + 1] - xy[2 * low + 1]),
    ];
  }
}

/** Whether a guide begins where the other ends. */
function isOtherWay(a: Float64Array, b: Float64Array): boolean {
  const apart = (i: number, j: number) => Math.hypot(a[i] - b[j], a[i + 1] - b[j + 1]);
  const [lastA, lastB] = [a.length - 2, b.length - 2];
  return apart(0, lastB) + apart(lastA, 0) < apart(0, 0) + apart(lastA, lastB);
}

function turned(xy: Float64Array): Float64Array {
  const out = new Float64Array(xy.length);
  for (let i = 0; i < xy.length; i += 2) {
    out[i] = xy[xy.length - 2 - i];
    out[i + 1] = xy[xy.length - 1 - i];
  }
  return out;
}

/** Of all tapering this lies where a stroke begins, the rest where the hand lifts. */
const AT_START = 0.35;

/** A pen for hatching, with tapers that are parts of each stroke. @param taper 0: none, to 1: no stretch is of the full width. */
export function hatchPen(pen: Pen, taper: number): Pen {
  const { taperInPart: _in, taperOutPart: _out, ...rest } = pen;
  const plain: Pen = { ...rest, taperInPx: 0, taperOutPx: 0 };
  return taper > 0 ? { ...plain, taperInPart: AT_START * taper, taperOutPart: (1 - AT_START) * taper } : plain;
}
