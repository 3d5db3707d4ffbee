import { nanoid } from 'nanoid';
import { snippingChanges, type Snip } from '../../core/sheet/snipping';
import { isTooLarge } from '../../core/sheet/step-size';
import { oneAtATime } from './one-at-a-time';
import { answered, lineCount, pickableLayers, seenLayers, tooMany } from './pickable';
import type { SheetSession } from './session';

/** A line is touched within so many CSS px of its edge. */
const REACH_PX = 12;
/** Places of the pen closer to each other than this are one, CSS px. */
const LEAST_PX = 2;

/** Takes parts of lines away, up to where others cross them; what would go is shown while the pen is down. */
export class Snipping {
  private way: number[] | undefined;
  /** The stretches that would go now, `[x, y, radius, ...]` each, paper px. */
  shown: readonly Float32Array[] = NONE;
  private readonly listeners = new Set<() => void>();

  /** @param tell says to the artist why nothing happened. */
  constructor(
    private readonly session: SheetSession,
    private readonly tell: (text: string) => void,
  ) {}

  /** Tells when something else is shown. @returns stops telling. */
  watchShown(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  /** The pen is down there, or goes on to there, paper px. */
  follow({ x, y }: { x: number; y: number }): void {
    const { way } = this;
    if (!way) this.way = [x, y];
    else if (Math.hypot(x - way[way.length - 2], y - way[way.length - 1]) * this.scale < LEAST_PX) return;
    else way.push(x, y);
    this.look();
  }

  drop(): void {
    this.way = undefined;
    this.show(NONE);
  }

  /** What was touched goes. @returns when that is on this device's disk. */
  async end(): Promise<void> {
    const { way } = this;
    this.way = undefined;
    if (!way) return;
    const snips = await this.ask(way);
    const { changes, parts } = snippingChanges(snips, (id) => this.session.model.strokes.get(id), nanoid);
    if (isTooLarge(changes, parts)) this.tell(tooMany(snips.length));
    else if (changes.length) await this.session.act(`Snip ${lineCount(snips.length)}`, changes, { parts });
    // Another may have begun meanwhile.
    if (!this.way) this.show(NONE);
  }

  private get scale(): number {
    return this.session.stage?.view.scale ?? 1;
  }

  private ask(way: readonly number[]): Promise<Snip[]> {
    const ids = (layers: readonly { id: string }[]) => layers.map(({ id }) => id);
    const layerIds = ids(pickableLayers(this.session));
    const boundIds = ids(seenLayers(this.session));
    const reach = REACH_PX / this.scale;
    const { client } = this.session;
    return answered(
      this.session,
      this.tell,
      () => client.snipsAlong(layerIds, boundIds, Float64Array.from(way), reach),
      [],
    );
  }

  private readonly look = oneAtATime(async () => {
    const { way } = this;
    if (!way) return;
    const snips = await this.ask(way);
    if (this.way === way) this.show(snips.flatMap(({ removed }) => removed));
  });

  private show(lines: readonly Float32Array[]): void {
    if (this.shown === lines) return;
    this.shown = lines;
    for (const listener of this.listeners) listener();
  }
}

const NONE: readonly Float32Array[] = [];
