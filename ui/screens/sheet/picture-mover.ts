import { toPaper } from '../../../core/geometry/view';
import type { Placement, ReferenceLayer } from '../../../core/sheet/entities';
import { movePlacement } from '../../../core/sheet/placement';
import type { SheetSession } from '../../sheet/session';
import { placePicture } from '../../sheet/stack-actions';

/** Moves a picture with the fingers: shown at once, one step when the gesture ends. */
export class PictureMover {
  private draft: { layer: ReferenceLayer; placement: Placement } | undefined;

  constructor(private readonly session: SheetSession) {}

  begin(layerId: string): void {
    const layer = this.session.model.layers.get(layerId);
    this.draft = layer?.kind === 'reference' && !layer.deleted ? { layer, placement: layer.placement } : undefined;
  }

  /** A gesture in viewport px, as the arbiter tells it. */
  move(from: [number, number], to: [number, number], factor: number, turnDeg: number): void {
    const { stage, model } = this.session;
    if (!this.draft || !stage) return;
    const a = toPaper(stage.view, ...from);
    const b = toPaper(stage.view, ...to);
    this.draft.placement = movePlacement(this.draft.placement, a, b, factor, turnDeg);
    const { layer, placement } = this.draft;
    const stack = model.stack().map((l) => (l.id === layer.id ? { ...layer, placement } : l));
    stage.setSheet(stack, model.settings);
  }

  end(withInk: boolean): void {
    const { draft } = this;
    this.draft = undefined;
    if (draft && draft.placement !== draft.layer.placement)
      void placePicture(this.session, draft.layer, draft.placement, withInk);
  }

  /** Moves by paper px at once (arrow keys). */
  nudge(layerId: string, dx: number, dy: number, withInk: boolean): void {
    const layer = this.session.model.layers.get(layerId);
    if (layer?.kind !== 'reference') return;
    const { placement } = layer;
    void placePicture(this.session, layer, { ...placement, cx: placement.cx + dx, cy: placement.cy + dy }, withInk);
  }
}
