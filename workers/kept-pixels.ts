import type { Pixels } from '../core/raster/pixels';

/** One act of the artist, as far as its pixels are concerned: what it undoes, if it undoes one. */
export interface StepName {
  id: string;
  undoes?: string;
}

interface KeptStep {
  id: string;
  /** States of the ink as a whole. */
  before: number;
  after: number;
  /** What touched tiles showed before, by key. */
  tiles: Map<string, Pixels>;
  bytes: number;
}

const MOST_STEPS = 20;

/**
 * The pixels that the last steps covered, so that an undo paints what was there and draws nothing. They are given back
 * only where the ink as a whole is as it was right after the step that is undone; then, with that step gone, it is as
 * it was before it, to the last pixel. An undo keeps pixels, too: for the redo.
 */
export class KeptPixels {
  private steps: KeptStep[] = [];
  private bytes = 0;
  /** The state of the ink now; equal states look the same. */
  private state = 0;
  private states = 0;
  private current: KeptStep | undefined;

  /** @param limitBytes of all that is kept; the oldest steps go first. */
  constructor(private readonly limitBytes: number) {}

  clear(): void {
    this.steps = [];
    this.bytes = 0;
    this.current = undefined;
    this.state = ++this.states;
  }

  /**
   * Begins a step that changes the ink.
   * @returns what the tiles showed before the step that this one undoes, or undefined when that is not known any more.
   */
  begin(step: StepName | undefined): ReadonlyMap<string, Pixels> | undefined {
    const undone = step?.undoes === undefined ? undefined : this.steps.find((kept) => kept.id === step.undoes);
    const given = undone?.after === this.state ? undone : undefined;
    const after = given ? given.before : ++this.states;
    this.current = step && { id: step.id, before: this.state, after, tiles: new Map(), bytes: 0 };
    this.state = after;
    // What takes it back, or does it again, keeps what is needed from now on: each of the last steps has its place.
    if (given) this.forget(given);
    return given?.tiles;
  }

  private forget(kept: KeptStep): void {
    this.steps.splice(this.steps.indexOf(kept), 1);
    this.bytes -= kept.bytes;
  }

  /** What tiles would show if the artist took back, or did again, what is next: by key. */
  *next(): Generator<[key: string, pixels: Pixels]> {
    for (const kept of this.steps) if (kept.after === this.state) yield* kept.tiles;
  }

  /** Keeps what a tile shows before the step that has begun. They must not be drawn on any more. */
  keep(key: string, pixels: Pixels): void {
    const { current } = this;
    if (!current || current.tiles.has(key)) return;
    current.tiles.set(key, pixels);
    current.bytes += pixels.data.byteLength;
  }

  /** Ends the step, and forgets the oldest beyond the limits. */
  end(): void {
    const { current } = this;
    this.current = undefined;
    if (!current || current.bytes > this.limitBytes) return;
    this.steps.push(current);
    this.bytes += current.bytes;
    while (this.steps.length > MOST_STEPS || this.bytes > this.limitBytes) this.forget(this.steps[0]);
  }
}
