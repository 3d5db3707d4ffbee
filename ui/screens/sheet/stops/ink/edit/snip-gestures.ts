import type { Snipping } from '../../../../../session/snipping';
import type { PaperGestures } from '../../stop';

/** A tap takes the part of a line there, a drag those that it crosses. */
export class SnipGestures implements PaperGestures {
  constructor(private readonly snipping: Snipping) {}

  start(): void {
    this.snipping.drop();
  }

  move(at: { x: number; y: number }): void {
    this.snipping.follow(at);
  }

  end(): void {
    void this.snipping.end();
  }

  drop(): void {
    this.snipping.drop();
  }

  takesTwo(): boolean {
    return false;
  }

  moveTwo(): void {}

  endTwo(): void {}
}
