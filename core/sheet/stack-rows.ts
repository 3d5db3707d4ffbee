import type { Layer } from './entities';
import type { Spot } from './layer-changes';
import type { Branch } from './layer-tree';

/** A layer as a line of the stack's list, top first. */
export interface StackRow {
  layer: Layer;
  /** In how many groups it lies. */
  depth: number;
  parent: string | null;
}

/** The lines of the list: what a folded group holds has none. */
export function stackRows(branches: readonly Branch[], depth = 0, parent: string | null = null): StackRow[] {
  return [...branches]
    .reverse()
    .flatMap(({ layer, children }) => [
      { layer, depth, parent },
      ...(isOpen(layer) ? stackRows(children, depth + 1, layer.id) : []),
    ]);
}

const isOpen = (layer: Layer): boolean => layer.kind === 'group' && !layer.folded;

/** How many lines a row and what it holds take. */
function blockLength(rows: readonly StackRow[], at: number): number {
  let to = at + 1;
  while (to < rows.length && rows[to].depth > rows[at].depth) to++;
  return to - at;
}

/** A place between two lines, and how deep in groups. */
interface Gap {
  /** So many lines are above it. */
  at: number;
  depth: number;
}

/** How deep a line may come to lie in a gap: from, to. */
function depthsAt(rows: readonly StackRow[], at: number): [least: number, most: number] {
  const [above, below] = [rows[at - 1], rows[at]];
  return [below?.depth ?? 0, above ? above.depth + Number(isOpen(above.layer)) : 0];
}

const NONE: ReadonlySet<string> = new Set();

/** What place of the stack a gap is. @param moving layers that are not counted. */
function spotAt(rows: readonly StackRow[], { at, depth }: Gap, moving = NONE): Spot {
  let parent: string | null = null;
  // Upwards to the group whose lines are so deep.
  for (let i = at - 1; i >= 0 && depth > 0; i--)
    if (rows[i].depth === depth - 1) {
      parent = rows[i].layer.id;
      break;
    }
  const index = rows.slice(at).filter((row) => row.parent === parent && !moving.has(row.layer.id)).length;
  return { parent, index };
}

/**
 * Where a row goes that is dragged, with all it holds.
 * @param by lines that it has come down (up: negative).
 * @param deeper how much deeper in groups its side stands than before.
 * @param moving layers that go along with it.
 * @returns the place, how deep it is, and the gap among the other lines.
 */
export function dropSpot(
  rows: readonly StackRow[],
  from: number,
  by: number,
  deeper: number,
  moving = NONE,
): Gap & { spot: Spot; length: number } {
  const length = blockLength(rows, from);
  const others = [...rows.slice(0, from), ...rows.slice(from + length)];
  const at = Math.min(others.length, Math.max(0, from + by));
  const [least, most] = depthsAt(others, at);
  const depth = Math.min(most, Math.max(least, rows[from].depth + deeper));
  return { at, depth, length, spot: spotAt(others, { at, depth }, moving) };
}

/** Where a row goes that is moved by one place: past a line, into an open group, or out of one. Undefined: it is the last. */
export function nextSpot(rows: readonly StackRow[], from: number, side: 'up' | 'down'): Spot | undefined {
  const others = [...rows.slice(0, from), ...rows.slice(from + blockLength(rows, from))];
  const { depth } = rows[from];
  const [least, most] = depthsAt(others, from);
  if (side === 'down') {
    if (depth > least) return spotAt(others, { at: from, depth: depth - 1 });
    if (from === others.length) return undefined;
    return spotAt(others, { at: from + 1, depth: depthsAt(others, from + 1)[1] });
  }
  if (depth < most) return spotAt(others, { at: from, depth: depth + 1 });
  if (from === 0) return undefined;
  return spotAt(others, { at: from - 1, depth: depthsAt(others, from - 1)[0] });
}
