import { InkLines } from '../../core/areas/ink-lines';
import { AreaFinder } from '../../core/fill/area-finder';
import { following, type ChangedInk } from '../../core/fill/following';
import { POUR_PEN } from '../../core/fill/pour-path';
import { pourTarget, shapesLike, shapesWithin, type PourTarget } from '../../core/fill/pouring';
import type { Place } from '../../core/fill/shape-inside';
import { unfilledShapes } from '../../core/fill/unfilled';
import { finish } from '../../core/sheet/ink-work';
import type { PaperSize } from '../../core/sheet/paper';
import { putRows } from '../../core/sheet/steps';
import { IDENTITY } from '../../core/geometry/matrix';
import { plainNode, type StrokePath } from '../../core/stroke/path';
import { inkLayer, strokeEntity, TestSheet } from './sheets';

/** A path through places, its points corners. @param xy `x, y, ...` */
export const polyline = (closed: boolean, ...xy: number[]): StrokePath => ({
  closed,
  nodes: Array.from({ length: xy.length / 2 }, (_, i) => plainNode(xy[2 * i], xy[2 * i + 1], 'corner')),
});

/** A sheet whose layer "flats" is poured on, between the lines of "lines". */
export class PouredSheet extends TestSheet {
  readonly finder = new AreaFinder(new InkLines());
  readonly paper: PaperSize;
  private poured = 0;

  constructor(
    side: number,
    readonly gapPx = 8,
  ) {
    super();
    this.paper = { widthPx: side, heightPx: side, ppi: 300 };
    this.put([putRows('layers', inkLayer('flats', { kind: 'colour', order: 'Zz' }))], []);
  }

  get bounds() {
    return { against: ['lines'], gapPx: this.gapPx };
  }

  target(...at: Place): PourTarget | undefined {
    return finish(pourTarget(this.ink, this.finder, this.paper, this.bounds, 'flats', at));
  }

  alike(...at: Place): PourTarget[] {
    return finish(shapesLike(this.ink, this.finder, this.paper, this.bounds, 'flats', at));
  }

  within(...loop: number[]): PourTarget[] {
    const places = Float64Array.from(loop);
    return finish(shapesWithin(this.ink, this.finder, this.paper, this.bounds, 'flats', places));
  }

  unfilled() {
    return finish(
      unfilledShapes(this.ink, this.finder, this.paper, this.bounds, { colourIds: ['flats'], inkIds: ['lines'] }),
    );
  }

  /** Pours colour at a place. @returns the id of the pour, or undefined where there is no shape. */
  pour(at: Place, colour = '#c08040', tied = true): string | undefined {
    const target = this.target(...at);
    if (!target) return undefined;
    if (target.pouredId !== undefined) {
      if (this.model.strokes.get(target.pouredId)!.colour !== colour) this.set(target.pouredId, 'colour', colour);
      return target.pouredId;
    }
    const id = `pour${this.poured++}`;
    const order = `a${String(this.poured).padStart(6, '0')}`;
    const pour = { seeds: [at], ...this.bounds };
    const stroke = strokeEntity(id, { layerId: 'flats', order, colour, pen: POUR_PEN, matrix: IDENTITY, pour, tied });
    this.put([putRows('strokes', stroke)], [[id, target.shape.bytes]]);
    return id;
  }

  follow(...changed: ChangedInk[]) {
    return finish(following(this.ink, this.finder, this.paper, ['flats'], changed));
  }
}
