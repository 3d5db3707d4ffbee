import type { Box } from '../core/geometry/box';
import type { Erasure } from '../core/sheet/entities';
import { PackedStrokes, type StrokeColumns } from '../core/sheet/packed-strokes';
import { decodeFrame, type Parts } from './frame';
import type { DamageRow } from './low-tiles';

/**
 * `GET /api/sheets/:id/strokes?after=`: the body of a frame with all ink of a sheet but the samples of its strokes,
 * tombstones included. Not walked on the page beyond what follows here: it is large and comes from our own tables.
 *
 * Parts: `ids`, `orders` and `rows` as in {@link StrokeColumns}, and the samples of each erasure by its id.
 */
interface InkBody extends Pick<
  StrokeColumns,
  'layers' | 'colours' | 'pens' | 'matrices' | 'stands' | 'groups' | 'pours' | 'labels'
> {
  seq: number;
  erasures: Erasure[];
  /** Where each erasure lies, paper px. */
  boxes: [x0: number, y0: number, x1: number, y1: number][];
  /** What has changed after the step that was asked for. */
  damage: DamageRow[];
}

/** An erasure with what its table holds beside it. */
export interface KeptErasure {
  erasure: Erasure;
  bytes?: Uint8Array;
  /** Empty: its samples cannot be read. */
  box: Box;
}

export interface Ink {
  seq: number;
  strokes: PackedStrokes;
  erasures: KeptErasure[];
  damage: DamageRow[];
}

/** Packs a sheet's ink for the wire; `encodeFrame` makes one body of what it returns. */
export function packInk(
  seq: number,
  { ids, orders, rows, ...lists }: StrokeColumns,
  erasures: readonly KeptErasure[],
  damage: DamageRow[] = [],
): { body: InkBody; parts: Parts } {
  const parts: Parts = new Map([
    ['ids', ids],
    ['orders', orders],
    ['rows', rows],
  ]);
  for (const { erasure, bytes } of erasures) if (bytes) parts.set(erasureName(erasure.id), bytes);
  const body: InkBody = {
    seq,
    ...lists,
    erasures: erasures.map(({ erasure }) => erasure),
    boxes: erasures.map(({ box: { x0, y0, x1, y1 } }) => [x0, y0, x1, y1]),
    damage,
  };
  return { body, parts };
}

const erasureName = (id: string): string => `erasure:${id}`;

/** Reads a frame of {@link packInk}: views into it. @throws {RangeError} as `decodeFrame`, and parts that do not fit. */
export const readInk = (frame: Uint8Array): Ink => unpackInk(decodeFrame(frame));

/** Unpacks what {@link packInk} has packed. @throws {RangeError} parts that do not fit each other. */
export function unpackInk({ body, parts }: { body: unknown; parts: Parts }): Ink {
  const { seq, erasures, boxes, damage, ...lists } = body as InkBody;
  const part = (name: string) => parts.get(name) ?? new Uint8Array(0);
  const strokes = new PackedStrokes({ ...lists, ids: part('ids'), orders: part('orders'), rows: part('rows') });
  return {
    seq,
    strokes,
    erasures: erasures.map((erasure, i) => {
      const [x0, y0, x1, y1] = boxes[i];
      return { erasure, bytes: parts.get(erasureName(erasure.id)), box: { x0, y0, x1, y1 } };
    }),
    damage,
  };
}
