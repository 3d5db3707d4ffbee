import type { Layer } from '../../core/sheet/entities';
import type { SheetModel } from '../../core/sheet/sheet-model';
import type { Change } from '../../core/sheet/steps';

/** Layers that changes have deleted though ink lies on them, with how much. */
export function lostLayers(changes: readonly Change[], model: SheetModel): { layer: Layer; lines: number }[] {
  return changes.flatMap((c) => {
    if (c.op !== 'set' || c.table !== 'layers' || c.field !== 'deleted') return [];
    return c.ids.flatMap((id, i) => {
      const layer = model.layers.get(id);
      if (c.after[i] !== true || !layer || layer.kind === 'reference') return [];
      const lines = model.strokes.countOn([id]);
      return lines ? [{ layer, lines }] : [];
    });
  });
}
