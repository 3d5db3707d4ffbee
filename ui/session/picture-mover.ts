import { withinTurn } from '../../core/geometry/degrees';
import { toPaper } from '../../core/geometry/view';
import { shownSize } from '../../core/sheet/recipe-placement';
import { isPicture, type PictureLayer, type Placement } from '../../core/sheet/entities';
import { isLocked } from '../../core/sheet/layer-tree';
import { movePlacement, placementMove } from '../../core/sheet/placement';
import type { WheelWish } from '../canvas/page-wheel';
import type { SheetSession } from './session';
import { layerDraft } from './sheet-drafts';
import { placePicture } from './stack-actions';

/** Keys and wheels that pause for so long have ended their gesture. */
const REST_MS = 350;
/** Scale per wheel px: 100 px, one notch of most wheels, is about 1.1. */
const WHEEL_PER_PX = 0.001;
/** A turned picture comes to rest level within so many degrees. */
const LEVEL_DEG = 1.5;

/** The placement, level if it is nearly so, its turn between 0 and 360. */
function leveled(p: Placement): Placement {
  const nearest = Math.round(p.turnDeg / 90) * 90;
  const turnDeg = Math.abs(p.turnDeg - nearest) < LEVEL_DEG ? nearest : p.turnDeg;
  return { ...p, turnDeg: withinTurn(turnDeg) };
}

/** Moves a picture with fingers, handles or keys: shown at once, one step when the gesture ends. */
export class PictureMover {
  private readonly listeners = new Set<() => void>();
  private draft: { layer: PictureLayer; placement: Placement; withInk: boolean } | undefined;
  private resting: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly session: SheetSession) {
    session.drafts.set('place', (sheet) =>
      this.draft ? layerDraft(this.draft.layer.id, { placement: this.draft.placement })(sheet) : sheet,
    );
  }

  /** Tells of each movement that is shown before it is kept. @returns stops telling. */
  watchDraft(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  /** @param withInk all ink goes along, live. A locked picture stays. */
  begin(layerId: string, withInk: boolean): void {
    const layer = this.reference(layerId);
    this.draft =
      layer && !isLocked(layer, this.session.model.layers) ? { layer, placement: layer.placement, withInk } : undefined;
  }

  /** A picture's placement as it is shown now. */
  placementOf(layerId: string): Placement | undefined {
    return this.draft?.layer.id === layerId ? this.draft.placement : this.reference(layerId)?.placement;
  }

  /** A gesture in viewport px, as the arbiter tells it. */
  move(from: readonly [number, number], to: readonly [number, number], factor: number, turnDeg: number): void {
    const { stage } = this.session;
    if (!this.draft || !stage) return;
    const a = toPaper(stage.view, ...from);
    const b = toPaper(stage.view, ...to);
    this.draft.placement = movePlacement(this.draft.placement, a, b, factor, turnDeg);
    this.showDraft();
  }

  /** Keeps what was shown; a picture that is nearly level comes to rest level. */
  end(levels = true): void {
    const { draft } = this;
    this.draft = undefined;
    clearTimeout(this.resting);
    this.resting = undefined;
    if (!draft || draft.placement === draft.layer.placement) return;
    const placement = levels ? leveled(draft.placement) : draft.placement;
    if (draft.withInk)
      this.session.stage?.carryInk(placementMove(draft.layer.placement, placement, shownSize(draft.layer)));
    void placePicture(this.session, draft.layer, placement, draft.withInk);
  }

  /** Takes back what was shown: the gesture was broken off. */
  drop(): void {
    this.draft = undefined;
    this.session.stage?.driftInk(undefined);
    this.session.drafts.refresh();
    this.tell();
  }

  /**
   * One movement by keys, in paper px, a factor and degrees, about the picture's centre. Keys that
   * follow each other quickly are one gesture, and one step.
   */
  nudge(layerId: string, by: { dx?: number; dy?: number; factor?: number; turnDeg?: number }, withInk: boolean): void {
    if (this.draft?.layer.id !== layerId) this.begin(layerId, withInk);
    if (!this.draft) return;
    const { cx, cy } = this.draft.placement;
    const to = [cx + (by.dx ?? 0), cy + (by.dy ?? 0)] as const;
    this.draft.placement = movePlacement(this.draft.placement, [cx, cy], to, by.factor ?? 1, by.turnDeg ?? 0);
    this.showDraft();
    this.restSoon();
  }

  /** A wheel over the picture: scales it about the pointer, or moves it. One step when the wheel rests. */
  wheel(layerId: string, at: readonly [number, number], wish: WheelWish, withInk: boolean): void {
    if (this.draft?.layer.id !== layerId) this.begin(layerId, withInk);
    // Without Ctrl a wheel only knows one direction: that scales, too.
    const factor = wish.kind === 'zoom' ? wish.factor : Math.exp(wish.dy * WHEEL_PER_PX);
    this.move(at, at, factor, 0);
    this.restSoon();
  }

  private restSoon(): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => this.end(false), REST_MS);
  }

  /** Keeps at once what still waits for the gesture's end: the screen is about to be left. */
  flush(): void {
    if (this.resting !== undefined) this.end(false);
  }

  private showDraft(): void {
    const { stage, drafts } = this.session;
    if (!this.draft || !stage) return;
    const { layer, placement } = this.draft;
    drafts.refresh();
    if (this.draft.withInk) stage.driftInk(placementMove(layer.placement, placement, shownSize(layer)));
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }

  private reference(layerId: string): PictureLayer | undefined {
    const layer = this.session.model.layers.get(layerId);
    return isPicture(layer) && !layer.deleted ? layer : undefined;
  }
}
