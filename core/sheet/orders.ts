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

/** A place above all of `orders` (any order, repeats allowed). */
export function orderAbove(orders: Iterable<string>): string {
  let top: string | null = null;
  for (const order of orders) if (top === null || order > top) top = order;
  return generateKeyBetween(top, null);
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
  if (below === null || above === null || below < above)
    return [{ id: moving, order: generateKeyBetween(below, above) }];
  const ids = [moving, ...others.slice(index).map((o) => o.id)];
  const places = generateNKeysBetween(below, null, ids.length);
  return ids.map((id, i) => ({ id, order: places[i] }));
}
