import type { Pouring } from '../../../../session/pouring';
import { colouringSlice } from '../../../../store/colouring-slice';
import type { AppStore } from '../../../../store/store';
import { OnePointer } from '../one-pointer';

/** The pen looks for a colour, and takes the one it is lifted from. */
export class PickColourGestures extends OnePointer {
  private last: Promise<void> = Promise.resolve();

  constructor(
    private readonly pouring: Pouring | undefined,
    private readonly store: AppStore,
  ) {
    super();
  }

  start(): void {
    this.pouring?.picker.begin();
  }

  move({ x, y }: { x: number; y: number }): void {
    const { picking } = this.store.getState().colouring;
    if (picking && this.pouring) this.last = this.pouring.picker.move(x, y, picking);
  }

  end(): void {
    void this.last.then(() => {
      const colour = this.pouring?.picker.sample.now()?.colour;
      this.pouring?.picker.end();
      if (colour) this.store.dispatch(colouringSlice.actions.set({ colour, picking: null }));
    });
  }

  drop(): void {
    this.pouring?.picker.drop();
  }
}
