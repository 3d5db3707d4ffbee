import type { Bending } from '../../../../../session/bending';
import type { PaperGestures } from '../../stop';

type Place = { x: number; y: number };

/** A touch pulls the line in the hand; elsewhere it takes the line there into the hand, and pulls that. */
export class BendGestures implements PaperGestures {
  private first: Place | undefined;
  private last: Place | undefined;

  constructor(private readonly bending: Bending) {}

  start(): void {
    this.first = this.last = undefined;
  }

  move(at: Place): void {
    this.last = at;
    if (this.first) return this.bending.move(at);
    this.first = at;
    if (this.bending.reaches(at)) this.bending.begin(at);
    else void this.takeAt(at);
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
    void this.bending.end();
  }

  drop(): void {
    this.first = undefined;
    this.bending.drop();
  }

  takesTwo(): boolean {
    return false;
  }

  moveTwo(): void {}

  endTwo(): void {}
}
