import { toPaper } from '../../../core/geometry/view';
import type { Placement, ReferenceLayer } from '../../../core/sheet/entities';
import { movePlacement } from '../../../core/sheet/placement';
import type { SheetSession } from '../../sheet/session';
import { placePicture } from '../../sheet/stack-actions';

/** Moves a picture with fingers, handles or keys: shown at once, one step when the gesture ends. */
export class PictureMover {
  private readonly listeners = new Set<() => void>();
  private draft: { layer: ReferenceLayer; placement: Placement } | undefined;

  constructor(private readonly session: SheetSession) {}

  /** Tells of each movement that is shown before it is kept. @returns stops telling. */
  watchDraft(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  begin(layerId: string): void {
    const layer = this.reference(layerId);
    this.draft = layer && { layer, placement: layer.placement };
  }

  /** A picture's placement as it is shown now. */
  placementOf(layerId: string): Placement | undefined {
    return this.draft?.layer.id === layerId ? this.draft.placement : this.reference(layerId)?.placement;
  }

  /** A gesture in viewport px, as the arbiter tells it. */
  move(from: readonly [number, number], to: readonly [number, number], factor: number, turnDeg: number): void {
    const { stage, model } = this.session;
    if (!this.draft || !stage) return;
    const a = toPaper(stage.view, ...from);
    const b = toPaper(stage.view, ...to);
    this.draft.placement = movePlacement(this.draft.placement, a, b, factor, turnDeg);
    const { layer, placement } = this.draft;
    const stack = model.stack().map((l) => (l.id === layer.id ? { ...layer, placement } : l));
    stage.setSheet(stack, model.settings);
    this.tell();
  }

  /** Keeps what was shown. */
  end(withInk: boolean): void {
    const { draft } = this;
    this.draft = undefined;
    if (draft && draft.placement !== draft.layer.placement)
      void placePicture(this.session, draft.layer, draft.placement, withInk);
  }

  /** Takes back what was shown: the gesture was broken off. */
  drop(): void {
    this.draft = undefined;
    this.session.stage?.setSheet(this.session.model.stack(), this.session.model.settings);
    this.tell();
  }

  /** One movement at once, kept (keys): by paper px, a factor and degrees, about the picture's centre. */
  nudge(layerId: string, by: { dx?: number; dy?: number; factor?: number; turnDeg?: number }, withInk: boolean): void {
    const layer = this.reference(layerId);
    if (!layer) return;
    const { cx, cy } = layer.placement;
    const to = [cx + (by.dx ?? 0), cy + (by.dy ?? 0)] as const;
    const placement = movePlacement(layer.placement, [cx, cy], to, by.factor ?? 1, by.turnDeg ?? 0);
    void placePicture(this.session, layer, placement, withInk);
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }

  private reference(layerId: string): ReferenceLayer | undefined {
    const layer = this.session.model.layers.get(layerId);
    return layer?.kind === 'reference' && !layer.deleted ? layer : undefined;
  }
}
