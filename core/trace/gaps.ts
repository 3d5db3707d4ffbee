import { bridged, type Chain } from './joining';
import type { Point } from './skeleton-graph';

/** A free end of a line: where it is, and where it would go on. */
interface Loose {
  chain: Chain;
  isStart: boolean;
  x: number;
  y: number;
  r: number;
  dx: number;
  dy: number;
}

/** Directions are taken over so many places. */
const OVER = 10;
/** The gap lies so straight ahead of both ends, degrees. */
const MOST_OFF_DEG = 28;
/** Ends of such unlike widths are not one line's. */
const MOST_UNLIKE = 2.5;
/** A chain of fewer places has no direction of its own. */
const LEAST_PLACES = 5;

/**
 * Joins lines that were broken: free ends that lie ahead of each other, the nearest first. Pencil on rough paper leaves
 * such gaps. @param mostPx how much paper there may be between them, beyond their radii.
 */
export function joinedOverGaps(chains: readonly Chain[], mostPx: number): Chain[] {
  const ends = chains.flatMap(looseEnds);
  const cell = Math.max(8, mostPx + 8);
  const grid = new Map<string, Loose[]>();
  const keyOf = (x: number, y: number) => `${Math.floor(x / cell)},${Math.floor(y / cell)}`;
  for (const end of ends) {
    const key = keyOf(end.x, end.y);
    const known = grid.get(key);
    if (known) known.push(end);
    else grid.set(key, [end]);
  }
  const pairs: { a: Loose; b: Loose; far: number }[] = [];
  const numbers = new Map(ends.map((end, n) => [end, n]));
  ends.forEach((a, n) => {
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (const b of grid.get(keyOf(a.x + i * cell, a.y + j * cell)) ?? []) {
          if (numbers.get(b)! <= n) continue;
          const far = fits(a, b, mostPx);
          if (far !== undefined) pairs.push({ a, b, far });
        }
  });
  const partner = new Map<Loose, Loose>();
  for (const { a, b } of pairs.sort((p, q) => p.far - q.far)) {
    if (partner.has(a) || partner.has(b)) continue;
    partner.set(a, b);
    partner.set(b, a);
  }
  return merged(chains, ends, partner);
}

function looseEnds(chain: Chain): Loose[] {
  const { points, closed, freeStart, freeEnd } = chain;
  if (closed || points.length < LEAST_PLACES) return [];
  const end = (isStart: boolean): Loose => {
    const tip = isStart ? points[0] : points[points.length - 1];
    const inner = isStart ? points[Math.min(points.length - 1, OVER)] : points[Math.max(0, points.length - 1 - OVER)];
    const length = Math.hypot(tip.x - inner.x, tip.y - inner.y) || 1;
    return {
      chain,
      isStart,
      x: tip.x,
      y: tip.y,
      r: inner.r,
      dx: (tip.x - inner.x) / length,
      dy: (tip.y - inner.y) / length,
    };
  };
  return [...(freeStart ? [end(true)] : []), ...(freeEnd ? [end(false)] : [])];
}

/** How far two ends are apart where they are of one line. */
function fits(a: Loose, b: Loose, mostPx: number): number | undefined {
  const [x, y] = [b.x - a.x, b.y - a.y];
  const far = Math.hypot(x, y);
  if (far === 0 || far - a.r - b.r > mostPx) return undefined;
  if (Math.max(a.r / b.r, b.r / a.r) > MOST_UNLIKE) return undefined;
  const cos = Math.cos((MOST_OFF_DEG * Math.PI) / 180);
  return (a.dx * x + a.dy * y) / far >= cos && -(b.dx * x + b.dy * y) / far >= cos ? far : undefined;
}

function merged(chains: readonly Chain[], ends: readonly Loose[], partner: Map<Loose, Loose>): Chain[] {
  const endOf = new Map<Chain, { start?: Loose; end?: Loose }>();
  for (const end of ends) {
    const known = endOf.get(end.chain) ?? {};
    known[end.isStart ? 'start' : 'end'] = end;
    endOf.set(end.chain, known);
  }
  const onFrom = (chain: Chain, atStart: boolean): Loose | undefined => {
    const own = atStart ? endOf.get(chain)?.start : endOf.get(chain)?.end;
    return own && partner.get(own);
  };
  const taken = new Set<Chain>();
  const out: Chain[] = [];
  const follow = (first: Chain, fromStart: boolean): void => {
    if (taken.has(first)) return;
    const points: Point[] = [];
    let [chain, forward] = [first, fromStart];
    for (;;) {
      taken.add(chain);
      const own = forward ? chain.points : chain.points.toReversed();
      if (points.length) points.push(...bridged(points, own));
      for (const point of own) points.push(point);
      const next = onFrom(chain, !forward);
      const ends = {
        freeStart: fromStart ? first.freeStart : first.freeEnd,
        freeEnd: forward ? chain.freeEnd : chain.freeStart,
      };
      if (!next) return void out.push({ points, closed: chain.closed, ...ends });
      if (taken.has(next.chain)) {
        const closed = next.chain === first;
        if (closed) points.push(...bridged(points, points));
        return void out.push({ points, closed, ...ends });
      }
      [chain, forward] = [next.chain, next.isStart];
    }
  };
  for (const chain of chains) {
    if (!onFrom(chain, true)) follow(chain, true);
    else if (!onFrom(chain, false)) follow(chain, false);
  }
  for (const chain of chains) follow(chain, true);
  return out;
}
