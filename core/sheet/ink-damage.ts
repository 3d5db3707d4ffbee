import { union, type Box } from '../geometry/box';

/** A part of a layer that must be shown anew. `added`: only this stroke came, on top. */
export interface Damage {
  layerId: string;
  box: Box;
  added?: string;
}

/** One damage a layer where several would only repeat work; a lone addition stays as it is. */
export function merged(damage: Damage[]): Damage[] {
  if (damage.length < 2) return damage;
  const byLayer = new Map<string, Damage>();
  for (const { layerId, box } of damage) {
    const known = byLayer.get(layerId);
    byLayer.set(layerId, { layerId, box: known ? union(known.box, box) : box });
  }
  return [...byLayer.values()];
}
