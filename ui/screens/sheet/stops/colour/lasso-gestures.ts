import type { Pouring } from '../../../../session/pouring';
import { colouringSlice } from '../../../../store/colouring-slice';
import type { AppStore } from '../../../../store/store';
import { OnePointer } from '../one-pointer';

/** The pen goes around shapes, which are poured when it is lifted. */
export class LassoGestures extends OnePointer {
  private places: [number, number][] = [];

  constructor(
    private readonly pouring: Pouring | undefined,
    private readonly store: AppStore,
  ) {
    super();
  }

  start(): void {
    this.places = [];
  }

  move({ x, y }: { x: number; y: number }): void {
    this.places.push([x, y]);
    this.pouring?.lasso.set([...this.places]);
  }

  end(): void {
    const { pouring, places } = this;
    const { colouring } = this.store.getState();
    this.drop();
    if (!pouring || places.length < 3) return;
    void pouring.pourWithin(Float64Array.from(places.flat()), colouring).then((isPoured) => {
      if (isPoured) this.store.dispatch(colouringSlice.actions.used(colouring.colour));
    });
  }

  drop(): void {
    this.places = [];
    this.pouring?.lasso.set([]);
  }
}
