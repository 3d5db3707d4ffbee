import type { Box } from '../../core/geometry/box';
import { fitScale, type Size } from '../../core/geometry/view';

/** A window onto the paper, CSS px of the stage, and how far what it shows is moved. */
export interface Window {
  box: Box;
  dx: number;
  dy: number;
}

/** How the artist looks at the whole, besides what is shown of it. */
export interface Look {
  /** Pictures and ink in windows of their own. */
  apart?: { pictures: Window; ink: Window };
  mirrored?: boolean;
  /** Where the page is fitted to and moves; undefined: what no bar covers. */
  within?: Box;
  /** CSS filters, over all and over ink alone. */
  filter?: string;
  inkFilter?: string;
}

/**
 * Two windows beside or above each other, as shows the paper larger; the page moves in the first one.
 * @param free what no bar covers, CSS px. @param paper in paper px.
 */
export function windowsBeside(free: Box, paper: Size, turnDeg: number): NonNullable<Look['apart']> {
  const { x0, y0, x1, y1 } = free;
  const [width, height] = [(x1 - x0) / 2, (y1 - y0) / 2];
  const scaleIn = (size: Size) => fitScale(paper, size, turnDeg, 12);
  const sideBySide = scaleIn({ width, height: 2 * height }) >= scaleIn({ width: 2 * width, height });
  const [dx, dy] = sideBySide ? [width, 0] : [0, height];
  const first = { x0, y0, x1: x1 - dx, y1: y1 - dy };
  return {
    pictures: { box: first, dx: 0, dy: 0 },
    ink: { box: { x0: x0 + dx, y0: y0 + dy, x1, y1 }, dx, dy },
  };
}

/** The picture to the left of a place of the stage, the ink to its right, each where it lies. */
export function windowsAtCurtain({ width, height }: Size, x: number): NonNullable<Look['apart']> {
  const pictures = { x0: 0, y0: 0, x1: x, y1: height };
  return { pictures: { box: pictures, dx: 0, dy: 0 }, ink: { box: { ...pictures, x0: x, x1: width }, dx: 0, dy: 0 } };
}

/** The paper in a window of its own: its colour, and whatever canvases are put into it. */
export class Pane {
  readonly frame = document.createElement('div');
  /** Cut to the paper, and moved along while a gesture lasts. */
  readonly element = document.createElement('div');
  /** The paper's colour. It reaches far out: a gesture may show what lies beyond the screen. */
  readonly ground = document.createElement('div');

  constructor() {
    Object.assign(this.frame.style, { position: 'absolute', overflow: 'hidden' });
    Object.assign(this.element.style, { position: 'absolute', transformOrigin: '0 0' });
    Object.assign(this.ground.style, { position: 'absolute', inset: '-200%', zIndex: '0' });
    this.element.append(this.ground);
    this.frame.append(this.element);
  }

  /** @param window undefined: all of the stage. @param stage its size, CSS px. */
  open(window: Window | undefined, { width, height }: Size): void {
    const { box, dx, dy } = window ?? { box: { x0: 0, y0: 0, x1: width, y1: height }, dx: 0, dy: 0 };
    place(this.frame, box.x0, box.y0, Math.max(0, box.x1 - box.x0), Math.max(0, box.y1 - box.y0));
    place(this.element, dx - box.x0, dy - box.y0, width, height);
  }

  /** Lies as another one does, at each frame of a gesture. */
  moveAlong({ element }: Pane): void {
    this.element.style.transform = element.style.transform;
  }

  /** Shows the same paper, at the same place, as another one. */
  follow(other: Pane): void {
    const { element, ground } = other;
    this.moveAlong(other);
    this.element.style.clipPath = element.style.clipPath;
    const { backgroundColor, backgroundImage, backgroundSize } = ground.style;
    Object.assign(this.ground.style, { backgroundColor, backgroundImage, backgroundSize });
  }
}

function place({ style }: HTMLElement, left: number, top: number, width: number, height: number): void {
  Object.assign(style, { left: `${left}px`, top: `${top}px`, width: `${width}px`, height: `${height}px` });
}
