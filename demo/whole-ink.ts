import { unpackInk } from '../contract/ink-frame';
import { InkStore } from '../core/sheet/ink-store';
import { SheetModel } from '../core/sheet/sheet-model';
import type { Store } from '../server/store';

/** A sheet with all its samples in memory, to be drawn without a device. */
export async function wholeInk(store: Store, id: string): Promise<{ ink: InkStore; model: SheetModel }> {
  const { settings, layers } = store.sheets.head(id)!;
  const { strokes, erasures } = unpackInk(await store.sheets.ink(id, 0));
  const model = new SheetModel(settings, layers);
  model.strokes.open(strokes);
  for (const { erasure } of erasures) model.erasures.set(erasure.id, erasure);
  const ink = new InkStore(Infinity);
  ink.open(strokes, erasures);
  const ids = [...model.strokes.keys()];
  ink.provide(ids, store.sheets.samples(id, ids));
  return { ink, model };
}
