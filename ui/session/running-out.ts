import type { FoundLeak } from '../../core/check/found-leak';
import type { Bounds } from '../../core/fill/area-finder';
import type { PourTarget } from '../../core/fill/pouring';
import { floods, type Flooded, type RanOut } from '../../core/fill/ran-out';
import { bringNear } from '../canvas/bring-near';
import type { ColouringState } from '../store/colouring-slice';
import { widestGapPx } from './checking';
import type { SheetSession } from './session';
import { sizeWords } from './size-words';
import { Watched } from './watched';

/** How a pour is made. */
export type PourWay = Pick<ColouringState, 'colour' | 'alike' | 'tied'>;

/** Colour would run out of these shapes: nothing is poured until it is said what is to be done. */
export interface RunningOutQuestion {
  outs: readonly RanOut[];
  /** What is poured all the same. */
  rest: readonly PourTarget[];
  way: PourWay;
  /** They lie in a loop; the rest is what is closed in it. */
  isLoop: boolean;
}

/** Looks whether colour runs out of the shape that it is meant for, and asks what is to be done about it. */
export class RunningOut {
  readonly question = new Watched<RunningOutQuestion | undefined>(undefined);
  private at = -1;

  constructor(private readonly session: SheetSession) {}

  /** Whether a shape is so large that it is to be looked at; one that is poured already would be another colour all over. */
  isDoubtful(target: PourTarget): boolean {
    return floods(floodedBy(target), this.session.paper);
  }

  /** Looks at what a tap would pour. @returns whether it is asked about. */
  async looksAt(target: PourTarget, bounds: Bounds, layerId: string | undefined, way: PourWay): Promise<boolean> {
    const ask = { what: 'ran-out', bounds, layerId, flooded: floodedBy(target), widePx: this.widePx } as const;
    const out = await this.session.client.colour<'ran-out'>(ask);
    return this.put(out ? [out] : [], { rest: [target], way, isLoop: false });
  }

  /** Looks at what else lies in a loop. @returns whether it is asked about. */
  async looksWithin(
    loop: Float64Array,
    closed: readonly PourTarget[],
    bounds: Bounds,
    layerId: string | undefined,
    way: PourWay,
  ): Promise<boolean> {
    const borders = closed.map(({ rings }) => rings);
    const ask = { what: 'ran-out-within', bounds, layerId, loop, closed: borders, widePx: this.widePx } as const;
    const outs = await this.session.client.colour<'ran-out-within'>(ask);
    return this.put(outs ?? [], { rest: closed, way, isLoop: true });
  }

  private put(outs: readonly RanOut[], about: Omit<RunningOutQuestion, 'outs'>): boolean {
    this.at = -1;
    this.question.set(outs.length ? { outs, ...about } : undefined);
    return outs.length > 0;
  }

  private get widePx(): number {
    return widestGapPx(this.session.paper);
  }

  leaks(): readonly FoundLeak[] {
    return this.question.now()?.outs.flatMap(({ leaks }) => leaks) ?? [];
  }

  /** What is said of it. */
  words(): string {
    const { outs = [], isLoop = false } = this.question.now() ?? {};
    const leaks = this.leaks();
    const most = sizeWords(Math.max(0, ...leaks.map(({ gapPx }) => gapPx)), this.session.paper);
    const gaps = leaks.length === 1 ? `a gap of ${most}` : `${leaks.length} gaps, the widest ${most}`;
    if (!isLoop) return `Ran out here: ${gaps}.`;
    return `${outs.length === 1 ? 'One shape' : `${outs.length} shapes`} in the loop ran out: ${gaps}.`;
  }

  /** Shows the next of the gaps in the middle of what is free. */
  showNext(): void {
    const { stage } = this.session;
    const leaks = this.leaks();
    if (!stage || !leaks.length) return;
    this.at = (this.at + 1) % leaks.length;
    const { x, y, gapPx } = leaks[this.at];
    bringNear(stage, x, y, gapPx);
  }

  letGo(): void {
    if (this.question.now()) this.question.set(undefined);
  }
}

const floodedBy = ({ shape, reachesEdge }: PourTarget): Flooded => ({ at: shape.seed, size: shape.size, reachesEdge });
