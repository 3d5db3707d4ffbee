import type { Part } from '../raster/lay-parts';
import { isInkable, type ColourLayer, type GroupLayer, type Layer } from './entities';
import { layersOf, type Branch, type WorkLayer } from './layer-tree';

/** Colour that lies by itself; what is kept inside other colour is a shade of it. */
export const isFlat = (layer: Layer): layer is ColourLayer => layer.kind === 'colour' && !layer.inside;

/**
 * The layers that those which are kept inside are kept inside of: the colour layers beneath them in their own group; where
 * there are none, those beneath the group. How strong these are and whether they are shown does not matter: a shade stays
 * where it is when its flat is hushed. One with no colour beneath it shows everywhere, and is not among them.
 */
export function insideOf(branches: readonly Branch[], outer: readonly string[] = []): Map<string, readonly string[]> {
  const bounds = new Map<string, readonly string[]>();
  let own: string[] = [];
  for (const branch of branches) {
    const { layer, children } = branch;
    const around = own.length ? own : outer;
    if (isInkable(layer) && layer.inside && around.length) bounds.set(layer.id, around);
    for (const [id, ids] of insideOf(children, around)) bounds.set(id, ids);
    own = [...own, ...layersOf([branch]).flatMap((one) => (isFlat(one) ? one.id : []))];
  }
  return bounds;
}

/** A part of a picture that is a layer or a group. */
export type LayerPart = Part & { layer: WorkLayer | GroupLayer; parts?: LayerPart[] };

/** What is laid over what, bottom first: the layers that suit, and the groups that hold some of them; hidden ones are left out. */
export function laidParts(
  branches: readonly Branch[],
  suits: (layer: WorkLayer) => boolean,
  bounds = insideOf(branches),
): LayerPart[] {
  return branches.flatMap(({ layer, children }): LayerPart[] => {
    if (!layer.visible || layer.kind === 'reference') return [];
    const laid = { layer, opacity: layer.opacity, ...(layer.blend ? { blend: layer.blend } : {}) };
    const inside = bounds.get(layer.id);
    if (layer.kind !== 'group') return suits(layer) ? [{ ...laid, id: layer.id, ...(inside ? { inside } : {}) }] : [];
    const parts = laidParts(children, suits, bounds);
    return parts.length ? [{ ...laid, parts }] : [];
  });
}
