import { sameValue } from '../core/sheet/history';
import type { Assign, Change, Read } from '../core/sheet/steps';

/** Which values of a sheet's strokes are shown otherwise than its steps have made them. */
export class Previews {
  private readonly fields = new Set<string>();

  /** Strokes are shown with these values. @param read what the sheet has. */
  show(changes: readonly Assign[], read: Read): void {
    for (const { table, field, ids, after } of changes)
      ids.forEach((id, i) => {
        const entity = read(table, id) as Record<string, unknown> | undefined;
        const isSame = sameValue(entity?.[field] ?? null, after[i] ?? null);
        if (isSame) this.fields.delete(keyOf(table, field, id));
        else this.fields.add(keyOf(table, field, id));
      });
  }

  /** A step has set its fields: they are shown as it says. */
  done(changes: readonly Change[]): void {
    if (!this.fields.size) return;
    for (const change of changes)
      if (change.op === 'set') for (const id of change.ids) this.fields.delete(keyOf(change.table, change.field, id));
  }

  clear(): void {
    this.fields.clear();
  }

  /** Something is shown that no step has made. */
  get stand(): boolean {
    return this.fields.size > 0;
  }
}

const keyOf = (table: string, field: string, id: string): string => `${table}/${field}/${id}`;
