import type { Closing, Gap } from './closing';
import { Faces } from './faces';
import type { Rings } from '../geometry/rings';
import { rootOf } from '../geometry/sets';
import { grouped } from '../sheet/grouped';
import { BREATH, type Pause } from '../sheet/ink-work';
import { valueOn, type InkLine } from './ink-line';
import type { LineSegments } from './line-segments';
import type { Subdivision } from './subdivision';

type Joined = Pick<Closing, 'subdivision' | 'gaps'>;

/** What lies around all lines. */
export const OUTSIDE = -1;

/** What lies left of a place is looked for so far away at a time, px. */
const WAYS_PX = [50, 500, Infinity];
/** A piece of a line that is no farther than this from a place lies at it, px. */
const AT_PX = 1e-9;

/**
 * The areas between lines, found by a place in them, with their borders. Joins over gaps that part no shapes are left out.
 * An area has the number of its outer border.
 * @see de Berg et al., Computational Geometry, 2 and 6: what lies left of a place tells its face; so does what lies left of a
 *   hole's leftmost point
 */
export class AreaMap {
  /** Of the lines that are closed. */
  readonly segments: LineSegments;
  private readonly subdivision: Subdivision;
  private readonly faces: Faces;
  private readonly gaps: readonly Gap[];
  /** 1 for the borders around all that hangs together, of each of its parts one. */
  private isAround: Uint8Array = new Uint8Array(0);
  /** Of each border one of its half-edges. */
  private firsts = new Int32Array(0);
  private areaOfBorder = new Int32Array(0);
  private holes: Map<number, number[]> | undefined;

  private constructor({ subdivision, gaps }: Joined) {
    this.subdivision = subdivision;
    this.segments = subdivision.segments;
    this.gaps = gaps;
    const leftOut = gaps.filter(({ parts }) => !parts).flatMap(({ tie }) => subdivision.edgesOf(2 * tie + 1));
    this.faces = new Faces(without(subdivision.faces.next, leftOut), subdivision.faces.sweeps);
  }

  /** Made in parts. */
  static *of(joined: Joined): Generator<Pause, AreaMap> {
    const map = new AreaMap(joined);
    yield BREATH;
    map.faces.goAround(map.faces.next.length);
    yield BREATH;
    map.lookAround();
    return map;
  }

  private lookAround(): void {
    const { of, areas } = this.faces;
    this.isAround = outermost(of, areas);
    this.firsts = new Int32Array(areas.length).fill(-1);
    for (let h = of.length - 1; h >= 0; h--) if (of[h] >= 0) this.firsts[of[h]] = h;
    this.areaOfBorder = new Int32Array(areas.length).fill(UNKNOWN);
  }

  /** The area that a place lies in, or {@link OUTSIDE}. */
  areaAt(x: number, y: number): number {
    const half = this.leftOf(x, y);
    return half < 0 ? OUTSIDE : this.areaOf(this.faces.of[half]);
  }

  /** Twice the size of what the outer border of an area encloses, px2: what is in its holes, too. */
  sizeOf(area: number): number {
    return this.faces.areas[area];
  }

  /** All areas but what lies around them. */
  *areas(): Generator<number> {
    for (let face = 0; face < this.faces.areas.length; face++) if (!this.isAround[face]) yield face;
  }

  /**
   * The borders of an area, without what leads nowhere, as hatching that hangs on to them. The same borders are told in the
   * same way, however the lines came.
   */
  ringsOf(area: number): Rings {
    const holes = this.holesOf(area)
      .map((hole) => this.ringOf(hole))
      .filter((ring) => ring.length);
    holes.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
    return [this.ringOf(area), ...holes];
  }

  /** The areas that lie beside one, with the length of the border that they share, px; what lies around all is {@link OUTSIDE}. */
  besides(area: number): Map<number, number> {
    const shared = new Map<number, number>();
    for (const border of [area, ...this.holesOf(area)])
      for (const half of this.around(border)) {
        const other = this.areaOf(this.faces.of[half ^ 1]);
        if (other !== area) shared.set(other, (shared.get(other) ?? 0) + this.faces.sweeps[half | 1]);
      }
    return shared;
  }

  /** Whether a line borders an area, and something else beyond. @param line its number. */
  isBeside(area: number, line: number): boolean {
    const sides = (half: number) => [this.areaOf(this.faces.of[half]), this.areaOf(this.faces.of[half ^ 1])];
    return this.subdivision.edgesOf(2 * line).some((edge) => {
      const [left, right] = sides(2 * edge);
      return left !== right && (left === area || right === area);
    });
  }

  /** The gaps that a border of an area goes over, with something else beyond. */
  gapsOf(area: number): Gap[] {
    const ties = new Set<number>();
    for (const border of [area, ...this.holesOf(area)])
      for (const half of this.around(border)) {
        const { curve } = this.subdivision.edge(half >> 1);
        if (curve % 2 && this.areaOf(this.faces.of[half ^ 1]) !== area) ties.add(curve >> 1);
      }
    return this.gaps.filter(({ tie }) => ties.has(tie));
  }

  private *around(border: number): Generator<number> {
    const first = this.firsts[border];
    let half = first;
    do {
      yield half;
      half = this.faces.next[half];
    } while (half !== first);
  }

  /** Borders of lines that lie apart within an area. */
  private holesOf(area: number): readonly number[] {
    if (!this.holes) {
      const around = [...this.faces.areas.keys()].filter((face) => this.isAround[face]);
      this.holes = grouped(around, (face) => this.areaOf(face));
    }
    return this.holes.get(area) ?? [];
  }

  /** The area that a border is one of. */
  private areaOf(border: number): number {
    if (!this.isAround[border]) return border;
    const way: number[] = [];
    let at = border;
    let found = UNKNOWN;
    // From hole to hole leftwards: each lies farther left than the one before.
    while (found === UNKNOWN) {
      if (!this.isAround[at]) found = at;
      else if (this.areaOfBorder[at] !== UNKNOWN) found = this.areaOfBorder[at];
      else {
        way.push(at);
        const [x, y] = this.leftmostOf(at);
        const half = this.leftOf(x, y);
        if (half < 0) found = OUTSIDE;
        else at = this.faces.of[half];
      }
    }
    for (const one of way) this.areaOfBorder[one] = found;
    return found;
  }

  private leftmostOf(border: number): [x: number, y: number] {
    let [x, y] = [Infinity, 0];
    for (const half of this.around(border))
      this.pointsOf(half, (px, py) => {
        if (px < x) [x, y] = [px, py];
      });
    return [x, y];
  }

  /** The half-edge that a place sees straight to its left, on the side towards it; -1: none. */
  private leftOf(x: number, y: number): number {
    const { segments, subdivision } = this;
    const { ties } = subdivision;
    let best = { x: -Infinity, slope: 0, curve: -1, part: 0, isUp: false };
    const look = (curve: number, data: Float64Array, i: number) => {
      const [ax, ay, bx, by] = [data[3 * i], data[3 * i + 1], data[3 * i + 3], data[3 * i + 4]];
      if (ay <= y === by <= y) return;
      const part = (y - ay) / (by - ay);
      const at = ax + part * (bx - ax);
      if (at >= x - AT_PX || at < best.x - AT_PX) return;
      // Where lines part at one place, the one that goes to the right from there is nearer.
      const slope = (bx - ax) / (by - ay);
      if (at <= best.x + AT_PX && slope <= best.slope) return;
      if (curve % 2 && this.faces.next[2 * subdivision.edgeAt(curve, i + part)] < 0) return;
      best = { x: at, slope, curve, part: i + part, isUp: by < ay };
    };
    // Near it first: what crosses there hides all that is farther off.
    for (const way of WAYS_PX) {
      for (const some of [segments, ties])
        for (const s of some.within(x - way, y, x, y)) {
          const number = some.line[s];
          const { data, count } = some.lines[number];
          if (count > 1) look(some === ties ? 2 * number + 1 : 2 * number, data, some.at[s]);
        }
      if (best.x >= x - way) break;
    }
    if (best.curve < 0) return -1;
    const edge = subdivision.edgeAt(best.curve, best.part);
    return best.isUp ? 2 * edge : 2 * edge + 1;
  }

  /** The points of a border; none where it encloses nothing. */
  private ringOf(border: number): Float64Array {
    const kept: number[] = [];
    for (const half of this.around(border)) {
      if (kept[kept.length - 1] === (half ^ 1)) kept.pop();
      else kept.push(half);
    }
    let from = 0;
    while (kept.length - from > 1 && kept[from] === (kept[kept.length - 1] ^ 1)) {
      from++;
      kept.pop();
    }
    const points: number[] = [];
    for (const half of kept.slice(from)) this.pointsOf(half, (x, y) => points.push(x, y));
    return fromLeftmost(points);
  }

  /** Tells the points of a half-edge but its last. */
  private pointsOf(half: number, tell: (x: number, y: number) => void): void {
    const { curve, from, to } = this.subdivision.edge(half >> 1);
    const line = this.subdivision.curve(curve);
    if (half & 1) {
      tellAt(line, to, tell);
      for (let i = Math.ceil(to) - 1; i > from; i--) tell(line.data[3 * i], line.data[3 * i + 1]);
    } else {
      tellAt(line, from, tell);
      for (let i = Math.floor(from) + 1; i < to; i++) tell(line.data[3 * i], line.data[3 * i + 1]);
    }
  }
}

const UNKNOWN = -2;

/** A ring from its leftmost point on, of several the upmost. */
function fromLeftmost(xy: readonly number[]): Float64Array {
  let least = 0;
  for (let i = 2; i < xy.length; i += 2)
    if (xy[i] < xy[least] || (xy[i] === xy[least] && xy[i + 1] < xy[least + 1])) least = i;
  const ring = new Float64Array(xy.length);
  for (let i = 0; i < xy.length; i++) ring[i] = xy[(i + least) % xy.length];
  return ring;
}

/**
 * 1 for the border around each part of the lines that hangs together: the one that encloses the most, the other way round.
 * Signs alone do not tell: slivers between lines that lie on each other are as small as rounding.
 */
function outermost(faceOf: Int32Array, sizes: readonly number[]): Uint8Array {
  const parents = new Int32Array(sizes.length).map((_, n) => n);
  for (let h = 0; h < faceOf.length; h += 2)
    if (faceOf[h] >= 0) parents[rootOf(parents, faceOf[h])] = rootOf(parents, faceOf[h + 1]);
  const least = new Int32Array(sizes.length).fill(-1);
  for (let face = 0; face < sizes.length; face++) {
    const root = rootOf(parents, face);
    if (least[root] < 0 || sizes[face] < sizes[least[root]]) least[root] = face;
  }
  const found = new Uint8Array(sizes.length);
  for (const face of least) if (face >= 0) found[face] = 1;
  return found;
}

const tellAt = (line: InkLine, place: number, tell: (x: number, y: number) => void): void =>
  tell(valueOn(line, place, 0), valueOn(line, place, 1));

/** What comes after each half-edge once some edges are gone; -1 for those. */
function without(all: Int32Array, leftOut: readonly number[]): Int32Array {
  const next = all.slice();
  const before = new Int32Array(next.length);
  for (let h = 0; h < next.length; h++) if (next[h] >= 0) before[next[h]] = h;
  const link = (a: number, b: number) => {
    next[a] = b;
    before[b] = a;
  };
  for (const edge of leftOut) {
    const [h, twin] = [2 * edge, 2 * edge + 1];
    const [toOwn, fromOwn, toTwin, fromTwin] = [before[h], next[h], before[twin], next[twin]];
    // Where it hangs on to nothing at an end, nothing is to be linked there.
    if (toOwn !== twin) link(toOwn, fromTwin);
    if (fromOwn !== twin) link(toTwin, fromOwn);
    next[h] = next[twin] = -1;
  }
  return next;
}
