import type { Hatching } from '../../../../session/hatching';
import { OnePointer } from '../one-pointer';

/** The pen draws the guides of hatching; what two of them hold is kept when another pair begins. */
export class HatchGestures extends OnePointer {
  constructor(private readonly hatching: Hatching | undefined) {
    super();
  }

  start(): void {
    if (this.hatching?.guides.now().length === 2) this.hatching.keepNow();
    this.hatching?.start();
  }

  move({ x, y }: { x: number; y: number }): void {
    this.hatching?.move(x, y);
  }

  end(): void {
    this.hatching?.end();
  }

  drop(): void {
    this.hatching?.drop();
  }
}
