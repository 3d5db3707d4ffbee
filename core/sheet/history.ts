import type { Assign, Change, Read, Step } from './steps';

/** What of a step decides where it stands in the history. */
export type HistoryEntry = Pick<Step, 'id' | 'undoes' | 'undoable'>;

/** Steps that can be undone and redone next, the nearest last. */
export interface History {
  undo: string[];
  redo: string[];
}

/**
 * Adds a device's next step to its history, in place. A plain undoable step can be undone and ends
 * redoing; a step that undoes one moves to the other side.
 */
export function remember(history: History, step: HistoryEntry): void {
  if (step.undoes !== undefined) {
    const { undo, redo } = history;
    if (take(undo, step.undoes)) redo.push(step.id);
    else if (take(redo, step.undoes)) undo.push(step.id);
    return;
  }
  if (!step.undoable) return;
  history.undo.push(step.id);
  history.redo.length = 0;
}

/** Takes an id off a list, from wherever it lies: another tab may have gone on meanwhile. */
function take(list: string[], id: string): boolean {
  const at = list.lastIndexOf(id);
  if (at >= 0) list.splice(at, 1);
  return at >= 0;
}

/** The history after a device's steps in order. O(n) unless tabs took turns. */
export function historyOf(steps: Iterable<HistoryEntry>): History {
  const history: History = { undo: [], redo: [] };
  for (const step of steps) remember(history, step);
  return history;
}

/**
 * The changes that take a step back: what it made becomes a tombstone, and each field that still
 * holds the step's value gets back the one before. Fields that something else has changed since
 * are kept.
 * @returns the changes, in reverse order, and how many fields were kept.
 */
export function inverseOf(step: Step, read: Read): { changes: Change[]; kept: number } {
  const changes: Change[] = [];
  let kept = 0;
  for (const change of [...step.changes].reverse()) {
    const back =
      change.op === 'put'
        ? deletionOf(
            change.table,
            change.rows.map((r) => r.id),
          )
        : swapped(change);
    const standing = stillStanding(back, read);
    kept += back.ids.length - standing.ids.length;
    if (standing.ids.length) changes.push(standing);
  }
  return { changes, kept };
}

const deletionOf = (table: Assign['table'], ids: string[]): Assign => ({
  op: 'set',
  table,
  field: 'deleted',
  ids,
  before: ids.map(() => false),
  after: ids.map(() => true),
});

const swapped = (c: Assign): Assign => ({ ...c, before: c.after, after: c.before });

/** The part of an assignment whose fields hold its `before`. */
function stillStanding(c: Assign, read: Read): Assign {
  const keep = c.ids.map((id, i) => {
    const entity = read(c.table, id) as Record<string, unknown> | undefined;
    return entity !== undefined && sameValue(entity[c.field] ?? null, c.before[i] ?? null);
  });
  return {
    ...c,
    ids: c.ids.filter((_, i) => keep[i]),
    before: c.before.filter((_, i) => keep[i]),
    after: c.after.filter((_, i) => keep[i]),
  };
}

/** Equality of plain JSON values. */
export function sameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  // Matrices are compared by the thousand while they are dragged: without making text of them.
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((v, i) => sameValue(v, b[i]));
  return JSON.stringify(a) === JSON.stringify(b);
}
