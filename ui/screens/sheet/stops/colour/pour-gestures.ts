import type { Pouring } from '../../../../session/pouring';
import { colouringSlice } from '../../../../store/colouring-slice';
import type { AppStore } from '../../../../store/store';
import { OnePointer } from '../one-pointer';

/** The pen goes over shapes, which are poured when it is lifted. */
export class PourGestures extends OnePointer {
  constructor(
    private readonly pouring: Pouring | undefined,
    private readonly store: AppStore,
  ) {
    super();
  }

  start(): void {
    this.pouring?.start();
  }

  move({ x, y }: { x: number; y: number }): void {
    this.pouring?.move([x, y]);
  }

  end(): void {
    const { colouring } = this.store.getState();
    void this.pouring?.end(colouring).then((isPoured) => {
      if (isPoured) this.store.dispatch(colouringSlice.actions.used(colouring.colour));
    });
  }

  drop(): void {
    this.pouring?.drop();
  }
}
