import { toPaper } from '../../../../../../core/geometry/view';
import { turnAbout } from '../../../../../../core/geometry/turn-about';
import type { Matrix } from '../../../../../../core/geometry/matrix';
import type { Picking } from '../../../../../session/picking';
import type { SheetSession } from '../../../../../session/session';
import type { LoopTakes } from '../../../../../store/pen-slice';
import type { PaperGestures } from '../../stop';

/** A line is touched within so many CSS px of its edge; a movement shorter than the second is none. */
const REACH_PX = 12;
const STILL_PX = 6;
/** The frame around what is picked is touched a little outside of it, too. */
const FRAME_PX = 10;

type Place = { x: number; y: number };

/** What a movement from one place of the screen to another is on the paper: moved, scaled and turned about it. */
export function movementOf(
  session: SheetSession,
  from: readonly [number, number],
  to: readonly [number, number],
  factor: number,
  turnDeg: number,
): Matrix {
  const { view } = session.stage!;
  const a = toPaper(view, ...from);
  const b = toPaper(view, ...to);
  return turnAbout(a, { scale: factor, turnDeg, dx: b[0] - a[0], dy: b[1] - a[1] });
}

/** A tap picks a line, a drag draws a loop around several; a drag within the frame of what is picked moves it. */
export class PickGestures implements PaperGestures {
  private adds = false;
  private first: Place | undefined;
  private last: Place | undefined;
  private mode: 'still' | 'move' | 'loop' = 'still';

  constructor(
    private readonly session: SheetSession,
    private readonly picking: Picking,
    private readonly ways: () => { picksMore: boolean; loopTakes: LoopTakes },
  ) {}

  private get scale(): number {
    return this.session.stage?.view.scale ?? 1;
  }

  start(adds: boolean): void {
    this.adds = adds || this.ways().picksMore;
    this.first = this.last = undefined;
    this.mode = 'still';
  }

  move(at: Place): void {
    const { first, last, picking } = this;
    this.last = at;
    if (!first || !last) {
      this.first = at;
      return;
    }
    if (this.mode === 'still') {
      if (Math.hypot(at.x - first.x, at.y - first.y) * this.scale < STILL_PX) return;
      this.mode = !this.adds && this.isInFrame(first) ? 'move' : 'loop';
      if (this.mode === 'move') picking.beginMove();
      else picking.drawLoop(first);
      this.go(first, at);
      return;
    }
    this.go(last, at);
  }

  private go(from: Place, to: Place): void {
    if (this.mode === 'move') this.picking.moveOn([1, 0, 0, 1, to.x - from.x, to.y - from.y]);
    else this.picking.drawLoop(to);
  }

  end(): void {
    const { mode, first, picking } = this;
    this.mode = 'still';
    if (mode === 'move') void picking.endMove();
    else if (mode === 'loop') void picking.closeLoop(this.adds, this.ways().loopTakes);
    else if (first) void picking.pickAt(first.x, first.y, REACH_PX / this.scale, this.adds);
  }

  drop(): void {
    if (this.mode === 'move') this.picking.dropMove();
    else this.picking.dropLoop();
    this.mode = 'still';
  }

  private isInFrame({ x, y }: Place): boolean {
    const { box } = this.picking;
    const by = FRAME_PX / this.scale;
    return box !== undefined && x > box.x0 - by && x < box.x1 + by && y > box.y0 - by && y < box.y1 + by;
  }

  takesTwo(x: number, y: number): boolean {
    if (!this.isInFrame({ x, y })) return false;
    this.picking.beginMove();
    return true;
  }

  moveTwo(from: readonly [number, number], to: readonly [number, number], factor: number, turnDeg: number): void {
    this.picking.moveOn(movementOf(this.session, from, to, factor, turnDeg));
  }

  endTwo(): void {
    void this.picking.endMove();
  }
}
