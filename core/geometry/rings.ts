import Flatbush from 'flatbush';

/** Closed rings of points, `[x0, y0, x1, y1, ...]`: the first is the outer one, the others lie in it and are holes. */
export type Rings = readonly Float64Array[];

/** The size of what rings enclose, px2. */
export const ringsSize = ([outer, ...holes]: Rings): number =>
  Math.abs(ringSize(outer)) - holes.reduce((sum, hole) => sum + Math.abs(ringSize(hole)), 0);

/** The same of one ring; below 0 where it goes the other way round. */
export function ringSize(ring: Float64Array): number {
  let twice = 0;
  for (let i = 0; i < ring.length; i += 2) {
    const j = (i + 2) % ring.length;
    twice += ring[i] * ring[j + 1] - ring[j] * ring[i + 1];
  }
  return twice / 2;
}

/** How long rings are together, px. */
export const ringsLength = (rings: Rings): number => rings.reduce((sum, ring) => sum + ringLength(ring), 0);

function ringLength(ring: Float64Array): number {
  let length = 0;
  for (let i = 0; i < ring.length; i += 2) {
    const j = (i + 2) % ring.length;
    length += Math.hypot(ring[j] - ring[i], ring[j + 1] - ring[i + 1]);
  }
  return length;
}

/** A ring that is reached from another: from its segment, a part of the way along it, straight to its own point. */
interface Seam {
  segment: number;
  part: number;
  ring: number;
  point: number;
}

/** So many segments of a ring are found together. */
const RUN = 16;

/**
 * One ring for all: from each hole's leftmost point straight to the left, to whatever is there, and back the same way. It
 * encloses what the outer ring does, less the holes, by any rule of filling; what is between there and back has no width.
 * O(n log n) for rings that are not all beside each other.
 * @returns no point where there is no ring. A hole that lies in no other ring is left out.
 * @see Eberly (1998), "Triangulation by Ear Clipping", for bridges to holes
 */
export function joinedRings(given: Rings): Float64Array {
  if (!given.length || given[0].length < 6) return new Float64Array();
  const isForwards = ringSize(given[0]) > 0;
  // Holes go the other way round.
  const rings = given.map((ring, r) => (r > 0 && ringSize(ring) > 0 === isForwards ? reversed(ring) : ring));
  const runs = new Runs(rings);
  const seams: Seam[][] = rings.map(() => []);
  for (let r = 1; r < rings.length; r++) {
    if (rings[r].length < 6) continue;
    const point = leftmost(rings[r]);
    const hit = runs.leftOf(rings[r][2 * point], rings[r][2 * point + 1], r);
    if (hit) seams[hit.ring].push({ segment: hit.segment, part: hit.part, ring: r, point });
  }
  const out: number[] = [];
  walk(rings, seams, out);
  return Float64Array.from(out);
}

function reversed(ring: Float64Array): Float64Array {
  const out = new Float64Array(ring.length);
  for (let i = 0; i < ring.length; i += 2) out.set([ring[ring.length - 2 - i], ring[ring.length - 1 - i]], i);
  return out;
}

function leftmost(ring: Float64Array): number {
  let best = 0;
  for (let i = 1; i < ring.length / 2; i++) if (ring[2 * i] < ring[2 * best]) best = i;
  return best;
}

class Runs {
  private readonly index: Flatbush;
  private readonly places: [ring: number, from: number, to: number][] = [];

  constructor(private readonly rings: Rings) {
    rings.forEach((ring, r) => {
      const count = ring.length / 2;
      for (let from = 0; from < count; from += RUN) this.places.push([r, from, Math.min(count, from + RUN)]);
    });
    this.index = new Flatbush(this.places.length);
    for (const [r, from, to] of this.places) {
      const ring = rings[r];
      let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
      for (let i = from; i <= to; i++) {
        const at = (2 * i) % ring.length;
        x0 = Math.min(x0, ring[at]);
        x1 = Math.max(x1, ring[at]);
        y0 = Math.min(y0, ring[at + 1]);
        y1 = Math.max(y1, ring[at + 1]);
      }
      this.index.add(x0, y0, x1, y1);
    }
    this.index.finish();
  }

  /** What a place sees straight to its left, of other rings than its own. */
  leftOf(x: number, y: number, own: number): { ring: number; segment: number; part: number } | undefined {
    let best = -Infinity;
    let found: { ring: number; segment: number; part: number } | undefined;
    for (const n of this.index.search(-Infinity, y, x, y)) {
      const [r, from, to] = this.places[n];
      const ring = this.rings[r];
      if (r === own) continue;
      for (let i = from; i < to; i++) {
        const b = (2 * i + 2) % ring.length;
        const [ay, by] = [ring[2 * i + 1], ring[b + 1]];
        if (ay <= y === by <= y) continue;
        const part = (y - ay) / (by - ay);
        const at = ring[2 * i] + part * (ring[b] - ring[2 * i]);
        if (at > x || at <= best) continue;
        best = at;
        found = { ring: r, segment: i, part };
      }
    }
    return found;
  }
}

/** Rings one after the other, each where it is reached; without recursion, as holes may follow each other in thousands. */
function walk(rings: Rings, seams: readonly Seam[][], out: number[]): void {
  const bySegment = seams.map((list) => {
    const found = new Map<number, Seam[]>();
    for (const seam of [...list].sort((a, b) => a.part - b.part))
      found.set(seam.segment, [...(found.get(seam.segment) ?? []), seam]);
    return found;
  });
  interface Visit {
    ring: number;
    /** The point it begins and ends at, and how many of its segments are done. */
    start: number;
    done: number;
    /** Seams of the segment that it is at that are done. */
    seam: number;
    /** Where its seam is let in, to come back to. */
    from?: [x: number, y: number];
  }
  const open: Visit[] = [{ ring: 0, start: 0, done: 0, seam: 0 }];
  while (open.length) {
    const visit = open[open.length - 1];
    const ring = rings[visit.ring];
    const count = ring.length / 2;
    if (visit.done === count) {
      // A hole comes back to its own point, and to where it was reached.
      if (visit.from) out.push(ring[2 * visit.start], ring[2 * visit.start + 1], ...visit.from);
      open.pop();
      continue;
    }
    const segment = (visit.start + visit.done) % count;
    const [ax, ay] = [ring[2 * segment], ring[2 * segment + 1]];
    if (visit.seam === 0) out.push(ax, ay);
    const seam = bySegment[visit.ring].get(segment)?.[visit.seam++];
    if (!seam) {
      visit.done++;
      visit.seam = 0;
      continue;
    }
    const b = (2 * segment + 2) % ring.length;
    const from: [number, number] = [ax + seam.part * (ring[b] - ax), ay + seam.part * (ring[b + 1] - ay)];
    out.push(...from);
    open.push({ ring: seam.ring, start: seam.point, done: 0, seam: 0, from });
  }
}
