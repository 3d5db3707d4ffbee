import { byOrder, type Stroke } from './entities';
import type { PackedStrokes } from './packed-strokes';

/** The topmost stroke of each layer, by its place; deleted ones count. */
export class LayerTops {
  private readonly tops = new Map<string, Pick<Stroke, 'order' | 'id'>>();

  /** A stroke is there, too. @returns whether it is on top of all others of its layer. */
  note({ layerId, order, id }: Stroke): boolean {
    const top = this.tops.get(layerId);
    const isOnTop = top === undefined || byOrder(top, { order, id }) < 0;
    if (isOnTop) this.tops.set(layerId, { order, id });
    return isOnTop;
  }

  /** Looks through all of them. @param isThere of a packed row. */
  find(packed: PackedStrokes, isThere: (row: number) => boolean, own: Iterable<Stroke>): void {
    this.tops.clear();
    const last = new Map<number, number>();
    for (let row = 0; row < packed.count; row++) if (isThere(row)) last.set(packed.layerAt(row), row);
    for (const [layer, row] of last)
      this.tops.set(packed.layers[layer], { order: packed.orderAt(row), id: packed.idAt(row) });
    for (const stroke of own) this.note(stroke);
  }
}
