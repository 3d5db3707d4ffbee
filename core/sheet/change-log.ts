/** So many of the latest changes are remembered. */
const MOST = 4096;

/** Which things have changed lately, by the count of the changes. */
export class ChangeLog {
  private ids: string[] = [];
  private revisions: number[] = [];
  /** Of all that changed after this revision is known what it was. */
  private knownSince: number;

  constructor(revision: number) {
    this.knownSince = revision;
  }

  note(id: string, revision: number): void {
    this.ids.push(id);
    this.revisions.push(revision);
    if (this.ids.length <= MOST) return;
    // Half of them go at once: moving all for each would take longer than the changes.
    const gone = this.ids.length >> 1;
    this.knownSince = this.revisions[gone - 1];
    this.ids = this.ids.slice(gone);
    this.revisions = this.revisions.slice(gone);
  }

  /** What has changed after a revision; undefined: too much to know. */
  since(revision: number): Set<string> | undefined {
    if (revision < this.knownSince) return undefined;
    const changed = new Set<string>();
    for (let n = this.ids.length - 1; n >= 0 && this.revisions[n] > revision; n--) changed.add(this.ids[n]);
    return changed;
  }
}
