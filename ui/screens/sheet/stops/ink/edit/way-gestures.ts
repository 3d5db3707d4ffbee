import type { WayEdit } from '../../../../../session/way-edit';
import { OnePointer } from '../../one-pointer';

/** The pen goes along a way, which is an edit when it is lifted. */
export class WayGestures extends OnePointer {
  constructor(private readonly edit: WayEdit) {
    super();
  }

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
}
