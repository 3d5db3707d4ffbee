import Flatbush from 'flatbush';
import { overlaps, type Box } from '../geometry/box';
import type { StrokeRecord } from './ink-record';

/** New and changed records are looked through one by one until there are this many more; then they are indexed. */
const LOOSE_LIMIT = 512;

/** Finds records by their boxes, paper px, while these come and change. */
export class RecordIndex {
  private indexed: StrokeRecord[] = [];
  private index: Flatbush | undefined;
  private loose: StrokeRecord[] = [];

  /** A record is new, or about to have another box. */
  changed(record: StrokeRecord): void {
    if (!record.isLoose) this.loose.push(record);
    record.isLoose = true;
  }

  /** Records whose boxes overlap `box`, in no order. */
  in(box: Box): StrokeRecord[] {
    const found = (this.index?.search(box.x0, box.y0, box.x1, box.y1) ?? []).map((i) => this.indexed[i]);
    return [...found.filter((r) => !r.isLoose), ...this.loose.filter((r) => overlaps(r.box, box))];
  }

  /** Indexes all anew, once many have come. @param all the records there are. */
  settle(all: () => Iterable<StrokeRecord>): void {
    if (this.loose.length <= LOOSE_LIMIT) return;
    this.indexed = [...all()];
    for (const record of this.loose) record.isLoose = false;
    this.loose = [];
    this.index = new Flatbush(this.indexed.length);
    for (const { box } of this.indexed) this.index.add(box.x0, box.y0, box.x1, box.y1);
    this.index.finish();
  }
}
