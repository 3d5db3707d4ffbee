import { laidParts, type LayerPart } from './laid-parts';
import { isVisible, isWork, type WorkLayer } from './layer-tree';
import type { SheetModel } from './sheet-model';

// What is sent: ink and colour that are shown. References and roughs are scaffolding and stay behind, by kind.

export const sentLayers = (model: SheetModel): WorkLayer[] =>
  model
    .stack()
    .filter((layer) => isWork(layer))
    .filter((layer) => isVisible(layer, model.layers));

/** The layers of ink that are shown, bottom first. */
export const shownInks = (model: SheetModel): WorkLayer[] => sentLayers(model).filter(({ kind }) => kind === 'ink');

/** The same as {@link sentLayers}, as they are laid over each other. */
export const sentParts = (model: SheetModel): LayerPart[] => laidParts(model.tree(), isWork);
