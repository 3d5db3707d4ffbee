import type { Pen } from '../stroke/pen';
import { byOrder, type Stroke } from './entities';
import { PackedStrokes } from './packed-strokes';

type Place = Pick<Stroke, 'order' | 'id'>;

/**
 * The strokes of a sheet by id: those that it was opened with stay packed, those that came or changed since stand beside
 * them. Reads like a Map; what it gives is never modified.
 */
export class StrokeTable {
  private packed = PackedStrokes.NONE;
  private readonly since = new Map<string, Stroke>();
  /** How many of `since` are not among the packed ones. */
  private added = 0;
  /** Whether there is any pour, deleted ones included. */
  hasPours = false;
  /** The strokes of labels, deleted ones included. */
  private labelIds = new Set<string>();

  /** Begins anew with packed strokes. */
  open(packed: PackedStrokes): void {
    this.packed = packed;
    this.since.clear();
    this.added = 0;
    this.hasPours = packed.hasPours;
    this.labelIds = new Set(packed.labelIds);
  }

  get size(): number {
    return this.packed.count + this.added;
  }

  get(id: string): Stroke | undefined {
    const known = this.since.get(id);
    if (known) return known;
    const row = this.packed.indexOf(id);
    return row < 0 ? undefined : this.packed.strokeAt(row);
  }

  has(id: string): boolean {
    return this.since.has(id) || this.packed.indexOf(id) >= 0;
  }

  set(id: string, stroke: Stroke): void {
    if (!this.has(id)) this.added++;
    this.hasPours ||= stroke.pour !== undefined;
    if (stroke.label) this.labelIds.add(id);
    this.since.set(id, stroke);
  }

  *values(): IterableIterator<Stroke> {
    for (let row = 0; row < this.packed.count; row++)
      yield this.since.get(this.packed.idAt(row)) ?? this.packed.strokeAt(row);
    for (const stroke of this.since.values()) if (this.packed.indexOf(stroke.id) < 0) yield stroke;
  }

  *keys(): IterableIterator<string> {
    for (const { id } of this.values()) yield id;
  }

  *[Symbol.iterator](): IterableIterator<[string, Stroke]> {
    for (const stroke of this.values()) yield [stroke.id, stroke];
  }

  /** The strokes of all labels, deleted ones included: each its letters, and an outline where it ever had one. */
  labels(): Stroke[] {
    return [...this.labelIds].map((id) => this.get(id)!);
  }

  /** How many strokes stand on any of these layers. @param most counts no further. @param suits counts only such pens. */
  countOn(layerIds: Iterable<string>, most = Infinity, suits: (pen: Pen) => boolean = () => true): number {
    const wanted = new Set(layerIds);
    let count = 0;
    for (const { deleted, layerId, pen } of this.since.values())
      if (!deleted && wanted.has(layerId) && suits(pen)) count++;
    const isWanted = this.packed.layers.map((id) => wanted.has(id));
    const hasSuch = this.packed.pens.map(suits);
    for (let row = 0; row < this.packed.count && count < most; row++)
      if (
        isWanted[this.packed.layerAt(row)] &&
        hasSuch[this.packed.penAt(row)] &&
        !this.packed.isDeleted(row) &&
        !this.isChanged(row)
      )
        count++;
    return count;
  }

  /** The place of a layer's topmost stroke, tombstones included. */
  topOrderOf(layerId: string): string | undefined {
    return this.outermost(layerId, 1);
  }

  /** The place of its lowest. */
  bottomOrderOf(layerId: string): string | undefined {
    return this.outermost(layerId, -1);
  }

  /** The last place of a layer in a direction: up 1, down -1. */
  private outermost(layerId: string, side: 1 | -1): string | undefined {
    const isFurther = (a: Place, b: Place | undefined) => !b || side * byOrder(b, a) < 0;
    let found: Place | undefined;
    for (const stroke of this.since.values())
      if (stroke.layerId === layerId && isFurther(stroke, found)) found = stroke;
    const { packed } = this;
    const layer = packed.layers.indexOf(layerId);
    const first = side === 1 ? packed.count - 1 : 0;
    for (let row = layer < 0 ? -1 : first; row >= 0 && row < packed.count; row -= side) {
      if (packed.layerAt(row) !== layer || this.isChanged(row)) continue;
      const place = { order: packed.orderAt(row), id: packed.idAt(row) };
      return isFurther(place, found) ? place.order : found!.order;
    }
    return found?.order;
  }

  private isChanged(row: number): boolean {
    return this.since.size > 0 && this.since.has(this.packed.idAt(row));
  }
}
