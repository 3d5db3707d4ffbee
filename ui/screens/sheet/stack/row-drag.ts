import { useState } from 'react';
import { dropSpot, type StackRow } from '../../../../core/sheet/stack-rows';
import type { Spot } from '../../../../core/sheet/layer-changes';
import type { Place } from '../../../components/use-drag';

/** How the rows of a list stand while one of them is dragged, and what its grip tells. */
export interface RowDrag {
  shiftOf(row: StackRow): { shiftX: number; shiftY: number; isDragged: boolean };
  gripOf(row: StackRow): {
    onDrag(by: Place | undefined): void;
    onDrop(by: Place): void;
    onStep(side: 'up' | 'down'): void;
  };
  /** A row is so high, with the gap below it, px. */
  measure(px: number): void;
}

interface Dragged {
  id: string;
  by: Place;
}

/**
 * Lets rows be dragged to another place and into or out of groups: down and up among the others, sideways how deep.
 * @param indent how much further in what lies in a group stands, px.
 * @param movingWith the layers that go along with one.
 */
export function useRowDrag(
  rows: readonly StackRow[],
  indent: number,
  movingWith: (id: string) => ReadonlySet<string>,
  onMove: (id: string, spot: Spot) => void,
  onStep: (id: string, side: 'up' | 'down') => void,
): RowDrag {
  const [dragged, setDragged] = useState<Dragged>();
  const [pitch, setPitch] = useState(62);
  // Another device may have moved the row meanwhile, or taken it away.
  const placeOf = (id: string) => rows.findIndex((row) => row.layer.id === id);
  const dropOf = ({ id, by }: Dragged) => {
    const from = placeOf(id);
    if (from < 0) return undefined;
    return { from, ...dropSpot(rows, from, Math.round(by.y / pitch), Math.round(by.x / indent), movingWith(id)) };
  };
  const drop = dragged && dropOf(dragged);
  return {
    measure: setPitch,
    shiftOf: (row) => {
      if (!dragged || !drop) return { shiftX: 0, shiftY: 0, isDragged: false };
      const { from, at, depth, length } = drop;
      const i = rows.indexOf(row);
      if (i >= from && i < from + length)
        return { shiftX: (depth - rows[from].depth) * indent, shiftY: dragged.by.y, isDragged: true };
      // The others make room.
      const among = i < from ? i : i - length;
      const passes = among >= from && among < at ? -1 : among < from && among >= at ? 1 : 0;
      return { shiftX: 0, shiftY: passes * length * pitch, isDragged: false };
    },
    gripOf: ({ layer: { id } }) => ({
      onDrag: (by) => setDragged(by && { id, by }),
      onDrop: (by) => {
        setDragged(undefined);
        const place = dropOf({ id, by });
        if (place) onMove(id, place.spot);
      },
      onStep: (side) => onStep(id, side),
    }),
  };
}
