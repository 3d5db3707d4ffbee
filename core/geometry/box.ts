import { apply, type Matrix } from './matrix';

/** An axis-aligned box, `x0 <= x < x1`, `y0 <= y < y1`. Empty when a side is not positive. */
export interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

export const emptyBox = (): Box => ({
  x0: Infinity,
  y0: Infinity,
  x1: -Infinity,
  y1: -Infinity,
});

export const isEmpty = (b: Box): boolean => !(b.x1 > b.x0 && b.y1 > b.y0);

export const overlaps = (a: Box, b: Box): boolean => a.x0 < b.x1 && b.x0 < a.x1 && a.y0 < b.y1 && b.y0 < a.y1;

export const contains = ({ x0, y0, x1, y1 }: Box, x: number, y: number): boolean =>
  x >= x0 && x < x1 && y >= y0 && y < y1;

/** The smallest box that holds both; an empty box adds nothing. */
export function union(a: Box, b: Box): Box {
  if (isEmpty(a)) return b;
  if (isEmpty(b)) return a;
  return {
    x0: Math.min(a.x0, b.x0),
    y0: Math.min(a.y0, b.y0),
    x1: Math.max(a.x1, b.x1),
    y1: Math.max(a.y1, b.y1),
  };
}

/** The part that both boxes share (possibly empty). */
export function intersection(a: Box, b: Box): Box {
  return {
    x0: Math.max(a.x0, b.x0),
    y0: Math.max(a.y0, b.y0),
    x1: Math.min(a.x1, b.x1),
    y1: Math.min(a.y1, b.y1),
  };
}

/** `b` grown by `by` on every side. */
export const grow = (b: Box, by: number): Box => ({
  x0: b.x0 - by,
  y0: b.y0 - by,
  x1: b.x1 + by,
  y1: b.y1 + by,
});

/** `b` with its coordinates multiplied by `k`, > 0. */
export const scaled = (b: Box, k: number): Box => ({ x0: b.x0 * k, y0: b.y0 * k, x1: b.x1 * k, y1: b.y1 * k });

/** The smallest whole-pixel box that holds `b`. */
export const outward = (b: Box): Box => ({
  x0: Math.floor(b.x0),
  y0: Math.floor(b.y0),
  x1: Math.ceil(b.x1),
  y1: Math.ceil(b.y1),
});

/** The bounding box of `b` after `m`. */
export function transformBox(b: Box, m: Matrix): Box {
  if (isEmpty(b)) return b;
  const out = emptyBox();
  for (const x of [b.x0, b.x1])
    for (const y of [b.y0, b.y1]) {
      const [px, py] = apply(m, x, y);
      out.x0 = Math.min(out.x0, px);
      out.y0 = Math.min(out.y0, py);
      out.x1 = Math.max(out.x1, px);
      out.y1 = Math.max(out.y1, py);
    }
  return out;
}
