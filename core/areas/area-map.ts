import { facesAround, type Arrangement } from './arrangement';
import type { Closing } from './closing';
import type { Rings } from '../geometry/rings';
import { rootOf } from '../geometry/sets';
import { grouped } from '../sheet/grouped';
import { valueOn, type InkLine } from './ink-line';
import { LinePieces } from './line-pieces';

/** What lies around all lines. */
export const OUTSIDE = -1;

/** A piece of a line that is no farther than this from a place lies at it, px. */
const AT_PX = 1e-9;

/**
 * The areas between lines, found by a place in them, with their borders. Joins over gaps that part no shapes are left out.
 * An area has the number of its outer border.
 * @see de Berg et al., Computational Geometry, 2 and 6: what lies left of a place tells its face; so does what lies left of a
 *   hole's leftmost point
 */
export class AreaMap {
  private readonly graph: Arrangement;
  private readonly next: Int32Array;
  private readonly faceOf: Int32Array;
  private readonly sizes: Float64Array;
  /** 1 for the borders around all that hangs together, of each of its parts one. */
  private readonly isAround: Uint8Array;
  /** Of each border one of its half-edges. */
  private readonly firsts: Int32Array;
  /** Of each line its first edge; one more at the end. */
  private readonly edgesOf: Int32Array;
  private readonly ties: LinePieces;
  private readonly areaOfBorder: Int32Array;
  private holes: Map<number, number[]> | undefined;

  /** @param pieces of the lines that are closed. */
  constructor(
    { arrangement, touching, parts }: Pick<Closing, 'arrangement' | 'touching' | 'parts'>,
    readonly pieces: LinePieces,
  ) {
    this.graph = arrangement;
    const { lines, ownLines, edgeLine, sweeps } = arrangement;
    const isLeftOut = (line: number) => line >= ownLines + touching.length && !parts[line - ownLines - touching.length];
    this.next = without(arrangement, (edge) => isLeftOut(edgeLine[edge]));
    const { faceOf, areas } = facesAround(this.next, sweeps);
    this.faceOf = faceOf;
    this.sizes = areas;
    this.isAround = outermost(faceOf, areas);
    this.firsts = new Int32Array(areas.length).fill(-1);
    for (let h = faceOf.length - 1; h >= 0; h--) if (faceOf[h] >= 0) this.firsts[faceOf[h]] = h;
    this.edgesOf = new Int32Array(lines.length + 1);
    for (const line of edgeLine) this.edgesOf[line + 1]++;
    for (let l = 0; l < lines.length; l++) this.edgesOf[l + 1] += this.edgesOf[l];
    this.ties = new LinePieces(lines.slice(ownLines));
    this.areaOfBorder = new Int32Array(areas.length).fill(UNKNOWN);
  }

  /** The area that a place lies in, or {@link OUTSIDE}. */
  areaAt(x: number, y: number): number {
    const half = this.leftOf(x, y);
    return half < 0 ? OUTSIDE : this.areaOf(this.faceOf[half]);
  }

  /** Twice the size of what the outer border of an area encloses, px2: what is in its holes, too. */
  sizeOf(area: number): number {
    return this.sizes[area];
  }

  /** All areas but what lies around them. */
  *areas(): Generator<number> {
    for (let face = 0; face < this.sizes.length; face++) if (!this.isAround[face]) yield face;
  }

  /** The borders of an area, without what leads nowhere, as hatching that hangs on to them. */
  ringsOf(area: number): Rings {
    const rings = [this.ringOf(area)];
    for (const hole of this.holesOf(area)) {
      const ring = this.ringOf(hole);
      if (ring.length) rings.push(ring);
    }
    return rings;
  }

  /** The areas that lie beside one, with the length of the border that they share, px; what lies around all is {@link OUTSIDE}. */
  besides(area: number): Map<number, number> {
    const shared = new Map<number, number>();
    for (const border of [area, ...this.holesOf(area)])
      for (const half of this.around(border)) {
        const other = this.areaOf(this.faceOf[half ^ 1]);
        if (other !== area) shared.set(other, (shared.get(other) ?? 0) + this.graph.sweeps[half | 1]);
      }
    return shared;
  }

  /** The lines that border an area, by their numbers; joins are none. */
  linesAround(area: number): Set<number> {
    const { edgeLine, ownLines } = this.graph;
    const found = new Set<number>();
    for (const border of [area, ...this.holesOf(area)])
      for (const half of this.around(border)) {
        const line = edgeLine[half >> 1];
        if (line < ownLines && this.faceOf[half ^ 1] !== border) found.add(line);
      }
    return found;
  }

  private *around(border: number): Generator<number> {
    const first = this.firsts[border];
    let half = first;
    do {
      yield half;
      half = this.next[half];
    } while (half !== first);
  }

  /** Borders of lines that lie apart within an area. */
  private holesOf(area: number): readonly number[] {
    if (!this.holes) {
      const around = Array.from(this.sizes.keys()).filter((face) => this.isAround[face]);
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
        else at = this.faceOf[half];
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
    const { lines, ownLines, edgeTo } = this.graph;
    let best = { x: -Infinity, slope: 0, line: -1, place: 0, isUp: false };
    const look = (line: number, data: Float64Array, from: number, to: number) => {
      for (let i = from; i < to; i++) {
        const [ax, ay, bx, by] = [data[3 * i], data[3 * i + 1], data[3 * i + 3], data[3 * i + 4]];
        if (ay <= y === by <= y) continue;
        const part = (y - ay) / (by - ay);
        const at = ax + part * (bx - ax);
        if (at >= x - AT_PX || at < best.x - AT_PX) continue;
        // Where lines part at one place, the one that goes to the right from there is nearer.
        const slope = (bx - ax) / (by - ay);
        if (at <= best.x + AT_PX && slope <= best.slope) continue;
        if (line >= ownLines && this.next[2 * this.edgesOf[line]] < 0) continue;
        best = { x: at, slope, line, place: i + part, isUp: by < ay };
      }
    };
    const { pieces, ties } = this;
    for (const p of pieces.within(-Infinity, y, x, y)) look(pieces.line[p], lines[pieces.line[p]].data, pieces.from[p], pieces.to[p]); // prettier-ignore
    for (const p of ties.within(-Infinity, y, x, y)) look(ownLines + ties.line[p], ties.lines[ties.line[p]].data, 0, 1);
    if (best.line < 0) return -1;
    let [low, high] = [this.edgesOf[best.line], this.edgesOf[best.line + 1] - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (edgeTo[middle] < best.place) low = middle + 1;
      else high = middle;
    }
    return best.isUp ? 2 * low : 2 * low + 1;
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
    return Float64Array.from(points);
  }

  /** Tells the points of a half-edge but its last. */
  private pointsOf(half: number, tell: (x: number, y: number) => void): void {
    const { lines, edgeLine, edgeFrom, edgeTo } = this.graph;
    const edge = half >> 1;
    const line = lines[edgeLine[edge]];
    const [from, to] = [edgeFrom[edge], edgeTo[edge]];
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

/**
 * 1 for the border around each part of the lines that hangs together: the one that encloses the most, the other way round.
 * Signs alone do not tell: slivers between lines that lie on each other are as small as rounding.
 */
function outermost(faceOf: Int32Array, sizes: Float64Array): Uint8Array {
  const parents = Int32Array.from(sizes, (_, n) => n);
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
function without({ next: all }: Arrangement, isLeftOut: (edge: number) => boolean): Int32Array {
  const next = all.slice();
  const before = new Int32Array(next.length);
  for (let h = 0; h < next.length; h++) before[next[h]] = h;
  const link = (a: number, b: number) => {
    next[a] = b;
    before[b] = a;
  };
  for (let h = 0; h < next.length; h += 2) {
    if (!isLeftOut(h >> 1)) continue;
    const [twin, toOwn, fromOwn] = [h + 1, before[h], next[h]];
    const [toTwin, fromTwin] = [before[twin], next[twin]];
    // Where it hangs on to nothing at an end, nothing is to be linked there.
    if (toOwn !== twin) link(toOwn, fromTwin);
    if (fromOwn !== twin) link(toTwin, fromOwn);
    next[h] = next[twin] = -1;
  }
  return next;
}
