/** Which strokes were severed into which: parts by the stroke that they come from. */
export class Lineage {
  private readonly parents = new Map<string, string>();
  private readonly parts = new Map<string, string[]>();

  add(id: string, of: string): void {
    if (this.parents.has(id)) return;
    this.parents.set(id, of);
    const known = this.parts.get(of);
    if (known) known.push(id);
    else this.parts.set(of, [id]);
  }

  /** A stroke and those that it comes from, itself first. */
  *upwards(id: string): Generator<string> {
    // A stroke that is said to come from itself, by however many between, is taken for the first.
    const seen = new Set<string>();
    for (let at: string | undefined = id; at !== undefined && !seen.has(at); at = this.parents.get(at)) {
      seen.add(at);
      yield at;
    }
  }

  /** All that came of a stroke, itself first. */
  *downwards(id: string): Generator<string> {
    const seen = new Set([id]);
    for (const at of seen) {
      yield at;
      for (const part of this.parts.get(at) ?? []) seen.add(part);
    }
  }
}
