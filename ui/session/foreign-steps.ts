import type { AnyEntity } from '../../core/sheet/entities';
import { fieldKeys, partsNamedBy, type Assign, type Change, type Read, type Step } from '../../core/sheet/steps';
import { sameValue } from '../../core/sheet/history';
import type { Parts } from '../../contract/frame';

/** The fields that waiting steps of ours will set. */
export const fieldsOf = (waiting: Iterable<Pick<Step, 'changes'>>): ReadonlySet<string> => {
  const fields = new Set<string>();
  for (const { changes } of waiting) for (const c of changes) for (const key of fieldKeys(c)) fields.add(key);
  return fields;
};

/**
 * What of a step that the server numbered is to be done here: sets of fields that a waiting step of
 * ours will set later are left out (ours will be the later one), and so is what stands already.
 * Replayed in the order of their numbers, steps end with the same drawing on every device.
 * @param ours the fields that our waiting steps set.
 */
export function changesToTake(step: Step, ours: ReadonlySet<string>, read: Read): Change[] {
  return step.changes.flatMap((change): Change[] => {
    if (change.op === 'put') {
      const rows = change.rows.filter((row) => !read(change.table, row.id));
      return rows.length ? [{ ...change, rows }] : [];
    }
    const keys = fieldKeys(change);
    const part = picked(change, (id, i) => {
      const entity = read(change.table, id) as (AnyEntity & Record<string, unknown>) | undefined;
      return !ours.has(keys[i]) && !(entity && sameValue(entity[change.field], change.after[i]));
    });
    return part.ids.length ? [part] : [];
  });
}

/** A step without what it did to layers and settings. */
export const inkOf = (step: Step): Step => ({
  ...step,
  changes: step.changes.filter((c) => c.table === 'strokes' || c.table === 'erasures'),
});

/** The part of an assignment about the ids that `keep` says. */
function picked(change: Assign, keep: (id: string, i: number) => boolean): Assign {
  const kept = change.ids.map(keep);
  const pick = <T>(values: T[]) => values.filter((_, i) => kept[i]);
  return { ...change, ids: pick(change.ids), before: pick(change.before), after: pick(change.after) };
}

/** The samples that changes bring. */
export function partsOf(changes: readonly Change[], parts: Parts): [string, Uint8Array][] {
  const fresh = new Set(changes.flatMap(partsNamedBy));
  return [...fresh].flatMap((id): [string, Uint8Array][] => {
    const bytes = parts.get(id);
    return bytes ? [[id, bytes]] : [];
  });
}
