import { apply, compose, invert, lengthScale, type Matrix } from '../../../../../../core/geometry/matrix';
import type { Size } from '../../../../../../core/geometry/view';
import { ON_PAPER, ON_PAPER_EDGE } from '../../../../../theme/theme';

/** A picked line is ringed: so far from its edge, and so wide, CSS px. */
const GAP_PX = 1.5;
const RING_PX = 1.5;
/** The ring's light edge, for dark ink beside it. */
const EDGE_PX = 1;
/** So many places of lines are drawn anew for every frame; of more, the drawn rings are moved, and drawn anew at rest. */
const QUICK_PLACES = 1500;
const REST_MS = 120;

/** Lines as `[x, y, radius, ...]` in paper px. */
type Lines = readonly Float32Array[];

/** How lines are marked: with a ring beside them and not on them, or in full. */
export type LineMark = 'ring' | 'full';

/** Marks lines on a canvas that lies over the paper. */
export class LineMarks {
  private lines: Lines = [];
  private toScreen: Matrix | undefined;
  private mark: LineMark = 'ring';
  private drawn: { lines: Lines; toScreen: Matrix; width: number; height: number } | undefined;
  private resting: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly canvas: HTMLCanvasElement) {
    canvas.style.transformOrigin = '0 0';
  }

  /** Shows the marks. O(1) for many lines that move, O(places) else. */
  show(lines: Lines, toScreen: Matrix, mark: LineMark): void {
    const { drawn, canvas } = this;
    this.mark = mark;
    if (drawn?.lines === lines && drawn.toScreen.every((v, i) => v === toScreen[i]) && this.fits(drawn)) return;
    [this.lines, this.toScreen] = [lines, toScreen];
    clearTimeout(this.resting);
    if (drawn?.lines !== lines || !this.fits(drawn) || placesOf(lines) <= QUICK_PLACES) return this.draw();
    canvas.style.transform = `matrix(${compose(toScreen, invert(drawn.toScreen)).join(',')})`;
    this.resting = setTimeout(() => this.draw(), REST_MS);
  }

  close(): void {
    clearTimeout(this.resting);
  }

  private fits({ width, height }: Size): boolean {
    return this.canvas.clientWidth === width && this.canvas.clientHeight === height;
  }

  private draw(): void {
    const { canvas, lines, toScreen } = this;
    if (!toScreen) return;
    const { clientWidth: width, clientHeight: height } = canvas;
    this.drawn = { lines, toScreen, width, height };
    canvas.style.transform = '';
    drawLines(canvas, lines, toScreen, PASSES[this.mark]);
  }
}

const placesOf = (lines: Lines): number => lines.reduce((sum, line) => sum + line.length / 3, 0);

/** What is drawn along each line, one over the other: how it is mixed, so far beyond the line's edge, its colour. */
type Pass = readonly [way: GlobalCompositeOperation, beyondPx: number, colour: string];
const PASSES: Record<LineMark, readonly Pass[]> = {
  ring: [
    ['source-over', GAP_PX + RING_PX + EDGE_PX, ON_PAPER_EDGE],
    ['source-over', GAP_PX + RING_PX, ON_PAPER],
    ['destination-out', GAP_PX, ON_PAPER],
  ],
  full: [
    ['source-over', GAP_PX + EDGE_PX, ON_PAPER_EDGE],
    ['source-over', GAP_PX, ON_PAPER],
  ],
};

function drawLines(canvas: HTMLCanvasElement, lines: Lines, toScreen: Matrix, passes: readonly Pass[]): void {
  const ratio = window.devicePixelRatio > 1 ? 2 : 1;
  const [width, height] = [canvas.clientWidth * ratio, canvas.clientHeight * ratio];
  if (canvas.width !== width) canvas.width = width;
  if (canvas.height !== height) canvas.height = height;
  const ctx = canvas.getContext('2d');
  if (!ctx) return;
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.clearRect(0, 0, width, height);
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.lineCap = ctx.lineJoin = 'round';
  const screen = { width: canvas.clientWidth, height: canvas.clientHeight };
  for (const [way, beyond, colour] of passes) {
    ctx.globalCompositeOperation = way;
    ctx.strokeStyle = colour;
    for (const line of lines) strokeLine(ctx, line, toScreen, beyond, screen);
  }
}

function strokeLine(
  ctx: CanvasRenderingContext2D,
  line: Float32Array,
  toScreen: Matrix,
  beyond: number,
  { width, height }: Size,
): void {
  const scale = lengthScale(toScreen);
  let [x, y] = apply(toScreen, line[0], line[1]);
  for (let at = 0; at < line.length; at += 3) {
    const next = Math.min(line.length - 3, at + 3);
    const [nx, ny] = apply(toScreen, line[next], line[next + 1]);
    const r = ((line[at + 2] + line[next + 2]) / 2) * scale + beyond;
    const isSeen =
      Math.min(x, nx) - r < width && Math.max(x, nx) + r > 0 && Math.min(y, ny) - r < height && Math.max(y, ny) + r > 0;
    if (isSeen) {
      ctx.lineWidth = 2 * r;
      ctx.beginPath();
      ctx.moveTo(x, y);
      ctx.lineTo(nx, ny);
      ctx.stroke();
    }
    [x, y] = [nx, ny];
  }
}
