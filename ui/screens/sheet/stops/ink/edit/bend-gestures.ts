import type { NodeKind } from '../../../../../../core/stroke/path';
import type { Bending } from '../../../../../session/bending';
import { OnePointer } from '../../one-pointer';

type Place = { x: number; y: number };

/** What a touch of the paper beside the line in the hand does, and one of a node that does not move it. */
export interface BendWays {
  /** The line there is taken into the hand; or the line goes on to there, by a node of this kind. */
  beside: 'take' | NodeKind;
  tapped: 'takes-away' | 'chooses' | 'ends';
}

/** A touch pulls the line in the hand. */
export class BendGestures extends OnePointer {
  private first: Place | undefined;
  private last: Place | undefined;

  constructor(
    private readonly bending: Bending,
    private readonly ways: BendWays,
  ) {
    super();
  }

  start(): void {
    this.first = this.last = undefined;
  }

  move(at: Place): void {
    this.last = at;
    if (this.first) return this.bending.move(at);
    this.first = at;
    if (this.bending.reaches(at)) this.bending.begin(at);
    else if (this.ways.beside === 'take') void this.takeAt(at);
    else this.bending.goOn(at, this.ways.beside);
  }

  private async takeAt(at: Place): Promise<void> {
    await this.bending.holdAt(at);
    // The pen may have gone on meanwhile, or have left.
    if (this.first !== at || !this.bending.reaches(at)) return;
    this.bending.begin(at);
    if (this.last) this.bending.move(this.last);
  }

  end(): void {
    this.first = undefined;
    void this.bending.end((at) => this.tap(at));
  }

  private tap(at: number): Promise<void> | void {
    const { bending } = this;
    const last = (bending.nodes?.length ?? 0) - 1;
    const isEnd = at === 0 || at === last;
    if (this.ways.tapped === 'takes-away' && !isEnd) return bending.takeAway();
    if (this.ways.tapped !== 'ends' || !isEnd) return;
    if (at === 0 && last > 1) return bending.close();
    if (at === last) bending.release();
  }

  drop(): void {
    this.first = undefined;
    this.bending.drop();
  }
}
