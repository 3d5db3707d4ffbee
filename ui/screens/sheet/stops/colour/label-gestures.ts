import type { Labelling } from '../../../../session/labelling';
import type { PaperGestures } from '../stop';

/** The pen chooses labels, drags them, and says where one begins; two fingers on the chosen one move, size and turn it. */
export class LabelGestures implements PaperGestures {
  private isDown = false;

  constructor(private readonly labelling: Labelling | undefined) {}

  start(): void {
    this.isDown = false;
  }

  move({ x, y }: { x: number; y: number }): void {
    if (this.isDown) this.labelling?.drag(x, y);
    else this.labelling?.down(x, y);
    this.isDown = true;
  }

  end(): void {
    this.labelling?.up();
  }

  drop(): void {
    this.labelling?.drop();
  }

  takesTwo(x: number, y: number): boolean {
    return this.labelling?.isOnChosen(x, y) ?? false;
  }

  moveTwo(from: readonly [number, number], to: readonly [number, number], factor: number, turnDeg: number): void {
    this.labelling?.moveTwo(from, to, factor, turnDeg);
  }

  endTwo(): void {
    void this.labelling?.keepShown();
  }
}
