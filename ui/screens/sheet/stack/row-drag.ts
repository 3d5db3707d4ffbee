import { useState } from 'react';
import { blockLength, dropSpot, type StackRow } from '../../../../core/sheet/stack-rows';
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
  from: number;
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
  const dropOf = ({ from, by }: Dragged) => {
    const moving = movingWith(rows[from].layer.id);
    return dropSpot(rows, from, Math.round(by.y / pitch), Math.round(by.x / indent), moving);
  };
  const drop = dragged && rows[dragged.from] && dropOf(dragged);
  return {
    measure: setPitch,
    shiftOf: (row) => {
      if (!dragged || !drop) return { shiftX: 0, shiftY: 0, isDragged: false };
      const { from, by } = dragged;
      const i = rows.indexOf(row);
      if (i >= from && i < from + drop.length)
        return { shiftX: (drop.depth - rows[from].depth) * indent, shiftY: by.y, isDragged: true };
      // The others make room.
      const among = i < from ? i : i - drop.length;
      const passes = among >= from && among < drop.at ? -1 : among < from && among >= drop.at ? 1 : 0;
      return { shiftX: 0, shiftY: passes * blockLength(rows, from) * pitch, isDragged: false };
    },
    gripOf: (row) => {
      const from = rows.indexOf(row);
      return {
        onDrag: (by) => setDragged(by && { from, by }),
        onDrop: (by) => {
          setDragged(undefined);
          onMove(row.layer.id, dropOf({ from, by }).spot);
        },
        onStep: (side) => onStep(row.layer.id, side),
      };
    },
  };
}
