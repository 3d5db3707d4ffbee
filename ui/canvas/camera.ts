import { transformBox, type Box } from '../../core/geometry/box';
import { bounded, fitted, settledView, toPaper, viewMatrix, type Size, type View } from '../../core/geometry/view';

/** CSS px at each side that bars cover. */
export interface Insets {
  top: number;
  right: number;
  bottom: number;
  left: number;
}

/** A revealed stroke keeps this far from what covers the rest, CSS px. */
const REVEAL_MARGIN_PX = 12;

/** How the paper lies in the viewport, and what moves it there. Knows nothing of pixels. */
export class Camera {
  view: View = { scale: 1, turnDeg: 0, x: 0, y: 0 };
  viewport: Size = { width: 1, height: 1 };
  /** Fingers or a wheel are moving the page: it comes to rest on whole px afterwards. */
  gesturing = false;
  private readonly listeners = new Set<(view: View) => void>();
  private insets: Insets = { top: 0, right: 0, bottom: 0, left: 0 };
  private isFitted = true;
  private within: Box | undefined;
  /** What lies over the paper for a while, and the slide that it caused. */
  private covered: { top: number; slide?: { before: View; after: View; wasFitted: boolean } } | undefined;

  /** @param paper in paper px. */
  constructor(private readonly paper: Size) {}

  /** Tells of every new view. @returns stops telling. */
  watch(listener: (view: View) => void): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  /** The viewport's size changed: the middle of the paper stays in the middle. */
  setViewport(size: Size): void {
    const first = this.viewport.width === 1;
    const before = this.viewport;
    this.viewport = size;
    if (first || this.isFitted) return this.fit();
    this.set({
      ...this.view,
      x: this.view.x + (size.width - before.width) / 2,
      y: this.view.y + (size.height - before.height) / 2,
    });
  }

  /** Shows the whole paper in the part of the viewport that no bar covers. */
  fit(turnDeg = this.view.turnDeg): void {
    const view = this.fittedView(turnDeg);
    this.set(view);
    this.isFitted = true;
  }

  private fittedView(turnDeg: number): View {
    const { x0, y0, x1, y1 } = this.free();
    const view = fitted(this.paper, { width: x1 - x0, height: y1 - y0 }, turnDeg);
    return { ...view, x: view.x + x0, y: view.y + y0 };
  }

  /** How large the paper is shown, against its fitted size. */
  get partOfFit(): number {
    return this.view.scale / this.fittedView(this.view.turnDeg).scale;
  }

  /** The part of the viewport that no bar covers, CSS px. */
  free(): Box {
    return this.within ?? this.unbarred();
  }

  /** The same, whatever it is kept within. */
  unbarred(): Box {
    const { top, right, bottom, left } = this.insets;
    const y1 = Math.min(this.viewport.height - bottom, this.covered?.top ?? Infinity);
    return { x0: left, y0: top, x1: this.viewport.width - right, y1 };
  }

  /** Fits the page into a part of what is free, and keeps to that; undefined: into all of it again. */
  keepWithin(box: Box | undefined): void {
    if (JSON.stringify(box) === JSON.stringify(this.within)) return;
    this.within = box;
    this.fit();
  }

  /** Sets what the bars cover; a paper that still lies fitted is fitted anew. */
  setInsets(insets: Insets): void {
    const before = JSON.stringify(this.insets);
    this.insets = insets;
    if (before === JSON.stringify(insets)) return;
    if (this.isFitted) this.fit();
    else this.set(this.view);
  }

  /**
   * Something has opened over the paper from `top` (CSS px) down, or has grown: what was drawn last slides up into view.
   * @param lastInk where that lies, paper px.
   */
  cover(top: number, lastInk: Box | undefined): void {
    const earlier = this.covered?.slide?.after === this.view ? this.covered.slide : undefined;
    this.covered = { top, slide: earlier };
    if (!lastInk) return;
    const onScreen = transformBox(lastInk, viewMatrix(this.view));
    const hidden = onScreen.y1 + REVEAL_MARGIN_PX - top;
    // A stroke taller than the free part keeps its upper end in sight.
    const by = Math.min(hidden, onScreen.y0 - this.insets.top - REVEAL_MARGIN_PX);
    if (by <= 0) return;
    const slide = earlier ?? { before: this.view, wasFitted: this.isFitted };
    this.set({ ...this.view, y: this.view.y - by });
    this.covered = { top, slide: { ...slide, after: this.view } };
  }

  /** It has closed: the page slides back, unless it was moved in the meantime. */
  uncover(): void {
    const slide = this.covered?.slide;
    this.covered = undefined;
    if (slide?.after !== this.view) return;
    this.set(slide.before);
    this.isFitted = slide.wasFitted;
  }

  /**
   * Moves the page.
   * @param gesturing more movement follows; without, the view comes to rest on whole device px.
   * @param anchor CSS px: what the movement is about, should its scale have to be held back.
   */
  set(view: View, gesturing = false, anchor?: readonly [number, number]): void {
    this.gesturing = gesturing;
    this.isFitted = false;
    const within = bounded(view, this.paper, this.free(), anchor);
    this.view = gesturing ? within : settledView(within, globalThis.devicePixelRatio || 1);
    for (const listener of this.listeners) listener(this.view);
  }

  toPaper(x: number, y: number): [number, number] {
    return toPaper(this.view, x, y);
  }
}
