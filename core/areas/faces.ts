/**
 * The areas that half-edges go around, or rather their borders: an area with lines apart in it has one for each of them.
 * Half-edges `2 e` and `2 e + 1` are the two sides of edge `e`. After a change only the borders that it touched are gone
 * around anew.
 */
export class Faces {
  /** The half-edge that goes on around the same area; -1: there is none of this number. */
  next: Int32Array;
  /** The border that each half-edge is a part of. */
  of: Int32Array;
  /** Of each edge twice the area that it sweeps about the origin, px2, and its length, px, in turn. */
  sweeps: Float64Array;
  /** Of each border twice the signed size of what it goes around, px2; below 0: it goes around lines that hang together. */
  readonly areas: number[] = [];
  /** The length of each border, px: what has one area to both sides, as hatching that hangs on to a contour, is none. */
  readonly lengths: number[] = [];
  /** Borders that are no more, and numbers that none has. */
  private readonly ended = new Set<number>();
  private readonly free: number[] = [];

  constructor(next: Int32Array = new Int32Array(0), sweeps: Float64Array = new Float64Array(0)) {
    this.next = next;
    this.sweeps = sweeps;
    this.of = new Int32Array(next.length).fill(-1);
  }

  /** @param edges so many can be told apart from now on. */
  makeRoom(edges: number): void {
    const before = this.next.length;
    if (2 * edges <= before) return;
    const [next, of, sweeps] = [new Int32Array(2 * edges), new Int32Array(2 * edges), new Float64Array(2 * edges)];
    next.set(this.next);
    of.set(this.of);
    sweeps.set(this.sweeps);
    this.next = next.fill(-1, before);
    this.of = of.fill(-1, before);
    this.sweeps = sweeps;
  }

  /** From now on `to` follows `from`. */
  link(from: number, to: number): void {
    this.next[from] = to;
    if (this.of[from] >= 0) this.ended.add(this.of[from]);
  }

  /** Takes an edge out; what came before its sides is to be linked anew. */
  cut(edge: number): void {
    for (const half of [2 * edge, 2 * edge + 1]) {
      if (this.of[half] >= 0) this.ended.add(this.of[half]);
      this.next[half] = this.of[half] = -1;
    }
  }

  /** Numbers the borders that changed. @param halves those below this number are looked at. */
  goAround(halves: number): void {
    const { next, of, ended } = this;
    if (ended.size) {
      const isEnded = new Uint8Array(this.areas.length);
      for (const face of ended) isEnded[face] = 1;
      for (let h = 0; h < halves; h++) if (of[h] >= 0 && isEnded[of[h]]) of[h] = -1;
      for (const face of ended) {
        this.areas[face] = this.lengths[face] = 0;
        this.free.push(face);
      }
      ended.clear();
    }
    const firsts: number[] = [];
    for (let h = 0; h < halves; h++)
      if (of[h] < 0 && next[h] >= 0) {
        this.number(h);
        firsts.push(h);
      }
    for (const first of firsts) this.measure(first);
  }

  private number(first: number): void {
    const { next, of, sweeps } = this;
    const face = this.free.pop() ?? this.areas.length;
    let area = 0;
    for (let h = first; of[h] < 0; h = next[h]) {
      of[h] = face;
      const part = sweeps[h & ~1];
      area += h & 1 ? -part : part;
    }
    this.areas[face] = area;
  }

  private measure(first: number): void {
    const { next, of, sweeps } = this;
    const face = of[first];
    let length = 0;
    let h = first;
    do {
      if (of[h ^ 1] !== face) length += sweeps[h | 1];
      h = next[h];
    } while (h !== first);
    this.lengths[face] = length;
  }
}
