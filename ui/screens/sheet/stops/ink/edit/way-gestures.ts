import type { WayEdit } from '../../../../../session/way-edit';
import type { PaperGestures } from '../../stop';

/** The pen goes along a way, which is an edit when it is lifted. */
export class WayGestures implements PaperGestures {
  constructor(private readonly edit: WayEdit) {}

  start(): void {
    this.edit.drop();
  }

  move(at: { x: number; y: number }): void {
    this.edit.follow(at);
  }

  end(): void {
    void this.edit.end();
  }

  drop(): void {
    this.edit.drop();
  }

  takesTwo(): boolean {
    return false;
  }

  moveTwo(): void {}

  endTwo(): void {}
}
