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

/**
 * The places to give so that `moving` comes to lie at `index` among `others` (bottom first, without
 * it). Mostly that is one new place; where neighbours share one (two devices at once), those above
 * get new places too.
 * @returns ids with their new places.
 */
export function ordersForMove(
  others: readonly { id: string; order: string }[],
  moving: string,
  index: number,
): { id: string; order: string }[] {
  const below = index > 0 ? others[index - 1].order : null;
  const above = index < others.length ? others[index].order : null;
  const isBetween = [below, above].every((o) => o === null || isOrder(o));
  if (isBetween && (below === null || above === null || below < above))
    return [{ id: moving, order: generateKeyBetween(below, above) }];
  // Everything from there up gets a new place; below an impossible one, everything does.
  const isUsable = below === null || isOrder(below);
  const ids = isUsable
    ? [moving, ...others.slice(index).map((o) => o.id)]
    : [...others.slice(0, index).map((o) => o.id), moving, ...others.slice(index).map((o) => o.id)];
  const places = generateNKeysBetween(isUsable ? below : null, null, ids.length);
  return ids.map((id, i) => ({ id, order: places[i] }));
}
