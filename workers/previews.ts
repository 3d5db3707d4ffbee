import { sameValue } from '../core/sheet/history';
import { fieldKey, fieldKeys, type Assign, type Change, type Read } from '../core/sheet/steps';

/** Which values of a sheet's strokes are shown otherwise than its steps have made them. */
export class Previews {
  private readonly fields = new Set<string>();

  /** Strokes are shown with these values. @param read what the sheet has. */
  show(changes: readonly Assign[], read: Read): void {
    for (const { table, field, ids, after } of changes)
      ids.forEach((id, i) => {
        const entity = read(table, id) as Record<string, unknown> | undefined;
        const isSame = sameValue(entity?.[field] ?? null, after[i] ?? null);
        if (isSame) this.fields.delete(fieldKey(table, id, field));
        else this.fields.add(fieldKey(table, id, field));
      });
  }

  /** A step has set its fields: they are shown as it says. */
  done(changes: readonly Change[]): void {
    if (!this.fields.size) return;
    for (const change of changes) for (const key of fieldKeys(change)) this.fields.delete(key);
  }

  clear(): void {
    this.fields.clear();
  }

  /** Something is shown that no step has made. */
  get stand(): boolean {
    return this.fields.size > 0;
  }
}
