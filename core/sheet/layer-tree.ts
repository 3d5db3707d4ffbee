import { grouped } from './grouped';
import {
  byOrder,
  hasStrokes,
  isScaffolding,
  type GroupLayer,
  type InkableLayer,
  type Layer,
  type LiftedLayer,
  type TextLayer,
} from './entities';

/** A layer in its place; a group with what it holds, bottom first. */
export interface Branch {
  layer: Layer;
  children: Branch[];
}

/**
 * The standing layers of a sheet as they lie, bottom first. What names a group that is gone, or a group that it holds
 * itself (two devices at once), lies in none: nothing is ever out of sight for that.
 */
export function layerTree(layers: Iterable<Layer>): Branch[] {
  const standing = new Map<string, Layer>();
  for (const layer of layers) if (!layer.deleted) standing.set(layer.id, layer);
  const byParent = grouped(standing.values(), (layer): string | undefined => groupsOf(layer, standing)[0]?.id);
  const branchesIn = (parent: string | undefined): Branch[] =>
    (byParent.get(parent) ?? []).sort(byOrder).map((layer) => ({ layer, children: branchesIn(layer.id) }));
  return branchesIn(undefined);
}

interface LayersById {
  get(id: string): Layer | undefined;
}

/** The groups that hold a layer, the innermost first. */
export function groupsOf(layer: Layer, layers: LayersById): GroupLayer[] {
  const groups: GroupLayer[] = [];
  for (let { parent } = layer; parent;) {
    const group = layers.get(parent);
    if (group?.kind !== 'group' || group.deleted) break;
    if (group === layer || groups.includes(group)) return [];
    groups.push(group);
    parent = group.parent;
  }
  return groups;
}

/** The layers of branches, bottom first: what a group holds, then the group. */
export const layersOf = (branches: readonly Branch[]): Layer[] =>
  branches.flatMap(({ layer, children }) => [...layersOf(children), layer]);

/** A layer's branch, wherever it lies. */
export function branchOf(id: string, branches: readonly Branch[]): Branch | undefined {
  for (const branch of branches) {
    const found = branch.layer.id === id ? branch : branchOf(id, branch.children);
    if (found) return found;
  }
  return undefined;
}

/** A layer and all that it holds, bottom first. */
export function withHeld(id: string, branches: readonly Branch[]): Layer[] {
  const branch = branchOf(id, branches);
  return branch ? layersOf([branch]) : [];
}

/** Whether neither a layer nor a group that holds it is hidden. */
export const isVisible = (layer: Layer, layers: LayersById): boolean =>
  layer.visible && groupsOf(layer, layers).every((group) => group.visible);

/** Whether a layer or a group that holds it is locked. */
export const isLocked = (layer: Layer, layers: LayersById): boolean =>
  layer.locked || groupsOf(layer, layers).some((group) => group.locked);

/** Whether a layer is the work, not what it was made from. */
export const isWork = (layer: Layer): layer is WorkLayer =>
  (hasStrokes(layer) || layer.kind === 'lifted') && !isScaffolding(layer);

/** A layer that can be sent. */
export type WorkLayer = InkableLayer | LiftedLayer | TextLayer;
