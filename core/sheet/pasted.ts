import { compose, type Matrix } from '../geometry/matrix';
import { withOwnShape, type Erasure, type Stroke } from './entities';
import { grouped } from './grouped';
import type { CopiedLine } from './picking';
import { putRows, type Change } from './steps';

/** Where copied lines are put down. */
export interface Landing {
  /** The layer of each copy. */
  layerOf(line: CopiedLine): string;
  /** Places for so many lines on top of a layer, growing. */
  ordersOn(layerId: string, count: number): string[];
  /** What the copies are moved by. */
  moved: Matrix;
  /** Whether they come from this sheet: then a part of a severed line keeps its samples there. */
  isSameSheet: boolean;
  newId(): string;
}

/** Copied lines as changes of a sheet, with the samples that they bring; `ids` are those of the new lines. */
export interface Pasted {
  changes: Change[];
  parts: [string, Uint8Array][];
  ids: string[];
}

/**
 * Puts down copies of lines with all that erases them. Each is a line of its own: what is erased of it later is not
 * erased of the one that it was copied from. Copies of a group are a group of their own. On another sheet a part of a
 * severed line brings all samples of that line, and stands on the same of them: it looks as it did.
 */
export function pasted(copies: readonly CopiedLine[], landing: Landing): Pasted {
  const { layerOf, ordersOn, moved, isSameSheet, newId } = landing;
  const strokes: Stroke[] = [];
  const parts: [string, Uint8Array][] = [];
  const erasures = new Map<string, Erasure & Required<Pick<Erasure, 'matrices'>>>();
  const groups = new Map<string, string>();
  const groupOf = (group: string) => {
    if (!groups.has(group)) groups.set(group, newId());
    return groups.get(group)!;
  };
  for (const [layerId, lines] of grouped(copies, layerOf)) {
    const orders = ordersOn(layerId, lines.length);
    lines.forEach((line, i) => {
      const { stands, group, ...whole } = withOwnShape(line.stroke);
      const id = newId();
      const keepsPart = stands !== undefined && isSameSheet;
      strokes.push({
        ...whole,
        id,
        layerId,
        order: orders[i],
        matrix: compose(moved, line.stroke.matrix),
        ...(stands ? { stands: keepsPart ? stands : { ...stands, samples: id, of: id } } : {}),
        ...(group ? { group: groupOf(group) } : {}),
      });
      if (!keepsPart) parts.push([id, line.bytes]);
      for (const { erasure, bytes, then } of line.erasures) {
        // What erases the line that a part comes from erases the part as well, here, too.
        if (keepsPart && !erasure.strokeIds.includes(line.stroke.id)) continue;
        let copy = erasures.get(erasure.id);
        if (!copy) {
          copy = { ...erasure, id: newId(), layerId, strokeIds: [], matrices: {} };
          erasures.set(erasure.id, copy);
          parts.push([copy.id, bytes]);
        }
        copy.strokeIds.push(id);
        copy.matrices[id] = then;
      }
    });
  }
  const changes: Change[] = [putRows('strokes', ...strokes)];
  if (erasures.size) changes.push(putRows('erasures', ...erasures.values()));
  return { changes, parts, ids: strokes.map((s) => s.id) };
}
