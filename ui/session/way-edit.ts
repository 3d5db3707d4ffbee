import { nanoid } from 'nanoid';
import type { Mended } from '../../core/sheet/mending';
import { replacementChanges } from '../../core/sheet/replacing';
import { snippingChanges, type Snip } from '../../core/sheet/snipping';
import { isTooLarge } from '../../core/sheet/step-size';
import type { Change } from '../../core/sheet/steps';
import { oneAtATime } from './one-at-a-time';
import { answered, lineCount, pickableLayers, seenLayers, tooMany } from './pickable';
import type { SheetSession } from './session';

/** A line is touched within so many CSS px of its edge. */
const REACH_PX = 12;
/** Places of the pen closer to each other than this are one, CSS px. */
const LEAST_PX = 2;

/** What lines become where the pen goes along a way. */
interface WayEditKind<T> {
  /** @param way `[x, y, ...]` paper px. @returns undefined: nothing. */
  find(session: SheetSession, way: Float64Array, reach: number): Promise<T | undefined>;
  /** The stretches in question, `[x, y, radius, ...]` each, paper px. */
  shown(found: T): Float32Array[];
  /** @returns no changes where the lines have gone meanwhile. */
  step(
    found: T,
    session: SheetSession,
  ): { label: string; changes: Change[]; parts: [string, Uint8Array][]; lines: number };
  /** What to say where nothing was found. */
  nothing?: string;
}

const ids = (layers: readonly { id: string }[]): string[] => layers.map(({ id }) => id);

/** Parts of lines go, up to where others cross them. */
export const SNIP: WayEditKind<Snip[]> = {
  find: (session, way, reach) =>
    session.client.snipsAlong(ids(pickableLayers(session)), ids(seenLayers(session)), way, reach),
  shown: (snips) => snips.flatMap(({ removed }) => removed),
  step: (snips, { model }) => ({
    label: `Snip ${lineCount(snips.length)}`,
    lines: snips.length,
    ...snippingChanges(snips, (id) => model.strokes.get(id), nanoid),
  }),
};

/** A line takes the way that the pen goes from it and back to it. */
export const MEND: WayEditKind<Mended> = {
  find: (session, way, reach) => session.client.mendAlong(ids(pickableLayers(session)), way, reach),
  shown: ({ way }) => [way],
  step: (mended, { model }) => {
    const stroke = model.strokes.get(mended.id);
    const made = stroke && !stroke.deleted ? replacementChanges(stroke, mended, nanoid) : { changes: [], parts: [] };
    return { label: 'Mend line', lines: 1, ...made };
  },
  nothing: 'No line is near where this begins or ends, so nothing was changed. Begin on the line, and end on it.',
};

/** An edit that is made by going along a way; what it would do is shown while the pen is down. */
export class WayEdit<T = unknown> {
  private way: number[] | undefined;
  /** The stretches that would change now, `[x, y, radius, ...]` each, paper px. */
  shown: readonly Float32Array[] = NONE;
  private readonly listeners = new Set<() => void>();

  /** @param tell says to the artist why nothing happened. */
  constructor(
    private readonly session: SheetSession,
    private readonly tell: (text: string) => void,
    private readonly kind: WayEditKind<T>,
  ) {}

  /** Tells when something else is shown. @returns stops telling. */
  watchShown(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  /** Where the pen has gone, `[x, y, ...]` paper px; undefined while it is up. */
  get drawn(): readonly number[] | undefined {
    return this.way;
  }

  /** The pen is down there, or goes on to there, paper px. */
  follow({ x, y }: { x: number; y: number }): void {
    const { way } = this;
    if (!way) this.way = [x, y];
    else if (Math.hypot(x - way[way.length - 2], y - way[way.length - 1]) * this.scale < LEAST_PX) return;
    else way.push(x, y);
    this.tellShown();
    this.look();
  }

  drop(): void {
    this.way = undefined;
    this.shown = NONE;
    this.tellShown();
  }

  /** What was shown is done. @returns when that is on this device's disk. */
  async end(): Promise<void> {
    const { way } = this;
    this.way = undefined;
    if (!way) return;
    const found = await this.find(way, this.tell);
    if (found === undefined && this.kind.nothing) this.tell(this.kind.nothing);
    if (found) await this.act(found);
    // Another may have begun meanwhile.
    if (!this.way) this.drop();
  }

  private async act(found: T): Promise<void> {
    const { label, changes, parts, lines } = this.kind.step(found, this.session);
    if (isTooLarge(changes, parts)) this.tell(tooMany(lines));
    else if (changes.length) await this.session.act(label, changes, { parts });
  }

  private get scale(): number {
    return this.session.stage?.view.scale ?? 1;
  }

  /** @returns null: it cannot be known now, which is told. */
  private find(way: readonly number[], tell: (text: string) => void): Promise<T | undefined | null> {
    const ask = () => this.kind.find(this.session, Float64Array.from(way), REACH_PX / this.scale);
    return answered<T | undefined | null>(this.session, tell, ask, null);
  }

  private readonly look = oneAtATime(async () => {
    const { way } = this;
    if (!way) return;
    // What cannot be known is told once, when the pen is lifted.
    const found = await this.find(way, () => undefined);
    if (this.way !== way) return;
    this.shown = found ? this.kind.shown(found) : NONE;
    this.tellShown();
  });

  private tellShown(): void {
    for (const listener of this.listeners) listener();
  }
}

const NONE: readonly Float32Array[] = [];
