import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing';

/** Whether a string is a place that others can be put before and after. */
export function isOrder(value: string): boolean {
  try {
    generateKeyBetween(value, null);
    generateKeyBetween(null, value);
    return true;
  } catch {
    return false;
  }
}

/** Above this every place is valid that begins with it: what old data may hold below is passed over. */
const LAST_WHOLE = 'z'.repeat(27);

/** A place above all of `orders` (any order, repeats allowed, even such that nothing can be put beside). */
export function orderAbove(orders: Iterable<string>): string {
  let top: string | null = null;
  for (const order of orders) if (top === null || order > top) top = order;
  if (top !== null && !isOrder(top)) top = top < LAST_WHOLE ? LAST_WHOLE : null;
  return generateKeyBetween(top, null);
}

/** So many places between two, growing; undefined where there is no room: two devices gave the same place. */
export function ordersBetween(
  below: string | undefined,
  above: string | undefined,
  count: number,
): string[] | undefined {
  const isUsable = [below, above].every((order) => order === undefined || isOrder(order));
  if (!isUsable || (below !== undefined && above !== undefined && below >= above)) return undefined;
  return generateNKeysBetween(below ?? null, above ?? null, count);
}

/** So many places above all of `orders`, growing. */
export function ordersAbove(orders: Iterable<string>, count: number): string[] {
  const first = orderAbove(orders);
  return [first, ...generateNKeysBetween(first, null, Math.max(0, count - 1))].slice(0, count);
}

/** So many places below all of `orders`, growing. */
export function ordersBelow(orders: Iterable<string>, count: number): string[] {
  const last = orderBelow(orders);
  return [...generateNKeysBetween(null, last, Math.max(0, count - 1)), last].slice(-count);
}

/** A place below all of `orders`, as {@link orderAbove}; those that nothing can be put below are passed over. */
export function orderBelow(orders: Iterable<string>): string {
  let bottom: string | null = null;
  for (const order of orders) if (isOrder(order) && (bottom === null || order < bottom)) bottom = order;
  return generateKeyBetween(null, bottom);
}

interface Placed {
  id: string;
  order: string;
}

/**
 * The places to give so that `moving` (bottom first) come to lie at `index` among `others` (bottom first, without
 * them). Mostly those are all; where neighbours share one (two devices at once), those above get new places too.
 * @returns ids with their new places.
 */
export function ordersForMove(others: readonly Placed[], moving: readonly string[], index: number): Placed[] {
  const below = others[index - 1]?.order;
  const between = ordersBetween(below, others[index]?.order, moving.length);
  if (between) return moving.map((id, i) => ({ id, order: between[i] }));
  // Everything from there up gets a new place; below an impossible one, everything does.
  const isUsable = below === undefined || isOrder(below);
  const idsOf = (placed: readonly Placed[]) => placed.map(({ id }) => id);
  const ids = [...(isUsable ? [] : idsOf(others.slice(0, index))), ...moving, ...idsOf(others.slice(index))];
  const places = generateNKeysBetween(isUsable ? (below ?? null) : null, null, ids.length);
  return ids.map((id, i) => ({ id, order: places[i] }));
}
