import { windowsAtCurtain, windowsBeside, type Look } from '../canvas/pane';
import type { SheetSession } from './session';
import { Watched } from './watched';

/** How the drawing is looked at on Check; none of it changes the drawing. */
export interface Ways {
  /** Picture and ink next to each other, or parted by a line. */
  apart?: 'beside' | 'curtain';
  mirrored: boolean;
  /** Grey and blurred, as with eyes half shut. */
  squint: boolean;
  /** All ink in one colour that nothing else has. */
  loud: boolean;
}

const PLAIN: Ways = { mirrored: false, squint: false, loud: false };
const SQUINT = 'grayscale(1) blur(5px)';
/** Whatever its colour, white too: to black, to grey, to brown, and that as bright as it gets and turned to magenta. */
const LOUD = 'brightness(0) invert(0.5) sepia(1) saturate(30) hue-rotate(270deg)';

/** The ways of looking that are on; the stage follows. */
export class WaysOfLooking {
  readonly now = new Watched<Ways>(PLAIN);
  /** Where the curtain hangs, a part of what is free, 0 to 1. */
  readonly curtain = new Watched(0.5);

  constructor(private readonly session: SheetSession) {}

  /** Beside each other or above: as the page lay when they were parted. */
  private turnDeg = 0;
  private shown = '';

  change(part: Partial<Ways>): void {
    this.turnDeg = this.session.stage?.view.turnDeg ?? 0;
    this.now.set({ ...this.now.now(), ...part });
    this.show();
  }

  draw(at: number): void {
    this.curtain.set(Math.min(1, Math.max(0, at)));
    this.show();
  }

  /** Where the curtain hangs, CSS px of the stage as it is seen. */
  curtainPx(): number {
    const { stage } = this.session;
    const { x0, x1 } = stage?.unbarred() ?? { x0: 0, x1: 0 };
    return x0 + this.curtain.now() * (x1 - x0);
  }

  /** As the stage lies now: after it was turned, or its bars have changed, too. */
  show(): void {
    const look = this.lookOf(this.now.now());
    const next = JSON.stringify(look);
    if (next === this.shown) return;
    this.shown = next;
    this.session.stage?.setLook(look);
  }

  /** As the drawing lies, without any of them. */
  leave(): void {
    this.now.set(PLAIN);
    this.show();
  }

  private lookOf({ apart, mirrored, squint, loud }: Ways): Look {
    const { stage } = this.session;
    const look: Look = { mirrored, filter: squint ? SQUINT : undefined, inkFilter: loud ? LOUD : undefined };
    if (!stage || !apart) return look;
    if (apart === 'curtain') {
      const [x] = mirrored ? [stage.size.width - this.curtainPx()] : [this.curtainPx()];
      return { ...look, apart: windowsAtCurtain(stage.size, x) };
    }
    const size = { width: this.session.paper.widthPx, height: this.session.paper.heightPx };
    const windows = windowsBeside(stage.unbarred(), size, this.turnDeg);
    return { ...look, apart: windows, within: windows.pictures.box };
  }
}
